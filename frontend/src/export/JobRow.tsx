import styled from "styled-components";
import { answered, api, Refused } from "../api/client";
import type { Job } from "../api/events";
import { SmallButton } from "../parts/Button";
import { tell } from "../parts/messages";
import { DoneFrames } from "./DoneFrames";
import { LookAtIt } from "./LookAtIt";

const STATES: Record<Job["state"], string> = {
  waiting: "waiting for its turn",
  running: "",
  done: "done",
  failed: "failed",
  cancelled: "cancelled",
};

/** One job: how far it is, and what can be done with it. */
export function JobRow({ job }: { job: Job }) {
  const params = { params: { path: { job_id: job.id } } };
  const say = (request: Promise<unknown>) =>
    request.catch((fault) => tell(fault instanceof Refused ? fault.message : "It did not work. Try again."));
  const open = job.state === "waiting" || job.state === "running";
  const share = job.total > 0 ? job.done / job.total : 0;
  return (
    <Row aria-label={job.name} data-job={job.state}>
      <span>
        <b>{job.name}</b>
        <small>
          {job.state === "running" ? `${job.done} of ${job.total}. ${job.says}` : `${STATES[job.state]}. ${job.says}`}
          {job.size > 0 && `, ${(job.size / 1e6).toFixed(1)} MB`}
        </small>
      </span>
      {job.pictured && job.done > 0 && <DoneFrames job={job} />}
      {job.state === "running" && (
        <Bar
          role="progressbar"
          aria-label={job.name}
          aria-valuenow={Math.round(share * 100)}
          aria-valuemin={0}
          aria-valuemax={100}
        >
          <i style={{ width: `${share * 100}%` }} />
        </Bar>
      )}
      <div>
        {job.state === "done" && job.size > 0 && job.seen_as && <LookAtIt job={job} />}
        {job.state === "done" && job.size > 0 && (
          <Link href={`/api/jobs/${job.id}/file`} download>
            Save the file
          </Link>
        )}
        {open && (
          <SmallButton onPress={() => void say(answered(api.POST("/api/jobs/{job_id}/cancel", params)))}>
            Cancel
          </SmallButton>
        )}
        {(job.state === "cancelled" || job.state === "failed") && (
          <SmallButton onPress={() => void say(answered(api.POST("/api/jobs/{job_id}/resume", params)))}>
            Resume
          </SmallButton>
        )}
        {!open && (
          <SmallButton onPress={() => void say(answered(api.DELETE("/api/jobs/{job_id}", params)))}>
            Take off the list
          </SmallButton>
        )}
      </div>
    </Row>
  );
}

const Row = styled.section`
  display: grid; gap: 4px; margin-top: 8px; padding-top: 6px; border-top: 1px dashed var(--line);
  & > span { display: grid; } & b { font-weight: 600; } & small { color: var(--ink-soft); }
  & > div:last-child { display: flex; gap: 6px; align-items: center; }
`;
const Bar = styled.div`
  height: 4px; background: var(--outside); border-radius: 2px; overflow: hidden;
  & > i { display: block; height: 100%; background: repeating-linear-gradient(115deg, var(--signal) 0 6px, var(--card) 6px 12px); }
`;
const Link = styled.a`color: var(--sea); font-weight: 600;`;
