import { valuesOf } from "../steps/values";
import type { ShapeProps } from "./shape";

export function PlaneSentence({ pointer }: ShapeProps<"plane">) {
  const value = valuesOf("Plane", pointer);
  return (
    <>
      Sheet of {value("width", "Width")} by {value("depth", "Depth")} in {value("columns", "Columns", false)} by{" "}
      {value("rows", "Rows", false)} cells
    </>
  );
}
