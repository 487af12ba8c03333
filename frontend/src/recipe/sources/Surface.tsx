import { quantity } from "../../document/quantities";
import type { Source } from "../../document/types";
import { Choice } from "../../parts/Choice";
import { useSession } from "../../parts/editing";
import { NumberValue } from "../../parts/NumberValue";
import { AXES, type ClauseProps } from "./clause";

type Reading = Extract<Source, { kind: "surface" }>["reading"];

const READINGS: readonly (readonly [Reading, string])[] = [
  ["height", "its height"],
  ["axis", "how it faces an axis"],
  ["camera", "how it faces the camera"],
  ["u", "its u"],
  ["v", "its v"],
  ["curvature", "how it bulges"],
  ["order", "the order of its points"],
  ["attribute", "what came with its points:"],
];
/** For each reading its unit, and where the value is 0 and 1 to begin with. */
const RANGES: Record<Reading, { unit: string; low: number; high: number; drag: number }> = {
  height: { unit: "m", low: 0, high: 2, drag: 0.01 },
  axis: { unit: "°", low: 90, high: 0, drag: 0.5 },
  camera: { unit: "°", low: 0, high: 90, drag: 0.5 },
  u: { unit: "", low: 0, high: 1, drag: 0.005 },
  v: { unit: "", low: 0, high: 1, drag: 0.005 },
  order: { unit: "", low: 0, high: 1, drag: 0.005 },
  curvature: { unit: "/m", low: 0, high: 2, drag: 0.02 },
  attribute: { unit: "", low: 0, high: 1, drag: 0.005 },
};
const WORLD = "the world";

export function Surface({ pointer, source, put, putAll, controllers, subject }: ClauseProps<"surface">) {
  const shape = useSession((session) => session.manifest?.shapes.find((one) => one.item === subject));
  const attributes = Array.from(new Set([...(shape?.attributes ?? []), source.attribute]));
  const range = RANGES[source.reading];
  const value = (name: "low" | "high", label: string) => (
    <NumberValue
      pointer={`${pointer}/${name}`}
      quantity={{ ...quantity("Surface", name), unit: range.unit, drag: range.drag }}
      label={label}
    />
  );
  return (
    <>
      <b>the surface</b> by{" "}
      <Choice
        label="Reading"
        value={source.reading}
        options={READINGS}
        onChoose={(reading) => {
          const { low, high } = RANGES[reading];
          putAll(`by ${reading}`, { reading, low, high });
        }}
      />
      {source.reading === "attribute" && (
        <>
          {" "}
          <Choice
            label="Attribute"
            value={source.attribute}
            options={attributes.map((name) => [name, name] as const)}
            onChoose={(name) => put(name, "attribute", name)}
          />
        </>
      )}
      {source.reading === "axis" && (
        <>
          {" "}
          <Choice label="Axis" value={source.axis} options={AXES} onChoose={(axis) => put(axis, "axis", axis)} /> of{" "}
          <Choice
            label="Whose axis"
            value={source.controller ?? WORLD}
            options={[[WORLD, WORLD], ...controllers]}
            onChoose={(item) => put("whose axis", "controller", item === WORLD ? null : item)}
          />
        </>
      )}
      , from {value("low", "Reading for 0")} to {value("high", "Reading for 1")}
    </>
  );
}
