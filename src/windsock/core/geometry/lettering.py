"""Letters as a font lays them: what text is made of. The core reads no font files; see `formats/font.py`."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from windsock.core.geometry.region import Outline


@dataclass(frozen=True)
class Glyph:
    """One laid letter: outlines in heights of a capital, from its own origin; where that lies; which character it is."""

    outlines: list[Outline]
    x: float
    y: float
    character: int


class Lettering(Protocol):
    """A font that lays out lines."""

    def line(self, words: str, kerning: bool, tracking: float) -> tuple[list[Glyph], float]:
        """The letters of a line from left to right on the baseline, and how far the line goes, in heights of a capital.

        tracking: added after every letter.
        """
        ...

    def missing(self, words: str) -> str:
        """The characters that the font does not have."""
        ...
