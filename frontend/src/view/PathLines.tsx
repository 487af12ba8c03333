import * as THREE from "three";
import type { Manifest } from "../api/frames";
import { inOrder, type Path } from "../document/types";
import { beginDrag, useEditing, useSession, useShot, valueNow } from "../parts/editing";
import { project } from "./outlines";
import { movedTo } from "./rays";
import { snapped } from "./snapping";
import type { Stage } from "./stage";

/** The paths of the shot; of the chosen one also its points, which are dragged here. */
export function PathLines({ stage, manifest }: { stage: Stage; manifest: Manifest }) {
  const { session } = useEditing();
  const chosen = useSession((state) => state.chosen);
  const items = useShot((shot) => shot.items);
  const playing = useSession((state) => state.playing);
  const path = chosen ? items[chosen] : undefined;
  // While it plays there is nothing to take hold of, and the picture is what is looked at.
  const courses = Object.entries(manifest.courses).filter(([id]) => !playing || id === chosen);
  return (
    <>
      {courses.map(([id, course]) => (
        <g key={id} style={items[id]?.locked ? undefined : { pointerEvents: "stroke", cursor: "pointer" }} fill="none">
          <path
            d={line(stage, course)}
            stroke="transparent"
            strokeWidth={10}
            onPointerDown={() => session.setState({ chosen: id })}
          />
          <path d={line(stage, course)} stroke="#FBFAF5" strokeWidth={3} opacity={0.7} />
          <path
            d={line(stage, course)}
            stroke={items[id]?.mark ?? "#0B6B70"}
            strokeWidth={id === chosen ? 2 : 1.4}
            strokeDasharray={id === chosen ? "7 4" : "2 4"}
          />
        </g>
      ))}
      {chosen && path?.kind === "path" && !path.locked && (
        <Points id={chosen} path={path} stage={stage} manifest={manifest} />
      )}
    </>
  );
}

function Points({ id, path, stage, manifest }: { id: string; path: Path; stage: Stage; manifest: Manifest }) {
  const editing = useEditing();
  const picked = useSession((state) => state.point);
  const toWorld = new THREE.Matrix4().fromArray(manifest.placements[id] ?? new THREE.Matrix4().elements);

  function grab(key: string, down: React.PointerEvent<SVGElement>) {
    down.preventDefault();
    down.stopPropagation();
    editing.session.setState({ point: key });
    const pointer = `/items/${id}/points/${key}/place`;
    const drag = beginDrag(editing, pointer);
    const from = new THREE.Vector3(...(drag.start as [number, number, number])).applyMatrix4(toWorld);
    const canvas = stage.renderer.domElement.getBoundingClientRect();
    const first = { x: down.clientX, y: down.clientY };
    const knob = down.currentTarget;
    const back = toWorld.clone().invert();
    let moved = false;
    knob.setPointerCapture(down.pointerId);
    const move = (event: PointerEvent) => {
      const delta = { x: event.clientX - first.x, y: event.clientY - first.y };
      if (Math.hypot(delta.x, delta.y) < 2 && !moved) return;
      moved = true;
      const there = snapped(editing, stage, id, movedTo(stage, from, null, first, delta, canvas), null, event.shiftKey);
      const own = new THREE.Vector3(...there).applyMatrix4(back).toArray();
      drag.to(own.map((value) => Number(value.toFixed(4))));
    };
    const end = (event: PointerEvent) => {
      knob.removeEventListener("pointermove", move);
      knob.removeEventListener("pointerup", end);
      knob.removeEventListener("pointercancel", end);
      if (moved && event.type === "pointerup") drag.keep(`a point of ${path.name}`);
      else drag.drop();
    };
    knob.addEventListener("pointermove", move);
    knob.addEventListener("pointerup", end);
    knob.addEventListener("pointercancel", end);
  }

  return inOrder(path.points).map(([key], place) => {
    const own = valueNow(editing, `/items/${id}/points/${key}/place`) as [number, number, number];
    const spot = project(stage, new THREE.Vector3(...own).applyMatrix4(toWorld));
    if (!spot) return null;
    return (
      <circle
        key={key}
        data-path-point={place + 1}
        cx={spot.x}
        cy={spot.y}
        r={key === picked ? 7 : 5.5}
        fill={key === picked ? "#0B6B70" : "#FBFAF5"}
        stroke="#0B6B70"
        strokeWidth={1.6}
        style={{ pointerEvents: "all", cursor: "grab", touchAction: "none" }}
        onPointerDown={(down) => grab(key, down)}
      />
    );
  });
}

function line(stage: Stage, course: number[]): string {
  const parts: string[] = [];
  let pen = false;
  for (let place = 0; place + 2 < course.length; place += 3) {
    const spot = project(stage, new THREE.Vector3(course[place], course[place + 1], course[place + 2]));
    if (spot) parts.push(`${pen ? "L" : "M"}${spot.x.toFixed(1)} ${spot.y.toFixed(1)}`);
    pen = spot !== null;
  }
  return parts.join("");
}
