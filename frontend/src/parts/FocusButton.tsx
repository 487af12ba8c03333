import { SmallButton } from "./Button";
import { useEditing, useSession } from "./editing";

/** Lets the next press in the view say what is sharp. pointer: of the camera or the finishing step. */
export function FocusButton({ pointer }: { pointer: string }) {
  const { session } = useEditing();
  const focusing = useSession((state) => state.focusing) === pointer;
  return (
    <SmallButton onPress={() => session.setState({ focusing: focusing ? null : pointer })}>
      {focusing ? "press it in the view" : "pick it in the view"}
    </SmallButton>
  );
}
