"""The ways of things that have moved, and what is laid along the last stretch of them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import Floats, Mesh, smooth_normals
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.solution import Solution
from windsock.core.kernels.bands import faces_between
from windsock.core.kernels.strands import strands

Values = NDArray[np.float64]
Numbers = NDArray[np.int64]
Form = Literal["tubes", "ribbons", "lines", "sheet"]

SIDES = {"tubes": 10, "ribbons": 2, "lines": 2, "sheet": 1}
"""Points about each step of a trail."""


@dataclass(frozen=True, eq=False)
class Ways(Solution):
    """The ways of k things over t looks.

    places: (t, k, 3) in the world, not-a-number where a thing is not there; come: (t, k) metres gone until then; across: (t, k, 3) a
    direction across the way. raw: (t, k, 3) the places before they were made smooth, or none where they were not. near: (k,) the point of the shape as it was made that each thing was nearest to; pairs: (p, 2) things that are neighbours; clock: (2,) second of the
    first look, and looks in a second; back: (4, 4) from the world to the shape's own space at the first frame.
    """

    places: Floats
    come: Floats
    across: Floats
    raw: Floats
    near: NDArray[np.int64]
    pairs: NDArray[np.int64]
    clock: Values
    back: Values

    def at(self, look: float) -> Values:
        """(k, 3) the places at a look, fractions allowed."""
        return places_at(self.places, look)


@dataclass(frozen=True, eq=False)
class Stretch:
    """The last stretch of all ways, in steps. places, ahead and across: (n, 3) in the world; share: (n,) of its time, 1 at the head; number: (n,)
    which step from the start each is, -1 and -2 for the ends; strand: (n,) of which thing; faces: between rows of points, one for each side."""

    places: Values
    ahead: Values
    across: Values
    share: Values
    number: Numbers
    strand: Numbers
    faces: NDArray[np.int32]


def strands_of(ways: Ways, first: float, now: float, spacing: float, form: Form) -> Stretch:
    """Each way by itself, in even steps of its own length, between two looks."""
    places, ahead, across, share, number, starts = strands(ways.places, ways.come, ways.across, first, now, spacing)
    strand = np.repeat(np.arange(len(starts) - 1), np.diff(starts))
    return Stretch(places, ahead, across, share, number, strand, faces_between(starts, SIDES[form], form == "tubes"))


def sheet_of(ways: Ways, first: float, now: float, spacing: float) -> Stretch:
    """The ways of neighbours joined: at moments at which all together have come so many more even steps on the mean."""
    low, high = int(first), int(np.ceil(now))
    looks = np.arange(low, high + 1)
    mean = np.asarray(ways.come[low : high + 1].mean(axis=1), dtype=np.float64)
    begin, end = (float(one) for one in np.asarray(np.interp([first, now], looks, mean), dtype=np.float64))
    steps = np.arange(int(np.floor(begin / spacing)) + 1, int(np.ceil(end / spacing)), dtype=np.int64)
    when = np.concatenate([[first], np.interp(steps * spacing, mean, looks), [now]])
    number = np.concatenate([[-1], steps, [-2]])
    rows, things = len(when), int(ways.places.shape[1])
    # One thing after the other, as strands are.
    places = np.stack([places_at(ways.places, float(one)) for one in when], axis=1)
    there = np.isfinite(places).all(axis=2).reshape(-1)
    corner = ways.pairs[:, :1] * rows + np.arange(rows - 1)
    other = ways.pairs[:, 1:] * rows + np.arange(rows - 1)
    quads = np.stack([corner, other, other + 1, corner + 1], axis=2).reshape(-1, 4)
    quads = quads[there[quads].all(axis=1)]
    faces = np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]]).astype(np.int32)
    flat = np.nan_to_num(places.reshape(-1, 3))
    strand = np.repeat(np.arange(things), rows)
    share = np.tile((when - first) / max(now - first, 1e-9), things)
    none = np.zeros_like(flat)
    return Stretch(flat, none, none, share, np.tile(number, things), strand, faces)


def facing(stretch: Stretch, eye: Values) -> Stretch:
    """The stretch with what lies across it turned so that it faces a place, (3,)."""
    towards = eye - stretch.places
    across = np.cross(stretch.ahead, towards)
    length = np.linalg.norm(across, axis=1, keepdims=True)
    # Seen from its end it faces any way.
    return replace(stretch, across=np.where(length > 1e-9, across / np.maximum(length, 1e-9), stretch.across))


def laid(stretch: Stretch, thick: Values, form: Form, ways: Ways, subject: Mesh, matrix: Matrix) -> Mesh:
    """The mesh along a stretch. thick: (n,) metres from its middle to its sides; matrix: (4, 4) from the subject's space to the world."""
    sides, steps = SIDES[form], len(stretch.places)
    up = np.cross(stretch.across, stretch.ahead)
    angle = np.arange(sides) * 2 * np.pi / max(sides, 2)
    out = np.cos(angle)[None, :, None] * stretch.across[:, None]
    if form == "tubes":
        out = out + np.sin(angle)[None, :, None] * up[:, None]
    world = (stretch.places[:, None] + out * thick[:, None, None]).reshape(-1, 3)
    normals = (out if form == "tubes" else np.repeat(up[:, None], sides, axis=1)).reshape(-1, 3)
    to_own = np.asarray(np.linalg.inv(matrix), dtype=np.float64)
    rows = np.repeat(np.arange(steps), sides)
    corners = ways.near[stretch.strand][rows][:, None]
    name = (stretch.strand * (1 << 30) + (stretch.number + 2)) * 16
    names = -1 - (name[rows] + np.tile(np.arange(sides), steps))
    made = subject.mixed(corners, np.ones(corners.shape), names)
    around = np.tile(np.arange(sides) / max(sides - 1, 1), steps)
    if form == "sheet":
        around = stretch.strand / max(ways.places.shape[1] - 1, 1)
    points = moved(world, to_own).astype(np.float32)
    if form == "sheet":
        own_normals = smooth_normals(points, stretch.faces, names)
    else:
        own_normals = turned_normals(normals, to_own).astype(np.float32)
    return replace(
        made,
        points=points,
        rest=moved(world, ways.back).astype(np.float32),
        normals=own_normals,
        uv=np.stack([around, 1 - stretch.share[rows]], axis=1).astype(np.float32),
        faces=stretch.faces,
        origin=np.full(len(stretch.faces), -1, dtype=np.int32),
    )


def spread_out(points: Values, count: int) -> NDArray[np.int64]:
    """(k,) so many of (n, 3) points as far apart as can be: each is the one farthest from all before it (T. Gonzalez, "Clustering to
    minimize the maximum intercluster distance", 1985)."""
    chosen = np.zeros(min(count, len(points)), dtype=np.int64)
    if len(chosen) == 0:
        return chosen
    chosen[0] = int(np.argmax(points[:, 1]))
    away = np.linalg.norm(points - points[chosen[0]], axis=1)
    for place in range(1, len(chosen)):
        chosen[place] = int(np.argmax(away))
        away = np.minimum(away, np.linalg.norm(points - points[chosen[place]], axis=1))
    return chosen


def places_at(places: Floats, look: float) -> Values:
    """(k, 3) the places at a look, fractions allowed; not-a-number for what is not there."""
    low = int(look)
    one, other = places[low].astype(np.float64), places[min(low + 1, len(places) - 1)].astype(np.float64)
    return one + (other - one) * (look - low) if look > low else one
