import { Choice } from "../../parts/Choice";
import { useCommit } from "../../parts/editing";
import { valuesOf } from "../steps/values";
import { AssetName } from "./AssetName";
import type { ShapeProps } from "./shape";
import { ThickSentence } from "./ThickSentence";

const PAINTED = [
  ["own", "in its own colours"],
  ["look", "in the look's colour"],
] as const;

export function ExtrudeSentence({ pointer, geometry }: ShapeProps<"extrude">) {
  const commit = useCommit();
  const value = valuesOf("Extrude", pointer);
  return (
    <>
      Drawing <AssetName hash={geometry.asset} />, {value("height", "Height")} high,{" "}
      <Choice
        label="Colours of the drawing"
        value={geometry.painted ? "own" : "look"}
        options={PAINTED}
        onChoose={(painted) =>
          commit("colours of the drawing", [{ op: "replace", path: `${pointer}/painted`, value: painted === "own" }])
        }
      />
      ; <ThickSentence pointer={pointer} model="Extrude" form={geometry.bevel_form} />
    </>
  );
}
