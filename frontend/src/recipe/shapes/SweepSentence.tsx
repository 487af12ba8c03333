import { quantity } from "../../document/quantities";
import { inOrder } from "../../document/types";
import { Choice } from "../../parts/Choice";
import { useCommit, useShot } from "../../parts/editing";
import { NumberValue } from "../../parts/NumberValue";
import type { ShapeProps } from "./shape";

const SECTIONS = [
  ["round", "a round section"],
  ["square", "a square section"],
] as const;

export function SweepSentence({ pointer, geometry: sweep }: ShapeProps<"sweep">) {
  const commit = useCommit();
  const items = useShot((shot) => shot.items);
  const paths = inOrder(items).filter(([, item]) => item.kind === "path");
  const value = (name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Sweep", name)} label={label} keyable={keyable} />
  );
  return (
    <>
      Sweep{" "}
      <Choice
        label="Section"
        value={sweep.section}
        options={SECTIONS}
        onChoose={(section) =>
          commit(`${section} section`, [{ op: "replace", path: `${pointer}/section`, value: section }])
        }
      />{" "}
      {value("width", "Width of the section")} by {value("height", "Height of the section")} along{" "}
      <Choice
        label="Path"
        value={sweep.path}
        options={paths.map(([id, item]) => [id, item.name] as const)}
        onChoose={(path) => commit("path of the sweep", [{ op: "replace", path: `${pointer}/path`, value: path }])}
      />
      , from {value("start", "Start")} to {value("end", "End")} of it, sized {value("start_size", "Size at the start")}{" "}
      to {value("end_size", "Size at the end")}, twisted by {value("twist", "Twist")}, in{" "}
      {value("sides", "Sides", false)} sides, sections {value("spacing", "Spacing")} apart
    </>
  );
}
