import styled from "styled-components";
import * as THREE from "three";
import { shown } from "../document/arithmetic";
import { isKeyed } from "../document/parameter";
import { useAllChosen } from "../parts/chosen";
import { beginDrag, beginSharedDrag, useEditing, useSession, useShot, valueNow } from "../parts/editing";
import { spaceOf } from "./carrying";
import { MarksInView } from "./MarksInView";
import { outlinePath, project, regionPath, size } from "./outlines";
import { PathLines } from "./PathLines";
import { movedTo } from "./rays";
import { snapped } from "./snapping";
import type { Stage } from "./stage";
import { pressThrough } from "./usePresses";

type Vector = [number, number, number];
const LETTERS = ["X", "Y", "Z"] as const;
const PROPERTY = { move: "place", turn: "turn", stretch: "scale" } as const;
const LABEL = { move: "place", turn: "turn", stretch: "stretch" } as const;
/** Pixels from the middle to the lettered knobs. */
const ARM = 62;

/** The reach of controllers, and the handles of the chosen item, drawn over the picture. `drawn` counts its drawings. */
export function Handles({ drawn }: { drawn: number }) {
  const editing = useEditing();
  const manifest = useSession((session) => session.manifest);
  const chosen = useSession((session) => session.chosen);
  const mode = useSession((session) => session.handle);
  const frame = useSession((session) => session.frame);
  const playing = useSession((session) => session.playing);
  const items = useShot((shot) => shot.items);
  const several = useAllChosen().filter((id) => !items[id]?.locked);
  const compared = useSession((session) => session.compared !== null);
  const marking = useSession((session) => session.marking !== null);
  const line = useSession((session) => session.line);
  // Left of the compare line is another shot, or another edit.
  const clip = compared ? { clipPath: `inset(0 0 0 ${100 * line}%)` } : undefined;
  const stage = editing.stage.current;
  if (!stage || !manifest) return <Overlay data-drawn={drawn} />;

  const item = chosen ? items[chosen] : undefined;
  const looking = stage.camera !== stage.free.camera && item?.kind === "camera";
  const carrier = spaceOf(manifest, chosen, item?.parent);
  const middle =
    chosen && item && !item.locked && !looking && !playing && !marking
      ? new THREE.Vector3(...vector(valueNow(editing, `/items/${chosen}/place`))).applyMatrix4(carrier).toArray()
      : null;
  const centre = middle && project(stage, new THREE.Vector3(...middle));
  const turn = chosen && item ? vector(valueNow(editing, `/items/${chosen}/turn`)) : null;

  function grab(axis: 0 | 1 | 2 | null, down: React.PointerEvent<SVGElement>) {
    if (!stage || !chosen || !middle || !item) return;
    if (mode === "stretch" && item.kind !== "shape" && item.kind !== "controller") return;
    down.preventDefault();
    const knob = down.currentTarget;
    const shared = several.length > 1;
    const drag = shared
      ? beginSharedDrag(editing, several, PROPERTY[mode])
      : beginDrag(editing, `/items/${chosen}/${PROPERTY[mode]}`);
    const start = vector(drag.start);
    const turned = turnOf(turn ?? [0, 0, 0]).map((one) => one.transformDirection(carrier));
    const from = new THREE.Vector3(...middle);
    const canvas = stage.renderer.domElement.getBoundingClientRect();
    const first = { x: down.clientX, y: down.clientY };
    let last: Vector = start;
    knob.setPointerCapture(down.pointerId);
    const move = (event: PointerEvent) => {
      const delta = { x: event.clientX - first.x, y: event.clientY - first.y };
      if (mode === "move") {
        const there = snapped(
          editing,
          stage,
          chosen,
          movedTo(stage, from, axis, first, delta, canvas),
          axis,
          event.shiftKey,
        );
        last = shared
          ? new THREE.Vector3(...there).sub(from).toArray()
          : new THREE.Vector3(...there).applyMatrix4(carrier.clone().invert()).toArray();
      } else if (mode === "turn") {
        const every = editing.session.getState().snap > 0 !== event.shiftKey ? 15 : 0;
        const turnedTo = (angle: number) => (every ? Math.round(angle / every) * every : angle);
        last = start.map((angle, place) => (place === (axis ?? 1) ? turnedTo(angle + delta.x * 0.5) : angle)) as Vector;
      } else if (mode === "stretch") {
        const direction = axis === null ? null : screenDirection(stage, from, turned[axis]!);
        const along = direction ? delta.x * direction.x + delta.y * direction.y : delta.x;
        const factor = Math.max(0.01, 1 + along / ARM / 1.5);
        last = start.map((scale, place) => (axis === null || place === axis ? scale * factor : scale)) as Vector;
      }
      last = last.map((value) => Number(value.toFixed(4))) as Vector;
      drag.to(last);
    };
    const end = (event: PointerEvent) => {
      knob.removeEventListener("pointermove", move);
      knob.removeEventListener("pointerup", end);
      knob.removeEventListener("pointercancel", end);
      if (event.type === "pointercancel") drag.drop();
      else if (last !== start) {
        const name = shared ? `${item.name} and ${several.length - 1} more, by` : item.name;
        drag.keep(`${LABEL[mode]} of ${name} ${last.map((value) => shown(value)).join(", ")}`);
      } else {
        drag.drop();
        pressThrough(stage.renderer.domElement, event);
      }
    };
    knob.addEventListener("pointermove", move);
    knob.addEventListener("pointerup", end);
    knob.addEventListener("pointercancel", end);
  }

  const axes =
    mode === "stretch" && turn ? turnOf(turn).map((one) => one.transformDirection(carrier)) : turnOf([0, 0, 0]);
  const knobs =
    middle && centre && (mode !== "stretch" || item?.kind === "shape" || item?.kind === "controller")
      ? LETTERS.map((letter, axis) => {
          const direction = screenDirection(stage, new THREE.Vector3(...middle), axes[axis]!);
          return {
            letter,
            axis: axis as 0 | 1 | 2,
            x: centre.x + direction.x * ARM,
            y: centre.y + direction.y * ARM,
            near: Math.hypot(direction.x, direction.y) > 0.25,
          };
        })
      : [];
  const keyed = chosen && item ? isKeyed(item[PROPERTY[mode] as "place"]) : false;
  return (
    <Overlay style={clip} data-drawn={drawn}>
      <PathLines stage={stage} manifest={manifest} />
      <MarksInView stage={stage} manifest={manifest} />
      {manifest.reaches.map((reach) => {
        const matrix = manifest.placements[reach.controller];
        const mine = reach.controller === chosen;
        if (!matrix) return null;
        return (
          <path
            key={`${reach.field} ${reach.source}`}
            d={outlinePath(stage, matrix, reach.outline)}
            fill="none"
            stroke="#0B6B70"
            strokeWidth={mine ? 1.8 : 1.2}
            strokeDasharray="2 5"
          />
        );
      })}
      {manifest.regions
        .filter((region) => region.item === chosen || region.space === chosen)
        .map((region) => {
          const matrix = manifest.placements[region.space];
          return (
            matrix && (
              <path
                key={`${region.item} ${region.step}`}
                data-region={region.step}
                d={regionPath(stage, matrix, region)}
                fill="none"
                stroke="#0B6B70"
                strokeWidth={1.4}
                strokeDasharray="2 5"
              />
            )
          );
        })}
      {manifest &&
        Object.entries(items)
          .filter(([id, one]) => one.kind === "controller" && id !== chosen)
          .map(([id]) => {
            const matrix = manifest.placements[id];
            const spot = matrix && project(stage, new THREE.Vector3(matrix[12], matrix[13], matrix[14]));
            if (!spot) return null;
            return (
              <g
                key={id}
                transform={`translate(${spot.x} ${spot.y})`}
                stroke={items[id]?.mark ?? "#0B6B70"}
                fill="none"
                strokeWidth={1.5}
                style={items[id]?.locked ? undefined : { pointerEvents: "all", cursor: "pointer" }}
                onPointerDown={() => editing.session.setState({ chosen: id })}
              >
                <circle r={9} fill="#FBFAF5" fillOpacity={0.4} />
                <path d="M-14 0H-4M4 0H14M0-14V-4M0 4V14" />
              </g>
            );
          })}
      {centre && (
        <g stroke="#0B6B70" strokeWidth={1.8}>
          {knobs.map(
            (knob) =>
              knob.near && (
                <line key={knob.letter} x1={centre.x} y1={centre.y} x2={knob.x} y2={knob.y} strokeDasharray="4 3" />
              ),
          )}
          {knobs.map(
            (knob) =>
              knob.near && (
                <g
                  key={knob.letter}
                  data-handle={knob.letter}
                  transform={`translate(${knob.x} ${knob.y})`}
                  style={{ pointerEvents: "all", cursor: mode === "turn" ? "ew-resize" : "grab", touchAction: "none" }}
                  onPointerDown={(down) => grab(knob.axis, down)}
                >
                  {mode === "move" && <circle r={9} fill="#FBFAF5" />}
                  {mode === "turn" && <path d="M-10 0a10 10 0 1 1 3 7" fill="#FBFAF5" />}
                  {mode === "stretch" && <rect x={-8.5} y={-8.5} width={17} height={17} fill="#FBFAF5" />}
                  <text textAnchor="middle" dy="4" fontSize="11" fontWeight="600" fill="#0B6B70" stroke="none">
                    {knob.letter}
                  </text>
                </g>
              ),
          )}
          <g
            data-handle="middle"
            transform={`translate(${centre.x} ${centre.y})`}
            style={{ pointerEvents: "all", cursor: "grab", touchAction: "none" }}
            onPointerDown={(down) => grab(null, down)}
          >
            <circle r={12} fill="#FBFAF5" fillOpacity={0.55} />
            <path d="M-18 0H-5M5 0H18M0-18V-5M0 5V18" fill="none" />
          </g>
          {keyed && (
            <text
              x={centre.x + 16}
              y={centre.y + 30}
              fontSize="12"
              fontWeight="600"
              fill="#FBFAF5"
              stroke="#182530"
              strokeWidth={3}
              paintOrder="stroke"
            >
              {item?.name} at {shown(frame, Number.isInteger(frame))}
            </text>
          )}
        </g>
      )}
    </Overlay>
  );
}

function vector(value: number | number[]): Vector {
  return value as Vector;
}

/** The direction in the picture of a direction in the world: at most length 1, shorter when it points at the viewer. */
function screenDirection(stage: Stage, from: THREE.Vector3, axis: THREE.Vector3): { x: number; y: number } {
  const distance = from.distanceTo(new THREE.Vector3().setFromMatrixPosition(stage.camera.matrixWorld));
  const step = 0.08 * distance;
  const [one, other] = [project(stage, from), project(stage, from.clone().addScaledVector(axis, step))];
  if (!one || !other) return { x: 0, y: 0 };
  const { height } = size(stage);
  const straight = (0.08 * height * stage.magnified) / 2 / Math.tan((stage.camera.fov * Math.PI) / 360);
  const [x, y] = [(other.x - one.x) / straight, (other.y - one.y) / straight];
  const length = Math.hypot(x, y);
  return length > 1 ? { x: x / length, y: y / length } : { x, y };
}

/** The item's own axes after its turn about X, then Y, then Z. */
function turnOf([x, y, z]: Vector): THREE.Vector3[] {
  const turn = new THREE.Matrix4().makeRotationFromEuler(new THREE.Euler(rad(x), rad(y), rad(z), "ZYX"));
  return [new THREE.Vector3(1, 0, 0), new THREE.Vector3(0, 1, 0), new THREE.Vector3(0, 0, 1)].map((axis) =>
    axis.applyMatrix4(turn),
  );
}

function rad(degrees: number): number {
  return (degrees * Math.PI) / 180;
}

const Overlay = styled.svg`
  position: absolute; inset: 0; width: 100%; height: 100%; pointer-events: none; overflow: hidden;
`;
