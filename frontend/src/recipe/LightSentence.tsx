import { change } from "../document/changing";
import type { Light } from "../document/types";
import { SmallButton } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { ColourValue } from "../parts/ColourValue";
import { useCommit, useEditing } from "../parts/editing";
import { valuesOf } from "./steps/values";

const WAYS = [
  ["parallel", "in parallel, as the sun"],
  ["point", "from a point, all round"],
  ["area", "from an area, to one side"],
] as const;

/** How a light shines, and how soft its shadows are. */
export function LightSentence({ id, light }: { id: string; light: Light }) {
  const editing = useEditing();
  const commit = useCommit();
  const pointer = `/items/${id}`;
  const value = valuesOf("Light", pointer);
  const warm = (own: "own" | null) =>
    void change(
      editing,
      { kind: "choose", of: pointer, setting: "temperature", value: own },
      { label: own ? "a colour temperature" : "no colour temperature" },
    );
  return (
    <>
      Shines{" "}
      <Choice
        label="How its light goes out"
        value={light.shines ?? "parallel"}
        options={WAYS}
        onChoose={(way) => commit(`shines ${way}`, [{ op: "replace", path: `${pointer}/shines`, value: way }])}
      />{" "}
      in <ColourValue pointer={`${pointer}/colour`} label="Colour of the light" />
      {light.temperature === null || light.temperature === undefined ? (
        <>
          {" "}
          <SmallButton onPress={() => warm("own")}>of a temperature</SmallButton>
        </>
      ) : (
        <>
          {" "}
          of {value("temperature", "Temperature of the light")}{" "}
          <SmallButton onPress={() => warm(null)}>Its colour only</SmallButton>
        </>
      )}{" "}
      at {value("strength", "Strength")}
      {light.shines === "parallel" && (
        <>
          , as wide in the sky as {value("width", "Width of the light")}: the wider, the softer a finished picture’s
          shadows
        </>
      )}
      {light.shines === "point" && (
        <>
          {" "}
          one metre away, from a ball of radius {value("radius", "Radius of the light")}: the larger, the softer a
          finished picture’s shadows
        </>
      )}
      {light.shines === "area" && (
        <>
          {" "}
          one metre away, from {value("wide", "Width of the area")} by {value("high", "Height of the area")}. The quick
          picture has no shadows of it
        </>
      )}
    </>
  );
}
