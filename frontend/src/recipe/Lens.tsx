import { useEffect, useState } from "react";
import styled from "styled-components";
import { readNumber, told } from "../document/arithmetic";
import { change } from "../document/changing";
import { quantity } from "../document/quantities";
import type { Camera } from "../document/types";
import { Choice } from "../parts/Choice";
import { useCommit, useEditing, useShot, useValueNow } from "../parts/editing";
import { FocusButton } from "../parts/FocusButton";
import { NumberValue } from "../parts/NumberValue";

/** The angle of view of a camera as a focal length, for a width of the sensor. */
export function Lens({ id, camera }: { id: string; camera: Camera }) {
  const editing = useEditing();
  const angle = Number(useValueNow(`/items/${id}/angle`));
  const picture = useShot((shot) => shot.picture);
  const half = ((camera.sensor ?? 36) * picture.height) / picture.width / 2;
  const length = told(half / Math.tan((angle * Math.PI) / 360));
  const [text, setText] = useState(length);
  useEffect(() => setText(length), [length]);
  const keep = () => {
    const millimetres = readNumber(text, "");
    if (millimetres === null || text === length) return setText(length);
    void change(editing, { kind: "set_focal_length", camera: id, millimetres });
  };
  return (
    <>
      a lens of{" "}
      <Length
        aria-label="Focal length in millimetres"
        value={text}
        size={5}
        onChange={(event) => setText(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === "Enter" && keep()}
      />{" "}
      mm on a sensor{" "}
      <NumberValue
        pointer={`/items/${id}/sensor`}
        quantity={quantity("Camera", "sensor")}
        label="Width of the sensor"
        keyable={false}
      />{" "}
      wide
    </>
  );
}

/** What of the camera only a finished picture shows, and how bright it is. */
export function Exposing({ id, camera }: { id: string; camera: Camera }) {
  const commit = useCommit();
  const items = useShot((shot) => shot.items);
  const others = Object.entries(items).filter(([key]) => key !== id);
  const number = (name: "aperture" | "focus" | "shutter" | "exposure", label: string) => (
    <NumberValue pointer={`/items/${id}/${name}`} quantity={quantity("Camera", name)} label={label} />
  );
  return (
    <>
      Exposed by {number("exposure", "Exposure in stops")} stops. In a finished picture: f-number{" "}
      {number("aperture", "F-number")} (0: all sharp), sharp at{" "}
      <Choice
        label="What is kept sharp"
        value={camera.focus_on ?? ""}
        options={[["", "a distance of"], ...others.map(([key, { name }]) => [key, name] as const)]}
        onChoose={(item) =>
          commit("what is kept sharp", [{ op: "replace", path: `/items/${id}/focus_on`, value: item || null }])
        }
      />{" "}
      {!camera.focus_on && number("focus", "Metres to what is sharp")} <FocusButton pointer={`/items/${id}`} />, shutter
      open for {number("shutter", "Shutter angle")} of a frame’s 360°.
    </>
  );
}

const Length = styled.input`
  width: 52px; min-height: 22px; padding: 0 4px; font-weight: 600; text-align: right; background: var(--paper); color: var(--ink);
  border: 1px solid var(--line); border-radius: 3px;
`;
