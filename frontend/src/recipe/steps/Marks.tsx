import { inOrder, type Step } from "../../document/types";
import { SmallButton } from "../../parts/Button";
import { useCommit, useEditing, useSession } from "../../parts/editing";

/** The places that are marked as the same on two shapes: set in the view, one on each, and taken away here. */
export function Marks({ pointer, step }: { pointer: string; step: Extract<Step, { marks: unknown }> }) {
  const { session } = useEditing();
  const commit = useCommit();
  const setting = useSession((state) => state.marking?.step === pointer);
  const marks = inOrder(step.marks);
  const begin = () => session.setState({ marking: setting ? null : { step: pointer, here: null } });
  return (
    <span>
      {" "}
      ({marks.length === 0 ? "none yet" : `${marks.length} set`}){" "}
      <SmallButton isDisabled={!step.target} aria-pressed={setting} onPress={begin}>
        {setting ? "Enough marks" : "Mark places in the view"}
      </SmallButton>
      {marks.map(([key], place) => (
        <span key={key}>
          {" "}
          <SmallButton
            aria-label={`Without ${place + 1}: take this mark away`}
            onPress={() => commit(`mark ${place + 1} away`, [{ op: "remove", path: `${pointer}/marks/${key}` }])}
          >
            Without {place + 1}
          </SmallButton>
        </span>
      ))}
    </span>
  );
}
