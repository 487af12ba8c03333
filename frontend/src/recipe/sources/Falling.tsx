import { Choice } from "../../parts/Choice";
import type { Put } from "./clause";

const FALLS = [
  ["straight", "evenly"],
  ["smooth", "softly"],
] as const;

/** How a source falls from 1 to 0. */
export function Falling({ fall, put }: { fall: "straight" | "smooth"; put: Put }) {
  return (
    <Choice label="Fall" value={fall} options={FALLS} onChoose={(chosen) => put(`falling ${chosen}`, "fall", chosen)} />
  );
}
