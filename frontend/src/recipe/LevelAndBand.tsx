import { quantity } from "../document/quantities";
import type { Field } from "../document/types";
import { Choice } from "../parts/Choice";
import { useCommit, useShot } from "../parts/editing";
import { NumberValue } from "../parts/NumberValue";

const COUNTED = [
  ["values", "in values"],
  ["metres", "on the surface"],
] as const;

/** The level at which a field's edge lies and the band about it, edited wherever the field is listened to. */
export function LevelAndBand({ field }: { field: string }) {
  const commit = useCommit();
  const counted = useShot((shot) => shot.fields[field]?.band_in ?? "values");
  const band = quantity("Field", "band");
  return (
    <>
      {" "}
      at level{" "}
      <NumberValue
        tone="field"
        pointer={`/fields/${field}/level`}
        quantity={quantity("Field", "level")}
        label="level"
      />
      , band{" "}
      <NumberValue
        tone="field"
        pointer={`/fields/${field}/band`}
        quantity={counted === "metres" ? { ...band, unit: "m" } : { ...band, high: 1 }}
        label="band"
      />{" "}
      <Choice
        label="What the band is counted in"
        tone="field"
        value={counted}
        options={COUNTED}
        onChoose={(to: Field["band_in"]) =>
          commit(`band ${to === "metres" ? "on the surface" : "in values"}`, [
            { op: "replace", path: `/fields/${field}/band_in`, value: to },
            ...(to === "values" ? [{ op: "replace" as const, path: `/fields/${field}/band`, value: 0.1 }] : []),
          ])
        }
      />
    </>
  );
}
