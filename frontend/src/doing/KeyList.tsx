import { useEffect, useState } from "react";
import { Dialog, Heading, Modal, ModalOverlay } from "react-aria-components";
import styled from "styled-components";
import { Button, SmallButton } from "../parts/Button";
import { useEditing } from "../parts/editing";
import { Later } from "../parts/Later";
import { usePanel } from "../parts/usePanel";
import { commandsOf } from "./commands";
import { giveKey, keyOf, keysAsTheyWere, pressed, spoken, useKeys } from "./keys";

/** All keys, which can be changed. */
export function KeyList() {
  const panel = usePanel("keys");
  return (
    <Overlay {...panel} isDismissable>
      <Modal>
        <Sheet>{({ close }) => <Keys close={close} />}</Sheet>
      </Modal>
    </Overlay>
  );
}

function Keys({ close }: { close: () => void }) {
  const editing = useEditing();
  const given = useKeys((state) => state.given);
  const [asking, setAsking] = useState<string | null>(null);
  const [said, setSaid] = useState("");
  const commands = commandsOf(editing);
  useEffect(() => {
    if (asking === null) return;
    const hear = (event: KeyboardEvent) => {
      const key = pressed(event);
      if (!key) return;
      event.preventDefault();
      event.stopPropagation();
      const all = commandsOf(editing);
      const command = all.find((one) => one.id === asking);
      if (command && key !== "Escape" && key !== "Tab") {
        const other = all.find((one) => one.id !== asking && keyOf(one, useKeys.getState().given) === key);
        giveKey(all, command, key);
        setSaid(other ? `${spoken(key)} was taken from “${other.name}”.` : `${command.name}: ${spoken(key)}.`);
      } else setSaid("The key is as it was.");
      setAsking(null);
    };
    window.addEventListener("keydown", hear, true);
    return () => window.removeEventListener("keydown", hear, true);
  }, [asking, editing]);
  return (
    <>
      <Heading slot="title">Keys</Heading>
      <p>
        Press Change, then the new key; Escape leaves it. Arrows change a focused value, Enter opens it to be typed.
      </p>
      <Rows>
        <Later>
          <Table>
            <thead>
              <tr>
                <th>What it does</th>
                <th>Key</th>
                <th>
                  <span />
                </th>
              </tr>
            </thead>
            <tbody>
              {commands.map((command) => {
                const key = keyOf(command, given);
                return (
                  <tr key={command.id}>
                    <td>{command.name}</td>
                    <td>{asking === command.id ? <em>press a key …</em> : <kbd>{key ? spoken(key) : "none"}</kbd>}</td>
                    <td>
                      <SmallButton
                        aria-label={`Change the key of ${command.name}`}
                        onPress={() => setAsking(command.id)}
                      >
                        Change
                      </SmallButton>{" "}
                      {key && (
                        <SmallButton
                          aria-label={`None: take the key from ${command.name}`}
                          onPress={() => giveKey(commands, command, "")}
                        >
                          None
                        </SmallButton>
                      )}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </Table>
        </Later>
      </Rows>
      <footer>
        <span role="status">{said}</span>
        <Button onPress={keysAsTheyWere}>All as they were</Button>
        <Button data-main onPress={close}>
          Done
        </Button>
      </footer>
    </>
  );
}

const Overlay = styled(ModalOverlay)`
  position: fixed; inset: 0; z-index: 50; display: grid; place-items: center; background: rgb(18 25 31 / 0.45);
`;
const Sheet = styled(Dialog)`
  display: grid; gap: 10px; width: min(560px, calc(100vw - 32px)); padding: 18px; outline: none; background: var(--card); color: var(--ink); border: 1px solid var(--line); border-radius: 3px;
  & h2 { font-size: 17px; }
  & > p { color: var(--ink-soft); }
  & footer { display: flex; gap: 8px; align-items: center; }
  & footer > span { flex: 1; color: var(--ink-soft); }
`;
/** As high before the keys are in it as after, so that no button below moves away from under the pointer. */
const Rows = styled.div`height: 58vh;`;
const Table = styled.table`
  display: block; max-height: 100%; overflow: auto; border-collapse: collapse;
  & td, & th { padding: 3px 12px 3px 0; text-align: left; white-space: nowrap; }
  & tbody td:first-child { width: 100%; white-space: normal; }
  & kbd { font: inherit; font-weight: 600; }
`;
