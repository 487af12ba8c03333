import { quantity } from "../document/quantities";
import { NumberValue } from "../parts/NumberValue";

const AXES = ["X", "Y", "Z"] as const;

/** Where an item stands, how it is turned and stretched, as a sentence. */
export function PlaceSentence({ pointer, model, scaled }: { pointer: string; model: string; scaled: boolean }) {
  const vector = (name: string, label: string) =>
    AXES.map((letter, axis) => (
      <span key={letter}>
        {axis > 0 && " "}
        <NumberValue
          pointer={`${pointer}/${name}`}
          axis={axis as 0 | 1 | 2}
          quantity={quantity(model, name)}
          label={`${label} ${letter}`}
        />
      </span>
    ));
  return (
    <>
      Stands at {vector("place", "Place")}, turned {vector("turn", "Turn")}
      {scaled && <>, stretched {vector("scale", "Stretch")}</>}
    </>
  );
}
