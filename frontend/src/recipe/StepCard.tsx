import { ChevronDown, ChevronUp, MoreHorizontal } from "lucide-react";
import { useState } from "react";
import { useStore } from "zustand";
import { moveInOrder } from "../document/commands";
import { quantity } from "../document/quantities";
import { inOrder, type Shape, type Step } from "../document/types";
import { IconButton } from "../parts/Button";
import { Choice, CommandMenu } from "../parts/Choice";
import { useCommit, useEditing, useSession, useShot } from "../parts/editing";
import { NumberValue } from "../parts/NumberValue";
import { Card, Corner, Meta, Place as Ordinal, Unfolded, Warning } from "./Card";
import { FieldSentence } from "./FieldSentence";
import { LookSentence } from "./LookSentence";

const ZONES = [
  ["inside", "inside"],
  ["outside", "outside"],
  ["band", "in the band of"],
] as const;
const EDGES = [
  ["exact", "with an exact edge"],
  ["fading", "fading over the band"],
] as const;
const BACKS = [
  ["second look", "seen with a look of their own"],
  ["hidden", "hidden"],
] as const;

/** Cut away, as a sentence; the field that drives it unfolds beneath. */
export function StepCard({
  shapeId,
  shape,
  id,
  step,
  place,
}: {
  shapeId: string;
  shape: Shape;
  id: string;
  step: Step;
  place: number;
}) {
  const { documents } = useEditing();
  const listens = useStore(documents, (state) =>
    Boolean(step.field && state.drag?.some((one) => one.path.startsWith(`/fields/${step.field}/`))),
  );
  const commit = useCommit();
  const fields = useShot((shot) => shot.fields);
  const report = useSession((session) =>
    session.manifest?.steps.find((one) => one.item === shapeId && one.step === id),
  );
  const [open, setOpen] = useState(false);
  const [unfolded, setUnfolded] = useState(true);
  const steps = `/items/${shapeId}/recipe/steps`;
  const pointer = `${steps}/${id}`;
  const put = (label: string, name: string, value: unknown) =>
    commit(label, [{ op: "replace", path: `${pointer}/${name}`, value }]);
  const field = step.field ? fields[step.field] : undefined;
  const choices = [
    ...inOrder(fields).map(([key, one]) => [key, `${one.letter} ${one.name}`] as const),
    ["", "everything"] as const,
  ];
  return (
    <Card
      aria-label={`Step ${place}: Cut away`}
      data-listens={listens || undefined}
      data-off={step.on ? undefined : true}
      data-undriven={field ? undefined : true}
    >
      <Ordinal>{place}</Ordinal>
      <Corner>
        <IconButton
          data-small
          aria-label={open ? "Fold the step" : "More of the step"}
          aria-expanded={open}
          onPress={() => setOpen(!open)}
        >
          {open ? <ChevronUp size={14} /> : <ChevronDown size={14} />}
        </IconButton>
        <CommandMenu
          label="This step"
          commands={[
            [step.on ? "Turn it off" : "Turn it on", () => put(step.on ? "step off" : "step on", "on", !step.on)],
            ["Move it up", () => commit("order of steps", moveInOrder(shape.recipe.steps, steps, id, -1))],
            ["Move it down", () => commit("order of steps", moveInOrder(shape.recipe.steps, steps, id, 1))],
            ["Remove it", () => commit("no Cut away", [{ op: "remove", path: pointer }])],
          ]}
        >
          <IconButton data-small aria-label="Commands for the step">
            <MoreHorizontal size={14} />
          </IconButton>
        </CommandMenu>
      </Corner>
      <div style={{ paddingRight: 68 }}>
        Cut away what is{" "}
        {field && (
          <Choice label="Zone" value={step.zone} options={ZONES} onChoose={(zone) => put(zone, "zone", zone)} />
        )}{" "}
        <Choice
          label="Field"
          tone="field"
          value={step.field ?? ""}
          options={choices}
          onChoose={(chosen) => put("field", "field", chosen === "" ? null : chosen)}
        />
        {field && step.field && (
          <>
            {" "}
            at level{" "}
            <NumberValue
              tone="field"
              pointer={`/fields/${step.field}/level`}
              quantity={quantity("Field", "level")}
              label="level"
            />
            , band{" "}
            <NumberValue
              tone="field"
              pointer={`/fields/${step.field}/band`}
              quantity={quantity("Field", "band")}
              label="band"
            />
          </>
        )}
        ,{" "}
        <Choice label="Edge" value={step.edge} options={EDGES} onChoose={(edge) => put(`${edge} edge`, "edge", edge)} />
      </div>
      {report && step.on && (
        <Meta>
          <span>
            {report.faces_in.toLocaleString("en")} → {report.faces_out.toLocaleString("en")} faces
          </span>
          <span>{report.reused ? "kept from before" : `${report.milliseconds.toFixed(0)} ms`}</span>
        </Meta>
      )}
      {!step.on && <Meta>This step is off.</Meta>}
      {!field && step.on && (
        <Warning>
          No field drives this, so the whole shape is cut away. Choose a field in place of “everything”.
        </Warning>
      )}
      {open && (
        <Unfolded>
          The field counts by{" "}
          <NumberValue pointer={`${pointer}/amount`} quantity={quantity("CutAway", "amount")} label="Amount" />. Back
          faces are{" "}
          <Choice
            label="Back faces"
            value={step.backs}
            options={BACKS}
            onChoose={(backs) => put(`back faces ${backs}`, "backs", backs)}
          />
          {step.backs === "second look" && (
            <>
              : <LookSentence pointer={`${pointer}/back_look`} backs={false} />
            </>
          )}
        </Unfolded>
      )}
      {field && step.field && (
        <Unfolded>
          <IconButton
            data-small
            style={{ float: "right" }}
            aria-label={unfolded ? "Fold the field" : "Unfold the field"}
            aria-expanded={unfolded}
            onPress={() => setUnfolded(!unfolded)}
          >
            {unfolded ? <ChevronUp size={14} /> : <ChevronDown size={14} />}
          </IconButton>
          {unfolded ? (
            <FieldSentence id={step.field} field={field} reading={report?.reading ?? undefined} />
          ) : (
            <span>
              Field {field.letter} {field.name}
            </span>
          )}
        </Unfolded>
      )}
    </Card>
  );
}
