import { change, editFor, type Wanted } from "../document/changing";
import { OFFERS, taken } from "../document/kinds";
import { at } from "../document/parameter";
import { quantity } from "../document/quantities";
import { inOrder, type Shape, type Shot } from "../document/types";
import { SmallButton } from "../parts/Button";
import { Choice, CommandMenu, type MenuCommand } from "../parts/Choice";
import { ColourValue } from "../parts/ColourValue";
import { useCommit, useEditing, useShot } from "../parts/editing";
import { NumberValue } from "../parts/NumberValue";
import { Trial } from "../view/Trial";
import { KeepLook, useKeptLooks } from "./KeptLooks";

const BACKS = [
  ["shown", "shown"],
  ["hidden", "hidden"],
] as const;

/** Whether light ever goes through what has a look: by the look itself, or by a step. */
function letsLightThrough(shot: Shot, pointer: string): boolean {
  const look = at(shot, pointer) as Shape["look"];
  const item = shot.items[pointer.split("/")[2] ?? ""];
  const steps = item?.kind === "shape" ? Object.values(item.recipe?.steps ?? {}) : [];
  const shaded = steps.some((step) => "channel" in step && step.channel === "transmission");
  return shaded || (look?.transmission ?? 0) !== 0;
}

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
  const clear = useShot((shot) => letsLightThrough(shot, pointer));
  const editing = useEditing();
  const items = useShot((shot) => shot.items);
  const [, , item = ""] = pointer.split("/");
  const others = inOrder(items).filter(([id, one]) => one.kind === "shape" && id !== item);
  const whole = pointer === `/items/${item}/look`;
  const laid = (wanted: Wanted, says: string) => (
    <Trial tried={{ item, edit: () => editFor(editing, wanted) }} says={says} />
  );
  const looks: MenuCommand[] = OFFERS.looks.map((offer) => {
    const wanted = taken(offer, pointer);
    return [offer.words, () => void change(editing, wanted), "", offer.wish, () => laid(wanted, offer.words)];
  });
  const theirs = whole ? others : [];
  for (const [id, one] of theirs) {
    const wanted: Wanted = { kind: "give_look", of: id, to: [item] };
    const says = `As ${one.name}`;
    looks.push([says, () => void change(editing, wanted), "", "As another shape", () => laid(wanted, says)]);
  }
  const { looks: kept } = useKeptLooks();
  for (const { name, look } of kept) {
    const wanted: Wanted = { kind: "lay_kept_look", of: pointer, look: look as Shape["look"], called: name };
    looks.push([name, () => void change(editing, wanted), "", "Kept in the project", () => laid(wanted, name)]);
  }
  return (
    <>
      <CommandMenu label="Lay a look" commands={looks}>
        <SmallButton>A look</SmallButton>
      </CommandMenu>{" "}
      <KeepLook pointer={pointer} /> colour <ColourValue pointer={`${pointer}/base_colour`} label="Base colour" />
      {coloured && " where it has none of its own"}, roughness {value("roughness", "Roughness")}, metallic{" "}
      {value("metallic", "Metallic")}, giving off{" "}
      <ColourValue pointer={`${pointer}/emission_colour`} label="Emission colour" /> at {value("emission", "Emission")},
      letting {value("transmission", "Transmission")} of the light through
      {clear && (
        <>
          , bent by an index of {value("index", "Index of refraction")}, inside{" "}
          <ColourValue pointer={`${pointer}/attenuation_colour`} label="Colour of the inside" /> after{" "}
          {value("attenuation_distance", "Distance to the colour of the inside")}, where it is a sheet{" "}
          {value("thickness", "Thickness of a sheet")} thick
        </>
      )}
      , opacity {value("opacity", "Opacity")}
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
