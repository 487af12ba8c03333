import styled from "styled-components";
import { quantity } from "../document/quantities";
import { inOrder, newId, type Patch, type Path } from "../document/types";
import { SmallButton } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { useCommit, useEditing, useSession } from "../parts/editing";
import { NumberValue } from "../parts/NumberValue";
import { Unfolded } from "./Card";

const AXES = ["X", "Y", "Z"] as const;
const JOINTS = [
  ["corner", "a corner"],
  ["smooth", "smooth"],
] as const;

/** The points of a path: chosen here or in the view, where they are dragged; set by number, added and removed. */
export function PathCard({ id, path }: { id: string; path: Path }) {
  const { session, stage } = useEditing();
  const commit = useCommit();
  const picked = useSession((state) => state.point);
  const points = inOrder(path.points);
  const index = Math.max(
    0,
    points.findIndex(([key]) => key === picked),
  );
  const [key, point] = points[index] ?? ["", undefined];
  const pointer = `/items/${id}/points/${key}`;
  const pick = (chosen: string) => {
    session.setState({ point: chosen });
    stage.current?.draw();
  };

  function addAfter() {
    const made = pointAfter(path, index);
    if (!made) return;
    const added = newId(path.points, "p");
    commit("a path point", [{ op: "add", path: `/items/${id}/points/${added}`, value: made }]);
    pick(added);
  }

  function put(label: string, patch: Patch) {
    commit(label, patch);
  }

  if (!point) return null;
  const bent = point.before || point.after;
  return (
    <Unfolded>
      A path of {points.length} points,{" "}
      <Choice
        label="Open or closed"
        value={path.closed ? "closed" : "open"}
        options={[
          ["open", "open"],
          ["closed", "closed"],
        ]}
        onChoose={(how) =>
          put(`${how} path`, [{ op: "replace", path: `/items/${id}/closed`, value: how === "closed" }])
        }
      />
      .
      <Dots role="group" aria-label="Points of the path">
        {points.map(([one], place) => (
          <Dot key={one} type="button" aria-pressed={one === key} onClick={() => pick(one)}>
            {place + 1}
          </Dot>
        ))}
      </Dots>
      Point <b>{index + 1}</b> at{" "}
      {AXES.map((letter, axis) => (
        <span key={letter}>
          {axis > 0 && " "}
          <NumberValue
            pointer={`${pointer}/place`}
            axis={axis as 0 | 1 | 2}
            quantity={quantity("PathPoint", "place")}
            label={`Point ${letter}`}
          />
        </span>
      ))}
      , is{" "}
      {bent ? (
        <>
          bent by handles{" "}
          <SmallButton
            onPress={() =>
              put("no handles", [
                { op: "replace", path: `${pointer}/before`, value: null },
                { op: "replace", path: `${pointer}/after`, value: null },
              ])
            }
          >
            Let it flow
          </SmallButton>
        </>
      ) : (
        <Choice
          label="Joint"
          value={point.joint}
          options={JOINTS}
          onChoose={(joint) => put(`joint ${joint}`, [{ op: "replace", path: `${pointer}/joint`, value: joint }])}
        />
      )}
      <div>
        <SmallButton isDisabled={points.length >= 400} onPress={addAfter}>
          Add a point after it
        </SmallButton>{" "}
        <SmallButton
          isDisabled={points.length <= 2}
          onPress={() => {
            put("a path point away", [{ op: "remove", path: pointer }]);
            pick(points[Math.max(0, index - 1)]?.[0] ?? "");
          }}
        >
          Remove it
        </SmallButton>
      </div>
    </Unfolded>
  );
}

/** A point half way to the next one, or as far again beyond the last. */
function pointAfter(path: Path, index: number): Path["points"][string] | null {
  const points = inOrder(path.points).map(([, point]) => point);
  const [point, before, next] = [
    points[index],
    points[index - 1],
    points[index + 1] ?? (path.closed ? points[0] : null),
  ];
  if (!point) return null;
  const place = (one: typeof point) =>
    Array.isArray(one.place) ? one.place : (Object.values(one.place.keys)[0]?.value ?? [0, 0, 0]);
  const here = place(point);
  const there = next
    ? place(next)
    : here.map((value, axis) => 2 * value - (before ? place(before)[axis]! : value - 0.5));
  const middle = here.map((value, axis) => Number(((value + (there[axis] ?? value)) / 2).toFixed(4)));
  const rank = points[index + 1] ? (point.rank + points[index + 1]!.rank) / 2 : point.rank + 1;
  const far = next ? middle : there;
  return { rank, place: [far[0]!, far[1]!, far[2]!], joint: "smooth", before: null, after: null };
}

const Dots = styled.div`display: flex; flex-wrap: wrap; gap: 3px; margin: 4px 0; max-height: 84px; overflow: auto;`;
const Dot = styled.button`
  min-width: 24px; min-height: 24px; padding: 0 4px; cursor: pointer; background: var(--card); color: var(--ink); border: 1px solid var(--line); border-radius: 12px;
  &[aria-pressed="true"] { border-color: var(--sea); color: var(--sea); font-weight: 600; }
`;
