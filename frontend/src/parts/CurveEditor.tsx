import { useRef, useState } from "react";
import styled from "styled-components";
import { shown } from "../document/arithmetic";
import { AS_IT_IS, CURVES, type Curve, type CurvePoint, curveName, sortedPoints } from "../document/curves";
import { easingOf, handles } from "../document/parameter";
import { newId } from "../document/types";
import { SmallButton } from "./Button";
import { Choice } from "./Choice";
import { useCommit, useEditing } from "./editing";

const WIDTH = 290;
const HEIGHT = 120;
const EDGE = 10;
const EASINGS = [
  ["linear", "straight"],
  ["ease", "eased"],
  ["hold", "held"],
  ["bezier", "shaped by hand"],
] as const;
/** Nearer than this to the floor or the ceiling, a point is laid exactly on it. */
const SNAP = 0.035;

type Props = { pointer: string; curve: Curve; label: string };

/**
 * A curve by its points: drag one, double-click to add one, and shape the way to the next by handles. Values near 0 and 1
 * snap to exactly those, because a floor a little over 0 lets an effect leak over the whole subject.
 */
export function CurveEditor({ pointer, curve, label }: Props) {
  const { documents } = useEditing();
  const commit = useCommit();
  const points = sortedPoints(curve);
  const [picked, setPicked] = useState(points[0]?.[0] ?? "");
  const drawing = useRef<SVGSVGElement>(null);
  const place = points.findIndex(([id]) => id === picked);
  const point = points[place]?.[1];
  const next = points[place + 1]?.[1];
  const named = curveName(curve);
  const presets = [...(named in CURVES ? [] : [named]), ...Object.keys(CURVES), AS_IT_IS];

  const patch = (made: Curve) => [{ op: "replace" as const, path: pointer, value: made }];
  const keep = (what: string, made: Curve) => commit(`${label}: ${what}`, patch(made));
  const changed = (id: string, change: Partial<CurvePoint>): Curve => {
    const before = curve.points[id];
    return before ? { points: { ...curve.points, [id]: { ...before, ...change } } } : curve;
  };

  /** Where the pointer is, in values. */
  function spot(event: { clientX: number; clientY: number }): { x: number; y: number } {
    const box = drawing.current?.getBoundingClientRect() ?? new DOMRect();
    const x = (event.clientX - box.left - EDGE) / (box.width - 2 * EDGE);
    const y = 1 - (event.clientY - box.top - EDGE) / (box.height - 2 * EDGE);
    return { x, y };
  }

  /** A point's new place: between its neighbours, snapped to floor, ceiling and the ends. */
  function fitted(id: string, x: number, y: number): { x: number; y: number } {
    const at = points.findIndex(([key]) => key === id);
    const [low, high] = [(points[at - 1]?.[1].x ?? -0.005) + 0.005, (points[at + 1]?.[1].x ?? 1.005) - 0.005];
    return { x: round(Math.min(high, Math.max(low, snapped(x)))), y: round(snapped(y)) };
  }

  function follow(down: React.PointerEvent<SVGElement>, made: (event: PointerEvent) => Curve, what: string) {
    down.preventDefault();
    down.stopPropagation();
    const mark = down.currentTarget;
    let last: Curve | null = null;
    mark.setPointerCapture(down.pointerId);
    const move = (event: PointerEvent) => {
      last = made(event);
      documents.getState().dragTo(patch(last));
    };
    const end = (event: PointerEvent) => {
      mark.removeEventListener("pointermove", move);
      mark.removeEventListener("pointerup", end);
      mark.removeEventListener("pointercancel", end);
      if (last && event.type === "pointerup") keep(what, last);
      else documents.getState().dragTo(null);
    };
    mark.addEventListener("pointermove", move);
    mark.addEventListener("pointerup", end);
    mark.addEventListener("pointercancel", end);
  }

  function dragPoint(id: string, down: React.PointerEvent<SVGElement>) {
    setPicked(id);
    follow(
      down,
      (event) => {
        const { x, y } = spot(event);
        return changed(id, fitted(id, x, y));
      },
      "point",
    );
  }

  function dragHandle(which: 0 | 2, down: React.PointerEvent<SVGElement>) {
    if (!point || !next || point.easing.kind !== "bezier") return;
    const { handles: shape } = point.easing;
    const rise = next.y - point.y || 1e-6;
    follow(
      down,
      (event) => {
        const { x, y } = spot(event);
        const moved: [number, number, number, number] = [...shape];
        moved[which] = round(Math.min(1, Math.max(0, (x - point.x) / (next.x - point.x))));
        moved[which + 1] = round(Math.min(1, Math.max(0, (y - point.y) / rise)));
        return changed(picked, { easing: { kind: "bezier", handles: moved } });
      },
      "handle",
    );
  }

  function add(event: React.MouseEvent) {
    const { x, y } = spot(event);
    if (points.some(([, one]) => Math.abs(one.x - x) < 0.01) || points.length >= 64) return;
    const id = newId(curve.points, "p");
    const made = { x: round(Math.min(1, Math.max(0, x))), y: round(snapped(y)), easing: { kind: "linear" as const } };
    setPicked(id);
    keep("one more point", { points: { ...curve.points, [id]: made } });
  }

  function remove() {
    if (points.length < 2) return;
    const { [picked]: gone, ...rest } = curve.points;
    setPicked(Object.keys(rest)[0] ?? "");
    if (gone) keep("one point less", { points: rest });
  }

  function nudge(id: string, event: React.KeyboardEvent) {
    if (event.key === "Delete" || event.key === "Backspace") return remove();
    const by = { ArrowLeft: [-0.02, 0], ArrowRight: [0.02, 0], ArrowUp: [0, 0.02], ArrowDown: [0, -0.02] }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    const one = curve.points[id];
    if (!one) return;
    const at = points.findIndex(([key]) => key === id);
    const [low, high] = [(points[at - 1]?.[1].x ?? -0.005) + 0.005, (points[at + 1]?.[1].x ?? 1.005) - 0.005];
    const x = Math.min(high, Math.max(low, one.x + (by[0] ?? 0)));
    keep("point", changed(id, { x: round(x), y: round(Math.min(1, Math.max(0, one.y + (by[1] ?? 0)))) }));
  }

  const knobs = point?.easing.kind === "bezier" && next ? point.easing.handles : null;
  const floor = Math.min(...points.map(([, one]) => one.y));
  return (
    <Frame data-curve={pointer}>
      <Choice
        label="Preset of the curve"
        value={named}
        options={presets.map((name) => [name, name] as const)}
        onChoose={(name) =>
          name !== named && commit(`curve ${name}`, [{ op: "replace", path: pointer, value: CURVES[name] ?? null }])
        }
      />
      <svg
        ref={drawing}
        width={WIDTH}
        height={HEIGHT}
        onDoubleClick={add}
        aria-label={`${label}: ${points.length} points`}
      >
        {[0, 0.5, 1].map((y) => (
          <line key={y} x1={px(0)} x2={px(1)} y1={py(y)} y2={py(y)} stroke="var(--line)" />
        ))}
        <path d={line(points.map(([, one]) => one))} fill="none" stroke="var(--sea)" strokeWidth={2} />
        {knobs &&
          point &&
          next &&
          ([0, 2] as const).map((which) => {
            const anchor = which === 0 ? point : next;
            const x = px(point.x + knobs[which] * (next.x - point.x));
            const y = py(point.y + knobs[which === 0 ? 1 : 3] * (next.y - point.y));
            return (
              <g key={which} stroke="var(--sea)">
                <line x1={px(anchor.x)} y1={py(anchor.y)} x2={x} y2={y} strokeDasharray="2 2" />
                <circle
                  cx={x}
                  cy={y}
                  r={5}
                  fill="var(--card)"
                  className="grab"
                  onPointerDown={(e) => dragHandle(which, e)}
                />
              </g>
            );
          })}
        {points.map(([id, one]) => (
          // biome-ignore lint/a11y/useSemanticElements: within a drawing there are no buttons
          <rect
            key={id}
            className="grab"
            data-point={id}
            role="button"
            tabIndex={0}
            aria-label={`Point at ${shown(one.x)}: ${shown(one.y)}`}
            aria-pressed={id === picked}
            x={px(one.x) - 5}
            y={py(one.y) - 5}
            width={10}
            height={10}
            fill={id === picked ? "var(--sea)" : "var(--card)"}
            stroke="var(--sea)"
            strokeWidth={1.5}
            onFocus={() => setPicked(id)}
            onKeyDown={(event) => nudge(id, event)}
            onPointerDown={(down) => dragPoint(id, down)}
            onDoubleClick={(event) => event.stopPropagation()}
          />
        ))}
      </svg>
      {point && (
        <div>
          {shown(point.x)} becomes <b>{shown(point.y)}</b>
          {next && (
            <>
              , then goes on{" "}
              <Choice
                label="Way to the next point"
                value={point.easing.kind}
                options={EASINGS}
                onChoose={(kind) =>
                  keep(
                    `way ${kind}`,
                    changed(picked, {
                      easing: easingOf(kind, point.easing),
                    }),
                  )
                }
              />
            </>
          )}{" "}
          <SmallButton onPress={remove} isDisabled={points.length < 2}>
            Remove the point
          </SmallButton>
        </div>
      )}
      {floor > 0 && <p>Its floor is {shown(floor)}: nowhere is the value below that.</p>}
    </Frame>
  );
}

const px = (x: number) => EDGE + x * (WIDTH - 2 * EDGE);
const py = (y: number) => EDGE + (1 - y) * (HEIGHT - 2 * EDGE);
const round = (value: number) => Number(value.toFixed(4));

function snapped(value: number): number {
  if (value < SNAP) return 0;
  return value > 1 - SNAP ? 1 : value;
}

/** The whole way from value 0 to value 1, level beyond the first and last point. */
function line(points: CurvePoint[]): string {
  const [first, ...others] = points;
  if (!first) return "";
  const parts = [`M${px(0)} ${py(first.y)}H${px(first.x)}`];
  let last = first;
  for (const to of others) {
    const from = last;
    last = to;
    const shape = handles(from.easing);
    if (!shape) {
      parts.push(`H${px(to.x)}V${py(to.y)}`);
      continue;
    }
    const [a, b, c, d] = shape;
    const [w, h] = [to.x - from.x, to.y - from.y];
    parts.push(
      `C${px(from.x + a * w)} ${py(from.y + b * h)} ${px(from.x + c * w)} ${py(from.y + d * h)} ${px(to.x)} ${py(to.y)}`,
    );
  }
  parts.push(`L${px(last.x)} ${py(last.y)}H${px(1)}`);
  return parts.join("");
}

const Frame = styled.div`
  display: grid; gap: 6px; margin: 4px 0; justify-items: start; line-height: 1.6;
  & svg { background: var(--paper); border: 1px solid var(--line); border-radius: 3px; touch-action: none; }
  & .grab { cursor: grab; touch-action: none; }
  & p { color: var(--signal); line-height: 1.4; }
`;
