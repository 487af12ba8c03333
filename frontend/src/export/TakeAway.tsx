import { useState } from "react";
import { Dialog, DialogTrigger, Heading, Popover } from "react-aria-components";
import styled from "styled-components";
import { fetchedBytes, Refused } from "../api/client";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { useEditing, useSession, useShot } from "../parts/editing";
import { Hairline } from "../parts/Hairline";
import { usePanel } from "../parts/usePanel";
import { KeysFile } from "./KeysFile";
import { RangeExport } from "./RangeExport";
import { save } from "./save";
import { useFormats } from "./useFormats";

/** What can be taken away of the frame in view, and the shot itself. */
export function TakeAway() {
  return (
    <DialogTrigger {...usePanel("export")}>
      <Button data-main>Export</Button>
      <Popover placement="bottom end">
        <Sheet>
          <Heading slot="title">Take away</Heading>
          <Choices />
        </Sheet>
      </Popover>
    </DialogTrigger>
  );
}

function Choices() {
  const { documents, stage } = useEditing();
  const frame = useSession((session) => session.frame);
  const picture = useShot((shot) => shot.picture);
  const name = useShot((shot) => shot.name);
  const [width, setWidth] = useState(String(picture.width));
  const [height, setHeight] = useState(String(picture.height));
  const scattered = useSession((session) => session.manifest?.items.some((item) => item.copies) ?? false);
  const [copies, setCopies] = useState<"kept" | "meshes">("kept");
  const frames = useFormats().write.filter((one) => !one.moving && !one.rendered);
  const [chosen, setFormat] = useState("");
  const format = frames.find((one) => one.name === chosen) ?? frames[0];
  const [busy, setBusy] = useState("");
  const [said, setSaid] = useState("");
  const stem = `${name.replace(/[^\p{L}\p{N}]+/gu, "-").replace(/^-|-$/g, "")}-${String(Math.round(frame)).padStart(4, "0")}`;

  async function take(what: string, make: () => Promise<[Blob, string]>) {
    setBusy(what);
    setSaid("");
    try {
      const [blob, file] = await make();
      save(blob, file);
      setSaid(`${file} is in your downloads.`);
    } catch (fault) {
      setSaid(
        fault instanceof Refused || fault instanceof Error
          ? fault.message
          : "It could not be made. Nothing was written.",
      );
    } finally {
      setBusy("");
    }
  }

  const file = async (): Promise<[Blob, string]> => {
    if (!format) throw new Error("What can be written is not known yet. Nothing was written. Press again in a moment.");
    const { id, revision, unsaved } = documents.getState();
    const wish = { revision, patch: unsaved(), frame, copies, format: format.name };
    const bytes = await fetchedBytes(`/api/shots/${id}/frame-file`, wish);
    return [new Blob([bytes], { type: format.media }), `${stem}.${format.ending}`];
  };
  const png = async (): Promise<[Blob, string]> => {
    const [wide, high] = [Number(width), Number(height)];
    if (![wide, high].every((pixels) => Number.isInteger(pixels) && pixels >= 16 && pixels <= 4096)) {
      throw new Error("A picture is 16 to 4096 pixels wide and high. Nothing was written.");
    }
    if (!stage.current) throw new Error("There is no picture yet. Nothing was written.");
    return [await stage.current.picture(wide, high), `${stem}.png`];
  };
  const json = async (): Promise<[Blob, string]> => {
    const { shot } = documents.getState();
    return [
      new Blob([JSON.stringify(shot, null, 1)], { type: "application/json" }),
      `${stem.replace(/-\d+$/, "")}.json`,
    ];
  };

  return (
    <>
      <div>
        <Button isDisabled={busy !== "" || !format} onPress={() => void take("file", file)}>
          This frame as a file
        </Button>
        <p>
          As{" "}
          <Choice
            label="Format of the frame"
            value={format?.name ?? ""}
            options={frames.map((one) => [one.name, one.called] as const)}
            onChoose={setFormat}
          />
          . The finished shapes with their looks, and the camera.
          {scattered && (
            <>
              {" "}
              Copies go into a GLB{" "}
              <Choice label="Copies in a GLB" value={copies} options={COPIES} onChoose={setCopies} />.
            </>
          )}
        </p>
      </div>
      <div>
        <Button isDisabled={busy !== ""} onPress={() => void take("PNG", png)}>
          The picture as PNG
        </Button>
        <p>
          <Pixels
            aria-label="Picture width"
            inputMode="numeric"
            value={width}
            onChange={(event) => setWidth(event.target.value)}
          />{" "}
          by{" "}
          <Pixels
            aria-label="Picture height"
            inputMode="numeric"
            value={height}
            onChange={(event) => setHeight(event.target.value)}
          />{" "}
          pixels, as the view shows it.
        </p>
      </div>
      <div>
        <Button isDisabled={busy !== ""} onPress={() => void take("JSON", json)}>
          The shot as JSON
        </Button>
        <p>Read it back on the home screen. Imported files stay here.</p>
      </div>
      <KeysFile stem={stem.replace(/-\d+$/, "")} />
      <RangeExport copies={copies} />
      {busy && <Hairline label={`Making the ${busy}`} />}
      <p role="status">{said}</p>
    </>
  );
}

const COPIES = [
  ["kept", "as copies of one mesh (EXT_mesh_gpu_instancing)"],
  ["meshes", "as plain meshes"],
] as const;

const Sheet = styled(Dialog)`
  display: grid; gap: 12px; width: 340px; padding: 14px; max-height: 84vh; overflow: auto; outline: none; background: var(--card); color: var(--ink); border: 1px solid var(--ink-soft); border-radius: 3px;
  & h2 { font-size: 16px; }
  & p { color: var(--ink-soft); margin-top: 3px; }
`;
const Pixels = styled.input`
  width: 58px; padding: 2px 5px; background: var(--paper); border: 1px solid var(--line); border-radius: 3px;
`;
