import { Dialog, Heading, Modal, ModalOverlay, Button as Press } from "react-aria-components";
import styled from "styled-components";
import type { Cost } from "../api/frames";
import { called } from "../document/kinds";
import type { Shot } from "../document/types";
import { Button } from "../parts/Button";
import { useEditing, useSession, useShot } from "../parts/editing";
import { showStep } from "../parts/opening";
import { usePanel } from "../parts/usePanel";
import { bytes, told } from "./amounts";

/** What each part of the shot took when it was made last, the longest first. */
export function WhereTimeGoes() {
  const panel = usePanel("costs");
  return (
    <Overlay {...panel} isDismissable>
      <Modal>
        <Sheet>{({ close }) => <Costs close={close} />}</Sheet>
      </Modal>
    </Overlay>
  );
}

/** Parts that took less than this together are told in one line. */
const LITTLE = 0.05;

const WAYS: Record<Cost["kind"], string> = {
  immediate: "",
  solved: "found once for the whole shot",
  marched: "walked tick by tick",
};

function Costs({ close }: { close: () => void }) {
  const editing = useEditing();
  const shot = useShot((now) => now);
  const frame = useSession((state) => state.frame);
  const manifest = useSession((state) => state.manifest);
  const costs = (manifest?.costs ?? []).filter((cost) => cost.made > 0).sort((one, other) => other.own - one.own);
  const long = costs.filter((cost) => cost.own >= LITTLE);
  const short = costs.slice(long.length);
  const most = Math.max(...costs.map((cost) => cost.own), 1e-6);
  const compiling = sum(costs, "compiling");
  const show = (cost: Cost) => {
    editing.session.setState({ chosen: cost.item, panel: null, ...(cost.field ? { field: cost.field } : {}) });
    if (cost.step) showStep(editing, cost.item, cost.step);
  };
  return (
    <>
      <Heading slot="title">Where the time goes</Heading>
      <p>
        What each part of the shot took when it was made last, without what it is made from. What is kept takes nothing
        until something that it depends on changes.
      </p>
      {costs.length === 0 && <p>Nothing has been made yet.</p>}
      <Kinds>
        {kindsOf(costs).map(([words, spent]) => (
          <li key={words}>
            {words} <b>{told(spent)}</b>
          </li>
        ))}
        {compiling > 0 && (
          <li>
            of it compiling, once on this machine <b>{told(compiling)}</b>
          </li>
        )}
      </Kinds>
      <Table aria-label={`Costs at frame ${Math.round(frame)}`}>
        <thead>
          <tr>
            <th>Part of the shot</th>
            <th colSpan={2}>Took</th>
            <th>Made, kept</th>
            <th>Memory</th>
          </tr>
        </thead>
        <tbody>
          {long.map((cost) => (
            <tr key={cost.node} data-node={cost.node}>
              <td>
                <Name onPress={() => show(cost)}>{nameOf(shot, cost)}</Name>
                {WAYS[cost.kind] && <small>{WAYS[cost.kind]}</small>}
              </td>
              <td>
                <Bar style={{ width: `${Math.max(1, (cost.own / most) * 100)}px` }} />
              </td>
              <td>{told(cost.own)}</td>
              <td>
                {cost.made}×, {cost.hits}×
              </td>
              <td>{bytes(cost.bytes)}</td>
            </tr>
          ))}
          {short.length > 0 && (
            <tr>
              <td>
                {short.length} more, each under {told(LITTLE)}
              </td>
              <td />
              <td>{told(sum(short, "own"))}</td>
              <td />
              <td>{bytes(sum(short, "bytes"))}</td>
            </tr>
          )}
        </tbody>
      </Table>
      <footer>
        <span>All kept together: {bytes(sum(costs, "bytes"))}</span>
        <Button data-main onPress={close}>
          Done
        </Button>
      </footer>
    </>
  );
}

const SORTS: Record<Cost["sort"], string> = {
  shape: "Shapes",
  step: "Steps",
  march: "Steps that move from tick to tick",
  solved: "Histories",
  field: "Fields",
  crossed: "Histories",
  front: "Fronts",
  memory: "Memory of fields",
  "source march": "Fields",
  "source history": "Fields",
};

/** What each kind of part took together, the longest first. */
function kindsOf(costs: Cost[]): [string, number][] {
  const spent = new Map<string, number>();
  for (const cost of costs) spent.set(SORTS[cost.sort], (spent.get(SORTS[cost.sort]) ?? 0) + cost.own);
  return [...spent].filter(([, one]) => one >= LITTLE).sort((one, other) => other[1] - one[1]);
}

function sum(costs: Cost[], of: "own" | "bytes" | "compiling"): number {
  return costs.reduce((total, cost) => total + cost[of], 0);
}

/** What a cost is about, in words. */
function nameOf(shot: Shot, cost: Cost): string {
  const item = shot.items[cost.item];
  const on = item?.name ?? cost.item;
  const step = item?.kind === "shape" ? item.recipe.steps?.[cost.step] : undefined;
  if (step) return `${called("step", step.kind)}, ${on}`;
  const field = shot.fields[cost.field];
  if (!field) return on;
  const letter = `${field.letter} ${field.name}`;
  switch (cost.sort) {
    case "crossed":
      return `When ${letter} comes to each point of ${on}`;
    case "front":
      return `The front from ${letter} over ${on}`;
    case "memory":
      return `What ${letter} remembers on ${on}`;
    default:
      return `${letter} on ${on}`;
  }
}

const Overlay = styled(ModalOverlay)`
  position: fixed; inset: 0; z-index: 50; display: grid; place-items: center; background: rgb(18 25 31 / 0.45);
`;
const Sheet = styled(Dialog)`
  display: grid; gap: 10px; width: min(680px, calc(100vw - 32px)); padding: 18px; outline: none; background: var(--card); color: var(--ink); border: 1px solid var(--line); border-radius: 3px;
  & h2 { font-size: 17px; }
  & > p { color: var(--ink-soft); }
  & footer { display: flex; gap: 8px; align-items: center; }
  & footer > span { flex: 1; color: var(--ink-soft); }
`;
const Kinds = styled.ul`
  display: flex; flex-wrap: wrap; gap: 2px 16px; margin: 0; padding: 0; list-style: none; color: var(--ink-soft);
  & b { color: var(--ink); font-weight: 600; }
`;
const Table = styled.table`
  display: block; max-height: 50vh; overflow: auto; border-collapse: collapse; font-variant-numeric: tabular-nums;
  & td, & th { padding: 4px 12px 4px 0; text-align: left; white-space: nowrap; vertical-align: top; }
  & td:first-child { width: 100%; white-space: normal; }
  & small { display: block; color: var(--ink-soft); font-size: 11.5px; }
`;
const Name = styled(Press)`
  padding: 0; border: 0; background: none; color: var(--ink); font: inherit; text-align: left; cursor: pointer;
  text-decoration: underline; text-decoration-color: var(--line); text-underline-offset: 3px;
  &[data-focus-visible] { outline: 2px solid var(--sea); outline-offset: 2px; }
`;
const Bar = styled.div`
  height: 10px; margin-top: 4px; min-width: 1px; background: var(--sea); border-radius: 1px;
`;
