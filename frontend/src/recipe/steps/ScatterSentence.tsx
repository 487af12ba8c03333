import { change } from "../../document/changing";
import type { Step } from "../../document/types";
import { SmallButton } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { useCommit, useEditing, useShot } from "../../parts/editing";
import { LookSentence } from "../LookSentence";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { ItemChoice, valuesOf } from "./values";

type Scatter = Extract<Step, { kind: "scatter" }>;

export const FORMS = [
  ["flakes", "flakes"],
  ["needles", "needles"],
  ["beads", "beads"],
  ["blocks", "blocks"],
] as const;
const WHATS = [...FORMS, ["shapes", "shapes of the shot"]] as const;
const PLACES = [
  ["faces", "its faces"],
  ["points", "its points"],
  ["edges", "its edges"],
  ["volume", "its inside"],
  ["path", "a path"],
] as const;
const BY = [
  ["count", "so many"],
  ["spacing", "so far apart"],
] as const;
const STANDS = [
  ["normal", "off the surface"],
  ["world", "straight up"],
  ["path", "along a path"],
  ["controller", "towards a controller"],
] as const;

export function ScatterSentence({ pointer, step, put, undriven }: SentenceProps<"scatter">) {
  const value = valuesOf("Scatter", pointer);
  return (
    <>
      Scatter {step.by === "count" && step.on_what !== "points" && <>{value("count", "How many")} </>}
      <Choice label="Copies of" value={step.what} options={WHATS} onChoose={(what) => put(what, "what", what)} />
      {step.what === "shapes" && (
        <>
          {" "}
          (<Shapes pointer={pointer} step={step} />)
        </>
      )}{" "}
      on{" "}
      <Choice
        label="Laid on"
        value={step.on_what}
        options={PLACES}
        onChoose={(place) => put(`on ${place}`, "on_what", place)}
      />
      {step.on_what === "path" && (
        <>
          {" "}
          <PathOf step={step} put={put} />
        </>
      )}
      ,{" "}
      {step.on_what !== "points" && step.on_what !== "edges" && (
        <>
          <Choice label="How many by" value={step.by} options={BY} onChoose={(by) => put(`by ${by}`, "by", by)} />
          {step.by === "spacing" && <> {value("spacing", "Spacing", false)}</>},{" "}
        </>
      )}
      each {step.what === "shapes" ? value("times", "Times") : value("size", "Size")} large, as dense as the field goes,{" "}
      <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function ScatterMore({ pointer, step, put }: SentenceProps<"scatter">) {
  const value = valuesOf("Scatter", pointer);
  return (
    <>
      Copies stand{" "}
      <Choice label="Stand" value={step.stand} options={STANDS} onChoose={(way) => put(`stand ${way}`, "stand", way)} />
      {step.stand === "path" && (
        <>
          {" "}
          <PathOf step={step} put={put} />
        </>
      )}
      {step.stand === "controller" && (
        <>
          {" "}
          <ItemChoice
            label="Towards"
            kind="controller"
            value={step.controller ?? null}
            none="no controller yet"
            onChoose={(controller) => put("towards", "controller", controller)}
          />
        </>
      )}
      , up to {value("vary", "Smaller by up to")} smaller{" "}
      <Ruled pointer={pointer} step={step} put={put} name="size_by" />, stretched {value("length", "Stretched")}{" "}
      <Ruled pointer={pointer} step={step} put={put} name="length_by" />, turned by up to {value("turn", "Turned")}{" "}
      <Ruled pointer={pointer} step={step} put={put} name="turn_by" />, tilted by up to {value("tilt", "Tilted")},
      lifted {value("lift", "Lifted")} <Ruled pointer={pointer} step={step} put={put} name="lift_by" />. One comes in
      over {value("soft", "Comes in", false)} of the field. Chances are number {value("seed", "Seed", false)}; it counts
      by {value("amount", "Amount")}. <StepCurve pointer={pointer} step={step} put={put} />
      {step.what !== "shapes" && (
        <>
          {" "}
          They have <LookSentence pointer={`${pointer}/look`} backs={false} />.
        </>
      )}
    </>
  );
}

type Part = { step: Scatter; put: SentenceProps<"scatter">["put"] };

function PathOf({ step, put }: Part) {
  return (
    <ItemChoice
      label="Path"
      kind="path"
      value={step.path ?? null}
      none="no path yet"
      onChoose={(path) => put("path", "path", path)}
    />
  );
}

/** A field that rules one setting of the copies, or none. */
function Ruled({
  step,
  put,
  name,
  pointer,
}: Part & { name: "size_by" | "length_by" | "turn_by" | "lift_by"; pointer: string }) {
  const fields = useShot((shot) => shot.fields);
  const commit = useCommit();
  const ruled = step[name];
  const options = [
    ["", "alike"] as const,
    ...Object.entries(fields).map(([id, field]) => [id, `by ${field.letter} ${field.name}`] as const),
  ];
  return (
    <>
      <Choice
        label={`${name.replace("_by", "")} ruled by`}
        tone={ruled ? "field" : undefined}
        value={ruled?.field ?? ""}
        options={options}
        onChoose={(field) =>
          put(
            field ? "ruled by a field" : "alike",
            name,
            field ? { field, zone: ruled?.zone ?? "value", curve: null } : null,
          )
        }
      />
      {ruled && (
        <>
          {" "}
          (
          <Choice
            label={`Zone for ${name.replace("_by", "")}`}
            value={ruled.zone}
            options={ZONES}
            onChoose={(zone) => commit(zone, [{ op: "replace", path: `${pointer}/${name}/zone`, value: zone }])}
          />
          )
        </>
      )}
    </>
  );
}

const ZONES = [
  ["value", "its value"],
  ["inside", "inside"],
  ["band", "its band"],
  ["outside", "outside"],
] as const;

/** The shapes that copies are made of, each with its share. */
function Shapes({ pointer, step }: { pointer: string; step: Scatter }) {
  const commit = useCommit();
  const chosen = Object.entries(step.shapes_of ?? {}).sort(([, a], [, b]) => a.rank - b.rank);
  const value = valuesOf("CopiedShape", pointer);
  const own = pointer.split("/")[2];
  return (
    <>
      {chosen.map(([id, one], place) => (
        <span key={id}>
          {place > 0 && ", "}
          <ItemChoice
            label={`Shape ${place + 1}`}
            kind="shape"
            value={one.shape}
            none="no longer"
            but={own}
            onChoose={(shape) =>
              commit("shape of the copies", [
                shape
                  ? { op: "replace", path: `${pointer}/shapes_of/${id}/shape`, value: shape }
                  : { op: "remove", path: `${pointer}/shapes_of/${id}` },
              ])
            }
          />
          {chosen.length > 1 && <> {value(`shapes_of/${id}/share`, "Share", false)}</>}
        </span>
      ))}{" "}
      <More pointer={pointer} step={step} own={own} />
    </>
  );
}

function More({ pointer, step, own }: { pointer: string; step: Scatter; own: string | undefined }) {
  const editing = useEditing();
  const items = useShot((shot) => shot.items);
  const used = Object.values(step.shapes_of ?? {}).map((one) => one.shape);
  const free = Object.entries(items).find(([id, item]) => item.kind === "shape" && id !== own && !used.includes(id));
  if (!free) return used.length > 0 ? null : <span>no other shape in the shot yet</span>;
  return (
    <SmallButton
      onPress={() => {
        const [, , item = "", , , step = ""] = pointer.split("/");
        void change(editing, { kind: "copy_one_more_shape", item, step });
      }}
    >
      with {used.length > 0 ? "another" : "a"} shape
    </SmallButton>
  );
}
