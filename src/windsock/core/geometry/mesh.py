"""Triangle meshes as arrays."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from xxhash import xxh3_128

from windsock.core.geometry.pictures import Pictures, seen_at_points
from windsock.core.kernels.distinct import distinct
from windsock.core.kernels.facing import facing_sums
from windsock.core.kernels.mixing import mixed_values

Floats = NDArray[np.float32]
Integers = NDArray[np.int32]
Numbers = NDArray[np.int64]

FACE_LIMIT = 3_000_000
"""Faces that one shape may have, and all shapes of a shot together."""

LOOKS = ("colour", "pictured", "opacity", "emission", "roughness", "metallic", "transmission")
"""The arrays with a row for each point that say how it looks; a mesh may go without."""

OPTIONAL = ("uv", *LOOKS)
"""The arrays with a row for each point that a mesh may go without."""

COLOUR_CHANNELS = {"brightness": (0.2126, 0.7152, 0.0722), "red": (1, 0, 0), "green": (0, 1, 0), "blue": (0, 0, 1)}
"""What can be measured of a colour. brightness: the luminance of Rec. 709."""


NO_FACES: Integers = np.zeros(0, dtype=np.int32)


def are_triangles(faces: NDArray[np.integer]) -> NDArray[np.bool_]:
    """(m,) whether the three corners of each face are three points."""
    a, b, c = faces[:, 0], faces[:, 1], faces[:, 2]
    return (a != b) & (b != c) & (c != a)


def content_of(*arrays: NDArray[np.generic]) -> str:
    """A hash of what is in arrays."""
    digest = xxh3_128()
    for array in arrays:
        digest.update(np.ascontiguousarray(array).data)
    return digest.hexdigest()


def carried_content(carry: Callable[[NDArray[np.float64]], NDArray[np.float64]], count: int) -> str:
    """A hash of how values at so many points of a shape as it was made are carried elsewhere: of what becomes of one by chance
    at each of them. Two ways of carrying that differ anywhere have the same only by an accident of rounding."""
    return content_of(carry(_by_chance(count)))


@lru_cache(maxsize=64)
def _by_chance(count: int) -> NDArray[np.float64]:
    values = np.random.default_rng(7).random(count)
    values.flags.writeable = False
    return values


@dataclass(frozen=True, eq=False)
class Descent:
    """One change of which points a mesh has: k added between pairs of those before, then only the used ones kept.

    first, second: (k,) parents; share: (k,) 0 at the first, 1 at the second. used: (n + k,) or None for all.
    """

    first: Numbers
    second: Numbers
    share: NDArray[np.float64]
    used: NDArray[np.bool_] | None = None

    @property
    def nbytes(self) -> int:
        held = self.first.nbytes + self.second.nbytes + self.share.nbytes
        return held + (0 if self.used is None else self.used.nbytes)

    def carried(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """Values (n, ...) at the points before, at the points after."""
        if len(self.first):
            weight = self.share.reshape((-1,) + (1,) * (values.ndim - 1))
            values = np.concatenate([values, values[self.first] + (values[self.second] - values[self.first]) * weight])
        return values if self.used is None else values[self.used]


@dataclass(frozen=True, eq=False)
class Mixture:
    """One change of which points a mesh has: each of the k after lies between c of those before.

    corners: (k, c) the points before; shares: (k, c) how much each counts, 1 together.
    """

    corners: Numbers
    shares: NDArray[np.float64]

    @property
    def nbytes(self) -> int:
        return self.corners.nbytes + self.shares.nbytes

    def carried(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """Values (n, ...) at the points before, at the points after."""
        return mixed_values(self.corners, self.shares, values)


@dataclass(frozen=True, eq=False)
class Mesh:
    """A triangle mesh in the space of its item, in metres.

    Points that differ only in normal, u,v or colour (a seam, a hard edge) are separate points of the same `number`.

    points: (n, 3) places now. rest: (n, 3) places as the shape was made. normals: (n, 3), length 1.
    faces: (m, 3) indices of points, counter-clockwise from outside. number: (n,) which place of the shape this is,
    the same through every step. uv: (n, 2) or None. colour: (n, 3) linear Rec. 709 or None, not-a-number where the
    base colour shows. pictured: (n,) how far a picture shows, 0..1, None for in full. emission: (n, 3) linear, times its strength, or None. opacity, roughness, metallic, transmission:
    (n,) or None where the look rules. descent: how the points came from those of the shape as it was made. origin: (m,)
    which face of the shape as it was made each face is a part of, -1 for none; None while they are those faces themselves.
    piece: (n,) which piece of a broken mesh each point belongs to, None where it is whole. pictures: what its faces show
    by their u,v, multiplied with their colour; None for nothing.
    measures: (n,) numbers by name that came with an imported file; only the shape as it was made has them.
    """

    points: Floats
    rest: Floats
    normals: Floats
    faces: Integers
    number: Numbers
    uv: Floats | None = None
    colour: Floats | None = None
    pictured: Floats | None = None
    opacity: Floats | None = None
    emission: Floats | None = None
    roughness: Floats | None = None
    metallic: Floats | None = None
    transmission: Floats | None = None
    descent: tuple[Descent | Mixture, ...] = ()
    origin: Integers | None = None
    piece: Integers | None = None
    pictures: Pictures | None = None
    measures: Mapping[str, Floats] = field(default_factory=dict[str, Floats])

    @property
    def nbytes(self) -> int:
        """Bytes held by the arrays."""
        held = sum(values.nbytes for values in (*self._attributes().values(), *self.measures.values()))
        held += sum(own.nbytes for own in (self.origin, self.piece, self.pictures) if own is not None)
        return held + self.faces.nbytes + self.number.nbytes + sum(step.nbytes for step in self.descent)

    def origins(self) -> Integers:
        """(m,) which face of the shape as it was made each face is a part of, -1 for none."""
        return np.arange(len(self.faces), dtype=np.int32) if self.origin is None else self.origin

    def faced(self, faces: Integers, of: NDArray[np.integer]) -> Mesh:
        """The mesh with other faces. of: (k,) which of the faces before each is a part of, -1 for none."""
        before = np.append(self.origins(), np.int32(-1))
        return replace(self, faces=faces, origin=before[of])

    def from_rest(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """Values (n, ...) at the points of the shape as it was made, at the points of this mesh."""
        return self.carried(values, 0)

    def carried(self, values: NDArray[np.float64], after: int) -> NDArray[np.float64]:
        """The same for values at the points of the mesh that this one was after so many changes of which points it has."""
        for step in self.descent[after:]:
            values = step.carried(values)
        return values

    def between(self, first: Numbers, second: Numbers, share: NDArray[np.float64]) -> Mesh:
        """The mesh with k points added between pairs of its own: every attribute is interpolated.

        first, second: (k,) parents; share: (k,) 0 at the first, 1 at the second. The number of an added point is
        derived from its parents' and is negative, so it never meets a number that a shape gave.
        """

        def added(values: Floats) -> Floats:
            weight = share.reshape((-1,) + (1,) * (values.ndim - 1))
            mixed = values[first] + (values[second].astype(np.float64) - values[first]) * weight
            return np.concatenate([values, mixed.astype(np.float32)])

        attributes = {name: added(values) for name, values in self._attributes().items()}
        tail = attributes["normals"][len(self.points) :]
        tail /= np.maximum(np.linalg.norm(tail, axis=1, keepdims=True), 1e-12)
        number = np.concatenate([self.number, derived_number(self.number[first], self.number[second])])
        descent = (*self.descent, Descent(first, second, share))
        piece = None if self.piece is None else np.concatenate([self.piece, self.piece[first]])
        return replace(self, number=number, descent=descent, piece=piece, measures={}, **attributes)

    def taken(self, source: NDArray[np.integer]) -> Mesh:
        """A mesh without faces whose points are (k,) of this one's, perhaps several times. Number and descent are theirs."""
        # np.take goes through memory once, several times as fast as indexing.
        attributes = {name: np.take(values, source, axis=0) for name, values in self._attributes().items()}
        number, piece = self.number[source], None if self.piece is None else self.piece[source]
        bare = replace(self, faces=self.faces[:0], origin=NO_FACES, measures={})
        return replace(bare, number=number, piece=piece, **attributes)

    def mixed(self, corners: Numbers, shares: NDArray[np.float64], number: Numbers) -> Mesh:
        """A mesh without faces whose points lie between points of this one: every attribute is interpolated.

        corners, shares: (k, c) as a `Mixture`; number: (k,) of the points that are made.
        """
        mixture = Mixture(corners, shares)
        if corners.shape[1] == 1 and (shares == 1).all():
            attributes = {name: np.take(values, corners[:, 0], axis=0) for name, values in self._attributes().items()}
        else:
            attributes = {name: _mixed(values, mixture) for name, values in self._attributes().items()}
        normals = attributes["normals"]
        normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
        descent = (*self.descent, mixture)
        bare = replace(self, faces=self.faces[:0], origin=NO_FACES, piece=None, measures={})
        return replace(bare, number=number, descent=descent, **attributes)

    def chosen(self, which: NDArray[np.integer]) -> Mesh:
        """A mesh without faces of some of the points, each once, in their order; it knows where they came from."""
        used = np.zeros(len(self.points), dtype=bool)
        used[which] = True
        none = np.zeros(0, dtype=np.int64)
        made = self.taken(np.flatnonzero(used))
        return replace(made, descent=(*self.descent, Descent(none, none, np.zeros(0), used)))

    def without_loose_points(self) -> Mesh:
        """The mesh without the points that no face uses; the order of the others stays."""
        used = np.zeros(len(self.points), dtype=bool)
        used[self.faces.ravel()] = True
        if used.all():
            return self
        place = (np.cumsum(used) - 1).astype(np.int32)
        left = np.flatnonzero(used)
        attributes = {name: np.take(values, left, axis=0) for name, values in self._attributes().items()}
        none = np.zeros(0, dtype=np.int64)
        descent = (*self.descent, Descent(none, none, np.zeros(0), used))
        number, piece = self.number[left], None if self.piece is None else self.piece[left]
        bare = replace(self, faces=np.take(place, self.faces), descent=descent, measures={})
        return replace(bare, number=number, piece=piece, **attributes)

    def emptied(self) -> Mesh:
        """The mesh without any face or point."""
        return self.faced(self.faces[:0], NO_FACES).without_loose_points()

    def measure(self, name: str) -> NDArray[np.float64]:
        """(n,) a number that came with the points, or a channel of their colour (linear); 0 where there is none."""
        if name in self.measures:
            return self.measures[name].astype(np.float64)
        seen = self.seen_colour() if name in COLOUR_CHANNELS else None
        if seen is None:
            return np.zeros(len(self.points))
        return np.nan_to_num(seen.astype(np.float64)) @ np.array(COLOUR_CHANNELS[name])

    def measured(self) -> list[str]:
        """What `measure` has numbers for."""
        return [*self.measures, *(COLOUR_CHANNELS if self.colour is not None else ())]

    def seen_colour(self) -> Floats | None:
        """(n, 3) the colour with the pictures at the points; not-a-number where the base colour shows, None without."""
        if self.pictures is None or self.uv is None or self.colour is None:
            return self.colour
        share = np.ones(1) if self.pictured is None else self.pictured.astype(np.float64)
        seen = seen_at_points(self.pictures, self.origins(), self.faces, self.uv)
        return (self.colour * (1 + (seen - 1) * share[:, None])).astype(np.float32)

    def _attributes(self) -> dict[str, Floats]:
        """The arrays with a row for each point that are interpolated between points."""
        named = {"points": self.points, "rest": self.rest, "normals": self.normals}
        optional = {name: getattr(self, name) for name in OPTIONAL}
        return named | {name: values for name, values in optional.items() if values is not None}


def _mixed(values: Floats, mixture: Mixture) -> Floats:
    return mixture.carried(values.astype(np.float64)).astype(np.float32)


def derived_number(first: Numbers, second: Numbers) -> Numbers:
    """A number for a point made between two others: the same for the same pair in either order. (k,) negative."""
    low = np.minimum(first, second).astype(np.uint64)
    high = np.maximum(first, second).astype(np.uint64)
    mixed = low * np.uint64(0x9E3779B97F4A7C15) ^ (high * np.uint64(0xC2B2AE3D27D4EB4F) + np.uint64(0x165667B19E3779F9))
    mixed ^= mixed >> np.uint64(29)
    return -(mixed >> np.uint64(2)).astype(np.int64) - 1


def smooth_normals(points: Floats, faces: Integers, number: Numbers) -> Floats:
    """(n, 3) normals of length 1, the faces about a place weighted by area. Points of one number share a normal."""
    place, count = places_of(number)
    total = facing_sums(points, faces, place, count)
    normals = total[place]
    length = np.linalg.norm(normals, axis=1, keepdims=True)
    normals = np.where(length > 0, normals / np.maximum(length, 1e-300), [0.0, 1.0, 0.0])
    return normals.astype(np.float32)


def places_of(number: Numbers) -> tuple[Numbers, int]:
    """(n,) a place for each number, and below what they lie: the numbers themselves where they are few enough."""
    if len(number) and number.min() >= 0 and number.max() < 2 * len(number):
        return number, int(number.max()) + 1
    first, place, _ = distinct(number)
    return place, len(first)


def one_of_each(place: Numbers, count: int) -> Numbers:
    """(count,) the first point at each place. place: (n,) which place each point is at, below `count`; 0 where there is no point."""
    first = np.zeros(count, dtype=np.int64)
    first[place[::-1]] = np.arange(len(place))[::-1]
    return first


def median_edge(points: Floats, faces: Integers) -> float:
    """The median length of the faces' edges in metres, 0 without faces."""
    if len(faces) == 0:
        return 0.0
    corners = points[faces]
    return float(np.median(np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2)))
