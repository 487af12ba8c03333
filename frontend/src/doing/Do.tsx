import { useMemo } from "react";
import {
  Autocomplete,
  Dialog,
  Input,
  Menu,
  MenuItem,
  Modal,
  ModalOverlay,
  SearchField,
  useFilter,
} from "react-aria-components";
import styled from "styled-components";
import { useEditing } from "../parts/editing";
import { Later } from "../parts/Later";
import { tell } from "../parts/messages";
import { usePanel } from "../parts/usePanel";
import { useStarters } from "../recipe/useStarters";
import { type Command, commandsOf } from "./commands";
import { keyOf, spoken, useKeys } from "./keys";

/** Every command by name, with its key: type a few letters, press Enter. */
export function Do() {
  const editing = useEditing();
  const panel = usePanel("do");
  const given = useKeys((state) => state.given);
  const { starters, lay } = useStarters();
  const commands = [
    ...useMemo(() => commandsOf(editing).filter((command) => command.id !== "do" && !command.end), [editing]),
    ...starters.map(
      (starter): Command => ({
        id: `starter ${starter.id}`,
        name: `Lay a starter: ${starter.name}`,
        says: starter.says,
        run: () => {
          const { chosen } = editing.session.getState();
          const { shot } = editing.documents.getState();
          if (chosen && shot.items[chosen]?.kind === "shape") void lay(starter, chosen);
          else tell("A starter is laid on a shape, and none is chosen. Nothing was changed. Choose one first.");
        },
      }),
    ),
  ];
  const { contains } = useFilter({ sensitivity: "base" });
  return (
    <Overlay {...panel} isDismissable>
      <Modal>
        <Sheet aria-label="Do…">
          <Autocomplete filter={(text, typed) => typed.split(/\s+/).every((word) => contains(text, word))}>
            <SearchField aria-label="What to do" autoFocus>
              <Field placeholder="Do…" />
            </SearchField>
            <Scroll tabIndex={0} role="region" aria-label="Found">
              <Later>
                <List
                  aria-label="Commands"
                  onAction={(id) => {
                    panel.onOpenChange(false);
                    commands.find((command) => command.id === id)?.run();
                  }}
                  renderEmptyState={() => <Nothing>No command has these words. Try fewer letters.</Nothing>}
                >
                  {commands.map((command) => (
                    <Line key={command.id} id={command.id} textValue={command.name}>
                      <span>
                        {command.name}
                        {command.says && <small>{command.says}</small>}
                      </span>
                      <kbd>{spoken(keyOf(command, given))}</kbd>
                    </Line>
                  ))}
                </List>
              </Later>
            </Scroll>
          </Autocomplete>
        </Sheet>
      </Modal>
    </Overlay>
  );
}

const Overlay = styled(ModalOverlay)`
  position: fixed; inset: 0; z-index: 50; display: grid; justify-items: center; align-items: start; padding-top: 12vh; background: rgb(18 25 31 / 0.35);
`;
const Sheet = styled(Dialog)`
  width: min(480px, calc(100vw - 32px)); outline: none; background: var(--card); color: var(--ink); border: 1px solid var(--ink-soft); border-radius: 3px;
`;
const Field = styled(Input)`
  width: 100%; padding: 10px 14px; font: inherit; font-size: 16px; background: none; color: var(--ink); border: 0; border-bottom: 1px solid var(--line); outline: none;
`;
const Scroll = styled.div`max-height: 50vh; overflow: auto;`;
const List = styled(Menu)`padding: 4px; outline: none;`;
const Line = styled(MenuItem)`
  display: flex; justify-content: space-between; gap: 12px; padding: 5px 10px; cursor: pointer; outline: none; border-radius: 2px;
  & small { display: block; font-size: 11.5px; line-height: 1.3; color: var(--ink-soft); }
  & kbd { font: inherit; color: var(--ink-soft); }
  &[data-focused] { background: var(--sea-wash); }
`;
const Nothing = styled.p`padding: 10px; color: var(--ink-soft);`;
