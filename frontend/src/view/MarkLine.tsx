import { useEffect } from "react";
import { SmallButton } from "../parts/Button";
import { useEditing, useSession, useShot } from "../parts/editing";
import { wanted } from "./marking";
import { PressLine } from "./PressLine";

/** Says, while marks are set, on which shape the next press counts. */
export function MarkLine() {
  const editing = useEditing();
  const { session } = editing;
  const marking = useSession((state) => state.marking);
  const chosen = useSession((state) => state.chosen);
  const items = useShot((shot) => shot.items);
  const next = marking && wanted(editing, marking);
  const over = marking !== null && (!next || !marking.step.startsWith(`/items/${chosen}/`));
  useEffect(() => {
    if (over) session.setState({ marking: null });
    if (marking === null) return;
    const hear = (event: KeyboardEvent) => {
      if (event.key === "Escape") session.setState({ marking: null });
    };
    window.addEventListener("keydown", hear);
    return () => window.removeEventListener("keydown", hear);
  }, [session, marking, over]);
  if (!marking || !next || over) return null;
  const name = <b>{items[next.item]?.name}</b>;
  return (
    <PressLine role="status">
      <span>
        {marking.here ? (
          <>Now the same place on {name}</>
        ) : (
          <>
            Mark {next.number}: press a place on {name}
          </>
        )}
      </span>
      <SmallButton onPress={() => session.setState({ marking: null })}>Enough</SmallButton>
    </PressLine>
  );
}
