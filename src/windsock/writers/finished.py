"""Finished pictures and films as files. They are rendered, frame by frame, so a job makes them."""

from __future__ import annotations

from collections.abc import Iterable
from copy import copy
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Literal, Self

import numpy as np

from windsock.core.document.shot import PictureSize
from windsock.picture.files import picture_file
from windsock.picture.film import CODINGS, encoded_film
from windsock.picture.pixels import jpeg, png, png_pixels, side_by_side, smaller
from windsock.picture.quality import Quality
from windsock.picture.renderer import Renderer
from windsock.picture.still import Studio, by_layers, over_nothing
from windsock.writers.writer import FrameWriter, Shown, Writer

LOOK = 320
"""Pixels that the small picture of a frame is wide at most."""


@cache
def _renderer() -> Renderer:
    """The one of this process."""
    return Renderer()


class FinishedWriter(FrameWriter):
    """A finished picture, for each frame a file. numbered: whether its frame's number is written into it; transparent: whether it
    has nothing behind all."""

    rendered = True
    bits: Literal[8, 16] = 8
    passes = False
    even = False
    numbered = False
    transparent = False

    def with_numbers(self) -> Self:
        made = copy(self)
        made.numbered = True
        return made

    def written(self, shown: Shown, copies: str) -> bytes:
        del copies  # they are rendered either way
        return self.write(shown)

    def write(self, shown: Shown) -> bytes:
        return self.pictured(shown, "kept")[0]

    def pictured(self, shown: Shown, copies: str) -> tuple[bytes, bytes | None]:
        del copies
        shot = over_nothing(shown.shot) if self.transparent else shown.shot
        width, height = self._size(shot.picture)
        frame = shown.frame.moment.frame
        studio = Studio(shown.evaluator, _renderer(), Quality(passes=self.passes), shown.kept)
        still = studio.still(shot, frame, width, height, shown.evaluator.watch.tell)
        words = f"{shot.name}  {frame:04g}" if self.numbered else ""
        tell = shown.evaluator.watch.tell
        apart = by_layers(studio.plainly, shot, frame, width, height, tell) if self.passes else None
        content = picture_file(still, f".{self.ending}", self.bits, self.transparent, words, apart)
        return content, jpeg(smaller(still.finished.shown, LOOK))

    def _size(self, picture: PictureSize) -> tuple[int, int]:
        width, height = picture.width, picture.height
        if self.widest is not None and width > self.widest:
            width, height = self.widest, max(round(height * self.widest / width), 2)
        return (width // 2 * 2, height // 2 * 2) if self.even else (width, height)


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


class ClearPng(PngPicture):
    """PNG of 16 bits, with nothing behind all."""

    name = "picture-png-clear"
    called = "Finished picture with transparency, PNG"
    transparent = True


class FilmFrame(PngPicture):
    """A frame of a film: its sides are even, as films need them."""

    even = True


class ClearFilmFrame(ClearPng):
    """A frame of a film with transparency."""

    even = True


class SmallFrame(FilmFrame):
    """A frame of a contact sheet."""

    widest = 320
    numbered = True


class RenderedReel(Writer):
    """One file of many finished pictures. Each is a file of its own first, as `frames` writes it."""

    rendered = True
    frames: FinishedWriter

    def with_numbers(self) -> Self:
        made = copy(self)
        made.frames = self.frames.with_numbers()
        return made

    def joined(self, frames: Iterable[Path], rate: Fraction) -> bytes:
        """The one file. rate: frames a second."""
        raise NotImplementedError


class FilmWriter(RenderedReel):
    """A film of finished pictures."""

    def __init__(self, coding: str) -> None:
        self._coding = CODINGS[coding]
        self.name = f"film-{coding}"
        self.called = f"Film, {self._coding.called}"
        self.ending, self.media = self._coding.ending, self._coding.media
        self.seen_as = "film" if self._coding.plays else ""
        self.frames = ClearFilmFrame() if self._coding.transparent else FilmFrame()

    def joined(self, frames: Iterable[Path], rate: Fraction) -> bytes:
        return encoded_film((png_pixels(path.read_bytes()) for path in frames), rate, self._coding)


class ContactSheet(RenderedReel):
    """Small pictures of all frames, side by side."""

    name = "contact-sheet"
    called = "Contact sheet, PNG"
    ending = "png"
    media = "image/png"
    seen_as = "picture"
    frames = SmallFrame()
    widest = SmallFrame.widest

    def joined(self, frames: Iterable[Path], rate: Fraction) -> bytes:
        del rate
        pictures = [(png_pixels(path.read_bytes()) / 65535).astype(np.float32) for path in frames]
        return png(side_by_side(pictures))


FILMS = tuple(FilmWriter(coding) for coding in CODINGS)
