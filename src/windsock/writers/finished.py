"""Finished pictures and films as files. They are rendered, frame by frame, so a job makes them."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Literal

from windsock.picture.files import picture_file
from windsock.picture.film import CODINGS, encoded_film
from windsock.picture.pixels import png_pixels
from windsock.picture.quality import Quality
from windsock.picture.renderer import Renderer
from windsock.picture.still import Studio
from windsock.writers.writer import FrameWriter, Shown, Writer


@cache
def _renderer() -> Renderer:
    """The one of this process."""
    return Renderer()


class FinishedWriter(FrameWriter):
    """A finished picture, for each frame a file."""

    rendered = True
    bits: Literal[8, 16] = 8
    passes = False
    even = False

    def written(self, shown: Shown, copies: str) -> bytes:
        del copies  # they are rendered either way
        return self.write(shown)

    def write(self, shown: Shown) -> bytes:
        shot = shown.shot
        width, height = shot.picture.width, shot.picture.height
        if self.even:
            width, height = width // 2 * 2, height // 2 * 2
        frame = shown.frame.moment.frame
        studio = Studio(shown.evaluator, _renderer(), Quality(passes=self.passes))
        still = studio.still(shot, frame, width, height, shown.evaluator.watch.tell)
        return picture_file(still, shot, frame, f".{self.ending}", self.bits)


class PngPicture(FinishedWriter):
    """PNG of 16 bits."""

    name = "picture-png"
    called = "Finished picture, PNG"
    ending = "png"
    media = "image/png"
    bits = 16


class ExrPicture(FinishedWriter):
    """OpenEXR with all passes."""

    name = "picture-exr"
    called = "Finished picture with passes, OpenEXR"
    ending = "exr"
    media = "image/x-exr"
    passes = True


class JpegPicture(FinishedWriter):
    """JPEG."""

    name = "picture-jpeg"
    called = "Finished picture, JPEG"
    ending = "jpg"
    media = "image/jpeg"


class FilmFrame(PngPicture):
    """A frame of a film: its sides are even, as films need them."""

    even = True


class FilmWriter(Writer):
    """A film of finished pictures. Frames are files of their own first."""

    rendered = True
    frames = FilmFrame()

    def __init__(self, coding: str) -> None:
        self._coding = CODINGS[coding]
        self.name = f"film-{coding}"
        self.called = f"Film, {self._coding.called}"
        self.ending, self.media = self._coding.ending, self._coding.media

    def film(self, frames: Iterable[Path], rate: Fraction) -> bytes:
        """The film of pictures that `frames` has written. rate: frames a second."""
        return encoded_film((png_pixels(path.read_bytes()) for path in frames), rate, self._coding)


FILMS = tuple(FilmWriter(coding) for coding in CODINGS)
