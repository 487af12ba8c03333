import { change } from "../../document/changing";
import { Choice } from "../../parts/Choice";
import { useEditing } from "../../parts/editing";
import { LookSentence } from "../LookSentence";

const LOOKS = [
  ["same", "the same look"],
  ["own", "a look of their own"],
] as const;

/** Whether what a step makes looks as what it is made from, and how if not. of: what it makes, in words. */
export function OwnLook({ pointer, of, own }: { pointer: string; of: string; own: boolean }) {
  const editing = useEditing();
  return (
    <>
      <Choice
        label={`Look of ${of}`}
        value={own ? "own" : "same"}
        options={LOOKS}
        onChoose={(look) => {
          const value = look === "own" ? "own" : null;
          void change(editing, { kind: "choose", of: pointer, setting: "look", value }, { label: `${look} look` });
        }}
      />
      {own && (
        <>
          : <LookSentence pointer={`${pointer}/look`} backs={false} />
        </>
      )}
    </>
  );
}
