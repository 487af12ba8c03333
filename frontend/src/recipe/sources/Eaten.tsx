import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import type { ClauseProps } from "./clause";

export function Eaten({ pointer, source, put, shapes, subject }: ClauseProps<"eaten">) {
  const others = shapes.filter(([key]) => key !== subject);
  return (
    <>
      <b>eaten</b> of{" "}
      <Choice
        label="Shape"
        value={source.shape ?? ""}
        options={[
          ["", "the shape itself"],
          ...others,
          ...shapes.filter(([key]) => key === source.shape && key === subject),
        ]}
        onChoose={(shape) => put(shape ? "of another shape" : "of the shape itself", "shape", shape || null)}
      />{" "}
      until now, falling over{" "}
      <NumberValue pointer={`${pointer}/soft`} quantity={quantity("EatenField", "soft")} label="Soft" /> ahead of the
      front
    </>
  );
}
