"""Frames, coverage strips, probes and what is taken away of a frame."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from apiflask import APIBlueprint
from flask import Response
from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

from windsock.core.declarations import Id
from windsock.core.document.patches import MOST_OPERATIONS, Operation
from windsock.protocol.replies import LongWork
from windsock.protocol.requests import (
    BlockRequest,
    CoverageRequest,
    FinishedRequest,
    FrameRequest,
    ProbeRequest,
    RestRequest,
    WriteRequest,
)
from windsock.web.guard import browser
from windsock.web.jobs import prepared
from windsock.web.service import service

frames = APIBlueprint("frames", __name__, url_prefix="/api")

BlockHash = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{24}$")]
FrameNumber = Annotated[float, Field(ge=-100_000, le=100_000, allow_inf_nan=False, strict=True)]
Metres = Annotated[float, Field(ge=-1e9, le=1e9, allow_inf_nan=False, strict=True)]


class ViewedShot(BaseModel):
    """A shot at a revision, with an unsaved patch on top while something is dragged."""

    model_config = ConfigDict(extra="forbid")
    revision: Annotated[int, Field(ge=0, strict=True)]
    patch: Annotated[list[Operation], Field(max_length=MOST_OPERATIONS)] = []
    frame: FrameNumber = 0.0

    def asking(self) -> dict[str, Any]:
        """What every question about a shot takes from a wish."""
        return {"patch": self.patch, "frame": self.frame, "browser": browser()}


class ViewRequest(ViewedShot):
    """A newer `wish` of the same `view` cancels older ones."""

    view: Annotated[str, StringConstraints(pattern=r"^[a-z0-9-]{0,40}$")] = ""
    wish: Annotated[int, Field(ge=0, le=2**53)] = 0

    def asking(self) -> dict[str, Any]:
        return super().asking() | {"view": self.view, "wish": self.wish}


class HeatWish(BaseModel):
    """Which field is to be seen as colour, and on which shape."""

    model_config = ConfigDict(extra="forbid")
    field: Id
    item: Id


class FrameWish(ViewRequest):
    """A frame. `held`: hashes of the blocks that the browser has."""

    held: Annotated[list[BlockHash], Field(max_length=4096)] = []
    heat: HeatWish | None = None
    looked_at: Annotated[
        list[Id] | None,
        Field(max_length=1000, description="Shapes of which is told what drives their steps; null: all"),
    ] = None
    ahead: Annotated[bool, Field(description="Nobody waits for it: it yields to what is waited for")] = False
    dragged: Annotated[bool, Field(description="As it is shown while a value is dragged: sooner, not quite exact")] = (
        False
    )


class CoverageWish(ViewRequest):
    """A field's strip over the whole shot, on a shape."""

    field: Id
    item: Id
    step_by: Annotated[int, Field(ge=1, le=100)] = 1


class CoverageStrip(BaseModel):
    """For each frame the shares inside and in the band; the rest is outside."""

    strip: list[tuple[float, float]]


class PlaceWish(ViewedShot):
    """A place on a part of a shape, in the space that it is drawn in."""

    item: Id
    place: tuple[Metres, Metres, Metres]
    part: Id = "body"


class ProbeWish(PlaceWish):
    """The same, and the field that is asked for there."""

    field: Id


class Rest(BaseModel):
    """Where the place is as the shape rests, in the shape's own metres."""

    place: tuple[float, float, float]


class ProbeClause(BaseModel):
    """One source at the place, and the field's value up to and including it."""

    source: str
    value: float
    result: float


class Probe(BaseModel):
    """How the field's value came about. named: the piece or copy that it is measured at, or nothing."""

    clauses: list[ProbeClause]
    value: float
    level: float
    inside: float
    named: str


@frames.post("/shots/<shot_id>/frame")
@frames.input(FrameWish)
@frames.doc(
    summary="One frame",
    responses={
        200: {
            "description": "Manifest length, manifest as JSON, blocks",
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
def frame(shot_id: str, json_data: FrameWish) -> Response:
    """A frame as a manifest and the blocks that the browser does not hold."""
    heat = (json_data.heat.field, json_data.heat.item) if json_data.heat else None
    asked = FrameRequest(
        **json_data.asking(),
        heat=heat,
        looked_at=json_data.looked_at,
        held=json_data.held,
        ahead=json_data.ahead,
        dragged=json_data.dragged,
    )
    try:
        reply, content = service().ask_about(shot_id, json_data.revision, asked)
    except LongWork as long:
        return prepared(shot_id, json_data.revision, long.seconds)
    timing = {"Server-Timing": f"evaluate;dur={reply.seconds * 1000:.3f}"}
    return Response(content, content_type="application/octet-stream", headers=timing)


@frames.get("/blocks/<name>")
@frames.doc(
    summary="One block by its hash",
    responses={
        200: {
            "description": "The bytes",
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
def block(name: str) -> Response:
    """A block of a frame. It never changes."""
    _, content = service().ask(BlockRequest(name=name[:64]))
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return Response(content, content_type="application/octet-stream", headers=headers)


@frames.post("/shots/<shot_id>/coverage")
@frames.input(CoverageWish)
@frames.output(CoverageStrip)
def coverage(shot_id: str, json_data: CoverageWish):
    """The coverage strip of a field."""
    asked = CoverageRequest(
        **json_data.asking(), field=json_data.field, item=json_data.item, step_by=json_data.step_by, ahead=True
    )
    reply, _ = service().ask_about(shot_id, json_data.revision, asked)
    return {"strip": reply.data}


@frames.post("/shots/<shot_id>/probe")
@frames.input(ProbeWish)
@frames.output(Probe)
def probe(shot_id: str, json_data: ProbeWish):
    """A field at one place, clause by clause."""
    asked = ProbeRequest(
        **json_data.asking(), field=json_data.field, item=json_data.item, place=json_data.place, part=json_data.part
    )
    try:
        reply, _ = service().ask_about(shot_id, json_data.revision, asked)
    except LongWork as long:
        return prepared(shot_id, json_data.revision, long.seconds)
    return reply.data


@frames.post("/shots/<shot_id>/rest")
@frames.input(PlaceWish)
@frames.output(Rest)
def rest(shot_id: str, json_data: PlaceWish):
    """Where a place that is seen of a shape is as the shape rests."""
    asked = RestRequest(**json_data.asking(), item=json_data.item, place=json_data.place, part=json_data.part)
    try:
        reply, _ = service().ask_about(shot_id, json_data.revision, asked)
    except LongWork as long:
        return prepared(shot_id, json_data.revision, long.seconds)
    return {"place": reply.data}


Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False, strict=True)]


def _ordered(part: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    left, top, right, bottom = part
    if left >= right or top >= bottom:
        raise ValueError("the left edge of a part must lie left of the right one, and the top above the bottom")
    return part


class FinishedWish(ViewRequest):
    """A frame as a finished picture: its size in pixels, and how many samples of a pixel are taken. part: only this part of it, by
    its left, top, right and bottom edges as shares of its sides from the top left. only_kept: only if it was rendered before and
    need not be again."""

    width: Annotated[int, Field(ge=16, le=4096, strict=True)]
    height: Annotated[int, Field(ge=16, le=4096, strict=True)]
    samples: Annotated[int, Field(ge=1, le=1024, strict=True)] = 32
    part: Annotated[tuple[Share, Share, Share, Share], AfterValidator(_ordered)] | None = None
    only_kept: Annotated[bool, Field(strict=True)] = False


@frames.post("/shots/<shot_id>/finished")
@frames.input(FinishedWish)
@frames.doc(
    summary="One finished frame",
    responses={
        200: {"description": "A PNG", "content": {"image/png": {"schema": {"type": "string", "format": "binary"}}}},
        204: {"description": "It would have to be rendered, and only one that need not be was asked for"},
    },
)
def finished(shot_id: str, json_data: FinishedWish) -> Response:
    """A frame as it will be, rendered; what is waited for comes before it."""
    asked = FinishedRequest(
        **json_data.asking(),
        width=json_data.width,
        height=json_data.height,
        samples=json_data.samples,
        part=json_data.part,
        only_kept=json_data.only_kept,
        ahead=True,
    )
    try:
        reply, content = service().ask_about(shot_id, json_data.revision, asked)
    except LongWork as long:
        return prepared(shot_id, json_data.revision, long.seconds)
    kept = isinstance(reply.data, dict) and reply.data.get("kept")
    return Response(content, content_type="image/png") if kept else Response(status=204)


class TakeAway(ViewedShot):
    """A frame as a file. copies: kept as copies of one mesh where the format knows them, or written as plain meshes."""

    format: Annotated[str, StringConstraints(pattern=r"^[a-z0-9-]{1,40}$")] = "glb"
    copies: Literal["kept", "meshes"] = "kept"


@frames.post("/shots/<shot_id>/frame-file")
@frames.input(TakeAway)
@frames.doc(
    summary="This frame as a file",
    responses={
        200: {
            "description": "The file",
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
def frame_file(shot_id: str, json_data: TakeAway) -> Response:
    """This frame's finished shapes as one file, with the camera where the format has such."""
    asked = WriteRequest(**json_data.asking(), format=json_data.format, copies=json_data.copies)
    try:
        reply, content = service().ask_about(shot_id, json_data.revision, asked)
    except LongWork as long:
        return prepared(shot_id, json_data.revision, long.seconds)
    return Response(content, content_type=reply.data["media"])  # pyright: ignore
