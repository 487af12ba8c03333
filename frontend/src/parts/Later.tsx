import { type ReactNode, useEffect, useState } from "react";

/** Lays out what takes long once what is about it has been seen. */
export function Later({ children }: { children: ReactNode }) {
  const [due, setDue] = useState(false);
  useEffect(() => {
    let timer = 0;
    const frame = requestAnimationFrame(() => {
      timer = window.setTimeout(() => setDue(true));
    });
    return () => {
      cancelAnimationFrame(frame);
      window.clearTimeout(timer);
    };
  }, []);
  return due ? children : null;
}
