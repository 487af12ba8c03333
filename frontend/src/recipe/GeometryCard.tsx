import { useState } from "react";
import { isKeyed } from "../document/parameter";
import type { Shape } from "../document/types";
import { SmallButton } from "../parts/Button";
import { useEditing, useSession } from "../parts/editing";
import { openStep, SHAPE, useOpened } from "../parts/opening";
import { Card, Fold, Meta, Opener, Place as Ordinal, Sentence, Unfolded } from "./Card";
import { FinenessSentence } from "./FinenessSentence";
import { LookSentence } from "./LookSentence";
import { PlaceSentence } from "./PlaceSentence";
import { ShapeSentence } from "./sentences";

/** The head of a recipe: how the shape is built, where it stands and how it looks. */
export function GeometryCard({ id, shape }: { id: string; shape: Shape }) {
  const report = useSession((session) => session.manifest?.shapes.find((one) => one.item === id));
  const hidden = useSession((session) => session.manifest && !session.manifest.items.some((one) => one.item === id));
  const [open, setOpen] = useState(false);
  const { session } = useEditing();
  const hiddenWords = isKeyed(shape.shown) ? "Hidden at this frame." : "Hidden.";
  const sentence = <ShapeSentence pointer={`/items/${id}/geometry`} geometry={shape.geometry} />;
  if (useOpened(id, shape) !== SHAPE) {
    return (
      <Card aria-label="Shape" data-folded data-shape={id}>
        <Ordinal>0</Ordinal>
        <Opener aria-label="Open the shape" aria-expanded={false} onPress={() => openStep(session, id, SHAPE)} />
        <Sentence inert data-short>
          {hidden && `${hiddenWords} `}
          {sentence}, {report?.faces.toLocaleString("en") ?? "…"} faces
        </Sentence>
      </Card>
    );
  }
  return (
    <Card aria-label="Shape">
      <Ordinal>
        <Fold aria-label="0: fold the shape" onPress={() => openStep(session, id, null)}>
          0
        </Fold>
      </Ordinal>
      {sentence}.
      <FinenessSentence pointer={`/items/${id}/fineness`} fineness={shape.fineness} />
      {hidden && <Meta>{hiddenWords} Its commands show it again.</Meta>}
      {report && (
        <Meta>
          <span>{report.faces.toLocaleString("en")} faces</span>
          <span>median edge {report.median_edge.toPrecision(2)} m</span>
        </Meta>
      )}
      <Unfolded>
        <LookSentence pointer={`/items/${id}/look`} backs coloured={report?.attributes.includes("brightness")} />
      </Unfolded>
      <Unfolded>
        <SmallButton aria-expanded={open} onPress={() => setOpen(!open)}>
          {open ? "Fold the place" : "Place, turn, stretch, carrier"}
        </SmallButton>
        {open && (
          <div>
            <PlaceSentence pointer={`/items/${id}`} model="Shape" scaled />
          </div>
        )}
      </Unfolded>
    </Card>
  );
}
