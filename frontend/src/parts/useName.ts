import { useState } from "react";
import { useCommit } from "./editing";

/** The name of a thing at a pointer as it is typed, and what keeps it. */
export function useName(
  pointer: string,
  name: string,
): { text: string; setText: (text: string) => void; keep: () => void } {
  const commit = useCommit();
  const [text, setText] = useState(name);
  const keep = () => {
    const told = text.trim();
    if (told && told !== name) commit(`name ${told}`, [{ op: "replace", path: `${pointer}/name`, value: told }]);
    else setText(name);
  };
  return { text, setText, keep };
}
