import { useState } from "react";
import { SmallButton } from "../../parts/Button";
import { valuesOf } from "../steps/values";
import { ProfileEditor } from "./ProfileEditor";
import type { ShapeProps } from "./shape";

export function RevolveSentence({ pointer, geometry }: ShapeProps<"revolve">) {
  const [open, setOpen] = useState(false);
  const value = valuesOf("Revolve", pointer);
  return (
    <>
      Revolve{" "}
      <SmallButton aria-expanded={open} onPress={() => setOpen(!open)}>
        {open ? "Fold the profile" : "Edit the profile"}
      </SmallButton>{" "}
      in {value("segments", "Segments", false)} segments, rings {value("ring_height", "Ring height", false)} apart,
      girth {value("girth", "Girth")}
      {open && <ProfileEditor pointer={`${pointer}/profile`} profile={geometry.profile} />}
    </>
  );
}
