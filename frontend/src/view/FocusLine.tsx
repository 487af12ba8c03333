import { useEffect } from "react";
import { SmallButton } from "../parts/Button";
import { useEditing, useSession } from "../parts/editing";
import { PressLine } from "./PressLine";

/** Says that the next press in the view says what is sharp. */
export function FocusLine() {
  const { session } = useEditing();
  const focusing = useSession((state) => state.focusing);
  const chosen = useSession((state) => state.chosen);
  const over = focusing?.startsWith("/items/") && focusing !== `/items/${chosen}`;
  useEffect(() => {
    if (over) session.setState({ focusing: null });
    const hear = (event: KeyboardEvent) => {
      if (event.key === "Escape") session.setState({ focusing: null });
    };
    window.addEventListener("keydown", hear);
    return () => window.removeEventListener("keydown", hear);
  }, [session, over]);
  if (!focusing || over) return null;
  return (
    <PressLine role="status">
      <span>Press what is to be sharp</span>
      <SmallButton onPress={() => session.setState({ focusing: null })}>Leave it</SmallButton>
    </PressLine>
  );
}
