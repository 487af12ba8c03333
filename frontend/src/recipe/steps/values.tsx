import { quantity } from "../../document/quantities";
import { inOrder } from "../../document/types";
import { Choice } from "../../parts/Choice";
import { useShot } from "../../parts/editing";
import { NumberValue } from "../../parts/NumberValue";

const AXES = ["X", "Y", "Z"] as const;

/** The numbers of one step, by the names that its model gives them. */
export function valuesOf(model: string, pointer: string) {
  return (name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity(model, name)} label={label} keyable={keyable} />
  );
}

/** The three numbers of a vector of a step. */
export function vectorsOf(model: string, pointer: string) {
  return (name: string, label: string, keyable = true) =>
    AXES.map((letter, axis) => (
      <span key={letter}>
        {axis > 0 && " "}
        <NumberValue
          pointer={`${pointer}/${name}`}
          axis={axis as 0 | 1 | 2}
          quantity={quantity(model, name)}
          label={`${label} ${letter}`}
          keyable={keyable}
        />
      </span>
    ));
}

type ItemChoiceProps = {
  label: string;
  kind: "controller" | "path" | "shape";
  value: string | null;
  none: string;
  onChoose: (id: string | null) => void;
  but?: string;
};

/** An item of a kind, by name, or none. */
export function ItemChoice({ label, kind, value, none, onChoose, but }: ItemChoiceProps) {
  const items = useShot((shot) => shot.items);
  const named = inOrder(items)
    .filter(([id, item]) => item.kind === kind && id !== but)
    .map(([id, item]) => [id, item.name] as const);
  return (
    <Choice
      label={label}
      value={value ?? ""}
      options={[["", none], ...named]}
      onChoose={(chosen) => onChoose(chosen || null)}
    />
  );
}
