import { useSyncExternalStore } from "react";

function subscribe(listener: () => void): () => void {
  window.addEventListener("popstate", listener);
  return () => window.removeEventListener("popstate", listener);
}

/** The page's own address: its path, and what follows the question mark. */
export function useAddress(): { path: string; query: string } {
  const whole = useSyncExternalStore(subscribe, () => location.pathname + location.search);
  const [path, query] = whole.split("?");
  return { path: path ?? "/", query: query ?? "" };
}

/** Go to an address within the application. */
export function go(address: string): void {
  history.pushState(null, "", address);
  window.dispatchEvent(new PopStateEvent("popstate"));
}
