import styled from "styled-components";
import { called, choicesOf, undrivenWords } from "../document/kinds";
import { type Field, type Item, inOrder, type Shape, type Step } from "../document/types";
import { CommandMenu, WordButton } from "../parts/Choice";
import { useCommit, useEditing, useRelations } from "../parts/editing";
import { showStep, useOpened } from "../parts/opening";

export type Linked = { id: string; shape: Shape };

/** The shape whose steps the links show: the chosen one, else the first that has steps. */
export function linkedShape(items: Record<string, Item>, chosen: string | null): Linked | null {
  const item = chosen ? items[chosen] : undefined;
  if (chosen && item?.kind === "shape") return { id: chosen, shape: item };
  for (const [id, one] of inOrder(items)) {
    if (one.kind === "shape" && Object.keys(one.recipe.steps).length > 0) return { id, shape: one };
  }
  return null;
}

/** Over the links: a number for every step, as in the recipe; a step that nothing drives is hatched. */
export function LinkHeads({ id, shape }: Linked) {
  const editing = useEditing();
  const steps = inOrder(shape.recipe.steps);
  const open = useOpened(id, shape);
  return (
    <>
      <Head data-head data-overall title="What every step counts by">
        <Whose style={{ right: -steps.length * 30, width: Math.max(steps.length + 1, 5) * 30 }}>
          drives, on {shape.name}
        </Whose>
        all
      </Head>
      {steps.map(([stepId, step], place) => (
        <Head key={stepId} data-head data-undriven={undriven(shape, step) || undefined}>
          <Ordinal
            type="button"
            aria-current={stepId === open ? "step" : undefined}
            aria-label={`Step ${place + 1}: ${called("step", step.kind)}`}
            title={`${called("step", step.kind)}${undriven(shape, step) ? ": no field drives it" : ""}`}
            onClick={() => showStep(editing, id, stepId)}
          >
            {place + 1}
          </Ordinal>
        </Head>
      ))}
    </>
  );
}

/** A field's row of the links: pressed to drive a step by it, pressed again for its zone or to let go. */
export function LinkCells({ id, shape, fieldId, field }: Linked & { fieldId: string; field: Field }) {
  const commit = useCommit();
  const recipe = `/items/${id}/recipe`;
  const overall = shape.recipe.overall === fieldId;
  const relations = useRelations((all) => all.items[id]);
  return (
    <>
      <Cell data-overall>
        <Press
          type="button"
          aria-pressed={overall}
          aria-label={`${field.letter} ${field.name} drives every step`}
          title={overall ? "Every step counts by it: press to let go" : `Let every step count by ${field.letter}`}
          onClick={() =>
            commit(overall ? "no overall field" : `all by ${field.letter}`, [
              { op: "replace", path: `${recipe}/overall`, value: overall ? null : fieldId },
            ])
          }
        >
          {overall && <Mark zone="value" />}
        </Press>
      </Cell>
      {inOrder(shape.recipe.steps).map(([stepId, step], place) => (
        <Cell key={stepId} data-undriven={undriven(shape, step) || undefined} data-off={step.on ? undefined : true}>
          <Link
            pointer={`${recipe}/steps/${stepId}`}
            step={step}
            told={`${place + 1} ${called("step", step.kind)}`}
            fieldId={fieldId}
            field={field}
            rules={relations?.steps[stepId]?.rules.includes(fieldId) ?? false}
          />
        </Cell>
      ))}
    </>
  );
}

function undriven(shape: Shape, step: Step): boolean {
  return step.on && !step.field && !shape.recipe.overall && undrivenWords(step.kind) !== "";
}

type LinkProps = { pointer: string; step: Step; told: string; fieldId: string; field: Field; rules: boolean };

function Link({ pointer, step, told, fieldId, field, rules }: LinkProps) {
  const commit = useCommit();
  const put = (label: string, name: string, value: string | null) =>
    commit(label, [{ op: "replace", path: `${pointer}/${name}`, value }]);
  const name = `${field.letter} ${field.name}`;
  if (step.field !== fieldId) {
    return (
      <Press
        type="button"
        aria-label={rules ? `${name} rules a setting of ${told}` : `${name} does not drive ${told}`}
        title={
          rules
            ? `${field.letter} rules a setting of ${told}; press to let it drive the step`
            : `Let ${field.letter} drive ${told}`
        }
        onClick={() => put(`${field.letter} drives ${told}`, "field", fieldId)}
      >
        {rules && (
          <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true" fill="none" stroke="var(--sea)">
            <circle cx="8" cy="8" r="3.5" strokeWidth="1.5" />
          </svg>
        )}
      </Press>
    );
  }
  const zone = step.zone;
  return (
    <CommandMenu
      label={`${name} drives ${told}`}
      commands={[
        ...zonesOf(step).map(
          (one) =>
            [`${ZONE_WORDS[one]}${one === zone ? " (now)" : ""}`, () => put(ZONE_WORDS[one], "zone", one)] as const,
        ),
        ["Let go", () => put(`${field.letter} lets ${told} go`, "field", null)] as const,
      ]}
    >
      <Pressed aria-label={`${name} drives ${told}, ${ZONE_WORDS[zone]}`}>
        <Mark zone={zone} />
      </Pressed>
    </CommandMenu>
  );
}

function zonesOf(step: Step): Step["zone"][] {
  const zones = choicesOf("step", step.kind, "zone");
  return ZONES.filter((zone) => zones.includes(zone));
}

const ZONES = ["value", "inside", "band", "outside"] as const satisfies Step["zone"][];
const ZONE_WORDS: Record<Step["zone"], string> = {
  value: "by its value",
  inside: "inside",
  band: "in its band",
  outside: "outside",
};

/** A zone as a pattern: inside solid, the band dotted, outside hollow, the value a wedge. */
function Mark({ zone }: { zone: Step["zone"] }) {
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true" fill="var(--sea)" stroke="none">
      {zone === "inside" && <rect x="2" y="2" width="12" height="12" />}
      {zone === "outside" && (
        <rect x="3" y="3" width="10" height="10" fill="none" stroke="var(--sea)" strokeWidth="2" />
      )}
      {zone === "value" && <path d="M1.500 14h13V2Z" />}
      {zone === "band" &&
        [3, 8, 13].map((y) => [3, 8, 13].map((x) => <circle key={`${x} ${y}`} cx={x} cy={y} r="1.700" />))}
    </svg>
  );
}

const hatched = "repeating-linear-gradient(135deg, transparent 0 5px, var(--hatch) 5px 10px)";
const Head = styled.div`
  position: relative; display: grid; place-items: end center; min-height: 38px; color: var(--ink-soft); font-size: 11.5px; border-left: 1px solid var(--line);
  &[data-undriven] { background-image: ${hatched}; }
  &&[data-overall] { z-index: 4; }
`;
const Whose = styled.span`
  position: absolute; top: 0; padding-left: 4px; text-align: right; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; line-height: 14px; background: var(--card); z-index: 1;
`;
const Ordinal = styled.button`
  width: 100%; padding: 0; border: 0; background: none; font-weight: 600; color: var(--ink); cursor: pointer; line-height: 24px;
  &[aria-current] { box-shadow: inset 0 -2px var(--signal); }
`;
const Cell = styled.div`
  display: grid; border-left: 1px solid var(--line); border-bottom: 1px solid var(--line); min-height: 30px;
  &[data-undriven] { background: ${hatched}; }
  &[data-off] { opacity: 0.45; }
`;
const Press = styled.button`
  display: grid; place-items: center; padding: 0; border: 0; background: none; cursor: pointer;
  &:hover { background: var(--sea-wash); }
`;
const Pressed = styled(WordButton)`
  && { display: grid; place-items: center; border: 0; padding: 0; }
`;
