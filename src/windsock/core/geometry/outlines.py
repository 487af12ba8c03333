"""The outlines of drawings as lines that paths can be made from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from windsock.core.geometry.drawing import Drawing, LinePoint, Stroke, line_points

MOST_OUTLINES, MOST_POINTS = 24, 400
"""Outlines of a drawing that become paths, and the points of one."""


@dataclass(frozen=True)
class Outline:
    """A line through points, in metres about the drawing's middle."""

    closed: bool
    points: list[LinePoint]


@dataclass(frozen=True)
class Outlines:
    """The longest outlines of a drawing. left_out: how many shorter ones, or ones of too many points, there are."""

    lines: list[Outline]
    left_out: int


def outlines_of(drawing: Drawing, height: float) -> Outlines:
    """The longest outlines of a drawing that is `height` metres high in all."""
    ordered = sorted(drawing.strokes, key=lambda stroke: -float(np.ptp(stroke.curves.reshape(-1, 2), axis=0).max()))
    fitting = [stroke for stroke in ordered if len(stroke.curves) < MOST_POINTS][:MOST_OUTLINES]
    places = np.concatenate([stroke.curves.reshape(-1, 2) for stroke in drawing.strokes])
    low, high = places.min(axis=0), places.max(axis=0)
    factor = height / max(float(high[1] - low[1]), 1e-9)
    moved = [Stroke((stroke.curves - (low + high) / 2) * factor, stroke.closed) for stroke in fitting]
    lines = [Outline(stroke.closed, line_points(stroke)) for stroke in moved]
    return Outlines(lines, len(drawing.strokes) - len(fitting))
