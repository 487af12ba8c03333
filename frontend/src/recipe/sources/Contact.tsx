import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { More } from "../../parts/More";
import { NumberValue } from "../../parts/NumberValue";
import { ClauseGroup } from "./ClauseGroup";
import type { ClauseProps } from "./clause";

const READINGS = [
  ["touched", "where they touched it"],
  ["depth", "how deep they went in"],
  ["first", "how long since the first touch"],
  ["last", "how long since the last touch"],
] as const;

export function Contact({ pointer, source, put, subject }: ClauseProps<"contact">) {
  const value = (name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Contact", name)} label={label} keyable={keyable} />
  );
  const timed = source.reading === "first" || source.reading === "last";
  return (
    <>
      <b>contact</b> with the shapes of{" "}
      <ClauseGroup pointer={pointer} group={source.group} put={put} subject={subject} />:{" "}
      <Choice
        label="Reading"
        value={source.reading}
        options={READINGS}
        onChoose={(reading) => put(`reads ${reading}`, "reading", reading)}
      />
      {source.reading === "depth" && <>, in full from {value("full", "Full")}</>}
      {timed ? (
        <>, in full after {value("over", "Over")}</>
      ) : (
        <>, gone after {value("recovers", "Recovers")} (0: never)</>
      )}
      <More of="the contact">
        , falling off over {value("spreads", "Spreads")} about it. What comes as near as{" "}
        {value("margin", "Margin", false)} touches
      </More>
    </>
  );
}
