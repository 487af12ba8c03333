import { useMemo } from "react";
import type { Session, SessionStore } from "../view/session";
import { useSession } from "./editing";

/** All items that are chosen; the one whose recipe is open comes first. */
export function allChosen({ chosen, others }: Pick<Session, "chosen" | "others">): string[] {
  if (chosen === null) return [];
  return others?.beside === chosen ? [chosen, ...others.items] : [chosen];
}

export function useAllChosen(): string[] {
  const chosen = useSession((session) => session.chosen);
  const others = useSession((session) => session.others);
  return useMemo(() => allChosen({ chosen, others }), [chosen, others]);
}

/** Chooses items together; the recipe that is open stays open where its item is among them. */
export function choose(session: SessionStore, items: string[]): void {
  const { chosen } = session.getState();
  const first = chosen !== null && items.includes(chosen) ? chosen : (items.at(-1) ?? null);
  const others = items.filter((item) => item !== first);
  session.setState({
    chosen: first,
    others: first !== null && others.length > 0 ? { beside: first, items: others } : null,
  });
}
