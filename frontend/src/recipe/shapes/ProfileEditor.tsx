import { useRef, useState } from "react";
import styled from "styled-components";
import { change } from "../../document/changing";
import { quantity } from "../../document/quantities";
import { type Geometry, inOrder } from "../../document/types";
import { SmallButton } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { ColourValue } from "../../parts/ColourValue";
import { useCommit, useEditing } from "../../parts/editing";
import { NumberValue } from "../../parts/NumberValue";

type Profile = Extract<Geometry, { kind: "revolve" }>["profile"];

const WIDTH = 316;
const HEIGHT = 200;
const JOINTS = [
  ["corner", "a corner"],
  ["smooth", "smooth"],
] as const;

/** The profile of a revolve: its points are dragged in the drawing, or set by number. The dashed line is the axis. */
export function ProfileEditor({ pointer, profile }: { pointer: string; profile: Profile }) {
  const editing = useEditing();
  const commit = useCommit();
  const points = inOrder(profile);
  const [picked, setPicked] = useState(points[0]?.[0] ?? "");
  const drawing = useRef<SVGSVGElement>(null);
  const widest = Math.max(...points.map(([, point]) => point.radius), 0.01);
  const heights = points.map(([, point]) => point.height);
  const [low, high] = [Math.min(...heights), Math.max(...heights)];
  const unit = Math.min((WIDTH - 40) / (2 * widest), (HEIGHT - 30) / Math.max(high - low, 0.01));
  const middle = WIDTH / 2;
  const x = (radius: number) => middle + radius * unit;
  const y = (height: number) => HEIGHT - 15 - (height - low) * unit;
  const index = points.findIndex(([id]) => id === picked);
  const [id, point] = points[Math.max(0, index)] ?? ["", undefined];

  function drag(pointId: string, down: React.PointerEvent<SVGElement>) {
    setPicked(pointId);
    const box = drawing.current?.getBoundingClientRect();
    const start = profile[pointId];
    if (!box || !start) return;
    const knob = down.currentTarget;
    knob.setPointerCapture(down.pointerId);
    let patch = [] as ReturnType<typeof placed>;
    const move = (event: PointerEvent) => {
      const radius = Math.max(0, start.radius + (event.clientX - down.clientX) / unit);
      patch = placed(`${pointer}/${pointId}`, radius, start.height - (event.clientY - down.clientY) / unit);
      editing.documents.getState().dragTo(patch);
    };
    const end = () => {
      knob.removeEventListener("pointermove", move);
      knob.removeEventListener("pointerup", end);
      if (patch.length > 0) commit("profile", patch);
    };
    knob.addEventListener("pointermove", move);
    knob.addEventListener("pointerup", end);
  }

  function addAfter() {
    const of = pointer.slice(0, pointer.lastIndexOf("/"));
    const wanted = { kind: "add_between" as const, of, setting: "profile", after: id };
    void change(editing, wanted, { label: "a profile point", after: (made) => setPicked(made.key) });
  }

  const outline = points.map(([, one], place) => `${place ? "L" : "M"}${x(one.radius)} ${y(one.height)}`).join("");
  const mirrored = points.map(([, one], place) => `${place ? "L" : "M"}${x(-one.radius)} ${y(one.height)}`).join("");
  return (
    <Frame>
      <svg ref={drawing} width={WIDTH} height={HEIGHT} role="img" aria-label={`Profile of ${points.length} points`}>
        <line x1={middle} x2={middle} y1={0} y2={HEIGHT} stroke="var(--ink-soft)" strokeDasharray="6 4" />
        <path d={mirrored} fill="none" stroke="var(--line)" strokeWidth={1.5} />
        <path d={outline} fill="none" stroke="var(--ink)" strokeWidth={1.5} />
        {points.map(([pointId, one]) => (
          <circle
            key={pointId}
            cx={x(one.radius)}
            cy={y(one.height)}
            r={pointId === id ? 5 : 3.5}
            fill={pointId === id ? "var(--sea)" : "var(--card)"}
            stroke="var(--sea)"
            strokeWidth={1.5}
            style={{ cursor: "grab", touchAction: "none" }}
            onPointerDown={(down) => drag(pointId, down)}
          />
        ))}
      </svg>
      {point && (
        <div>
          Point <b>{index + 1}</b> at radius{" "}
          <NumberValue
            pointer={`${pointer}/${id}/radius`}
            quantity={quantity("ProfilePoint", "radius")}
            label="Radius of the point"
            keyable={false}
          />
          , height{" "}
          <NumberValue
            pointer={`${pointer}/${id}/height`}
            quantity={quantity("ProfilePoint", "height")}
            label="Height of the point"
            keyable={false}
          />
          , is{" "}
          <Choice
            label="Joint"
            value={point.joint}
            options={JOINTS}
            onChoose={(joint) =>
              commit(`joint ${joint}`, [{ op: "replace", path: `${pointer}/${id}/joint`, value: joint }])
            }
          />
          {point.colour ? (
            <>
              , painted <ColourValue pointer={`${pointer}/${id}/colour`} label="Colour from this point up" />{" "}
              <SmallButton
                onPress={() => commit("no paint", [{ op: "replace", path: `${pointer}/${id}/colour`, value: null }])}
              >
                No paint
              </SmallButton>
            </>
          ) : (
            <>
              ,{" "}
              <SmallButton
                onPress={() =>
                  void change(
                    editing,
                    { kind: "choose", of: `${pointer}/${id}`, setting: "colour", value: "own" },
                    { label: "paint" },
                  )
                }
              >
                Paint from here up
              </SmallButton>
            </>
          )}
        </div>
      )}
      <div>
        <SmallButton onPress={addAfter}>Add a point after it</SmallButton>{" "}
        <SmallButton
          isDisabled={points.length <= 2}
          onPress={() => {
            commit("a profile point away", [{ op: "remove", path: `${pointer}/${id}` }]);
            setPicked(points[Math.max(0, index - 1)]?.[0] ?? "");
          }}
        >
          Remove it
        </SmallButton>
      </div>
    </Frame>
  );
}

function placed(pointer: string, radius: number, height: number) {
  return [
    { op: "replace" as const, path: `${pointer}/radius`, value: Number(radius.toFixed(4)) },
    { op: "replace" as const, path: `${pointer}/height`, value: Number(height.toFixed(4)) },
  ];
}

const Frame = styled.div`
  display: grid; gap: 6px; margin-top: 6px;
  & svg { background: var(--paper); border: 1px solid var(--line); border-radius: 3px; }
`;
