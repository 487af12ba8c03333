import { Dialog, Heading, Modal, ModalOverlay } from "react-aria-components";
import styled from "styled-components";
import { useStore } from "zustand";
import { Button } from "./Button";
import { useEditing } from "./editing";

/** A change met one made elsewhere: both values are shown, and the person chooses. */
export function ClashDialog() {
  const { documents } = useEditing();
  const clash = useStore(documents, (state) => state.clash);
  const settle = useStore(documents, (state) => state.settle);
  return (
    <Overlay isOpen={clash !== null}>
      <Modal>
        <Sheet role="alertdialog">
          <Heading slot="title">The shot was changed elsewhere</Heading>
          <p>Your change “{clash?.label}” is not made yet. Nothing is lost. Which shall stand?</p>
          <table>
            <thead>
              <tr>
                <th>Value</th>
                <th>Yours</th>
                <th>As it is now</th>
              </tr>
            </thead>
            <tbody>
              {clash?.clashes.slice(0, 6).map((one) => (
                <tr key={one.path}>
                  <td>{one.path.split("/").slice(-2).join(", ").replaceAll("_", " ")}</td>
                  <td>{told(one.yours)}</td>
                  <td>{told(one.theirs)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <footer>
            <Button data-main onPress={() => void settle("mine")}>
              Make my change
            </Button>
            <Button onPress={() => void settle("theirs")}>Leave it as it is now</Button>
          </footer>
        </Sheet>
      </Modal>
    </Overlay>
  );
}

function told(value: unknown): string {
  if (value === null || value === undefined) return "nothing";
  return typeof value === "object" ? JSON.stringify(value).slice(0, 60) : String(value);
}

const Overlay = styled(ModalOverlay)`
  position: fixed; inset: 0; z-index: 50; display: grid; place-items: center; background: rgb(18 25 31 / 0.45);
`;
const Sheet = styled(Dialog)`
  display: grid; gap: 12px; width: min(520px, calc(100vw - 32px)); padding: 18px; outline: none; background: var(--card); color: var(--ink); border: 1px solid var(--line); border-radius: 3px;
  & h2 { font-size: 17px; }
  & td, & th { text-align: left; padding: 3px 12px 3px 0; }
  & footer { display: flex; gap: 8px; }
`;
