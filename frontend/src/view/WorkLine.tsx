import { useEffect, useState } from "react";
import styled, { keyframes } from "styled-components";
import { api } from "../api/client";
import { useEvents } from "../api/events";
import { useAway } from "../parts/Away";
import { useAsked } from "../parts/asking";
import { Button } from "../parts/Button";
import { useEditing, useSession } from "../parts/editing";
import { Hairline } from "../parts/Hairline";

/** The one line about the picture: why it is not the newest, or what is worked on, how far it is, and a way to stop it. */
export function WorkLine() {
  const { player } = useEditing();
  const working = useSession((state) => state.working);
  const stopped = useSession((state) => state.stopped);
  const trouble = useSession((state) => state.trouble);
  const first = useSession((state) => state.manifest === null);
  const away = useAway();
  const asked = useAsked((state) => state.words.at(-1));
  const work = useEvents((state) => state.work).find((one) => one.view === "current" || one.view.startsWith("ahead"));
  const [long, setLong] = useState(false);
  useEffect(() => {
    if (!working) return setLong(false);
    const timer = window.setTimeout(() => setLong(true), 1000);
    return () => window.clearTimeout(timer);
  }, [working]);
  if (away) return null;
  if (stopped) {
    return (
      <Note role="status">
        <span>Stopped. The shot is unharmed; the picture is the one from before.</span>
        <Button onPress={() => player.again()}>Go on</Button>
      </Note>
    );
  }
  if (trouble) {
    return (
      <Note role="alert" data-trouble>
        <Hairline label="Trying again" />
        <span>{trouble}</span>
      </Note>
    );
  }
  if (asked && !first) {
    return (
      <Asked role="status" data-asked>
        <Hairline label={asked} />
        <span>{asked} …</span>
      </Asked>
    );
  }
  if (!first && (!working || !long)) return null;
  const left = work?.seconds_left;
  const says = work?.says ?? (first ? "Working out the first frame" : "Working out the frame");
  return (
    <Note role="status">
      <Hairline label={says} />
      <span>
        {says}
        {work && work.share > 0 && `, ${Math.round(work.share * 100)} %`}
        {left !== null && left !== undefined && `, ${left < 1.5 ? "a second" : `${Math.ceil(left)} s`} left`}
      </span>
      {long && <Button onPress={() => void api.POST("/api/work/cancel")}>Stop</Button>}
    </Note>
  );
}

const Note = styled.div`
  position: absolute; left: 50%; bottom: 14px; transform: translateX(-50%); display: flex; gap: 10px; align-items: center; padding: 6px 8px 6px 12px;
  background: var(--card); border: 1px solid var(--line); border-radius: 3px; white-space: nowrap; max-width: 80%;
  &[data-trouble] { white-space: normal; padding: 8px 12px; width: max-content; }
  & > [role="progressbar"] { position: absolute; left: 0; right: 0; top: -1px; }
`;
const appear = keyframes`from { visibility: hidden; } to { visibility: visible; }`;
/** Not seen where the answer comes at once, so that nothing flickers. */
const Asked = styled(Note)`padding: 6px 12px; animation: ${appear} 1ms 70ms both;`;
