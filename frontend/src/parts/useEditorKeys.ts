import { useEffect } from "react";
import { type Command, commandsOf } from "../doing/commands";
import { keyOf, pressed, useKeys } from "../doing/keys";
import { useEditing } from "./editing";

/** Lets keys do what the key list says; a command with an end lasts as long as its key is held. */
export function useEditorKeys(): void {
  const editing = useEditing();
  useEffect(() => {
    const commands = commandsOf(editing);
    let held: { code: string; command: Command } | null = null;
    const release = () => {
      held?.command.end?.();
      held = null;
    };
    const down = (event: KeyboardEvent) => {
      const key = pressed(event);
      if (!key || event.defaultPrevented || !mayAct(event, key)) return;
      const { given } = useKeys.getState();
      const command = commands.find((one) => keyOf(one, given) === key);
      if (!command || (event.repeat && command.end)) return;
      event.preventDefault();
      command.run();
      if (command.end) held = { code: event.code, command };
    };
    const up = (event: KeyboardEvent) => {
      if (held && event.code === held.code) release();
    };
    // A key that is held comes first, also where a focused thing has a use for the other.
    const first = (event: KeyboardEvent) => {
      if (!held?.command.meanwhile?.(pressed(event))) return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener("keydown", first, true);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", release);
    return () => {
      window.removeEventListener("keydown", first, true);
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", release);
    };
  }, [editing]);
}

/** Not while the person types, nor where the focused thing has its own use for the key. */
function mayAct(event: KeyboardEvent, key: string): boolean {
  const { target } = event;
  const types =
    (target instanceof HTMLInputElement && !["checkbox", "range"].includes(target.type)) ||
    target instanceof HTMLTextAreaElement;
  const listed = target instanceof HTMLElement && target.closest("[role=menu], [role=listbox], [role=alertdialog]");
  if (types) return key === "Mod+K";
  if (listed && !key.startsWith("Mod")) return false;
  return !(
    key === "Space" &&
    target instanceof HTMLElement &&
    target.closest("button, a, [role=switch], [role=treegrid]")
  );
}
