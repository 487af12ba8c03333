import { Choice } from "../../parts/Choice";
import { LookSentence } from "../LookSentence";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { ItemChoice, valuesOf, vectorsOf } from "./values";

const INTO = [
  ["cells", "cells"],
  ["faces", "its faces"],
  ["islands", "its islands"],
  ["slabs", "slabs"],
  ["blocks", "blocks"],
] as const;
const SITES = [
  ["inside", "in the shape"],
  ["surface", "on its surface"],
  ["path", "along a path"],
] as const;
const AXES = [
  ["x", "X"],
  ["y", "Y"],
  ["z", "Z"],
] as const;

export function FractureSentence({ pointer, step, put, undriven }: SentenceProps<"fracture">) {
  const value = valuesOf("Fracture", pointer);
  const vector = vectorsOf("Fracture", pointer);
  return (
    <>
      Fracture into {(step.into === "cells" || step.into === "slabs") && <>{value("count", "How many", false)} </>}
      <Choice label="Into" value={step.into} options={INTO} onChoose={(into) => put(`into ${into}`, "into", into)} />
      {step.into === "cells" && (
        <>
          {" "}
          about places{" "}
          <Choice
            label="Sites"
            value={step.sites}
            options={SITES}
            onChoose={(sites) => put(`sites ${sites}`, "sites", sites)}
          />
          {step.sites === "path" && (
            <>
              {" "}
              <ItemChoice
                label="Path of the sites"
                kind="path"
                value={step.path ?? null}
                none="no path yet"
                onChoose={(path) => put("path of the sites", "path", path)}
              />
              , up to {value("spread", "Spread", false)} off it
            </>
          )}
          {step.sites !== "path" && (
            <>
              , denser <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
            </>
          )}
        </>
      )}
      {step.into === "slabs" && (
        <>
          {" "}
          along{" "}
          <Choice
            label="Axis"
            value={step.axis}
            options={AXES}
            onChoose={(axis) => put(`along ${axis}`, "axis", axis)}
          />
          , uneven by {value("uneven", "Uneven", false)}
        </>
      )}
      {step.into === "blocks" && <> of {vector("block", "Block", false)}</>}
    </>
  );
}

export function FractureMore({ pointer, step, put }: SentenceProps<"fracture">) {
  const value = valuesOf("Fracture", pointer);
  const cut = step.into !== "faces" && step.into !== "islands";
  return (
    <>
      {cut && <>Between two pieces {value("gap", "Gap", false)} is left out. </>}
      Pieces of an open mesh are {value("thickness", "Thickness", false)} thick. Edges are rounded over{" "}
      {value("rounding", "Rounding", false)} once a piece has moved. Their chances are number{" "}
      {value("seed", "Seed", false)}. Inside, they have <LookSentence pointer={`${pointer}/inside`} backs={false} />.{" "}
      {step.into === "cells" && <StepCurve pointer={pointer} step={step} put={put} />}
    </>
  );
}
