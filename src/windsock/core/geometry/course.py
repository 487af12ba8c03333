"""Courses: curves through space as places along them, with frames that do not twist."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Places = NDArray[np.float64]

FINE = 24
"""Places that each span between two points is tabulated at."""


@dataclass(frozen=True, eq=False)
class Course:
    """A curve: (k, 3) places in order, (k,) metres along it of each, whether its end is its start."""

    places: Places
    along: NDArray[np.float64]
    closed: bool

    @property
    def length(self) -> float:
        return float(self.along[-1])

    def at(self, along: NDArray[np.float64]) -> Places:
        """(n, 3) places so many metres along."""
        return np.stack([np.interp(along, self.along, self.places[:, axis]) for axis in range(3)], axis=1)


def course_of(
    points: Places, handles: list[tuple[Places | None, Places | None]], smooth: list[bool], closed: bool
) -> Course:
    """The course through points.

    points: (k, 3). handles: for each the places of its handles before and after it, relative to it, None where there is
    none. smooth: whether the curve flows through a point without handles; it turns sharply there otherwise.
    Spans are cubic Bezier curves; without handles those that a Catmull-Rom spline by chord length has.
    """
    count = len(points)
    spans = count if closed and count > 2 else count - 1
    rows: list[Places] = [points[:1]]
    share = np.linspace(0, 1, FINE + 1)[1:, None]
    for span in range(spans):
        one, other = span % count, (span + 1) % count
        a, d = points[one], points[other]
        chord = d - a
        out, into = handles[one][1], handles[other][0]
        b = a + (out if out is not None else _flow(points, one, chord, smooth[one], closed) / 3)
        c = d + (into if into is not None else -_flow(points, other, chord, smooth[other], closed) / 3)
        rest = 1 - share
        rows.append(rest**3 * a + 3 * rest**2 * share * b + 3 * rest * share**2 * c + share**3 * d)
    places = np.concatenate(rows)
    step = np.linalg.norm(np.diff(places, axis=0), axis=1)
    kept = np.concatenate([[True], step > 1e-9])
    places = places[kept]
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(places, axis=0), axis=1))])
    return Course(places, along, closed and count > 2)


def _flow(points: Places, place: int, chord: Places, smooth: bool, closed: bool) -> Places:
    """The direction of a curve at a point, as long as the chord of the span that asks."""
    count = len(points)
    if not smooth or (not closed and place in (0, count - 1)):
        return chord
    flow = points[(place + 1) % count] - points[place - 1]
    length = float(np.linalg.norm(flow))
    return flow / length * float(np.linalg.norm(chord)) if length > 1e-12 else chord


def frames(places: Places, closed: bool) -> tuple[Places, Places, Places]:
    """Along, across and up (across x up = along), (k, 3) each of length 1, at places in order: rotation-minimising.

    Wang, Juettler, Zheng and Liu, *Computation of Rotation Minimizing Frames* (2008), by double reflection. On a closed
    course what the frame has turned by at its end is spread evenly over it.
    """
    ahead = np.gradient(places, axis=0) if len(places) > 2 else np.repeat(np.diff(places, axis=0), len(places), axis=0)
    if closed:
        ahead[0] = ahead[-1] = places[1] - places[-2]
    along = ahead / np.maximum(np.linalg.norm(ahead, axis=1, keepdims=True), 1e-12)
    up = np.zeros_like(places)
    start = np.array([0.0, 1.0, 0.0]) if abs(along[0, 1]) < 0.95 else np.array([1.0, 0.0, 0.0])
    up[0] = _unit(start - along[0] * float(start @ along[0]))
    for row in range(len(places) - 1):
        step = places[row + 1] - places[row]
        square = max(float(step @ step), 1e-18)
        turned = up[row] - 2 / square * float(step @ up[row]) * step
        carried = along[row] - 2 / square * float(step @ along[row]) * step
        left = along[row + 1] - carried
        square = float(left @ left)
        up[row + 1] = turned if square < 1e-18 else turned - 2 / square * float(left @ turned) * left
    if closed:
        across = np.cross(along[-1], up[-1])
        angle = float(np.arctan2(up[0] @ across, up[0] @ up[-1]))
        share = np.linspace(0, angle, len(places))[:, None]
        side = np.cross(along, up)
        up = np.cos(share) * up + np.sin(share) * side
    return along, np.cross(up, along).astype(np.float64), up


def _unit(vector: Places) -> Places:
    return vector / max(float(np.linalg.norm(vector)), 1e-12)
