import type { ReactNode } from "react";
import { inOrder } from "../../document/types";
import { Choice } from "../../parts/Choice";
import { useShot } from "../../parts/editing";

/** What the sentences of steps share that let a front through a shape or over it. */

type Put = (label: string, name: string, value: unknown) => void;

const BY = [
  ["speed", "at a speed"],
  ["share", "by a share"],
] as const;

/** Whether it goes at a speed or by a share, and that. */
export function HowFar({
  by,
  put,
  speed,
  share,
}: {
  by: "speed" | "share";
  put: Put;
  speed: ReactNode;
  share: ReactNode;
}) {
  return (
    <>
      <Choice label="By" value={by} options={BY} onChoose={(chosen) => put(`by ${chosen}`, "by", chosen)} />,{" "}
      {by === "speed" ? speed : share}
    </>
  );
}

/** The field inside of which it starts. */
export function SeedsChoice({ seeds, put }: { seeds: string | null | undefined; put: Put }) {
  const fields = inOrder(useShot((shot) => shot.fields)).map(([id, one]) => [id, `${one.letter} ${one.name}`] as const);
  return (
    <Choice
      label="Seeds"
      tone="field"
      value={seeds ?? ""}
      options={[["", "no field yet"], ...fields]}
      onChoose={(field) => put("seeds", "seeds", field || null)}
    />
  );
}
