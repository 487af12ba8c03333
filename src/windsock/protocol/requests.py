"""Questions to the evaluator, one model for each kind."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, JsonValue, TypeAdapter

from windsock.core.document.patches import Operation
from windsock.core.geometry.movement import Setting


class RequestBase(BaseModel):
    """A question. browser: who asks. view, wish: a newer wish of the same view cancels the older."""

    model_config = ConfigDict(extra="forbid")

    browser: str = ""
    view: str = ""
    wish: int = 0


class ShotRequest(RequestBase):
    """A question about a shot. base names a document that the evaluator may have from before, so that it need not be sent
    again; patch goes on top. ahead: nobody waits for this; it yields to what is waited for."""

    base: str = ""
    document: JsonValue = None
    patch: list[Operation] = []
    frame: float = 0.0
    ahead: bool = False


class FrameRequest(ShotRequest):
    """One frame. heat: the field that is to be seen as colour, and the shape. held: hashes of the blocks that need not be
    sent. dragged: as it is shown while a value is dragged (see core/evaluate/detail.py). looked_at: the shapes of which is told
    what drives their steps; None: all."""

    kind: Literal["frame"] = "frame"
    dragged: bool = False
    heat: tuple[str, str] | None = None
    looked_at: list[str] | None = None
    held: list[str] = []


class CoverageRequest(ShotRequest):
    """A field's strip over the whole shot, on a shape."""

    kind: Literal["coverage"] = "coverage"
    field: str
    item: str
    step_by: int = 1


class BoundsRequest(ShotRequest):
    """The box about items, as they stand at the frame; about all where none are named. band: the box about where the band of
    this field is on them instead."""

    kind: Literal["bounds"] = "bounds"
    items: list[str] = []
    band: str | None = None


class FindingsRequest(ShotRequest):
    """What is found amiss in a shot."""

    kind: Literal["findings"] = "findings"


class ProbeRequest(ShotRequest):
    """A field at a place on a part of a shape, clause by clause."""

    kind: Literal["probe"] = "probe"
    field: str
    item: str
    place: tuple[float, float, float]
    part: str = "body"


class RestRequest(ShotRequest):
    """Where a place on a part of a shape is as the shape rests."""

    kind: Literal["rest"] = "rest"
    item: str
    place: tuple[float, float, float]
    part: str = "body"


class PaceRequest(ShotRequest):
    """The `seconds` that a pixel of the shot's finished pictures took last, and the `faces` that were in them; null where none was
    rendered yet."""

    kind: Literal["pace"] = "pace"


class WriteRequest(ShotRequest):
    """A frame as a file. copies: kept as copies of one mesh where the format knows them, or written as plain meshes."""

    kind: Literal["write"] = "write"
    format: str
    copies: Literal["kept", "meshes"] = "kept"


class FinishedRequest(ShotRequest):
    """A frame as a finished picture, so many pixels wide and high, of so many samples a pixel. only_kept: only if it need not
    be rendered for that. part: only this part of it, its left, top, right and bottom edges as shares of its sides."""

    kind: Literal["finished"] = "finished"
    width: int
    height: int
    samples: int
    part: tuple[float, float, float, float] | None = None
    only_kept: bool = False


class BlockRequest(RequestBase):
    """A block of a frame, by its hash."""

    kind: Literal["block"] = "block"
    name: str


class CancelRequest(RequestBase):
    """All that is under way for a browser is to stop."""

    kind: Literal["cancel"] = "cancel"


class ActivityRequest(RequestBase):
    """What is under way, for all browsers; answered when that changes, or after a moment."""

    kind: Literal["activity"] = "activity"


class InspectRequest(RequestBase):
    """What an imported file holds."""

    kind: Literal["inspect"] = "inspect"
    asset: str


class OutlinesRequest(RequestBase):
    """The longest outlines of an imported drawing, so many metres high in all."""

    kind: Literal["outlines"] = "outlines"
    asset: str
    height: float


class MovementRequest(RequestBase):
    """What moves in a file that was laid out for this alone, and the keys that follow one of the things in it.

    digest: of the file's kind and content. takes: what follows, where it moves. begins: the frame of the first moment; None: first_frame, or the
    file's own where it counts frames. unit, within: metres; within_turn: degrees.
    """

    kind: Literal["movement"] = "movement"
    asset: str
    digest: str
    thing: int
    takes: list[Setting]
    begins: float | None
    first_frame: float
    fps: float
    unit: float
    within: float
    within_turn: float


class FormatsRequest(RequestBase):
    """The files that can be read and written."""

    kind: Literal["formats"] = "formats"


AnyShotRequest = (
    FrameRequest
    | CoverageRequest
    | BoundsRequest
    | FindingsRequest
    | ProbeRequest
    | RestRequest
    | PaceRequest
    | WriteRequest
    | FinishedRequest
)
AnyRequest = (
    AnyShotRequest
    | BlockRequest
    | CancelRequest
    | ActivityRequest
    | InspectRequest
    | OutlinesRequest
    | MovementRequest
    | FormatsRequest
)
REQUEST: TypeAdapter[AnyRequest] = TypeAdapter(Annotated[AnyRequest, Field(discriminator="kind")])
"""Reads a question from JSON."""
