import { useEffect, useState } from "react";
import styled from "styled-components";
import { api } from "../api/client";
import { useEvents } from "../api/events";
import { Button } from "../parts/Button";
import { useEditing, useSession } from "../parts/editing";
import { Hairline } from "../parts/Hairline";

/** Work that takes longer than a second: what it is, how far it is, how long it will take, and a way to stop it. */
export function WorkLine() {
  const { player } = useEditing();
  const working = useSession((state) => state.working);
  const stopped = useSession((state) => state.stopped);
  const work = useEvents((state) => state.work).find((one) => one.view === "current" || one.view.startsWith("ahead"));
  const [long, setLong] = useState(false);
  useEffect(() => {
    if (!working) return setLong(false);
    const timer = window.setTimeout(() => setLong(true), 1000);
    return () => window.clearTimeout(timer);
  }, [working]);
  if (stopped) {
    return (
      <Note role="status">
        <span>Stopped. The shot is unharmed; the picture is the one from before.</span>
        <Button onPress={() => player.again()}>Go on</Button>
      </Note>
    );
  }
  if (!working || !long) return null;
  const left = work?.seconds_left;
  return (
    <Note role="status">
      <Hairline label={work?.says ?? "Working out the frame"} />
      <span>
        {work?.says ?? "Working out the frame"}
        {work && work.share > 0 && `, ${Math.round(work.share * 100)} %`}
        {left !== null && left !== undefined && `, ${left < 1.5 ? "a second" : `${Math.ceil(left)} s`} left`}
      </span>
      <Button onPress={() => void api.POST("/api/work/cancel")}>Stop</Button>
    </Note>
  );
}

const Note = styled.div`
  position: absolute; left: 50%; bottom: 14px; transform: translateX(-50%); display: flex; gap: 10px; align-items: center; padding: 6px 8px 6px 12px;
  background: var(--card); border: 1px solid var(--line); border-radius: 3px; white-space: nowrap;
  & > [role="progressbar"] { position: absolute; left: 0; right: 0; top: -1px; }
`;
