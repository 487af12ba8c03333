import type { Source } from "../../document/types";
import { Across } from "./Across";
import { Another } from "./Another";
import { Around } from "./Around";
import { Chance } from "./Chance";
import type { ClauseProps } from "./clause";
import { Near } from "./Near";
import { Noise } from "./Noise";
import { Spread } from "./Spread";
import { Surface } from "./Surface";
import { Time } from "./Time";
import { Within } from "./Within";

/** The sentence of one source, whichever it is. */
export function SourceClause({ source, ...others }: Omit<ClauseProps<Source["kind"]>, "source"> & { source: Source }) {
  switch (source.kind) {
    case "around":
      return <Around source={source} {...others} />;
    case "across":
      return <Across source={source} {...others} />;
    case "within":
      return <Within source={source} {...others} />;
    case "near":
      return <Near source={source} {...others} />;
    case "surface":
      return <Surface source={source} {...others} />;
    case "noise":
      return <Noise source={source} {...others} />;
    case "spread":
      return <Spread source={source} {...others} />;
    case "time":
      return <Time source={source} {...others} />;
    case "chance":
      return <Chance source={source} {...others} />;
    case "another":
      return <Another source={source} {...others} />;
  }
}

/** What a source is called where there is room for a word or two. */
export const SOURCE_WORDS: Record<Source["kind"], string> = {
  around: "around",
  across: "across",
  within: "within",
  near: "near",
  surface: "the surface",
  noise: "noise",
  spread: "spread",
  time: "time",
  chance: "chance",
  another: "another field",
};
