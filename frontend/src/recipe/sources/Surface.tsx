import { change } from "../../document/changing";
import { unitOf } from "../../document/kinds";
import { quantity } from "../../document/quantities";
import type { Source } from "../../document/types";
import { Choice } from "../../parts/Choice";
import { useEditing, useSession } from "../../parts/editing";
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
  ["stretch", "how far it is stretched"],
  ["fold", "how far it is folded"],
  ["order", "the order of its points"],
  ["attribute", "what came with its points:"],
];
const WORLD = "the world";

export function Surface({ pointer, source, put, controllers, subject }: ClauseProps<"surface">) {
  const editing = useEditing();
  const shape = useSession((session) => session.manifest?.shapes.find((one) => one.item === subject));
  const attributes = Array.from(new Set([...(shape?.attributes ?? []), source.attribute]));
  const value = (name: "low" | "high", label: string) => (
    <NumberValue
      pointer={`${pointer}/${name}`}
      quantity={{ ...quantity("Surface", name), unit: unitOf("surface", source.reading) }}
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
        onChoose={(value) => void change(editing, { kind: "choose", of: pointer, setting: "reading", value })}
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
