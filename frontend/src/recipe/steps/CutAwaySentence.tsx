import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import { LevelAndBand } from "../LevelAndBand";
import { LookSentence } from "../LookSentence";
import { FieldChoice, type SentenceProps } from "./sentence";

const ZONES = [
  ["inside", "inside"],
  ["outside", "outside"],
  ["band", "in the band of"],
] as const;
const EDGES = [
  ["exact", "with an exact edge"],
  ["fading", "fading over the band"],
  ["piece by piece", "piece by piece"],
] as const;
const BACKS = [
  ["second look", "seen with a look of their own"],
  ["hidden", "hidden"],
] as const;

export function CutAwaySentence({ pointer, step, put, undriven }: SentenceProps<"cut_away">) {
  return (
    <>
      Cut away what is{" "}
      {!undriven && (
        <>
          <Choice label="Zone" value={step.zone} options={ZONES} onChoose={(zone) => put(zone, "zone", zone)} />{" "}
        </>
      )}
      <FieldChoice pointer={pointer} step={step} put={put} everything="everything" />
      {step.field && <LevelAndBand field={step.field} />},{" "}
      <Choice label="Edge" value={step.edge} options={EDGES} onChoose={(edge) => put(`${edge} edge`, "edge", edge)} />
    </>
  );
}

export function CutAwayMore({ pointer, step, put }: SentenceProps<"cut_away">) {
  return (
    <>
      The field counts by{" "}
      <NumberValue pointer={`${pointer}/amount`} quantity={quantity("CutAway", "amount")} label="Amount" />. Back faces
      are{" "}
      <Choice
        label="Back faces"
        value={step.backs}
        options={BACKS}
        onChoose={(backs) => put(`back faces ${backs}`, "backs", backs)}
      />
      {step.backs === "second look" && (
        <>
          : <LookSentence pointer={`${pointer}/back_look`} backs={false} />
        </>
      )}
    </>
  );
}
