import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import styled from "styled-components";
import { answered, api, newKey, Refused } from "../api/client";
import { useEvents } from "../api/events";
import { bytes } from "../costs/amounts";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { useEditing, useShot } from "../parts/editing";
import { JobRow } from "./JobRow";
import { useFormats } from "./useFormats";

type Part = "1" | "2" | "4";

const PARTS: readonly (readonly [Part, string])[] = [
  ["1", "the picture’s size"],
  ["2", "half its size, for a look"],
  ["4", "a quarter of its size"],
];
const NUMBERS = [
  ["without", "without numbers"],
  ["with", "with each frame’s number in it"],
] as const;

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
  const [every, setEvery] = useState("1");
  const [part, setPart] = useState<Part>("1");
  const [numbers, setNumbers] = useState(false);
  const [said, setSaid] = useState("");
  const count = Math.floor((Number(last) - Number(first)) / Number(every)) + 1;
  const takes = useTime(
    format?.rendered === true && count > 0 && count <= 5000 ? count : 0,
    Number(part),
    format?.name ?? "",
  );

  async function begin() {
    const [from, to] = [Number(first), Number(last)];
    if (![from, to].every((frame) => Number.isInteger(frame) && Math.abs(frame) <= 100_000)) {
      return setSaid("Frames are whole numbers. Nothing was begun. Type the first and the last one.");
    }
    const step = Number(every);
    if (!Number.isInteger(step) || step < 1 || step > 1000) {
      return setSaid("Every first to every thousandth frame can be written. Nothing was begun. Type a whole number.");
    }
    if (!format) return setSaid("What can be written is not known yet. Nothing was begun. Press again in a moment.");
    setSaid("");
    const { queue, revision } = documents.getState();
    if (queue.length > 0)
      return setSaid("The last change is not saved yet. Nothing was begun. Press again in a moment.");
    const pictures = { part: Number(part) as 1 | 2 | 4, numbers };
    const body = { key: newKey(), revision, format: format.name, first: from, last: to, step, copies, ...pictures };
    try {
      await answered(api.POST("/api/shots/{shot_id}/exports", { params: { path: { shot_id: id } }, body }));
    } catch (fault) {
      setSaid(fault instanceof Refused ? fault.message : "It could not be begun. Nothing was written.");
    }
  }

  return (
    <Range>
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
        , every{" "}
        <FrameBox
          aria-label="Every so manieth frame"
          value={every}
          onChange={(event) => setEvery(event.target.value)}
        />
        , {format?.moving ? "in one file" : "one file a frame in a zip"}.
      </p>
      {format?.rendered && (
        <p>
          Rendered at <Choice label="Size of the pictures" value={part} options={PARTS} onChoose={setPart} />,{" "}
          <Choice
            label="Numbers of frames"
            value={numbers ? "with" : "without"}
            options={NUMBERS}
            onChoose={(way) => setNumbers(way === "with")}
          />
          . {takes}
        </p>
      )}
      {said && <p role="alert">{said}</p>}
      {jobs.map((job) => (
        <JobRow key={job.id} job={job} />
      ))}
    </Range>
  );
}

/** About how long so many finished pictures take, and how much memory, in words. */
function useTime(frames: number, part: number, format: string): string {
  const { documents } = useEditing();
  const { id, revision } = documents.getState();
  const { data } = useQuery({
    queryKey: ["rendering time", id, revision, frames, part, format],
    queryFn: () =>
      answered(
        api.GET("/api/shots/{shot_id}/rendering-time", {
          params: { path: { shot_id: id }, query: { revision, frames, part, format } },
        }),
      ),
    enabled: frames > 0,
    staleTime: 0,
  });
  if (!data) return "";
  if (data.seconds === null)
    return "How long it takes is told when the first frame is done, and here once the view has shown a finished one.";
  const [time, unit] =
    data.seconds >= 5400
      ? [data.seconds / 3600, "h"]
      : data.seconds >= 90
        ? [data.seconds / 60, "min"]
        : [data.seconds, "s"];
  const memory = data.memory === null ? "" : ` and ${bytes(data.memory)} of memory`;
  return `It takes about ${Math.max(1, Math.round(time))} ${unit}${memory}, going by the last finished picture in the view.`;
}

/** Its values are words of a sentence: the lines are so far apart that each can be pressed. */
const Range = styled.div`
  & > p { line-height: 2.1; }
`;
const FrameBox = styled.input`
  width: 52px; padding: 2px 5px; background: var(--paper); border: 1px solid var(--line); border-radius: 3px;
`;
