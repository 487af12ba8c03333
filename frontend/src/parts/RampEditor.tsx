import { useRef, useState } from "react";
import styled from "styled-components";
import { shown } from "../document/arithmetic";
import { quantity } from "../document/quantities";
import { newId, type Patch, type Ramp } from "../document/types";
import { SmallButton } from "./Button";
import { Choice } from "./Choice";
import { ColourValue } from "./ColourValue";
import { useCommit, useEditing } from "./editing";
import { NumberValue } from "./NumberValue";

const KINDS = [
  ["smooth", "smooth"],
  ["stepped", "stepped"],
] as const;

type Props = { pointer: string; ramp: Ramp; of: "colours" | "values" };

/** A ramp by its stops: drag one along, double-click the bar to add one, choose what it is. */
export function RampEditor({ pointer, ramp, of }: Props) {
  const { documents } = useEditing();
  const commit = useCommit();
  const stops = sortedStops(ramp);
  const [picked, setPicked] = useState(stops[0]?.[0] ?? "");
  const bar = useRef<HTMLDivElement>(null);
  const stop = ramp.stops[picked] ?? stops[0]?.[1];
  const id = picked in ramp.stops ? picked : (stops[0]?.[0] ?? "");
  const placed = (key: string, at: number): Patch => [{ op: "replace", path: `${pointer}/stops/${key}/at`, value: at }];
  const spot = (x: number) => {
    const box = bar.current?.getBoundingClientRect();
    if (!box) return 0;
    return Number(Math.min(1, Math.max(0, (x - box.left) / box.width)).toFixed(3));
  };

  function drag(key: string, down: React.PointerEvent<HTMLElement>) {
    setPicked(key);
    const knob = down.currentTarget;
    let last: number | null = null;
    knob.setPointerCapture(down.pointerId);
    const move = (event: PointerEvent) => {
      last = spot(event.clientX);
      documents.getState().dragTo(placed(key, last));
    };
    const end = () => {
      knob.removeEventListener("pointermove", move);
      knob.removeEventListener("pointerup", end);
      if (last === null) return;
      commit(`stop at ${shown(last)}`, placed(key, last));
    };
    knob.addEventListener("pointermove", move);
    knob.addEventListener("pointerup", end);
  }

  function nudge(key: string, event: React.KeyboardEvent) {
    const by = { ArrowLeft: -0.02, ArrowRight: 0.02 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    const at = Math.min(1, Math.max(0, (ramp.stops[key]?.at ?? 0) + by));
    commit(`stop at ${shown(at)}`, placed(key, Number(at.toFixed(3))));
  }

  function add(x: number) {
    if (stops.length >= 32) return;
    const at = spot(x);
    const before = [...stops].reverse().find(([, one]) => one.at <= at)?.[1] ?? stops[0]?.[1];
    if (!before) return;
    const key = newId(ramp.stops, "s");
    setPicked(key);
    commit("one more stop", [{ op: "add", path: `${pointer}/stops/${key}`, value: { ...before, at } }]);
  }

  return (
    <Frame data-ramp={pointer}>
      <Bar ref={bar} style={{ background: gradient(ramp, of) }} onDoubleClick={(event) => add(event.clientX)}>
        {stops.map(([key, one]) => (
          <Stop
            key={key}
            type="button"
            aria-label={`Stop at ${shown(one.at)}`}
            aria-pressed={key === id}
            style={{ left: `${one.at * 100}%`, background: of === "colours" ? one.colour : grey(one.value) }}
            onPointerDown={(down) => drag(key, down)}
            onKeyDown={(event) => nudge(key, event)}
            onFocus={() => setPicked(key)}
            onDoubleClick={(event) => event.stopPropagation()}
          />
        ))}
      </Bar>
      {stop && (
        <div>
          At{" "}
          <NumberValue
            pointer={`${pointer}/stops/${id}/at`}
            quantity={quantity("Stop", "at")}
            label="Place"
            keyable={false}
          />{" "}
          {of === "colours" ? (
            <ColourValue pointer={`${pointer}/stops/${id}/colour`} label="Colour of the stop" />
          ) : (
            <NumberValue
              pointer={`${pointer}/stops/${id}/value`}
              quantity={quantity("Stop", "value")}
              label="Value of the stop"
              keyable={false}
            />
          )}
          ,{" "}
          <Choice
            label="Between the stops"
            value={ramp.kind}
            options={KINDS}
            onChoose={(kind) => commit(`${kind} ramp`, [{ op: "replace", path: `${pointer}/kind`, value: kind }])}
          />{" "}
          <SmallButton
            isDisabled={stops.length < 2}
            onPress={() => commit("one stop less", [{ op: "remove", path: `${pointer}/stops/${id}` }])}
          >
            Remove the stop
          </SmallButton>
        </div>
      )}
    </Frame>
  );
}

/** A ramp as it is seen in a sentence. */
export function RampPicture({ ramp, of }: { ramp: Ramp; of: "colours" | "values" }) {
  return <Picture aria-hidden="true" style={{ background: gradient(ramp, of) }} />;
}

function sortedStops(ramp: Ramp) {
  return Object.entries(ramp.stops).sort(([, one], [, other]) => one.at - other.at);
}

function grey(value: number): string {
  const part = Math.round(255 * value ** (1 / 2.2));
  return `rgb(${part} ${part} ${part})`;
}

/** The ramp as CSS. Colours are blended in linear light, as the computation does. */
function gradient(ramp: Ramp, of: "colours" | "values"): string {
  const stops = sortedStops(ramp);
  const parts = stops.map(([, stop], place) => {
    const colour = of === "colours" ? stop.colour : grey(stop.value);
    const next = stops[place + 1]?.[1];
    if (ramp.kind === "smooth") return `${colour} ${stop.at * 100}%`;
    return `${colour} ${place === 0 ? 0 : stop.at * 100}% ${(next?.at ?? 1) * 100}%`;
  });
  return parts.length === 1
    ? `linear-gradient(${parts[0]}, ${parts[0]})`
    : `linear-gradient(in srgb-linear to right, ${parts.join(", ")})`;
}

const Frame = styled.div`
  display: grid; gap: 8px; margin: 6px 6px 4px;
`;
const Bar = styled.div`
  position: relative; height: 20px; border: 1px solid var(--line); border-radius: 3px;
`;
const Stop = styled.button`
  position: absolute; top: 8px; width: 24px; height: 24px; margin-left: -12px; padding: 0; border: 6px solid transparent; border-radius: 0; background-clip: padding-box !important; cursor: ew-resize; touch-action: none;
  outline: 1.5px solid var(--ink); outline-offset: -7px;
  &[aria-pressed="true"] { outline: 2.5px solid var(--sea); }
`;
const Picture = styled.span`
  display: inline-block; width: 44px; height: 14px; border: 1px solid var(--ink-soft); border-radius: 2px; vertical-align: -2px;
`;
