import { useEffect, useState } from "react";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { useEditing } from "../parts/editing";
import { ACTS, LAST_WORDS, seen } from "./acts";
import { goOn, leave, useProgress } from "./progress";

/** The shot that the first steps are taken on: the first demo. */
export const GUIDED = "fog-over-the-light";

/** A few acts, one after the other: each waits until it is done, and says what the person did. */
export function Guide() {
  const editing = useEditing();
  const { done, left } = useProgress();
  const [did, setDid] = useState("");
  const act = ACTS[done];
  const here = editing.documents.getState().id === GUIDED && !left;

  useEffect(() => {
    if (!here || !act) return;
    const then = seen(editing);
    let over = false;
    const look = () => {
      const words = over ? null : act.did(seen(editing), then);
      if (!words) return;
      over = true;
      setDid(words);
      goOn();
    };
    const stops = [editing.session.subscribe(look), editing.documents.subscribe(look)];
    look();
    return () => {
      for (const stop of stops) stop();
    };
  }, [editing, act, here]);

  if (!here || (!act && !did)) return null;
  return (
    <Card aria-label="First steps" role="group">
      <Head>
        First steps{act ? `, ${done + 1} of ${ACTS.length}` : ""}
        <Button onPress={leave}>{act ? "Leave" : "Done"}</Button>
      </Head>
      <div role="status">
        {did && <Did>{did}</Did>}
        <b>{act ? act.asks : LAST_WORDS}</b>
      </div>
    </Card>
  );
}

const Card = styled.div`
  position: absolute; left: 12px; top: 48px; width: 290px; display: grid; gap: 6px; padding: 8px 10px 10px 12px; line-height: 1.45;
  background: var(--card); border: 1px solid var(--line); border-left: 4px solid var(--signal); border-radius: 3px;
  & b { font-weight: 600; }
`;
const Head = styled.div`display: flex; justify-content: space-between; align-items: center; color: var(--ink-soft);`;
const Did = styled.p`margin-bottom: 4px; color: var(--sea);`;
