"""Flat drawings: filled regions and lines, as a file gives them."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.region import Outline, Region


@dataclass(frozen=True)
class Paint:
    """A filled region of a drawing, over those before it. colour: linear, or None where the look's shows."""

    region: Region
    colour: tuple[float, float, float] | None


@dataclass(frozen=True)
class Stroke:
    """A line of a drawing as cubic curves: (s, 4, 2) start, two handles, end of each."""

    curves: NDArray[np.float64]
    closed: bool


@dataclass(frozen=True)
class Drawing:
    """A drawing in its own units, y up. notes: what was left out of the file, in words."""

    paints: list[Paint]
    strokes: list[Stroke] = field(default_factory=list[Stroke])
    notes: list[str] = field(default_factory=list[str])

    @property
    def nbytes(self) -> int:
        return sum(one.nbytes for paint in self.paints for one in paint.region) + sum(
            stroke.curves.nbytes for stroke in self.strokes
        )

    def bounds(self) -> tuple[Outline, Outline]:
        """The least and the greatest corner of all that is filled."""
        points = np.concatenate([outline for paint in self.paints for outline in paint.region])
        return points.min(axis=0), points.max(axis=0)


@dataclass(frozen=True)
class LinePoint:
    """A point of a line in space, z = 0, with handles relative to it where the line is bent there."""

    place: tuple[float, float, float]
    before: tuple[float, float, float] | None
    after: tuple[float, float, float] | None
    joint: str = "corner"


def line_points(stroke: Stroke) -> list[LinePoint]:
    """The ends of a stroke's curves with their handles. A closed one has its last point only once."""
    curves = stroke.curves
    ends = np.concatenate([curves[:, 0], curves[-1:, 3]])
    closed = stroke.closed and len(curves) > 1 and bool(np.allclose(ends[0], ends[-1]))
    points: list[LinePoint] = []
    for place in range(len(ends) - closed):
        into = curves[place - 1] if place > 0 or closed else None
        out = curves[place] if place < len(curves) else None
        before = None if into is None else _spot(into[2] - into[3])
        after = None if out is None else _spot(out[1] - out[0])
        points.append(LinePoint(_spot(ends[place]), before, after))
    return points


def _spot(flat: NDArray[np.float64]) -> tuple[float, float, float]:
    return (round(float(flat[0]), 6), round(float(flat[1]), 6), 0.0)
