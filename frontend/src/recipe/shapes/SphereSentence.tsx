import { Choice } from "../../parts/Choice";
import { useCommit } from "../../parts/editing";
import { valuesOf } from "../steps/values";
import type { ShapeProps } from "./shape";

const BUILDS = [
  ["icosahedron", "a divided icosahedron"],
  ["latitude", "rings of latitude"],
] as const;

export function SphereSentence({ pointer, geometry }: ShapeProps<"sphere">) {
  const commit = useCommit();
  const value = valuesOf("Sphere", pointer);
  return (
    <>
      Sphere of {value("radius", "Radius")} from{" "}
      <Choice
        label="Built from"
        value={geometry.build}
        options={BUILDS}
        onChoose={(build) => commit(`built from ${build}`, [{ op: "replace", path: `${pointer}/build`, value: build }])}
      />
      {geometry.build === "icosahedron" ? (
        <>, split {value("subdivisions", "Splits", false)} times</>
      ) : (
        <>
          , {value("segments", "Segments", false)} segments, {value("rings", "Rings", false)} rings
        </>
      )}
    </>
  );
}
