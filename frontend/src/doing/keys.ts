import { create } from "zustand";
import type { Command } from "./commands";

const STORED = "windsock-keys";

/** Keys that the person gave to commands, by command; "" takes a key away. */
export const useKeys = create<{ given: Record<string, string> }>()(() => ({ given: stored() }));

function stored(): Record<string, string> {
  try {
    const told: unknown = JSON.parse(localStorage.getItem(STORED) ?? "{}");
    if (typeof told !== "object" || told === null) return {};
    return Object.fromEntries(Object.entries(told).filter(([, key]) => typeof key === "string" && key.length < 40));
  } catch {
    return {};
  }
}

function keep(given: Record<string, string>): void {
  useKeys.setState({ given });
  localStorage.setItem(STORED, JSON.stringify(given));
}

/** The key of a command, as the person has it. */
export function keyOf(command: Command, given: Record<string, string>): string {
  return given[command.id] ?? command.key ?? "";
}

/** Gives a command a key; a command that had it goes without. */
export function giveKey(commands: Command[], command: Command, key: string): void {
  const given = { ...useKeys.getState().given };
  for (const other of commands) if (other.id !== command.id && key && keyOf(other, given) === key) given[other.id] = "";
  given[command.id] = key;
  keep(given);
}

export function keysAsTheyWere(): void {
  keep({});
}

const NAMED: Record<string, string> = { " ": "Space", Comma: ",", Period: "." };

/** A key press by name: `Mod+Shift+Z`, `Shift+.`, `Space`. Mod is Ctrl, or Cmd on a Mac. "" for a modifier alone. */
export function pressed(event: KeyboardEvent): string {
  if (["Control", "Shift", "Alt", "Meta", "Dead", "Unidentified"].includes(event.key)) return "";
  const letter = /^Key([A-Z])$/.exec(event.code)?.[1];
  const plain = NAMED[event.code] ?? NAMED[event.key] ?? letter ?? event.key;
  const shift = event.shiftKey && (plain === event.key || letter || event.code in NAMED || plain.length > 1);
  const asked = plain.length === 1 ? plain.toUpperCase() : plain;
  const shows = shift && !(plain.length === 1 && plain === event.key && !letter && !(event.code in NAMED));
  return [event.ctrlKey || event.metaKey ? "Mod" : "", event.altKey ? "Alt" : "", shows ? "Shift" : "", asked]
    .filter(Boolean)
    .join("+");
}

/** A key as people read it. */
export function spoken(key: string): string {
  const mac = navigator.platform.startsWith("Mac");
  return key
    .split("+")
    .map((part) => (part === "Mod" ? (mac ? "Cmd" : "Ctrl") : part))
    .join(" + ");
}
