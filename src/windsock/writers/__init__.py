"""The kinds of files that a shot can be written as, one file each."""

from __future__ import annotations

from windsock.core.refusals import Refusal
from windsock.writers.finished import FILMS, ClearPng, ContactSheet, ExrPicture, JpegPicture, PngPicture, RenderedReel
from windsock.writers.glb_moving import MovingGlbWriter
from windsock.writers.glb_out import GlbWriter
from windsock.writers.obj_out import ObjWriter
from windsock.writers.ply_out import PlyWriter
from windsock.writers.usd import UsdWriter
from windsock.writers.writer import FrameWriter, ReelWriter

AnyWriter = FrameWriter | ReelWriter | RenderedReel

WRITERS: tuple[AnyWriter, ...] = (
    MovingGlbWriter(),
    UsdWriter(),
    GlbWriter(),
    ObjWriter(),
    PlyWriter(),
    *FILMS,
    ContactSheet(),
    PngPicture(),
    ClearPng(),
    ExrPicture(),
    JpegPicture(),
)
"""In the order in which they are offered."""


def writer_of(name: str) -> AnyWriter:
    """The writer of a format by its name. Raises Refusal for one that there is none of."""
    for writer in WRITERS:
        if writer.name == name:
            return writer
    named = ", ".join(writer.name for writer in WRITERS)
    raise Refusal(f"No file is written as “{name}”. Nothing was written. What is written: {named}.")


def frame_writer_of(name: str) -> FrameWriter:
    """The writer of a format that holds one frame. Raises Refusal for another one."""
    writer = writer_of(name)
    if not isinstance(writer, FrameWriter):
        raise Refusal(f"{writer.called} holds a range of frames. Nothing was written. Export a range instead.")
    if writer.rendered:
        raise Refusal(f"{writer.called} is made by a job. Nothing was written. Export it as a range of frames.")
    return writer
