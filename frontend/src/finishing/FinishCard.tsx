import { MoreHorizontal } from "lucide-react";
import { memo } from "react";
import { change } from "../document/changing";
import { called, worksAfterView } from "../document/kinds";
import { type Finish, inOrder } from "../document/types";
import { IconButton } from "../parts/Button";
import { CommandMenu, type MenuCommand } from "../parts/Choice";
import { useCommit, useEditing, useShot } from "../parts/editing";
import { OwnGrip, Reordered } from "../parts/Reordered";
import { Card, Corner, Meta, Place as Ordinal } from "../recipe/Card";
import { FinishSentence } from "./sentences";
import { Where } from "./Where";

const CHAIN = "/finishing";

/** One step of finishing the picture, as a sentence. */
export const FinishCard = memo(function FinishCard({ id, step, place }: { id: string; step: Finish; place: number }) {
  const editing = useEditing();
  const commit = useCommit();
  const fields = useShot((shot) => shot.fields);
  const [first] = inOrder(fields).map(([key]) => key);
  const pointer = `${CHAIN}/${id}`;
  const name = called("finish", step.kind);
  const put = (label: string, setting: string, value: unknown) =>
    void change(editing, { kind: "choose", of: pointer, setting, value: value as never }, { label });
  const move = (by: 1 | -1) => void change(editing, { kind: "move_in_order", collection: CHAIN, id, by });
  const bounded = Boolean(step.item || step.field || step.depth);
  const commands: MenuCommand[] = [
    [step.on ? "Turn it off" : "Turn it on", () => put(step.on ? "step off" : "step on", "on", !step.on)],
    step.depth
      ? ["At any depth", () => put("at any depth", "depth", null)]
      : ["Only in a range of depth", () => put("in a range of depth", "depth", "own")],
    ...(step.field
      ? [["Without a field", () => put("without a field", "field", null)] as const]
      : first
        ? [["Count by a field", () => put("by a field", "field", first)] as const]
        : []),
    ...(bounded || step.outside
      ? [
          [
            step.outside ? "Only there" : "Everywhere but there",
            () => put(step.outside ? "only there" : "everywhere but there", "outside", !step.outside),
          ] as const,
        ]
      : []),
    ...(step.amount === 1
      ? [
          [
            "Count only half",
            () => commit("amount 0.5", [{ op: "replace", path: `${pointer}/amount`, value: 0.5 }]),
          ] as const,
        ]
      : []),
    ["Move it up", () => move(-1)],
    ["Move it down", () => move(1)],
    ["Remove it", () => commit(`no ${name}`, [{ op: "remove", path: pointer }])],
  ];
  return (
    <Reordered
      as={Card}
      collection={CHAIN}
      id={id}
      label="Drag the step to another place"
      aria-label={`Finishing ${place}: ${name}`}
      data-off={step.on ? undefined : true}
    >
      <Ordinal>
        {place}
        <OwnGrip />
      </Ordinal>
      <Corner>
        <CommandMenu label="This finishing step" commands={commands}>
          <IconButton data-small aria-label={`Commands for ${name}`}>
            <MoreHorizontal size={14} />
          </IconButton>
        </CommandMenu>
      </Corner>
      <div>
        <FinishSentence pointer={pointer} step={step} put={put} />
        <Where pointer={pointer} step={step} put={put} />
      </div>
      {!step.on && <Meta>This step is off.</Meta>}
      {step.on && worksAfterView(step.kind) && <Meta>After the view, on what is shown.</Meta>}
    </Reordered>
  );
});
