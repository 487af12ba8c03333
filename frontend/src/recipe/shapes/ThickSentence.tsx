import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { useCommit, useValueNow } from "../../parts/editing";
import { NumberValue } from "../../parts/NumberValue";

const FORMS = [
  ["straight", "straight"],
  ["round", "round"],
  ["hollow", "hollow"],
] as const;

type Form = (typeof FORMS)[number][0];

/** What text and extruded drawings share: depth, bevel, size of the faces. */
export function ThickSentence({ pointer, model, form }: { pointer: string; model: string; form: Form }) {
  const commit = useCommit();
  const bevel = Number(useValueNow(`${pointer}/bevel`));
  const value = (name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity(model, name)} label={label} keyable={keyable} />
  );
  return (
    <>
      {value("depth", "Depth")} deep, bevel {value("bevel", "Bevel")}
      {bevel > 0 && (
        <>
          ,{" "}
          <Choice
            label="Form of the bevel"
            value={form}
            options={FORMS}
            onChoose={(chosen) =>
              commit(`${chosen} bevel`, [{ op: "replace", path: `${pointer}/bevel_form`, value: chosen }])
            }
          />{" "}
          in {value("bevel_rows", "Faces across the bevel", false)} rows
        </>
      )}
      , faces of {value("face_size", "Size of the faces")}
    </>
  );
}
