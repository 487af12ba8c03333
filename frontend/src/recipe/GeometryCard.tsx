import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../api/client";
import { isKeyed } from "../document/parameter";
import { quantity } from "../document/quantities";
import type { Shape } from "../document/types";
import { SmallButton } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { useCommit, useSession } from "../parts/editing";
import { NumberValue } from "../parts/NumberValue";
import { Card, Meta, Place as Ordinal, Unfolded } from "./Card";
import { FinenessSentence } from "./FinenessSentence";
import { LookSentence } from "./LookSentence";
import { PlaceSentence } from "./PlaceSentence";
import { ProfileEditor } from "./ProfileEditor";
import { SweepSentence } from "./shapes/SweepSentence";
import { TextSentence } from "./shapes/TextSentence";
import { ThickSentence } from "./shapes/ThickSentence";

/** The head of a recipe: how the shape is built, where it stands and how it looks. */
export function GeometryCard({ id, shape }: { id: string; shape: Shape }) {
  const report = useSession((session) => session.manifest?.shapes.find((one) => one.item === id));
  const hidden = useSession((session) => session.manifest && !session.manifest.items.some((one) => one.item === id));
  const [open, setOpen] = useState(false);
  return (
    <Card aria-label="Shape">
      <Ordinal>0</Ordinal>
      <GeometrySentence pointer={`/items/${id}/geometry`} shape={shape} />.
      <FinenessSentence pointer={`/items/${id}/fineness`} fineness={shape.fineness} />
      {hidden && <Meta>{isKeyed(shape.shown) ? "Hidden at this frame." : "Hidden."} Its commands show it again.</Meta>}
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

const BUILDS = [
  ["icosahedron", "a divided icosahedron"],
  ["latitude", "rings of latitude"],
] as const;
const PAINTED = [
  ["own", "in its own colours"],
  ["look", "in the look's colour"],
] as const;
const AFTER = [
  ["stays", "stays"],
  ["again", "begins again"],
  ["back", "goes back"],
] as const;
const UPS = [
  ["x", "X"],
  ["y", "Y"],
  ["z", "Z"],
] as const;

function GeometrySentence({ pointer, shape }: { pointer: string; shape: Shape }) {
  const commit = useCommit();
  const [profileOpen, setProfileOpen] = useState(false);
  const { geometry } = shape;
  const value = (model: string, name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity(model, name)} label={label} keyable={keyable} />
  );
  switch (geometry.kind) {
    case "sphere":
      return (
        <>
          Sphere of {value("Sphere", "radius", "Radius")} from{" "}
          <Choice
            label="Built from"
            value={geometry.build}
            options={BUILDS}
            onChoose={(build) =>
              commit(`built from ${build}`, [{ op: "replace", path: `${pointer}/build`, value: build }])
            }
          />
          {geometry.build === "icosahedron" ? (
            <>, split {value("Sphere", "subdivisions", "Splits", false)} times</>
          ) : (
            <>
              , {value("Sphere", "segments", "Segments", false)} segments, {value("Sphere", "rings", "Rings", false)}{" "}
              rings
            </>
          )}
        </>
      );
    case "box":
      return (
        <>
          Box {value("Box", "width", "Width")} wide, {value("Box", "height", "Height")} high,{" "}
          {value("Box", "depth", "Depth")} deep, {value("Box", "divisions", "Cells along an edge", false)} cells along
          each edge
        </>
      );
    case "plane":
      return (
        <>
          Sheet of {value("Plane", "width", "Width")} by {value("Plane", "depth", "Depth")} in{" "}
          {value("Plane", "columns", "Columns", false)} by {value("Plane", "rows", "Rows", false)} cells
        </>
      );
    case "ring":
      return (
        <>
          Ring of {value("Ring", "radius", "Radius")} about its hole, {value("Ring", "thickness", "Thickness")} thick,
          in {value("Ring", "segments", "Segments", false)} segments of {value("Ring", "sides", "Sides", false)} sides
        </>
      );
    case "tube":
      return (
        <>
          Tube of {value("Tube", "radius", "Radius")}, its wall {value("Tube", "wall", "Wall")} thick,{" "}
          {value("Tube", "height", "Height")} high, in {value("Tube", "segments", "Segments", false)} segments and{" "}
          {value("Tube", "rows", "Rows", false)} rows, {value("Tube", "rim_rows", "Rows across the wall", false)} across
          the wall
        </>
      );
    case "revolve":
      return (
        <>
          Revolve{" "}
          <SmallButton aria-expanded={profileOpen} onPress={() => setProfileOpen(!profileOpen)}>
            {profileOpen ? "Fold the profile" : "Edit the profile"}
          </SmallButton>{" "}
          in {value("Revolve", "segments", "Segments", false)} segments, rings{" "}
          {value("Revolve", "ring_height", "Ring height", false)} apart, girth {value("Revolve", "girth", "Girth")}
          {profileOpen && <ProfileEditor pointer={`${pointer}/profile`} profile={geometry.profile} />}
        </>
      );
    case "text":
      return <TextSentence pointer={pointer} text={geometry} />;
    case "sweep":
      return <SweepSentence pointer={pointer} sweep={geometry} />;
    case "extrude":
      return (
        <>
          Drawing <AssetName hash={geometry.asset} />, {value("Extrude", "height", "Height")} high,{" "}
          <Choice
            label="Colours of the drawing"
            value={geometry.painted ? "own" : "look"}
            options={PAINTED}
            onChoose={(painted) =>
              commit("colours of the drawing", [
                { op: "replace", path: `${pointer}/painted`, value: painted === "own" },
              ])
            }
          />
          ; <ThickSentence pointer={pointer} model="Extrude" form={geometry.bevel_form} />
        </>
      );
    case "imported":
      return (
        <>
          Imported <AssetName hash={geometry.asset} />, one unit is {value("Imported", "scale", "Scale", false)},{" "}
          <Choice
            label="Up axis"
            value={geometry.up}
            options={UPS}
            onChoose={(up) => commit(`${up.toUpperCase()} up`, [{ op: "replace", path: `${pointer}/up`, value: up }])}
          />{" "}
          is up
          {geometry.motion && (
            <>
              ; its movement begins at{" "}
              <NumberValue
                pointer={`${pointer}/motion/start`}
                quantity={quantity("Motion", "start")}
                label="Start of the movement"
              />
              , goes{" "}
              <NumberValue
                pointer={`${pointer}/motion/speed`}
                quantity={quantity("Motion", "speed")}
                label="Speed of the movement"
              />{" "}
              as fast and then{" "}
              <Choice
                label="After the movement"
                value={geometry.motion.after}
                options={AFTER}
                onChoose={(after) =>
                  commit(`movement ${after}`, [{ op: "replace", path: `${pointer}/motion/after`, value: after }])
                }
              />
            </>
          )}
        </>
      );
  }
}

function AssetName({ hash }: { hash: string }) {
  const { data } = useQuery({ queryKey: ["assets"], queryFn: () => answered(api.GET("/api/assets")) });
  return <b>{data?.assets.find((asset) => asset.hash === hash)?.name ?? "a file"}</b>;
}
