import { TriangleAlert } from "lucide-react";
import { Dialog, DialogTrigger, Heading, Popover } from "react-aria-components";
import styled from "styled-components";
import type { Patch } from "../document/types";
import { Button, SmallButton } from "../parts/Button";
import { type Editing, useCommit, useEditing } from "../parts/editing";
import { showDriven, showStep } from "../parts/opening";
import { usePanel } from "../parts/usePanel";
import { type Finding, useFindings } from "./useFindings";

/** What is amiss in the shot: how much, in the bar; each in words, with its place and what mends it, in a sheet. */
export function Findings() {
  const found = useFindings();
  const count = found?.length ?? 0;
  return (
    <DialogTrigger {...usePanel("findings")}>
      <Button
        aria-label={found === null ? "Findings" : `Findings: ${count}`}
        data-findings={found === null ? undefined : count}
      >
        {count > 0 && <TriangleAlert size={14} color="var(--signal)" />}
        {count > 0 ? `${count} ${count === 1 ? "finding" : "findings"}` : "Findings"}
      </Button>
      <Popover placement="bottom end">
        <Sheet>
          {({ close }) => (
            <>
              <Heading slot="title">Findings</Heading>
              {found === null && <p>Looking over the whole shot …</p>}
              {count === 0 && found && (
                <p>Nothing is amiss: every step does something, and every field reaches what it drives.</p>
              )}
              {found?.map((one) => (
                <One key={`${one.kind} ${one.place} ${one.item}`} finding={one} close={close} />
              ))}
            </>
          )}
        </Sheet>
      </Popover>
    </DialogTrigger>
  );
}

function One({ finding, close }: { finding: Finding; close: () => void }) {
  const editing = useEditing();
  const commit = useCommit();
  const { mend } = finding;
  return (
    <Row data-finding={finding.kind}>
      <p>{finding.says}</p>
      <div>
        <SmallButton
          onPress={() => {
            close();
            showPlace(editing, finding);
          }}
        >
          Show it
        </SmallButton>
        {mend && (
          <SmallButton onPress={() => commit(mend.says.toLowerCase(), mend.patch as Patch)}>{mend.says}</SmallButton>
        )}
      </div>
    </Row>
  );
}

/** Opens the recipe at the step or field that a finding concerns. */
function showPlace(editing: Editing, { place, item }: Finding): void {
  const { session } = editing;
  const [, collection, id, , , step] = place.split("/");
  if (collection === "fields") {
    session.setState({ field: id ?? null, chosen: item });
    if (id) showDriven(editing, item, id);
  } else if (collection === "items") session.setState({ chosen: id ?? null });
  if (collection === "items" && id && step) showStep(editing, id, step);
}

const Sheet = styled(Dialog)`
  display: grid; gap: 8px; width: 420px; max-height: 70vh; overflow: auto; padding: 14px; outline: none;
  background: var(--card); color: var(--ink); border: 1px solid var(--ink-soft); border-radius: 3px;
  & h2 { font-size: 16px; }
`;
const Row = styled.section`
  display: grid; gap: 6px; padding: 8px 0 4px; border-top: 1px solid var(--line);
  & > div { display: flex; flex-wrap: wrap; gap: 6px; }
`;
