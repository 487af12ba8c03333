import { useEffect } from "react";
import { useEditing } from "./editing";

/** The keys of the editor: play, step, range ends, undo and redo, heat while H is held, before while B is held. */
export function useEditorKeys(): void {
  const { documents, session } = useEditing();
  useEffect(() => {
    const step = (by: number) => {
      const { first, last } = documents.getState().shot.frames;
      const at = Math.round(session.getState().frame) + by;
      session.setState({ frame: Math.min(last, Math.max(first, at)), playing: false });
    };
    const down = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement && event.target.type !== "checkbox";
      const meta = event.ctrlKey || event.metaKey;
      if (meta && event.key.toLowerCase() === "z" && !typing) {
        event.preventDefault();
        void documents.getState().takeBack(event.shiftKey ? "redo" : "undo");
      }
      if (typing || meta || event.altKey) return;
      if (event.key === " " && !(event.target instanceof HTMLButtonElement)) {
        event.preventDefault();
        session.setState({ playing: !session.getState().playing });
      } else if (event.code === "Comma") step(event.shiftKey ? -10 : -1);
      else if (event.code === "Period") step(event.shiftKey ? 10 : 1);
      else if (event.key === "Home") step(-1e6);
      else if (event.key === "End") step(1e6);
      else if (event.key.toLowerCase() === "h" && !event.repeat) session.setState({ reading: "heat" });
      else if (event.key.toLowerCase() === "b" && !event.repeat) session.setState({ before: true });
    };
    const up = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement && event.target.type !== "checkbox";
      if (!typing && event.key.toLowerCase() === "h") session.setState({ reading: "picture" });
      if (event.key.toLowerCase() === "b") session.setState({ before: false });
    };
    window.addEventListener("keydown", down);
    const away = () => session.setState({ before: false });
    window.addEventListener("keyup", up);
    window.addEventListener("blur", away);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", away);
    };
  }, [documents, session]);
}
