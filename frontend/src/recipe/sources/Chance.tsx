import { quantity } from "../../document/quantities";
import { NumberValue } from "../../parts/NumberValue";
import type { ClauseProps } from "./clause";

export function Chance({ pointer }: ClauseProps<"chance">) {
  return (
    <>
      <b>chance</b>{" "}
      <NumberValue pointer={`${pointer}/seed`} quantity={quantity("Chance", "seed")} label="Seed" keyable={false} /> for
      each point
    </>
  );
}
