"""Answers of the evaluator."""

from __future__ import annotations

from pydantic import BaseModel, JsonValue


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


class MissingDocument(Exception):
    """The document that a request names has to be sent again."""


class ReadableFormat(BaseModel):
    """A kind of file that is read: its ending, and in words what such files are."""

    ending: str
    called: str


class WritableFormat(BaseModel):
    """A kind of file that is written. name: by which it is asked for. called: in words. moving: whether one file holds a
    range of frames. media: its media type."""

    name: str
    called: str
    ending: str
    media: str
    moving: bool


class Formats(BaseModel):
    """The files that are read and written, in the order in which they are offered; and how large one may be that is read, in
    bytes and in faces."""

    read: list[ReadableFormat]
    write: list[WritableFormat]
    most_bytes: int
    most_faces: int
