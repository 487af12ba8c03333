import { valuesOf } from "../steps/values";
import type { ShapeProps } from "./shape";

export function BoxSentence({ pointer }: ShapeProps<"box">) {
  const value = valuesOf("Box", pointer);
  return (
    <>
      Box {value("width", "Width")} wide, {value("height", "Height")} high, {value("depth", "Depth")} deep,{" "}
      {value("divisions", "Cells along an edge", false)} cells along each edge
    </>
  );
}
