"""Courses: curves through space as places along them, with frames that do not twist."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Places = NDArray[np.float64]

FINE = 24
"""Places that each span between two points is tabulated at."""


GAUSS = np.polynomial.legendre.leggauss(4)
"""Places in -1..1 and weights by which the length of a part between two places is taken."""


@dataclass(frozen=True, eq=False)
class Course:
    """A curve: (k, 3) places in order, (k,) metres along it of each, whether its end is its start.

    ways: (k - 1, 2, 3) of length 1, which way it goes where each part between two places begins and where it ends.
    """

    places: Places
    along: NDArray[np.float64]
    closed: bool
    ways: Places

    @property
    def length(self) -> float:
        return float(self.along[-1])

    def at(self, along: NDArray[np.float64]) -> Places:
        """(n, 3) places so many metres along."""
        return np.stack([np.interp(along, self.along, self.places[:, axis]) for axis in range(3)], axis=1)

    def stand(self, along: NDArray[np.float64]) -> tuple[Places, Places]:
        """(n, 3) places so many metres along, and (n, 3) the way of length 1 that the curve goes there.

        Between two places it is the cubic of C. Hermite by their ways, which is off by about a part's length to the fourth
        power over 400 times the radius of its bend to the third.
        """
        part = np.clip(np.searchsorted(self.along, along, side="right") - 1, 0, len(self.ways) - 1)
        length = (self.along[part + 1] - self.along[part])[:, None]
        share = np.clip((along - self.along[part])[:, None] / np.maximum(length, 1e-12), 0, 1)
        start, end = self.places[part], self.places[part + 1]
        out, into = self.ways[part, 0] * length, self.ways[part, 1] * length
        return _hermite(start, end, out, into, share), unit_rows(_hermite_slope(start, end, out, into, share))

    def moved(self, matrix: NDArray[np.float64]) -> Course:
        """The curve taken through a (4, 4) matrix, which may stretch it. Those that were asked for last are kept."""
        return _moved(self, np.ascontiguousarray(matrix, dtype=np.float64).tobytes())

    def through(self, matrix: NDArray[np.float64]) -> Course:
        """The same, made anew."""
        linear = matrix[:3, :3]
        places = self.places @ linear.T + matrix[:3, 3]
        length = np.diff(self.along)[:, None]
        out, into = (self.ways[:, end] * length @ linear.T for end in (0, 1))
        total = np.zeros(len(length))
        for at, weight in zip(*GAUSS, strict=True):
            slope = _hermite_slope(places[:-1], places[1:], out, into, np.full((len(length), 1), (1 + at) / 2))
            total += weight / 2 * np.linalg.norm(slope, axis=1)
        along = np.concatenate([[0.0], np.cumsum(total)])
        return Course(places, along, self.closed, np.stack([unit_rows(out), unit_rows(into)], axis=1))


@lru_cache(maxsize=128)
def _moved(course: Course, content: bytes) -> Course:
    """A curve taken through the matrix of these bytes."""
    return course.through(np.frombuffer(content, dtype=np.float64).reshape(4, 4))


def _hermite(start: Places, end: Places, out: Places, into: Places, share: Places) -> Places:
    square, cube = share**2, share**3
    return (
        start * (2 * cube - 3 * square + 1)
        + out * (cube - 2 * square + share)
        + end * (3 * square - 2 * cube)
        + into * (cube - square)
    )


def _hermite_slope(start: Places, end: Places, out: Places, into: Places, share: Places) -> Places:
    """How a Hermite cubic changes with the share of its way."""
    square = share**2
    return (end - start) * 6 * (share - square) + out * (3 * square - 4 * share + 1) + into * (3 * square - 2 * share)


def unit_rows(vectors: Places) -> Places:
    """(n, 3) vectors brought to length 1; those of no length stay so."""
    return vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), 1e-12)


def course_of(
    points: Places, handles: list[tuple[Places | None, Places | None]], smooth: list[bool], closed: bool
) -> Course:
    """The course through points.

    points: (k, 3). handles: for each the places of its handles before and after it, relative to it, None where there is
    none. smooth: whether the curve flows through a point without handles; it turns sharply there otherwise.
    Spans are cubic Bezier curves; without handles those that a Catmull-Rom spline by chord length has. Those that were asked
    for last are kept.
    """
    held = [
        tuple(None if one is None else np.asarray(one, dtype=np.float64).tobytes() for one in pair) for pair in handles
    ]
    content = np.ascontiguousarray(points, dtype=np.float64).tobytes()
    return _course(content, tuple(held), tuple(smooth), closed)


@lru_cache(maxsize=64)
def _course(
    content: bytes, held: tuple[tuple[bytes | None, ...], ...], smooth: tuple[bool, ...], closed: bool
) -> Course:
    """The same of the bytes of the points and the handles."""
    points = np.frombuffer(content, dtype=np.float64).reshape(-1, 3)
    handles = [tuple(None if one is None else np.frombuffer(one, dtype=np.float64) for one in pair) for pair in held]
    count = len(points)
    spans = count if closed and count > 2 else count - 1
    rows: list[Places] = [points[:1]]
    lengths: list[Places] = []
    ways: list[Places] = []
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
        lengths.append(_lengths(a, b, c, d))
        ends = np.linspace(0, 1, FINE + 1)[:, None]
        slope = _slope(a, b, c, d, ends)
        # Where a handle has no length the curve goes the way of its chord.
        chords = np.diff(np.concatenate([rows[-2][-1:], rows[-1]]), axis=0)
        still = np.linalg.norm(slope, axis=1) < 1e-12
        ways.append(
            np.stack(
                [np.where(still[:-1, None], chords, slope[:-1]), np.where(still[1:, None], chords, slope[1:])], axis=1
            )
        )
    places = np.concatenate(rows)
    step = np.linalg.norm(np.diff(places, axis=0), axis=1)
    kept = step > 1e-9
    along = np.concatenate([[0.0], np.cumsum(np.concatenate(lengths)[kept])])
    going = np.concatenate(ways)[kept]
    going = going / np.maximum(np.linalg.norm(going, axis=2, keepdims=True), 1e-12)
    return Course(places[np.concatenate([[True], kept])], along, closed and count > 2, going)


def _slope(a: Places, b: Places, c: Places, d: Places, share: Places) -> Places:
    """(n, 3) how a cubic Bezier curve changes with the share of its way, (n, 1)."""
    rest = 1 - share
    return 3 * rest**2 * (b - a) + 6 * rest * share * (c - b) + 3 * share**2 * (d - c)


def _lengths(a: Places, b: Places, c: Places, d: Places) -> Places:
    """(FINE,) the lengths of the parts of a cubic Bezier curve, by Gauss-Legendre quadrature of four points."""
    begins = np.arange(FINE) / FINE
    total = np.zeros(FINE)
    for at, weight in zip(*GAUSS, strict=True):
        slope = _slope(a, b, c, d, (begins + (1 + at) / 2 / FINE)[:, None])
        total += weight / 2 / FINE * np.linalg.norm(slope, axis=1)
    return total


def _flow(points: Places, place: int, chord: Places, smooth: bool, closed: bool) -> Places:
    """The direction of a curve at a point, as long as the chord of the span that asks."""
    count = len(points)
    if not smooth or (not closed and place in (0, count - 1)):
        return chord
    flow = points[(place + 1) % count] - points[place - 1]
    length = float(np.linalg.norm(flow))
    return flow / length * float(np.linalg.norm(chord)) if length > 1e-12 else chord


def frames(places: Places, closed: bool) -> tuple[Places, Places, Places]:
    """The same as `_frames`, which is kept for the courses that were asked for last."""
    return _frames(np.ascontiguousarray(places, dtype=np.float64).tobytes(), closed)


@lru_cache(maxsize=64)
def _frames(content: bytes, closed: bool) -> tuple[Places, Places, Places]:
    """Along, across and up (across x up = along), (k, 3) each of length 1, at places in order: rotation-minimising.

    Wang, Juettler, Zheng and Liu, *Computation of Rotation Minimizing Frames* (2008), by double reflection. On a closed
    course what the frame has turned by at its end is spread evenly over it.
    """
    places = np.frombuffer(content, dtype=np.float64).reshape(-1, 3)
    ahead = np.repeat(np.diff(places[:2], axis=0), len(places), axis=0)
    if len(places) > 2:
        ahead = np.asarray(np.gradient(places, axis=0), dtype=np.float64)
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
