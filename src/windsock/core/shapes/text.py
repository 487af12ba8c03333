"""Text: words in a font, as a slab."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import StringConstraints

from windsock.core.declarations import Quantity
from windsock.core.geometry.lettering import Lettering
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.region import Outline, Region, filled, inset
from windsock.core.geometry.slab import raised, slab_faces
from windsock.core.kernels.triangulation import inside
from windsock.core.refusals import Refusal
from windsock.core.shapes.geometry import Assets, BroughtFile, Courses
from windsock.core.shapes.thickness import SlabGeometry
from windsock.core.timing.parameter import Moment, NumberParameter, Vector

FontName = Annotated[str, StringConstraints(pattern=r"^([a-z]{1,20}|[0-9a-f]{64})$")]
"""A font that ships with the application, or the SHA-256 of an imported one."""

INKED, BORDER = 0.5, 5.0
"""About what the letters of a heavy font fill, and how long their border is, in capitals squared and capitals."""


class Text(SlabGeometry):
    """Words standing on the item's X axis: the last line's baseline lies at y = 0. Points carry which `letter`, `word`
    and `line` they belong to, counted from 0, as numbers that a field can read."""

    called: ClassVar[str] = "Text"
    kind: Literal["text"] = "text"
    words: Annotated[str, StringConstraints(min_length=1, max_length=600, pattern=r"^[^\x00-\x09\x0b-\x1f\x7f]*$")]
    font: FontName = "grotesque"
    size: Annotated[NumberParameter, Quantity("Height of a capital", unit="m", low=0.001, high=1e4)] = 1.0
    tracking: Annotated[
        NumberParameter, Quantity("Added between letters, in heights of a capital", low=-2, high=20, drag=0.002)
    ] = 0.0
    leading: Annotated[
        NumberParameter, Quantity("From line to line, in heights of a capital", low=0, high=50, drag=0.005)
    ] = 1.6
    align: Literal["left", "middle", "right"] = "middle"
    kerning: bool = True

    def face_count(self) -> int:
        """About how many faces `build_text` will make, for a heavy font."""
        at = Moment(0, 0)
        size, letters = at(self.size), sum(not letter.isspace() for letter in self.words)
        return slab_faces(INKED * letters * size**2, BORDER * letters * size, self.slab(at))

    @classmethod
    def from_file(cls, file: BroughtFile) -> tuple[Self, Vector] | None:
        return (cls(words="Text", font=file.asset), (0.0, 0.0, 0.0)) if file.sort == "font" else None

    @classmethod
    def example(cls) -> Self:
        return cls(words="Text")

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        del courses
        return build_text(self, at, assets.lettering(self.font))


def build_text(text: Text, at: Moment, lettering: Lettering) -> Mesh:
    """The words as a closed mesh. Raises Refusal where there is nothing to see."""
    size = at(text.size)
    lines = text.words.split("\n")
    letters: list[tuple[Region, int, int, int]] = []
    word = before = 0
    for row, line in enumerate(lines):
        glyphs, width = lettering.line(line, text.kerning, at(text.tracking))
        width -= at(text.tracking) if glyphs else 0.0
        start = {"left": 0.0, "middle": -width / 2, "right": -width}[text.align]
        lift = (len(lines) - 1 - row) * at(text.leading)
        for glyph in glyphs:
            corner = np.array([start + glyph.x, lift + glyph.y])
            region = filled([(outline + corner) * size for outline in glyph.outlines])
            if region:
                words_before = len(line[: glyph.character + 1].split()) - 1
                letters.append((region, before + glyph.character, word + words_before, row))
        before, word = before + len(line) + 1, word + len(line.split())
    if not letters:
        raise Refusal("The text has no letters to be seen. The shot is unharmed. Type some, or choose another font.")
    outlines: list[Outline] = [outline for region, *_ in letters for outline in region]
    mesh = raised(filled(outlines), text.slab(at))
    return replace(mesh, measures=_counted(mesh, letters, size))


def _counted(mesh: Mesh, letters: list[tuple[Region, int, int, int]], size: float) -> dict[str, np.ndarray]:
    """Which letter, word and line each point belongs to. Letters are counted without the spaces between them."""
    flat = mesh.points[:, :2].astype(np.float64)
    found = np.zeros((3, len(flat)), dtype=np.float32)
    order = {character: place for place, character in enumerate(sorted({one[1] for one in letters}))}
    for region, character, word, line in letters:
        grown = inset(region, -1e-4 * size)
        low, high = np.concatenate(grown).min(axis=0), np.concatenate(grown).max(axis=0)
        near = np.flatnonzero(((flat >= low) & (flat <= high)).all(axis=1))
        within = near[inside(flat[near], grown)]
        for row, value in enumerate((order[character], word, line)):
            found[row, within] = value
    return dict(zip(("letter", "word", "line"), found, strict=True))
