import { useRef, useState } from "react";
import styled from "styled-components";
import { easingOf, handles, type Keyed, sortedKeys } from "../document/parameter";
import type { Easing } from "../document/types";
import { Choice } from "./Choice";
import { useCommit, useEditing, useSession } from "./editing";

const WIDTH = 278;
const HEIGHT = 96;
const EDGE = 10;

const EASINGS = [
  ["ease", "eased"],
  ["linear", "straight"],
  ["hold", "held"],
  ["bezier", "shaped by hand"],
] as const;

type Props = { pointer: string; keyed: Keyed; axis: number | null; label: string };

/** A keyed value over time. Pick a key to choose how the value goes on from it; shape it by its two handles. */
export function Curve({ pointer, keyed, axis, label }: Props) {
  const editing = useEditing();
  const commit = useCommit();
  const frame = useSession((session) => session.frame);
  const keys = sortedKeys(keyed);
  const [picked, setPicked] = useState(keys[0]?.[0] ?? "");
  const drawing = useRef<SVGSVGElement>(null);
  const value = (key: { value: number | number[] }) =>
    typeof key.value === "number" ? key.value : (key.value[axis ?? 0] ?? 0);
  const values = keys.map(([, key]) => value(key));
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const [start, end] = [keys[0]?.[1].frame ?? 0, keys.at(-1)?.[1].frame ?? 1];
  const x = (at: number) => EDGE + ((at - start) / Math.max(end - start, 1e-6)) * (WIDTH - 2 * EDGE);
  const y = (at: number) => HEIGHT - 22 - ((at - low) / Math.max(high - low, 1e-6)) * (HEIGHT - 44);
  const index = Math.max(
    0,
    keys.findIndex(([id]) => id === picked),
  );
  const [id, key] = keys[index] ?? ["", undefined];
  const next = keys[index + 1]?.[1];

  function ease(easing: Easing) {
    commit(`easing of ${label}`, [{ op: "replace", path: `${pointer}/keys/${id}/easing`, value: easing }]);
  }

  function choose(kind: (typeof EASINGS)[number][0]) {
    ease(easingOf(kind, key?.easing));
  }

  function shape(which: 0 | 2, down: React.PointerEvent<SVGCircleElement>) {
    const told = key?.easing.kind === "bezier" ? key.easing.handles : null;
    const box = drawing.current?.getBoundingClientRect();
    if (!told || !box || !key || !next) return;
    const knob = down.currentTarget;
    knob.setPointerCapture(down.pointerId);
    let shaped = told;
    const move = (event: PointerEvent) => {
      const share = (event.clientX - box.left - x(key.frame)) / Math.max(x(next.frame) - x(key.frame), 1);
      const rise = y(value(next)) - y(value(key));
      const height = Math.abs(rise) < 1 ? 0 : (event.clientY - box.top - y(value(key))) / rise;
      const moved: [number, number, number, number] = [...shaped];
      moved[which] = Math.min(1, Math.max(0, share));
      moved[which + 1] = Math.min(3, Math.max(-2, height));
      shaped = moved;
      const patch = {
        op: "replace" as const,
        path: `${pointer}/keys/${id}/easing`,
        value: { kind: "bezier", handles: shaped },
      };
      editing.documents.getState().dragTo([patch]);
    };
    const end = () => {
      knob.removeEventListener("pointermove", move);
      knob.removeEventListener("pointerup", end);
      ease({ kind: "bezier", handles: shaped });
    };
    knob.addEventListener("pointermove", move);
    knob.addEventListener("pointerup", end);
  }

  const knobs = key?.easing.kind === "bezier" && next ? key.easing.handles : null;
  const reach = (share: number, rise: number): [number, number] => {
    if (!key || !next) return [0, 0];
    return [
      x(key.frame) + share * (x(next.frame) - x(key.frame)),
      y(value(key)) + rise * (y(value(next)) - y(value(key))),
    ];
  };
  return (
    <Frame>
      <svg
        ref={drawing}
        width={WIDTH}
        height={HEIGHT}
        role="img"
        aria-label={`Curve of ${label} over ${keys.length} keys`}
      >
        {frame >= start && frame <= end && (
          <line x1={x(frame)} x2={x(frame)} y1={0} y2={HEIGHT} stroke="var(--signal)" />
        )}
        {keys.slice(1).map(([nextId, to], place) => {
          const from = keys[place]?.[1];
          return (
            from && (
              <path
                key={nextId}
                d={segment([x(from.frame), y(value(from))], [x(to.frame), y(value(to))], from.easing)}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={1.5}
              />
            )
          );
        })}
        {knobs && (
          <g stroke="var(--sea)">
            {([0, 2] as const).map((which) => {
              const [hx, hy] = reach(knobs[which], knobs[which === 0 ? 1 : 3]);
              const [ax, ay] = reach(which === 0 ? 0 : 1, which === 0 ? 0 : 1);
              return (
                <g key={which}>
                  <line x1={ax} y1={ay} x2={hx} y2={hy} strokeDasharray="2 2" />
                  <circle
                    cx={hx}
                    cy={hy}
                    r={5}
                    fill="var(--sea)"
                    style={{ cursor: "grab", touchAction: "none" }}
                    onPointerDown={(down) => shape(which, down)}
                  />
                </g>
              );
            })}
          </g>
        )}
        {keys.map(([keyId, one]) => (
          <rect
            key={keyId}
            x={x(one.frame) - 4}
            y={y(value(one)) - 4}
            width={8}
            height={8}
            fill={keyId === id ? "var(--ink)" : "var(--card)"}
            stroke="var(--ink)"
            style={{ cursor: "pointer" }}
            onPointerDown={() => {
              setPicked(keyId);
              editing.session.setState({ frame: one.frame, playing: false });
            }}
          />
        ))}
      </svg>
      {key && (
        <div>
          From the key at <b>{key.frame}</b>
          {next ? (
            <>
              {" "}
              the value goes on{" "}
              <Choice label={`Easing from ${key.frame}`} value={key.easing.kind} options={EASINGS} onChoose={choose} />
            </>
          ) : (
            " the value stays."
          )}
        </div>
      )}
    </Frame>
  );
}

function segment([x1, y1]: [number, number], [x2, y2]: [number, number], easing: Easing): string {
  const shape = handles(easing);
  if (!shape) return `M${x1} ${y1}H${x2}V${y2}`;
  const [a, b, c, d] = shape;
  const [w, h] = [x2 - x1, y2 - y1];
  return `M${x1} ${y1}C${x1 + a * w} ${y1 + b * h} ${x1 + c * w} ${y1 + d * h} ${x2} ${y2}`;
}

const Frame = styled.div`
  && { display: grid; gap: 6px; }
  & svg { background: var(--paper); border: 1px solid var(--line); border-radius: 3px; overflow: visible; }
`;
