import { modelOf } from "../document/kinds";
import { quantity } from "../document/quantities";
import type { Item } from "../document/types";
import { keyPlace } from "../doing/adding";
import { SmallButton } from "../parts/Button";
import { useCommit, useEditing, useRelations, useShot } from "../parts/editing";
import { Letter } from "../parts/Letter";
import { NumberValue } from "../parts/NumberValue";
import { Card, Unfolded } from "./Card";
import { Exposing, Lens } from "./Lens";
import { LightSentence } from "./LightSentence";
import { PathCard } from "./PathCard";
import { PlaceSentence } from "./PlaceSentence";

/** What there is to say of an item without geometry. */
export function ItemCards({ id, item }: { id: string; item: Item }) {
  const editing = useEditing();
  const commit = useCommit();
  const fields = useShot((shot) => shot.fields);
  const camera = useShot((shot) => shot.camera);
  const measuring = useRelations((all) => all.items[id]?.fields) ?? [];
  const drives = measuring.flatMap((key) => fields[key] ?? []);
  return (
    <Card style={{ paddingLeft: 12 }} aria-label={item.name}>
      <PlaceSentence
        pointer={`/items/${id}`}
        model={modelOf("item", item.kind)}
        scaled={item.kind === "controller" || item.kind === "path"}
      />
      <div>
        <SmallButton onPress={() => keyPlace(editing, id)}>Key its place here</SmallButton>
      </div>
      {item.kind === "path" && <PathCard id={id} path={item} />}
      {item.kind === "controller" && (
        <Unfolded>
          {drives.length === 0 ? (
            <>
              No field measures from it yet. Choose a shape and add a step, then name this controller in the step’s
              field.
            </>
          ) : (
            <>
              Drives{" "}
              {drives.map((field) => (
                <span key={field.letter}>
                  <Letter>{field.letter}</Letter> {field.name}{" "}
                </span>
              ))}
            </>
          )}
        </Unfolded>
      )}
      {item.kind === "light" && (
        <Unfolded>
          <LightSentence id={id} light={item} />
        </Unfolded>
      )}
      {item.kind === "camera" && (
        <Unfolded>
          Sees{" "}
          <NumberValue pointer={`/items/${id}/angle`} quantity={quantity("Camera", "angle")} label="Angle of view" />{" "}
          from bottom to top, <Lens id={id} camera={item} />.{" "}
          {camera === id ? (
            "The shot looks through it."
          ) : (
            <SmallButton onPress={() => commit("camera of the shot", [{ op: "replace", path: "/camera", value: id }])}>
              Look through it
            </SmallButton>
          )}
          <br />
          <Exposing id={id} camera={item} />
        </Unfolded>
      )}
    </Card>
  );
}
