import styled from "styled-components";
import { change } from "../document/changing";
import { quantity } from "../document/quantities";
import { inOrder, type Patch, type Path } from "../document/types";
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
  const editing = useEditing();
  const { session, stage } = editing;
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
    const wanted = { kind: "add_between" as const, of: `/items/${id}`, setting: "points", after: key };
    void change(editing, wanted, { label: "a path point", after: (made) => pick(made.key) });
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

const Dots = styled.div`display: flex; flex-wrap: wrap; gap: 3px; margin: 4px 0; max-height: 84px; overflow: auto;`;
const Dot = styled.button`
  min-width: 24px; min-height: 24px; padding: 0 4px; cursor: pointer; background: var(--card); color: var(--ink); border: 1px solid var(--line); border-radius: 12px;
  &[aria-pressed="true"] { border-color: var(--sea); color: var(--sea); font-weight: 600; }
`;
