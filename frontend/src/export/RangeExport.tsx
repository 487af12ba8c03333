import { useState } from "react";
import styled from "styled-components";
import { answered, api, newKey, Refused } from "../api/client";
import { useEvents } from "../api/events";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { useEditing, useShot } from "../parts/editing";
import { JobRow } from "./JobRow";
import { useFormats } from "./useFormats";

/** A range of frames written by a job, and the jobs of this shot. */
export function RangeExport({ copies }: { copies: "kept" | "meshes" }) {
  const { documents } = useEditing();
  const frames = useShot((shot) => shot.frames);
  const id = documents.getState().id;
  const jobs = useEvents((state) => state.jobs).filter((job) => job.shot === id);
  const { write } = useFormats();
  const [chosen, setFormat] = useState("");
  const format = write.find((one) => one.name === chosen) ?? write[0];
  const [first, setFirst] = useState(String(frames.first));
  const [last, setLast] = useState(String(frames.last));
  const [said, setSaid] = useState("");

  async function begin() {
    const [from, to] = [Number(first), Number(last)];
    if (![from, to].every((frame) => Number.isInteger(frame) && Math.abs(frame) <= 100_000)) {
      return setSaid("Frames are whole numbers. Nothing was begun. Type the first and the last one.");
    }
    if (!format) return setSaid("What can be written is not known yet. Nothing was begun. Press again in a moment.");
    setSaid("");
    const { queue, revision } = documents.getState();
    if (queue.length > 0)
      return setSaid("The last change is not saved yet. Nothing was begun. Press again in a moment.");
    const body = { key: newKey(), revision, format: format.name, first: from, last: to, step: 1, copies };
    try {
      await answered(api.POST("/api/shots/{shot_id}/exports", { params: { path: { shot_id: id } }, body }));
    } catch (fault) {
      setSaid(fault instanceof Refused ? fault.message : "It could not be begun. Nothing was written.");
    }
  }

  return (
    <div>
      <Button onPress={() => void begin()}>A range of frames</Button>
      <p>
        <Choice
          label="Format of the range"
          value={format?.name ?? ""}
          options={write.map((one) => [one.name, one.called] as const)}
          onChoose={setFormat}
        />
        , from frame{" "}
        <FrameBox aria-label="First frame to export" value={first} onChange={(event) => setFirst(event.target.value)} />{" "}
        to <FrameBox aria-label="Last frame to export" value={last} onChange={(event) => setLast(event.target.value)} />
        , {format?.moving ? "in one file" : "one file a frame in a zip"}.
      </p>
      {said && <p role="alert">{said}</p>}
      {jobs.map((job) => (
        <JobRow key={job.id} job={job} />
      ))}
    </div>
  );
}

const FrameBox = styled.input`
  width: 52px; padding: 2px 5px; background: var(--paper); border: 1px solid var(--line); border-radius: 3px;
`;
