import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import type { ClauseProps } from "./clause";
import { Falling } from "./Falling";

export function Around({ pointer, source, put, controllers }: ClauseProps<"around">) {
  const value = (name: string, label: string) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Around", name)} label={label} />
  );
  return (
    <>
      <b>around</b>{" "}
      <Choice
        label="Controller"
        value={source.controller}
        options={controllers}
        onChoose={(item) => put("controller", "controller", item)}
      />{" "}
      reaching {value("reach", "Reach")}, falling <Falling fall={source.fall} put={put} /> over {value("soft", "Soft")}
    </>
  );
}
