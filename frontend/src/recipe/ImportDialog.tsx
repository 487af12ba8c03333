import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Dialog, FileTrigger, Heading, Modal, ModalOverlay } from "react-aria-components";
import styled from "styled-components";
import { useStore } from "zustand";
import { answered, api, Refused, sentFile } from "../api/client";
import type { components } from "../api/schema";
import { add, type Wanted } from "../document/changing";
import { useFormats } from "../export/useFormats";
import { Button } from "../parts/Button";
import { Check } from "../parts/Check";
import { ChoiceRow } from "../parts/Choice";
import { useCommit, useEditing, useShot } from "../parts/editing";
import { Hairline } from "../parts/Hairline";
import { tell } from "../parts/messages";
import { Flaws, Outline, Standing } from "./ImportReport";
import { UNITS } from "./units";

type Asset = components["schemas"]["AssetSummary"];
type Lines = components["schemas"]["Lines"];
type Up = "x" | "y" | "z";
type Corner = [number, number, number];

const UPS = [
  ["y", "Y up"],
  ["z", "Z up"],
  ["x", "X up"],
] as const;

/** Brings a file in: pick or drop it, say what its unit and its up axis are, and it stands in the shot. */
export function ImportDialog({ open, close }: { open: boolean; close: () => void }) {
  const editing = useEditing();
  const commit = useCommit();
  const queries = useQueryClient();
  const { read, most_bytes, most_faces } = useFormats();
  const [asset, setAsset] = useState<Asset | null>(null);
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState("");
  const [unit, setUnit] = useState("1");
  const [up, setUp] = useState<Up>("y");
  const [mend, setMend] = useState(false);
  const [tall, setTall] = useState(1);
  const first = useUntouchedShape();
  const [instead, setInstead] = useState(true);

  async function bring(file: File | null | undefined) {
    if (!file) return;
    setBusy(true);
    setWrong("");
    try {
      const brought = await sentFile<Asset>(`/api/assets?name=${encodeURIComponent(file.name.slice(-120))}`, file);
      setAsset(brought);
      setUnit(guessUnit(brought));
      setUp(brought.kind.startsWith("gl") ? "y" : guessUp(brought));
      setMend(false);
      void queries.invalidateQueries({ queryKey: ["assets"] });
    } catch (fault) {
      setWrong(
        fault instanceof Refused ? fault.message : "The file could not be read by the browser. Nothing was imported.",
      );
    } finally {
      setBusy(false);
    }
  }

  function bringIn(wanted: Wanted & { kind: "add_file" | "add_paths" }) {
    const label = `import ${asset ? nameOf(asset) : "a file"}`;
    leave();
    void add(editing, { ...wanted, in_place_of: first && instead ? first.id : null }, label);
  }

  function addFile() {
    if (!asset || asset.sort === "panorama") return;
    const { hash, sort, low, high, moments } = asset;
    const file = {
      asset: hash,
      sort,
      scale: Number(unit),
      up,
      mended: mend,
      moves: moments > 1,
      low,
      high,
      height: tall,
    };
    bringIn({ kind: "add_file", name: nameOf(asset), file });
  }

  function lightWithIt() {
    if (!asset) return;
    commit(`light as ${asset.name}`, [{ op: "replace", path: "/environment/asset", value: asset.hash }]);
    leave();
  }

  async function addLines() {
    if (!asset) return;
    try {
      const query = { height: tall };
      const params = { path: { asset_hash: asset.hash }, query };
      // The client library's reading of the description widens tuples; this names them again.
      const found = (await answered(api.GET("/api/assets/{asset_hash}/lines", { params }))) as Lines;
      const { lines, left_out: left } = found;
      if (left > 0) tell(`${left} shorter or very long outlines of the drawing were left out.`);
      bringIn({ kind: "add_paths", name: nameOf(asset), lines });
    } catch (fault) {
      setWrong(fault instanceof Refused ? fault.message : String(fault));
    }
  }

  function leave() {
    setAsset(null);
    setWrong("");
    close();
  }

  const size = asset ? standing(asset, Number(unit), up) : null;
  return (
    <Overlay isOpen={open} onOpenChange={(is) => !is && leave()} isDismissable>
      <Modal>
        <Sheet>
          <Drop
            onDragOver={(event) => event.preventDefault()}
            onDrop={(event) => {
              event.preventDefault();
              void bring(event.dataTransfer.files[0]);
            }}
          >
            <Heading slot="title">Import a file</Heading>
            {!asset && (
              <p>
                Drop a file here, or choose one: {read.map((one) => one.called).join(", ")}. Up to{" "}
                {most_bytes / 2 ** 20} MB and {most_faces / 1e6} million faces.
              </p>
            )}
            {busy && <Hairline label="Reading the file" />}
            {wrong && <Wrong role="alert">{wrong}</Wrong>}
            {asset?.sort === "drawing" && (
              <>
                <p>
                  <b>{asset.name}</b>: a drawing of {asset.paints} filled parts and {asset.lines} outlines.{" "}
                  {asset.notes.join(" ")}
                </p>
                <Outline asset={asset} />
                <Height>
                  It will be{" "}
                  <input
                    type="number"
                    aria-label="Height in metres"
                    min={0.01}
                    max={1000}
                    step={0.1}
                    value={tall}
                    onChange={(event) => setTall(Math.min(1000, Math.max(0.01, Number(event.target.value) || 1)))}
                  />{" "}
                  m high.
                </Height>
              </>
            )}
            {asset?.sort === "font" && (
              <p>
                <b>{asset.name}</b>: a font. Every text of every shot can be set in it from now on.
              </p>
            )}
            {asset?.sort === "panorama" && (
              <p>
                <b>{asset.name}</b>: a picture of all round, {asset.wide.toLocaleString("en")} by{" "}
                {asset.tall.toLocaleString("en")} pixels. It can light the shot.
              </p>
            )}
            {asset?.sort === "mesh" && size && (
              <>
                <p>
                  <b>{asset.name}</b>: {asset.faces.toLocaleString("en")} faces, {asset.points.toLocaleString("en")}{" "}
                  points
                  {asset.has_uv && ", with u,v"}
                  {asset.pictures > 0
                    ? `, with ${asset.pictures === 1 ? "a picture" : `${asset.pictures} pictures`}`
                    : asset.has_colour && ", with colours"}
                  {asset.measures.length > 0 && `, with ${asset.measures.join(", ")} on its points`}.{meshReport(asset)}
                </p>
                {asset.moments > 1 && (
                  <p>
                    It moves: {asset.moments.toLocaleString("en")} moments over {asset.seconds.toFixed(2)} s. How it
                    plays is set in its recipe.
                  </p>
                )}
                <Flaws asset={asset} mend={mend} setMend={setMend} />
                <Standing size={size} />
                <div>
                  Its unit is <ChoiceRow label="Unit" value={unit} options={UNITS} onChoose={setUnit} />
                </div>
                <div>
                  Its up axis is <ChoiceRow label="Up axis" value={up} options={UPS} onChoose={setUp} />
                </div>
                <p>
                  It will be {metres(size[1][0] - size[0][0])} wide, <b>{metres(size[1][1] - size[0][1])} high</b> and{" "}
                  {metres(size[1][2] - size[0][2])} deep, standing on the ground in the middle.
                </p>
              </>
            )}
            {asset && asset.sort !== "panorama" && first && (
              <Check isSelected={instead} onChange={setInstead}>
                In place of {first.name}
              </Check>
            )}
            <footer>
              <FileTrigger
                acceptedFileTypes={read.map((one) => `.${one.ending}`)}
                onSelect={(files) => void bring(files?.[0])}
              >
                <Button data-main={asset ? undefined : true}>{asset ? "Choose another file" : "Choose a file"}</Button>
              </FileTrigger>
              {asset?.sort === "mesh" && (
                <Button data-main onPress={addFile}>
                  Add to the shot
                </Button>
              )}
              {asset?.sort === "drawing" && (
                <>
                  <Button data-main isDisabled={asset.paints === 0} onPress={addFile}>
                    Add as a shape
                  </Button>
                  <Button onPress={() => void addLines()}>Add its outlines as paths</Button>
                </>
              )}
              {asset?.sort === "panorama" && (
                <Button data-main onPress={lightWithIt}>
                  Light the shot with it
                </Button>
              )}
              {asset?.sort === "font" && (
                <Button data-main onPress={addFile}>
                  Set a text in it
                </Button>
              )}
              <Button onPress={leave}>Leave</Button>
            </footer>
          </Drop>
        </Sheet>
      </Modal>
    </Overlay>
  );
}

/** The one shape of a shot that nobody has changed yet: what is brought in takes its place, if wanted. */
function useUntouchedShape(): { id: string; name: string } | null {
  const revision = useStore(useEditing().documents, (state) => state.revision);
  const items = useShot((shot) => shot.items);
  const shapes = Object.entries(items).filter(([, item]) => item.kind === "shape");
  const [id, only] = shapes[0] ?? [];
  if (revision > 0 || shapes.length > 1 || !id || only?.kind !== "shape") return null;
  return Object.keys(only.recipe.steps).length === 0 ? { id, name: only.name } : null;
}

function nameOf(asset: Asset): string {
  return asset.name.replace(/\.[^.]*$/, "").slice(0, 60) || "Shape";
}

/** Low and high corner in metres, Y up. */
function standing(asset: Asset, unit: number, up: Up): [Corner, Corner] {
  const order = { x: [1, 0, 2], y: [0, 1, 2], z: [0, 2, 1] }[up];
  const signs = { x: [-1, 1, 1], y: [1, 1, 1], z: [1, 1, -1] }[up];
  const turned = (from: number[]) => order.map((source, axis) => (from[source] ?? 0) * (signs[axis] ?? 1) * unit);
  const [one, other] = [turned(asset.low), turned(asset.high)];
  const low = one.map((value, axis) => Math.min(value, other[axis] ?? value));
  const high = one.map((value, axis) => Math.max(value, other[axis] ?? value));
  return [corner(low), corner(high)];
}

function corner([x = 0, y = 0, z = 0]: number[]): Corner {
  return [x, y, z];
}

/** A unit that makes the thing between a hand and a house high. */
function guessUnit(asset: Asset): string {
  const size = Math.max(...asset.high.map((value, axis) => value - (asset.low[axis] ?? 0)));
  return size > 2000 ? "0.001" : size > 60 ? "0.01" : "1";
}

/** The axis along which the thing stands on 0, if one does. */
function guessUp(asset: Asset): Up {
  const size = Math.max(...asset.high.map((value, axis) => value - (asset.low[axis] ?? 0)));
  const stands = asset.low.map((value) => Math.abs(value) < 0.001 * size);
  return !stands[1] && stands[2] ? "z" : "y";
}

function metres(value: number): string {
  return `${value < 0.1 ? value.toPrecision(2) : value.toFixed(2)} m`;
}

const Overlay = styled(ModalOverlay)`
  position: fixed; inset: 0; z-index: 50; display: grid; place-items: center; background: rgb(18 25 31 / 0.45);
`;
const Sheet = styled(Dialog)`
  width: min(540px, calc(100vw - 32px)); padding: 18px; outline: none; background: var(--card); color: var(--ink); border: 1px solid var(--line); border-radius: 3px;
  & h2 { font-size: 17px; }
  & footer { display: flex; gap: 8px; }
`;
const Drop = styled.div`display: grid; gap: 12px;`;
const Height = styled.div`& input { width: 72px; font: inherit; padding: 2px 4px; background: var(--paper); color: var(--ink); border: 1px solid var(--line); border-radius: 3px; }`;
const Wrong = styled.p`color: var(--signal);`;

/** Whether the mesh is closed, and what is doubled in it. */
function meshReport({ open_edges: open, doubled_points: doubled }: Asset): string {
  if (open === null || doubled === null) return "";
  const closed =
    open === 0
      ? " It is closed."
      : ` It is open along ${open.toLocaleString("en")} edges: a cut shows its inside there.`;
  return doubled === 0
    ? closed
    : `${closed} ${doubled.toLocaleString("en")} points stand where another does: they move as one.`;
}
