import { quantity } from "../../document/quantities";
import type { Source } from "../../document/types";
import { Choice } from "../../parts/Choice";
import { More } from "../../parts/More";
import { NumberValue } from "../../parts/NumberValue";
import type { ClauseProps } from "./clause";

type Pattern = Extract<Source, { kind: "noise" }>["pattern"];

const PATTERNS: readonly (readonly [Pattern, string])[] = [
  ["gradient", "gradient"],
  ["simplex", "simplex"],
  ["cellular", "cellular"],
  ["ridged", "ridged"],
  ["billow", "billow"],
  ["tongues", "tongues of"],
];
const LOOPS = [
  ["no", "never coming back"],
  ["yes", "looping over the shot"],
] as const;

export function Noise({ pointer, source, put, putAll, controllers }: ClauseProps<"noise">) {
  const value = (name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Noise", name)} label={label} keyable={keyable} />
  );
  const stretch = (axis: 0 | 1 | 2) => (
    <NumberValue
      pointer={`${pointer}/stretch`}
      axis={axis}
      quantity={quantity("Noise", "stretch")}
      label={`Stretch along ${"XYZ"[axis]}`}
    />
  );
  const spaces: [string, string][] = [
    ["rest", "on the shape"],
    ["world", "in the world"],
    ...controllers.map(([id, name]): [string, string] => [`controller ${id}`, `to ${name}`]),
  ];
  const space = source.space === "controller" ? `controller ${source.controller ?? ""}` : source.space;
  const { evolution } = source;
  const stretched = !Array.isArray(source.stretch) || source.stretch.some((factor) => factor !== 1);
  return (
    <>
      <Choice
        label="Pattern"
        value={source.pattern}
        options={PATTERNS}
        onChoose={(pattern) => put(`${pattern} noise`, "pattern", pattern)}
      />{" "}
      <b>noise</b> of {value("size", "Noise size")}
      {stretched && (
        <>
          , stretched {stretch(0)} {stretch(1)} {stretch(2)}
        </>
      )}
      , contrast {value("contrast", "Contrast")}, fixed{" "}
      <Choice
        label="Space"
        value={space}
        options={spaces}
        onChoose={(chosen) =>
          chosen === "rest" || chosen === "world"
            ? putAll(`noise ${chosen}`, { space: chosen, controller: null })
            : putAll("noise of a controller", { space: "controller", controller: chosen.split(" ")[1] })
        }
      />
      {evolution !== 0 && <>, changing {value("evolution", "Change")}</>}
      {evolution !== 0 && (
        <>
          {" "}
          <Choice
            label="Looping"
            value={source.looped ? "yes" : "no"}
            options={LOOPS}
            onChoose={(chosen) => put(chosen === "yes" ? "looping" : "not looping", "looped", chosen === "yes")}
          />
        </>
      )}
      <More of="the noise">
        {evolution === 0 && <>, changing {value("evolution", "Change")}</>}, in {value("octaves", "Octaves", false)}{" "}
        octaves, chance {value("seed", "Seed", false)}
      </More>
    </>
  );
}
