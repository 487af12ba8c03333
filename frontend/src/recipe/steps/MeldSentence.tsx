import { Choice } from "../../parts/Choice";
import { useRelations, useShot } from "../../parts/editing";
import { OwnLook } from "./OwnLook";
import { placeOf, StepGroup } from "./StepGroup";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { valuesOf } from "./values";

export function MeldSentence({ pointer, step, put, undriven }: SentenceProps<"meld">) {
  const value = valuesOf("Meld", pointer);
  return (
    <>
      One skin over all of it, with <Also pointer={pointer} step={step} put={put} /> and the shapes of{" "}
      <StepGroup pointer={pointer} group={step.group ?? null} put={put} />, {value("radius", "Radius")} from each point,
      flowing together over {value("blend", "Blend")} of that, as far{" "}
      <Listening {...{ pointer, step, put, undriven }} />
    </>
  );
}

export function MeldMore({ pointer, step, put }: SentenceProps<"meld">) {
  const value = valuesOf("Meld", pointer);
  return (
    <>
      In cells of {value("cell", "Cell", false)}, smooth over {value("smooth", "Smooth", false)}. It has{" "}
      <OwnLook pointer={pointer} of="the skin" own={Boolean(step.look)} />. It counts by {value("amount", "Amount")}.{" "}
      <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

/** Another part of the shape that is melded in, by name, or none. */
function Also({ pointer, step, put }: Omit<SentenceProps<"meld">, "undriven">) {
  const { item, step: id } = placeOf(pointer);
  const parts = useRelations((all) => all.items[item]?.steps[id]?.parts) ?? ["body"];
  const names = useShot((shot) => {
    const shape = shot.items[item];
    return shape?.kind === "shape" ? shape.recipe.parts : undefined;
  });
  const others = parts.filter((part) => part !== step.part);
  return (
    <Choice
      label="Another part"
      value={step.also ?? ""}
      options={[["", "no other part"], ...others.map((part) => [part, names?.[part]?.name ?? part] as const)]}
      onChoose={(part) => put("another part", "also", part || null)}
    />
  );
}
