import { valuesOf } from "../steps/values";
import type { ShapeProps } from "./shape";

export function RingSentence({ pointer }: ShapeProps<"ring">) {
  const value = valuesOf("Ring", pointer);
  return (
    <>
      Ring of {value("radius", "Radius")} about its hole, {value("thickness", "Thickness")} thick, in{" "}
      {value("segments", "Segments", false)} segments of {value("sides", "Sides", false)} sides
    </>
  );
}
