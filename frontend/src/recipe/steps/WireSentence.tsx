import { change } from "../../document/changing";
import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { useEditing } from "../../parts/editing";
import { NumberValue } from "../../parts/NumberValue";
import { OwnLook } from "./OwnLook";
import { Listening, type SentenceProps, StepCurve } from "./sentence";

const EDGES = [
  ["squares", "the edges of its cells"],
  ["all", "all edges"],
  ["sharp", "its sharp edges"],
] as const;

const PARTS = [
  ["instead", "in place of"],
  ["beside", "a part beside"],
] as const;

export function WireSentence({ pointer, step, put, undriven }: SentenceProps<"wire">) {
  return (
    <>
      Wire{" "}
      <Choice
        label="Edges"
        value={step.edges}
        options={EDGES}
        onChoose={(edges) => put(`wire ${edges}`, "edges", edges)}
      />{" "}
      with <NumberValue pointer={`${pointer}/width`} quantity={quantity("Wire", "width")} label="Width" /> tubes,{" "}
      <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function WireMore({ pointer, step, put }: SentenceProps<"wire">) {
  const editing = useEditing();
  return (
    <>
      Tubes have{" "}
      <NumberValue pointer={`${pointer}/sides`} quantity={quantity("Wire", "sides")} label="Sides" keyable={false} />{" "}
      sides, and count by{" "}
      <NumberValue pointer={`${pointer}/amount`} quantity={quantity("Wire", "amount")} label="Amount" />.{" "}
      <StepCurve pointer={pointer} step={step} put={put} /> They are{" "}
      <Choice
        label="Wires are"
        value={step.makes ? "beside" : "instead"}
        options={PARTS}
        onChoose={(way) => {
          const [, , item = "", , , step = ""] = pointer.split("/");
          void change(editing, { kind: "make_apart", item, step, word: way === "beside" ? "wires" : null });
        }}
      />{" "}
      it, with <OwnLook pointer={pointer} of="the wires" own={Boolean(step.look)} />.
    </>
  );
}
