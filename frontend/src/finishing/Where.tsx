import { modelOf } from "../document/kinds";
import type { Finish } from "../document/types";
import { inOrder } from "../document/types";
import { Choice } from "../parts/Choice";
import { useShot } from "../parts/editing";
import { valuesOf } from "../recipe/steps/values";
import type { FinishProps } from "./sentence";

/** Where a finishing step counts: on everything, an item or a part of it, by a field, in a range of depth. */
export function Where({ pointer, step, put }: Omit<FinishProps<Finish["kind"]>, "step"> & { step: Finish }) {
  const items = useShot((shot) => shot.items);
  const fields = useShot((shot) => shot.fields);
  const shapes = inOrder(items).filter(([, item]) => item.kind === "shape");
  const item = step.item ? items[step.item] : undefined;
  const parts = item?.kind === "shape" ? inOrder(item.recipe.parts ?? {}) : [];
  const depth = valuesOf("DepthRange", `${pointer}/depth`);
  return (
    <>
      , {step.outside && "everywhere but "}
      <Choice
        label="On what"
        value={step.item ?? ""}
        options={[["", "on all"], ...shapes.map(([key, { name }]) => [key, `on ${name}`] as const)]}
        onChoose={(chosen) => put("on what", "item", chosen || null)}
      />
      {parts.length > 1 && (
        <>
          ,{" "}
          <Choice
            label="On which part"
            value={step.part ?? ""}
            options={[["", "all parts"], ...parts.map(([key, { name }]) => [key, name] as const)]}
            onChoose={(part) => put("on which part", "part", part || null)}
          />
        </>
      )}
      {step.field && (
        <>
          {" "}
          by{" "}
          <Choice
            label="By which field"
            tone="field"
            value={step.field}
            options={inOrder(fields).map(([key, one]) => [key, `${one.letter} ${one.name}`] as const)}
            onChoose={(field) => put("by which field", "field", field)}
          />
        </>
      )}
      {step.depth && (
        <>
          {" "}
          from {depth("near", "From so far off")} to {depth("far", "To so far off")} off, fading over{" "}
          {depth("soft", "Fading over")}
        </>
      )}
      {step.amount !== 1 && <>, by {valuesOf(modelOf("finish", step.kind), pointer)("amount", "Amount")}</>}
    </>
  );
}
