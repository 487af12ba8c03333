import { ChevronDown, ChevronUp, MoreHorizontal } from "lucide-react";
import { memo, useState } from "react";
import { useStore } from "zustand";
import type { Cost } from "../api/frames";
import { bytes, told } from "../costs/amounts";
import { change } from "../document/changing";
import { called, undrivenWords } from "../document/kinds";
import type { Shape, Step } from "../document/types";
import { IconButton } from "../parts/Button";
import { Choice, CommandMenu } from "../parts/Choice";
import { useCommit, useEditing, useRelations, useSession, useShot } from "../parts/editing";
import { Letter } from "../parts/Letter";
import { openStep, useOpened } from "../parts/opening";
import { OwnGrip, Reordered } from "../parts/Reordered";
import { Card, Corner, Fold, Meta, Opener, Place as Ordinal, Sentence, Slowest, Unfolded, Warning } from "./Card";
import { FieldSentence } from "./FieldSentence";
import { StepMore, StepSentence } from "./sentences";

type Props = {
  shapeId: string;
  shape: Shape;
  id: string;
  step: Step;
  place: number;
};

/** One step as a sentence; the field that drives it unfolds beneath. */
export const StepCard = memo(function StepCard({ shapeId, shape, id, step, place }: Props) {
  const editing = useEditing();
  const { documents } = editing;
  const listens = useStore(documents, (state) =>
    Boolean(step.field && state.drag?.some((one) => one.path.startsWith(`/fields/${step.field}/`))),
  );
  const commit = useCommit();
  const fields = useShot((shot) => shot.fields);
  const [more, setMore] = useState(false);
  const opened = useOpened(shapeId, shape) === id;
  const [unfolded, setUnfolded] = useState(true);
  const steps = `/items/${shapeId}/recipe/steps`;
  const pointer = `${steps}/${id}`;
  const put = (label: string, name: string, value: unknown) =>
    commit(label, [{ op: "replace", path: `${pointer}/${name}`, value }]);
  const field = step.field ? fields[step.field] : undefined;
  const undriven = !field && !shape.recipe.overall;
  const order = { as: Card, collection: steps, id, label: "Drag the step to another place" };
  const name = called("step", step.kind);
  const sentence = { pointer, put, undriven: !field };
  const parts = useRelations((all) => all.items[shapeId]?.steps[id]?.parts) ?? ["body"];
  const warning = undriven ? undrivenWords(step.kind) : "";
  const partName = (part: string) => shape.recipe.parts?.[part]?.name ?? part;

  const move = (by: 1 | -1) => void change(editing, { kind: "move_in_order", collection: steps, id, by });
  const remove = () => void change(editing, { kind: "remove_step", item: shapeId, step: id });

  if (!opened) {
    return (
      <Reordered
        aria-label={`Step ${place}: ${name}`}
        data-folded
        data-listens={listens || undefined}
        data-off={step.on ? undefined : true}
        data-undriven={warning !== "" || undefined}
        {...order}
      >
        <Ordinal>
          {place}
          <OwnGrip />
        </Ordinal>
        <Opener
          aria-label={`Open step ${place}: ${name}${field ? `, ${step.zone ?? "value"} of ${field.letter} ${field.name}` : ""}`}
          aria-expanded={false}
          onPress={() => openStep(editing.session, shapeId, id)}
        />
        <Sentence inert>
          {field && <Letter>{field.letter}</Letter>} <StepSentence step={step} {...sentence} />
        </Sentence>
      </Reordered>
    );
  }

  return (
    <Reordered
      aria-label={`Step ${place}: ${name}`}
      data-listens={listens || undefined}
      data-off={step.on ? undefined : true}
      data-undriven={warning !== "" || undefined}
      {...order}
    >
      <Ordinal>
        <Fold aria-label={`Fold step ${place}: ${name}`} onPress={() => openStep(editing.session, shapeId, null)}>
          {place}
        </Fold>
        <OwnGrip />
      </Ordinal>
      <Corner>
        <IconButton
          data-small
          aria-label={more ? "Less of the step" : "More of the step"}
          aria-expanded={more}
          onPress={() => setMore(!more)}
        >
          {more ? <ChevronUp size={14} /> : <ChevronDown size={14} />}
        </IconButton>
        <CommandMenu
          label="This step"
          commands={[
            [step.on ? "Turn it off" : "Turn it on", () => put(step.on ? "step off" : "step on", "on", !step.on)],
            ["Move it up", () => move(-1)],
            ["Move it down", () => move(1)],
            ["Remove it", remove],
          ]}
        >
          <IconButton data-small aria-label="Commands for the step">
            <MoreHorizontal size={14} />
          </IconButton>
        </CommandMenu>
      </Corner>
      <div>
        <StepSentence step={step} {...sentence} />
        {(parts.length > 1 || step.part !== "body") && (
          <>
            {" "}
            (on{" "}
            <Choice
              label="On which part"
              value={step.part ?? "body"}
              options={parts.map((part) => [part, partName(part)] as const)}
              onChoose={(part) => put(`on ${partName(part)}`, "part", part)}
            />
            )
          </>
        )}
      </div>
      {step.on ? <MadeAndCost shapeId={shapeId} id={id} /> : <Meta>This step is off.</Meta>}
      {step.on && warning && <Warning>{warning}</Warning>}
      {more && (
        <Unfolded>
          <StepMore step={step} {...sentence} />
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
            <FieldSentence id={step.field} field={field} subject={shapeId} driven={id} />
          ) : (
            <span>
              Field {field.letter} {field.name}
            </span>
          )}
        </Unfolded>
      )}
    </Reordered>
  );
});

/** What the step made, what it cost when it was made last, and how often that was kept since. */
function MadeAndCost({ shapeId, id }: { shapeId: string; id: string }) {
  const { session } = useEditing();
  const report = useSession((session) =>
    session.manifest?.steps.find((one) => one.item === shapeId && one.step === id),
  );
  const costs = useSession((session) => session.manifest?.costs) ?? [];
  if (!report) return null;
  const own = (sort: Cost["sort"]) => costs.find((one) => one.sort === sort && one.item === shapeId && one.step === id);
  const [step, march, solved] = [own("step"), own("march"), own("solved")];
  // Shapes are made once; what is made anew from frame to frame is what one waits for.
  const slowest = costs
    .filter((cost) => cost.sort !== "shape" && cost.kind !== "solved")
    .reduce((most, cost) => (cost.milliseconds > most.milliseconds ? cost : most), { node: "", milliseconds: 2 });
  return (
    <Meta>
      <span>
        {report.made && `${report.made}, `}
        {report.made.endsWith("copies") || report.faces_in === report.faces_out
          ? `${report.faces_out.toLocaleString("en")} faces`
          : `${report.faces_in.toLocaleString("en")} → ${report.faces_out.toLocaleString("en")} faces`}
      </span>
      {report.told && <span>{report.told}</span>}
      {step && (
        <span title="What it cost when it was made last; how often what it made was kept since; the memory it takes">
          {told(step.milliseconds)}
          {step.hits > 0 && `, kept ${step.hits}×`}, {bytes(step.bytes)}
        </span>
      )}
      {solved && solved.made > 0 && <span>found once in {told(solved.milliseconds)}</span>}
      {march && <span>swung here in {told(march.milliseconds)}</span>}
      {(slowest.node === step?.node || slowest.node === march?.node) && (
        <Slowest aria-label="Slowest: where the time goes" onPress={() => session.setState({ panel: "costs" })}>
          slowest
        </Slowest>
      )}
    </Meta>
  );
}
