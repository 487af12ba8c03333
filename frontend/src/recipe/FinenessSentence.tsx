import { quantity } from "../document/quantities";
import type { Shape } from "../document/types";
import { Choice } from "../parts/Choice";
import { useCommit } from "../parts/editing";
import { NumberValue } from "../parts/NumberValue";

export const WAYS = [
  ["flat", "keeping the shape"],
  ["smooth", "smoothing by triangles"],
  ["squares", "smoothing by squares"],
] as const;

/** How finely a shape is split before its recipe begins. */
export function FinenessSentence({ pointer, fineness }: { pointer: string; fineness: Shape["fineness"] }) {
  const commit = useCommit();
  return (
    <>
      {" "}
      Refined{" "}
      <NumberValue
        pointer={`${pointer}/times`}
        quantity={quantity("Fineness", "times")}
        label="How often the shape is refined"
        keyable={false}
      />{" "}
      times
      {fineness.times > 0 && (
        <>
          ,{" "}
          <Choice
            label="Way of refining"
            value={fineness.way}
            options={WAYS}
            onChoose={(way) => commit(`refined ${way}`, [{ op: "replace", path: `${pointer}/way`, value: way }])}
          />
        </>
      )}
      .
    </>
  );
}
