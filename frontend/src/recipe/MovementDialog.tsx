import { useEffect, useState } from "react";
import { Dialog, FileTrigger, Heading, Modal, ModalOverlay } from "react-aria-components";
import styled from "styled-components";
import { useStore } from "zustand";
import { Refused, sentFile } from "../api/client";
import type { components } from "../api/schema";
import { Button } from "../parts/Button";
import { Check } from "../parts/Check";
import { Choice } from "../parts/Choice";
import { useCommit, useEditing } from "../parts/editing";
import { Hairline } from "../parts/Hairline";
import { tell } from "../parts/messages";
import { UNITS } from "./units";

type Laid = components["schemas"]["LaidMovement"];

const NEAR = [
  ["0.0001", "0.1 mm and 0.01°"],
  ["0.001", "1 mm and 0.1°"],
  ["0.01", "1 cm and 1°"],
  ["0.1", "10 cm and 10°"],
] as const;
const CALLED = { place: "where it stands", turn: "how it is turned", scale: "how it is stretched" } as const;
const KINDS = [".glb", ".gltf", ".zip", ".csv"];

/** Gives an item the movement in a file, by as few keys as are as near to it as is asked for. */
export function MovementDialog({ item, name, close }: { item: string; name: string; close: () => void }) {
  const { documents } = useEditing();
  const commit = useCommit();
  const shot = useStore(documents, (state) => state.id);
  const revision = useStore(documents, (state) => state.revision);
  const [file, setFile] = useState<File | null>(null);
  const [thing, setThing] = useState("0");
  const [unit, setUnit] = useState<(typeof UNITS)[number][0]>("1");
  const [near, setNear] = useState<(typeof NEAR)[number][0]>("0.001");
  const [begins, setBegins] = useState("");
  const [turns, setTurns] = useState(true);
  const [stretches, setStretches] = useState(true);
  const [laid, setLaid] = useState<Laid | null>(null);
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);

  useEffect(() => {
    if (!file) return;
    const asked = new URLSearchParams({
      name: file.name.slice(-120),
      revision: String(revision),
      item,
      thing,
      unit,
      within: near,
      within_turn: String(Number(near) * 100),
      turns: String(turns),
      stretches: String(stretches),
    });
    if (begins.trim()) asked.set("begins", begins.trim());
    const gone = new AbortController();
    setBusy(true);
    sentFile<Laid>(`/api/shots/${shot}/movement?${asked}`, file, gone.signal)
      .then((found) => {
        setLaid(found);
        setWrong("");
      })
      .catch((fault: unknown) => {
        if (gone.signal.aborted) return;
        setWrong(fault instanceof Refused ? fault.message : "The file could not be read by the browser.");
      })
      .finally(() => !gone.signal.aborted && setBusy(false));
    return () => gone.abort();
  }, [file, shot, revision, item, thing, unit, near, begins, turns, stretches]);

  function choose(chosen: File | undefined) {
    if (!chosen) return;
    setThing("0");
    setBegins("");
    setLaid(null);
    setWrong("");
    setFile(chosen);
  }

  function lay() {
    if (!laid || !file) return;
    commit(`movement from ${file.name}`, laid.patch);
    tell(`${name} moves as ${file.name} says. Undo takes it back.`);
    close();
  }

  const moving = laid?.things[Number(thing)] ?? laid?.things[0];
  return (
    <Overlay isOpen onOpenChange={(is) => !is && close()} isDismissable>
      <Modal>
        <Sheet>
          <Heading slot="title">Movement from a file</Heading>
          {!file && (
            <>
              <p>
                The nodes of a glTF file (GLB, glTF, or a zip of one with its files) that its animation moves, or a
                table as CSV whose first line is <b>seconds</b> or <b>frame</b>, then <b>x, y, z</b>; if wanted also
                turn x, turn y, turn z, scale x, scale y, scale z, and name where several things move.
              </p>
              <p>{name} then has keys of its own; the file is not kept.</p>
            </>
          )}
          {busy && <Hairline label="Reading the movement" />}
          {wrong && <Wrong role="alert">{wrong}</Wrong>}
          {file && (
            <p>
              Its unit is <Choice label="Unit" value={unit} options={UNITS} onChoose={setUnit} />. Keys may be off by{" "}
              <Choice label="How far keys may be off" value={near} options={NEAR} onChoose={setNear} />.
            </p>
          )}
          {laid && moving && (
            <>
              <p>
                {name} moves as{" "}
                {laid.things.length > 1 ? (
                  <Choice
                    label="What moves"
                    value={thing}
                    options={laid.things.map((one, place) => [String(place), one.name] as const)}
                    onChoose={setThing}
                  />
                ) : (
                  <b>{moving.name}</b>
                )}
                , which goes on for {lasting(moving)}, from frame{" "}
                <input
                  aria-label="Frame of its first moment"
                  size={6}
                  defaultValue={laid.begins}
                  key={file?.name}
                  onBlur={(event) => setBegins(event.target.value)}
                />{" "}
                on.
              </p>
              {laid.moves.includes("turn") && (
                <Check isSelected={turns} onChange={setTurns}>
                  It turns as well
                </Check>
              )}
              {laid.moves.includes("scale") && (
                <Check isSelected={stretches} onChange={setStretches}>
                  It is stretched as well
                </Check>
              )}
              <ul>
                {laid.keys.map((one) => (
                  <li key={one.setting}>
                    {CALLED[one.setting]}: {one.count.toLocaleString("en")} of {moving.moments.toLocaleString("en")}{" "}
                    moments become keys, {away(one.setting, one.off)}
                  </li>
                ))}
              </ul>
              <p>The keys it has for this are given up; undo brings them back.</p>
            </>
          )}
          <footer>
            <FileTrigger acceptedFileTypes={KINDS} onSelect={(files) => choose(files?.[0])}>
              <Button data-main={laid ? undefined : true}>{file ? "Choose another file" : "Choose a file"}</Button>
            </FileTrigger>
            {laid && (
              <Button data-main onPress={lay} isDisabled={busy || wrong !== ""}>
                Give it this movement
              </Button>
            )}
            <Button onPress={close}>Leave</Button>
          </footer>
        </Sheet>
      </Modal>
    </Overlay>
  );
}

function lasting({ clock, lasts }: Laid["things"][number]): string {
  return clock === "seconds" ? `${lasts.toFixed(2)} s` : `${lasts.toLocaleString("en")} frames`;
}

function away(setting: keyof typeof CALLED, off: number): string {
  if (off < 1e-6) return "exact";
  if (setting === "turn") return `at most ${off.toPrecision(2)}° off`;
  return `at most ${setting === "scale" ? `${(off * 100).toPrecision(2)} %` : `${(off * 1000).toPrecision(2)} mm`} off`;
}

const Overlay = styled(ModalOverlay)`
  position: fixed; inset: 0; z-index: 50; display: grid; place-items: center; background: rgb(18 25 31 / 0.45);
`;
const Sheet = styled(Dialog)`
  width: min(540px, calc(100vw - 32px)); padding: 18px; outline: none; display: grid; gap: 12px;
  background: var(--card); color: var(--ink); border: 1px solid var(--line); border-radius: 3px;
  & h2 { font-size: 17px; }
  & footer { display: flex; gap: 8px; }
  & ul { margin: 0; padding-left: 18px; }
  & input { width: 64px; font: inherit; padding: 2px 4px; background: var(--paper); color: var(--ink); border: 1px solid var(--line); border-radius: 3px; }
`;
const Wrong = styled.p`color: var(--signal);`;
