import { Pause, Play } from "lucide-react";
import { useEffect, useState } from "react";
import styled from "styled-components";
import type { Job } from "../api/events";
import { IconButton } from "../parts/Button";
import { useShot } from "../parts/editing";

/** The frames of a job that are rendered, small: the newest, or all of them as they play. */
export function DoneFrames({ job }: { job: Job }) {
  const rate = useShot((shot) => shot.rate.numerator / shot.rate.denominator) / job.step;
  const [playing, setPlaying] = useState(false);
  const [at, setAt] = useState(0);
  const last = job.done - 1;
  useEffect(() => {
    if (!playing) return;
    const timer = window.setInterval(() => setAt((now) => (now >= last ? 0 : now + 1)), 1000 / Math.min(rate, 30));
    return () => window.clearInterval(timer);
  }, [playing, last, rate]);
  const frame = job.first + job.step * (playing ? Math.min(at, last) : last);
  return (
    <Small>
      <img src={`/api/jobs/${job.id}/small/${frame}`} alt={`Frame ${frame}, rendered`} />
      <span>
        <IconButton
          data-small
          aria-label={playing ? "Stop playing what is rendered" : "Play what is rendered"}
          isDisabled={last < 1}
          onPress={() => setPlaying(!playing)}
        >
          {playing ? <Pause size={13} /> : <Play size={13} />}
        </IconButton>{" "}
        Frame {frame}
      </span>
    </Small>
  );
}

const Small = styled.div`
  display: grid; gap: 3px; color: var(--ink-soft);
  & img { width: 100%; max-width: 320px; min-height: 60px; background: var(--outside); border-radius: 2px; }
`;
