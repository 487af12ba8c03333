import { called, sendsFront } from "../../document/kinds";
import { quantity } from "../../document/quantities";
import { inOrder } from "../../document/types";
import { Choice } from "../../parts/Choice";
import { useShot } from "../../parts/editing";
import { NumberValue } from "../../parts/NumberValue";
import type { ClauseProps } from "./clause";

export function Eaten({ pointer, source, put, putAll, shapes, subject }: ClauseProps<"eaten">) {
  const others = shapes.filter(([key]) => key !== subject || key === source.shape);
  const item = useShot((shot) => shot.items[source.shape ?? subject]);
  const steps = inOrder(item?.kind === "shape" ? (item.recipe?.steps ?? {}) : {});
  const eating = steps
    .map(([key, step], place) => [key, `step ${place + 1}, ${called("step", step.kind)}`, step.kind] as const)
    .filter(([, , kind]) => sendsFront(kind));
  return (
    <>
      <b>eaten</b> of{" "}
      <Choice
        label="Shape"
        value={source.shape ?? ""}
        options={[["", "the shape itself"], ...others]}
        onChoose={(shape) =>
          putAll(shape ? "of another shape" : "of the shape itself", { shape: shape || null, step: null })
        }
      />{" "}
      until now
      {(eating.length > 1 || source.step) && (
        <>
          {" "}
          by{" "}
          <Choice
            label="Eaten by"
            value={source.step ?? ""}
            options={[["", "all that eats it"], ...eating.map(([key, name]) => [key, name] as const)]}
            onChoose={(step) => put(step ? "by one step" : "by all that eats it", "step", step || null)}
          />
        </>
      )}
      , falling over <NumberValue pointer={`${pointer}/soft`} quantity={quantity("EatenField", "soft")} label="Soft" />{" "}
      ahead of the front
    </>
  );
}
