"""Answers of the evaluator."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, JsonValue

from windsock.core.geometry.movement import Setting


class Reply(BaseModel):
    """An answer: JSON data, or bytes that follow it; otherwise a refusal in people's words."""

    data: JsonValue = None
    refused: str = ""
    too_much: bool = False
    missing_asset: str = ""
    missing_document: bool = False
    cancelled: bool = False
    long: float = 0.0
    seconds: float = 0.0


class LongWork(Exception):
    """What is asked for takes so long that it becomes a job. seconds: about how long."""

    def __init__(self, seconds: float) -> None:
        super().__init__(f"about {seconds:.0f} s")
        self.seconds = seconds


class MovingThing(BaseModel):
    """A thing that moves in a file, and for how long: in seconds or in frames, as the file counts."""

    name: str
    clock: Literal["seconds", "frames"]
    lasts: float
    moments: int


class FittedKeys(BaseModel):
    """The keys of a setting: how many, and how far they are off at most, in metres, degrees or factors."""

    value: JsonValue
    count: int
    off: float


class FittedMovement(BaseModel):
    """What moves in a file, what of the thing that is asked after changes, the frame at which it begins, and its keys."""

    things: list[MovingThing]
    moves: list[Setting]
    begins: float
    keyed: dict[Setting, FittedKeys]


class MissingDocument(Exception):
    """The document that a request names has to be sent again."""


class ReadableFormat(BaseModel):
    """A kind of file that is read: its ending, and in words what such files are."""

    ending: str
    called: str


class WritableFormat(BaseModel):
    """A kind of file that is written. name: by which it is asked for. called: in words. moving: whether one file holds a
    range of frames. media: its media type. rendered: whether it is a finished picture, which only a job makes. seen_as: what a
    page can show it as. widest: pixels that its pictures are at most wide."""

    name: str
    called: str
    ending: str
    media: str
    moving: bool
    rendered: bool = False
    seen_as: Literal["", "picture", "film"] = ""
    widest: int | None = None


class Formats(BaseModel):
    """The files that are read and written, in the order in which they are offered; and how large one may be that is read, in
    bytes and in faces."""

    read: list[ReadableFormat]
    write: list[WritableFormat]
    most_bytes: int
    most_faces: int
