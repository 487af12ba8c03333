import { type ReactNode, useState } from "react";
import { SmallButton } from "./Button";

/** What a sentence leaves out until it is asked for: the numbers that matter less. */
export function More({ of, children }: { of: string; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      {open && children}{" "}
      <SmallButton
        aria-expanded={open}
        aria-label={open ? `less of ${of}` : `more of ${of}`}
        onPress={() => setOpen(!open)}
      >
        {open ? "less" : "more"}
      </SmallButton>
    </>
  );
}
