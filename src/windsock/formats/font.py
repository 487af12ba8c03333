"""Fonts in: TTF, OTF and WOFF2. HarfBuzz shapes and draws, fontTools unpacks WOFF2."""

from __future__ import annotations

from collections.abc import Sequence
from io import BytesIO
from pathlib import Path
from typing import Any

import numpy as np
import uharfbuzz
from fontTools.pens.recordingPen import RecordingPen
from fontTools.ttLib import TTFont

from windsock.core.geometry.lettering import Glyph
from windsock.core.geometry.region import Outline
from windsock.core.refusals import Refusal

harfbuzz: Any = uharfbuzz  # its names come from a compiled module

FOLDER = Path(__file__).parent / "fonts"
SHIPPED = {
    "grotesque": "Grotesque",
    "slab": "Slab serif",
    "serif": "Book serif",
    "stencil": "Stencil",
    "script": "Brush script",
}
"""Open fonts in the folder beside, by what they look like. A second file of each holds rarer Latin letters."""

TABLE_LIMIT = 48 * 2**20
"""Bytes of a font once it is unpacked."""

CURVE_PARTS = 12
"""Straight parts that each curve of an outline is cut into; how many of them faces follow is decided later."""

CAPITAL = 0.7
"""The height of a capital in ems where neither the font nor its letter H tells."""


class Font:
    """A font as one or several files, the first that has a character being taken. See `Lettering`."""

    def __init__(self, files: Sequence[bytes]) -> None:
        """Raises Refusal for what is not a font."""
        self.files = [_unpacked(content) for content in files]
        self.nbytes = sum(len(content) for content in self.files)
        self._faces = [harfbuzz.Face(content) for content in self.files]
        self._fonts = [harfbuzz.Font(face) for face in self._faces]
        self._known = [set(face.unicodes) for face in self._faces]
        if not self._known[0]:
            raise Refusal("The font has no letters. Nothing was imported. Choose another file.")
        self._capital = self._capital_height()
        self._drawn: dict[tuple[int, int], list[Outline]] = {}

    def line(self, words: str, kerning: bool, tracking: float) -> tuple[list[Glyph], float]:
        """See `Lettering`."""
        laid: list[Glyph] = []
        pen = 0.0
        for font, start, run in self._runs(words):
            buffer = harfbuzz.Buffer()
            buffer.add_str(run)
            buffer.guess_segment_properties()
            joins = tracking == 0
            harfbuzz.shape(self._fonts[font], buffer, {"kern": kerning, "liga": joins, "clig": joins})
            for glyph, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
                x, y = pen + place.x_offset / self._capital, place.y_offset / self._capital
                laid.append(Glyph(self._outlines(font, glyph.codepoint), x, y, start + glyph.cluster))
                pen += place.x_advance / self._capital + tracking
        return laid, pen

    def missing(self, words: str) -> str:
        """See `Lettering`."""
        return "".join(sorted({one for one in words if not one.isspace() and self._holder(one) is None}))

    def _holder(self, character: str) -> int | None:
        return next((place for place, known in enumerate(self._known) if ord(character) in known), None)

    def _runs(self, words: str) -> list[tuple[int, int, str]]:
        """Stretches of a line that one file has the letters of: which file, where it starts, its words."""
        runs: list[tuple[int, int, str]] = []
        for place, character in enumerate(words):
            font = self._holder(character) or 0
            if runs and runs[-1][0] == font:
                runs[-1] = (font, runs[-1][1], runs[-1][2] + character)
            else:
                runs.append((font, place, character))
        return runs

    def _capital_height(self) -> float:
        measured = self._fonts[0].get_nominal_glyph(ord("H"))
        extents = self._fonts[0].get_glyph_extents(measured) if measured else None
        height = extents.y_bearing if extents is not None else 0
        return float(height if height > 0 else CAPITAL * self._faces[0].upem)

    def _outlines(self, font: int, glyph: int) -> list[Outline]:
        key = (font, glyph)
        if key not in self._drawn:
            pen = RecordingPen()
            self._fonts[font].draw_glyph_with_pen(glyph, pen)
            self._drawn[key] = [outline / self._capital for outline in flattened(pen.value)]
        return self._drawn[key]


def read_font(content: bytes) -> Font:
    """An imported font. Raises Refusal."""
    return Font([content])


def shipped_font(name: str) -> Font:
    """A font that ships with the application. Raises Refusal where there is none of that name."""
    if name not in SHIPPED:
        raise Refusal(f"There is no font “{name}”. The shot is unharmed. Choose one of {', '.join(SHIPPED)}.")
    files = [FOLDER / f"{name}.woff2", FOLDER / f"{name}.more.woff2"]
    return Font([path.read_bytes() for path in files if path.exists()])


def flattened(drawn: list[tuple[str, tuple]]) -> list[Outline]:
    """Pen records as closed outlines; curves become straight parts."""
    outlines: list[Outline] = []
    points: list[tuple[float, float]] = []

    def curve(handles: list[tuple[float, float]]) -> None:
        share = np.linspace(0, 1, CURVE_PARTS + 1)[1:, None]
        places = np.array([points[-1], *handles], dtype=np.float64)
        while len(places) > 1 and places.ndim == 2:
            places = places[:, None, :] * np.ones((1, CURVE_PARTS, 1))
        while len(places) > 1:
            places = places[:-1] + (places[1:] - places[:-1]) * share
        points.extend(map(tuple, places[0]))

    for verb, given in drawn:
        if verb == "moveTo":
            points = [given[0]]
        elif verb == "lineTo":
            points.append(given[0])
        elif verb == "qCurveTo":
            off = list(given[:-1])
            for place, handle in enumerate(off):
                last = place == len(off) - 1
                end = given[-1] if last else tuple((np.array(handle) + np.array(off[place + 1])) / 2)
                curve([handle, end])
        elif verb == "curveTo":
            curve(list(given))
        elif verb in ("closePath", "endPath"):
            if len(points) >= 3:
                outlines.append(np.array(points, dtype=np.float64))
            points = []
    return outlines


def _unpacked(content: bytes) -> bytes:
    """The tables as TTF or OTF has them. Raises Refusal."""
    if content[:4] not in (b"\0\1\0\0", b"OTTO", b"true", b"wOF2"):
        raise Refusal("The file is not a font as TTF, OTF or WOFF2. Nothing was imported. Choose another file.")
    if content[:4] == b"wOF2" and int.from_bytes(content[16:20], "big") > TABLE_LIMIT:
        raise Refusal("The font unpacks to more than 48 MB. Nothing was imported. Choose a smaller one.")
    try:
        font = TTFont(BytesIO(content), lazy=False)
        font.flavor = None
        out = BytesIO()
        font.save(out, reorderTables=None)
    except MemoryError:
        raise
    except Exception as fault:  # noqa: BLE001 - the reader raises nearly anything on broken files
        raise Refusal(
            f"The font could not be read ({type(fault).__name__}). Nothing was imported. Choose another file."
        ) from None
    return out.getvalue()
