import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import type { ClauseProps } from "./clause";

const WAYS = [
  ["surface", "over the surface"],
  ["pieces", "from piece to piece"],
] as const;

export function Spread({ pointer, source, put, fields }: ClauseProps<"spread">) {
  const value = (name: string, label: string) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Spread", name)} label={label} />
  );
  return (
    <>
      <b>a spread</b> from where{" "}
      <Choice
        label="Seeds"
        tone="field"
        value={source.seeds}
        options={fields}
        onChoose={(field) => put("seeds", "seeds", field)}
      />{" "}
      comes, at {value("speed", "Speed")}{" "}
      <Choice
        label="Through"
        value={source.through ?? "surface"}
        options={WAYS}
        onChoose={(through) => put(`through ${through}`, "through", through)}
      />
      , its edge {value("soft", "Edge")} wide, held back{" "}
      <Choice
        label="Held back"
        tone={source.pace ? "field" : undefined}
        value={source.pace ?? ""}
        options={[["", "nowhere"], ...fields.map(([id, name]) => [id, `where ${name} is low`] as const)]}
        onChoose={(field) => put("held back", "pace", field || null)}
      />
    </>
  );
}
