import styled from "styled-components";
import { inOrder } from "../document/types";
import { useSession, useShot } from "../parts/editing";
import { FieldRow } from "./FieldRow";
import { LinkCells, LinkHeads, linkedShape } from "./Links";
import { Ruler } from "./Ruler";
import { Transport } from "./Transport";

/** Time: transport, ruler, and a row for every field with what it covers when and which steps it drives. */
export function Tracks() {
  const fields = useShot((shot) => shot.fields);
  const items = useShot((shot) => shot.items);
  const chosen = useSession((session) => session.chosen);
  const linked = linkedShape(items, chosen);
  const steps = linked ? inOrder(linked.shape.recipe.steps) : [];
  const rows = inOrder(fields);
  const columns = steps.length > 0 ? steps.length + 1 : 0;
  const links = columns > 0 ? ` repeat(${columns}, 30px)` : "";
  return (
    <Area aria-label="Tracks">
      <Transport />
      <Grid style={{ gridTemplateColumns: `196px minmax(160px, 1fr)${links}` }}>
        <Label data-head>Field</Label>
        <RulerPlace data-head>
          <Ruler />
        </RulerPlace>
        {linked && columns > 0 && <LinkHeads {...linked} />}
        {rows.map(([id, field]) => (
          <Row key={id} data-field={id}>
            <FieldRow id={id} field={field} />
            {linked && columns > 0 && <LinkCells {...linked} fieldId={id} field={field} />}
          </Row>
        ))}
      </Grid>
      {rows.length === 0 && (
        <Empty>
          No fields yet. Choose a shape and add a step: its field appears here with what it covers over time.
        </Empty>
      )}
    </Area>
  );
}

const Area = styled.section`
  overflow: auto; padding: 0 16px 8px 12px; background: var(--card); border-top: 1px solid var(--line);
`;
const Grid = styled.div`
  display: grid; align-items: stretch; overflow: clip;
  & [data-head] { position: sticky; top: 40px; z-index: 3; background-color: var(--card); border-bottom: 1px solid var(--line); }
`;
const Label = styled.span`display: flex; align-items: center; color: var(--ink-soft);`;
const RulerPlace = styled.div`display: grid; align-content: end; min-width: 0;`;
const Row = styled.div`display: contents;`;
const Empty = styled.p`padding: 12px 0; color: var(--ink-soft);`;
