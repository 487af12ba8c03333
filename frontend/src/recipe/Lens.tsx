import { useEffect, useState } from "react";
import styled from "styled-components";
import { readNumber, told } from "../document/arithmetic";
import { change } from "../document/changing";
import { quantity } from "../document/quantities";
import type { Camera } from "../document/types";
import { useEditing, useShot, useValueNow } from "../parts/editing";
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

const Length = styled.input`
  width: 52px; min-height: 22px; padding: 0 4px; font-weight: 600; text-align: right; background: var(--paper); color: var(--ink);
  border: 1px solid var(--line); border-radius: 3px;
`;
