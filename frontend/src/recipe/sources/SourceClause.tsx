import type { Source } from "../../document/types";
import { Another } from "./Another";
import { Around } from "./Around";
import type { ClauseProps } from "./clause";
import { Noise } from "./Noise";
import { Spread } from "./Spread";
import { Time } from "./Time";

/** The sentence of one source, whichever it is. */
export function SourceClause({ source, ...others }: Omit<ClauseProps<Source["kind"]>, "source"> & { source: Source }) {
  switch (source.kind) {
    case "around":
      return <Around source={source} {...others} />;
    case "noise":
      return <Noise source={source} {...others} />;
    case "time":
      return <Time source={source} {...others} />;
    case "spread":
      return <Spread source={source} {...others} />;
    case "another":
      return <Another source={source} {...others} />;
  }
}

/** What a source is called where there is room for a word or two. */
export const SOURCE_WORDS: Record<Source["kind"], string> = {
  around: "around",
  noise: "noise",
  time: "time",
  spread: "spread",
  another: "another field",
};
