import { at } from "../document/parameter";
import { quantity } from "../document/quantities";
import { Choice } from "../parts/Choice";
import { ColourValue } from "../parts/ColourValue";
import { useCommit, useShot } from "../parts/editing";
import { NumberValue } from "../parts/NumberValue";

const BACKS = [
  ["shown", "shown"],
  ["hidden", "hidden"],
] as const;

/** How a thing looks, as a sentence. coloured: parts of it have colours or pictures of their own. */
export function LookSentence({
  pointer,
  backs,
  coloured = false,
}: {
  pointer: string;
  backs: boolean;
  coloured?: boolean;
}) {
  const commit = useCommit();
  const shownBacks = useShot((shot) => at(shot, `${pointer}/backs`)) as "shown" | "hidden";
  const value = (name: string, label: string) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Look", name)} label={label} />
  );
  return (
    <>
      colour <ColourValue pointer={`${pointer}/base_colour`} label="Base colour" />
      {coloured && " where it has none of its own"}, roughness {value("roughness", "Roughness")}, metallic{" "}
      {value("metallic", "Metallic")}, giving off{" "}
      <ColourValue pointer={`${pointer}/emission_colour`} label="Emission colour" /> at {value("emission", "Emission")},
      letting {value("transmission", "Transmission")} of the light through, opacity {value("opacity", "Opacity")}
      {backs && (
        <>
          , back faces{" "}
          <Choice
            label="Back faces"
            value={shownBacks}
            options={BACKS}
            onChoose={(chosen) =>
              commit(`back faces ${chosen}`, [{ op: "replace", path: `${pointer}/backs`, value: chosen }])
            }
          />
        </>
      )}
    </>
  );
}
