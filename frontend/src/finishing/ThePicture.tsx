import styled from "styled-components";
import { change } from "../document/changing";
import { OFFERS } from "../document/kinds";
import { inOrder } from "../document/types";
import { Button } from "../parts/Button";
import { Choice, CommandMenu } from "../parts/Choice";
import { useCommit, useEditing, useShot } from "../parts/editing";
import { Card } from "../recipe/Card";
import { FinishCard } from "./FinishCard";
import { LayerCard } from "./LayerCard";
import { Surroundings } from "./Surroundings";

const VIEWS = [
  ["neutral", "with its colours kept"],
  ["plain", "as plain sRGB"],
  ["aces_1_3", "by ACES 1.3"],
  ["aces_2_0", "by ACES 2"],
] as const;

/** The picture as a whole: what lights it, how it is shown, and the chain of steps that finishes it. */
export function ThePicture() {
  const editing = useEditing();
  const commit = useCommit();
  const view = useShot((shot) => shot.view);
  const chain = useShot((shot) => shot.finishing);
  const layers = useShot((shot) => shot.layers);
  const pictured = useShot((shot) => shot.pictured) ?? null;
  return (
    <>
      <Card style={{ paddingLeft: 12 }} aria-label="The picture">
        <Surroundings />. Shown{" "}
        <Choice
          label="How light is shown"
          value={view}
          options={VIEWS}
          onChoose={(chosen) => commit("how light is shown", [{ op: "replace", path: "/view", value: chosen }])}
        />
        , in pictures and film alike.
        {inOrder(layers).length > 0 && (
          <>
            {" "}
            They show{" "}
            <Choice
              label="What finished pictures show"
              value={pictured ?? ""}
              options={[
                ["", "everything"],
                ...inOrder(layers).map(([key, { name }]) => [key, `only the layer ${name}`] as const),
              ]}
              onChoose={(chosen) =>
                commit("what pictures show", [{ op: "replace", path: "/pictured", value: chosen || null }])
              }
            />
            .{pictured && " The quick picture shows everything."}
          </>
        )}
      </Card>
      {inOrder(layers).map(([id, layer]) => (
        <LayerCard key={id} id={id} layer={layer} />
      ))}
      {inOrder(chain).map(([id, step], place) => (
        <FinishCard key={id} id={id} step={step} place={place + 1} />
      ))}
      <CommandMenu
        label="Add a finishing step"
        commands={OFFERS.finishing.map((offer) => [
          offer.words,
          () => void change(editing, offer.change),
          offer.says,
          offer.wish,
        ])}
      >
        <Button>Add a finishing step</Button>
      </CommandMenu>{" "}
      <Button onPress={() => void change(editing, { kind: "add_layer", items: [] })}>Add a layer</Button>
      <Note>
        The steps are done from top to bottom on every finished picture and film. Read the view as <b>Finished</b> to
        see them; the quick picture shows exposure and glow. A layer pictures some items apart from the rest, for
        compositing. Choose an item above for its recipe.
      </Note>
    </>
  );
}

const Note = styled.p`
  margin-top: 8px; color: var(--ink-soft);
`;
