import { Choice } from "../../parts/Choice";
import { useCommit } from "../../parts/editing";
import { valuesOf } from "../steps/values";
import { AssetName } from "./AssetName";
import type { ShapeProps } from "./shape";

const AFTER = [
  ["stays", "stays"],
  ["again", "begins again"],
  ["back", "goes back"],
] as const;
const UPS = [
  ["x", "X"],
  ["y", "Y"],
  ["z", "Z"],
] as const;

export function ImportedSentence({ pointer, geometry }: ShapeProps<"imported">) {
  const commit = useCommit();
  const motion = valuesOf("Motion", `${pointer}/motion`);
  return (
    <>
      Imported <AssetName hash={geometry.asset} />, one unit is {valuesOf("Imported", pointer)("scale", "Scale", false)}
      ,{" "}
      <Choice
        label="Up axis"
        value={geometry.up}
        options={UPS}
        onChoose={(up) => commit(`${up.toUpperCase()} up`, [{ op: "replace", path: `${pointer}/up`, value: up }])}
      />{" "}
      is up
      {geometry.motion && (
        <>
          ; its movement begins at {motion("start", "Start of the movement")}, goes{" "}
          {motion("speed", "Speed of the movement")} as fast and then{" "}
          <Choice
            label="After the movement"
            value={geometry.motion.after}
            options={AFTER}
            onChoose={(after) =>
              commit(`movement ${after}`, [{ op: "replace", path: `${pointer}/motion/after`, value: after }])
            }
          />
        </>
      )}
    </>
  );
}
