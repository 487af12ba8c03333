import { useQueryClient } from "@tanstack/react-query";
import { FileTrigger } from "react-aria-components";
import { Refused, sentFile } from "../api/client";
import type { components } from "../api/schema";
import { quantity } from "../document/quantities";
import { SmallButton } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { ColourValue } from "../parts/ColourValue";
import { useCommit, useShot } from "../parts/editing";
import { tell } from "../parts/messages";
import { NumberValue } from "../parts/NumberValue";
import { AssetName } from "../recipe/shapes/AssetName";

const SKIES = [
  ["day", "by day"],
  ["dusk", "at dusk"],
  ["storm", "under storm clouds"],
  ["night", "by night"],
] as const;

const BEHIND = [
  ["seen", "seen behind all"],
  ["colour", "not seen: behind all is"],
] as const;

/** The endings of files of pictures of all round. */
const PANORAMAS = [".hdr", ".exr", ".png", ".jpg"];

/** The light from all round: a sky or a picture, how strong and how turned it is, and what is seen behind all. */
export function Surroundings() {
  const commit = useCommit();
  const queries = useQueryClient();
  const { kind, asset, seen } = useShot((shot) => shot.environment);
  const put = (label: string, name: string, value: unknown) =>
    commit(label, [{ op: "replace", path: `/environment/${name}`, value }]);
  const number = (name: "strength" | "turn", label: string) => (
    <NumberValue pointer={`/environment/${name}`} quantity={quantity("Environment", name)} label={label} />
  );

  async function bring(file: File | undefined) {
    if (!file) return;
    try {
      const address = `/api/assets?name=${encodeURIComponent(file.name.slice(-120))}`;
      const brought = await sentFile<components["schemas"]["AssetSummary"]>(address, file);
      void queries.invalidateQueries({ queryKey: ["assets"] });
      if (brought.sort !== "panorama")
        tell("This file is no picture of all round. Nothing was changed. Choose another one.");
      else put(`light as ${brought.name}`, "asset", brought.hash);
    } catch (fault) {
      tell(
        fault instanceof Refused ? fault.message : "The file could not be read by the browser. Nothing was changed.",
      );
    }
  }

  return (
    <>
      Light from all round{" "}
      {asset ? (
        <>
          as in <AssetName hash={asset} />{" "}
          <SmallButton onPress={() => put("no picture", "asset", null)}>A sky</SmallButton>
        </>
      ) : (
        <>
          as{" "}
          <Choice
            label="Light from all round"
            value={kind}
            options={SKIES}
            onChoose={(chosen) => put(`light as ${chosen}`, "kind", chosen)}
          />
        </>
      )}{" "}
      <FileTrigger acceptedFileTypes={PANORAMAS} onSelect={(files) => void bring(files?.[0])}>
        <SmallButton>{asset ? "Another picture" : "A picture of all round"}</SmallButton>
      </FileTrigger>{" "}
      at {number("strength", "Strength")}, turned by {number("turn", "Turn")},{" "}
      <Choice
        label="What is behind all"
        value={seen ? "seen" : "colour"}
        options={BEHIND}
        onChoose={(way) => put("what is behind all", "seen", way === "seen")}
      />
      {!seen && (
        <>
          {" "}
          <ColourValue pointer="/environment/behind" label="Colour behind all" />
        </>
      )}
    </>
  );
}
