import { valuesOf } from "../steps/values";
import type { ShapeProps } from "./shape";

export function TubeSentence({ pointer }: ShapeProps<"tube">) {
  const value = valuesOf("Tube", pointer);
  return (
    <>
      Tube of {value("radius", "Radius")}, its wall {value("wall", "Wall")} thick, {value("height", "Height")} high, in{" "}
      {value("segments", "Segments", false)} segments and {value("rows", "Rows", false)} rows,{" "}
      {value("rim_rows", "Rows across the wall", false)} across the wall
    </>
  );
}
