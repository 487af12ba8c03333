"""A mesh in pieces, as a pattern: where each point of the pieces lies on the mesh before, so that it moves as that does."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.mesh import Mesh, Mixture, are_triangles
from windsock.core.geometry.solution import Solution
from windsock.core.kernels.areas import face_areas
from windsock.core.kernels.bodies import NO_TURN
from windsock.core.kernels.mixing import canonical
from windsock.core.kernels.nearest import nearest_points
from windsock.core.kernels.solids import Shards
from windsock.core.kernels.together import together

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]

PIECES_IN_A_CELL = 4096

NO_AREA = 1e-10
"""Share of the square of its sides below which a triangle has no area to speak of."""

BODY_CORNERS = 8
"""Points of a piece that the values at its middle are the mean of."""


@dataclass(frozen=True, eq=False)
class Triangles:
    """t triangles of pieces, with corners of their own.

    cell: (t,) which cell each lies in. piece: (t,) which piece, from 0 on; what hangs together in one cell is one. source: (t,) the face of the mesh before that each is a part of, -1 inside. shares: (t, 3, 3) of that
    face's corners at each corner. places: (t, 3, 3) and facing: (t, 3) of those inside, in the mesh's own space; the rest
    of them does not count. uv: (t, 3, 2) of those inside. near: (t, 3) a point of the mesh that those inside move with.
    joined: (t, 3) a name of the place of each corner, the same for corners of one piece that are at one place.
    """

    cell: Numbers
    piece: Numbers
    source: Numbers
    shares: Reals
    places: Reals
    facing: Reals
    uv: Reals
    near: Numbers
    joined: Numbers

    def with_others(self, other: Triangles) -> Triangles:
        """These and others."""
        pairs = [(getattr(self, name), getattr(other, name)) for name in self.__dataclass_fields__]
        return Triangles(*(np.concatenate(pair) for pair in pairs))

    def numbers(self) -> Numbers:
        """(pieces,) a number for each piece: that of its cell, and which of the pieces in there it is."""
        count = int(self.piece.max(initial=-1)) + 1
        cell = np.zeros(count, dtype=np.int64)
        cell[self.piece] = self.cell
        order = np.argsort(cell, kind="stable")
        starts = np.searchsorted(cell[order], cell[order])
        number = np.empty(count, dtype=np.int64)
        number[order] = cell[order] * PIECES_IN_A_CELL + np.minimum(np.arange(count) - starts, PIECES_IN_A_CELL - 1)
        return number


def on_surface(cell: Numbers, piece: Numbers, source: Numbers, shares: Reals, joined: Numbers) -> Triangles:
    """Triangles that are parts of faces. joined: (t, 3) a name of each corner's place."""
    count = len(piece)
    places, uv = np.zeros((count, 3, 3)), np.zeros((count, 3, 2))
    near = np.zeros((count, 3), dtype=np.int64)
    return Triangles(cell, piece, source, shares, places, np.zeros((count, 3)), uv, near, joined)


def of_faces(own: Numbers, faces: NDArray[np.int32], number: Numbers) -> Triangles:
    """Whole faces as triangles of the pieces, (m,), that they belong to. number: (n,) of the points."""
    _, place = np.unique(number, return_inverse=True)
    # Faces that are pieces of their own share no corner with others, though they lie at the same place.
    joined = own[:, None] * (int(place.max(initial=0)) + 1) + place[faces]
    corners = np.broadcast_to(np.eye(3), (len(faces), 3, 3)).copy()
    return on_surface(own, own, np.arange(len(faces)), corners, joined)


def of_sheets(cell: Numbers, source: Numbers, shares: Reals, points: Reals, faces: NDArray[np.int32]) -> Triangles:
    """The triangles of a surface parted between cells. points: (n, 3) of the mesh, faces: (m, 3) of it; the rest as given
    by `parted`."""
    corners: Reals = np.einsum("tij,tjk->tik", shares, points[faces[source]])
    size = max(float(np.ptp(points, axis=0).max(initial=0)), 1e-12)
    name = hashed(np.repeat(cell, 3), np.round(corners.reshape(-1, 3) / size * 1e6).astype(np.int64))
    _, joined = np.unique(name, return_inverse=True)
    joined = joined.reshape(-1, 3).astype(np.int64)
    return on_surface(cell, together(joined), source, shares, joined)


def of_shards(shards: Shards, points: Reals, faces: NDArray[np.int32]) -> Triangles:
    """The triangles of what cells cut out of a solid. points: (n, 3) of the mesh, in metres; faces: (m, 3) of it."""
    corners, source = shards.corners, shards.source
    outside = source >= 0
    shares = np.zeros((len(source), 3, 3))
    made = on_surface(shards.cell, together(shards.joined), source, shares, shards.joined)
    made.shares[outside] = shares_on(corners[outside], points[faces[source[outside]]])
    inner = corners[~outside]
    facing = np.cross(inner[:, 1] - inner[:, 0], inner[:, 2] - inner[:, 0])
    facing /= np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-300)
    made.places[~outside] = inner
    made.facing[~outside] = facing
    made.uv[~outside] = laid_flat(inner, facing)
    # Places that several corners have in common are looked for once.
    _, first, back = np.unique(made.joined[~outside], return_index=True, return_inverse=True)
    made.near[~outside] = nearest_points(inner.reshape(-1, 3)[first], points)[back].reshape(-1, 3)
    return made


def thickened(sheet: Triangles, points: Reals, normals: Reals, faces: NDArray[np.int32], thickness: float) -> Triangles:
    """Pieces of a surface with a back and walls, `thickness` deep. points, normals: (n, 3), faces: (m, 3) of the mesh."""
    corner = faces[sheet.source]
    top = np.einsum("tij,tjk->tik", sheet.shares, points[corner])
    facing = np.einsum("tij,tjk->tik", sheet.shares, normals[corner])
    facing /= np.maximum(np.linalg.norm(facing, axis=2, keepdims=True), 1e-12)
    low = top - facing * thickness
    near = corner[np.arange(len(corner))[:, None], sheet.shares.argmax(axis=2)]
    under = sheet.joined + int(sheet.joined.max(initial=0)) + 1
    every = np.arange(len(corner))
    back = _inner(sheet, every, low[:, ::-1], near[:, ::-1], under[:, ::-1])
    rows, start = _border(sheet)
    end = (start + 1) % 3
    a, b, c, d = top[rows, start], top[rows, end], low[rows, end], low[rows, start]
    at_a, at_b = sheet.joined[rows, start], sheet.joined[rows, end]
    at_c, at_d = under[rows, end], under[rows, start]
    beside = np.repeat(near[rows, start][:, None], 3, axis=1)
    one = _inner(sheet, rows, np.stack([a, d, c], axis=1), beside, np.stack([at_a, at_d, at_c], axis=1))
    two = _inner(sheet, rows, np.stack([a, c, b], axis=1), beside, np.stack([at_a, at_c, at_b], axis=1))
    return sheet.with_others(back).with_others(one).with_others(two)


def _border(sheet: Triangles) -> tuple[Numbers, Numbers]:
    """The sides of triangles that no other of the same piece has: rows, and the corner that each side starts at."""
    joined = sheet.joined
    ends = np.stack([joined, np.roll(joined, -1, axis=1)], axis=2).reshape(-1, 2)
    name = hashed(np.repeat(sheet.piece, 3), np.sort(ends, axis=1))
    _, first, count = np.unique(name, return_index=True, return_counts=True)
    single = first[count == 1]
    return single // 3, single % 3


def _inner(sheet: Triangles, rows: Numbers, places: Reals, near: NDArray[np.integer], joined: Numbers) -> Triangles:
    """Triangles inside the pieces that `rows` of a sheet belong to, facing as they are wound."""
    none = np.full(len(rows), -1)
    made = on_surface(sheet.cell[rows], sheet.piece[rows], none, np.zeros((len(rows), 3, 3)), joined)
    facing = np.cross(places[:, 1] - places[:, 0], places[:, 2] - places[:, 0])
    facing /= np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-300)
    return replace(made, places=places, facing=facing, uv=laid_flat(places, facing), near=near.astype(np.int64))


def islands(faces: NDArray[np.int32], number: Numbers) -> Numbers:
    """(m,) which island each face belongs to: faces that share a place hang together. The order is that of the faces."""
    _, place = np.unique(number, return_inverse=True)
    return together(place[faces])


def shares_on(corners: Reals, triangles: Reals) -> Reals:
    """(t, 3, 3) barycentric shares of (t, 3, 3) corners that lie on (t, 3, 3) triangles; none below 0. On a triangle of next to no area
    they are those along its longest side."""
    start = triangles[:, None, 0]
    one, two = triangles[:, None, 1] - start, triangles[:, None, 2] - start
    to = corners - start
    d11, d12, d22 = ((a * b).sum(axis=2) for a, b in ((one, one), (one, two), (two, two)))
    d31, d32 = (to * one).sum(axis=2), (to * two).sum(axis=2)
    area = d11 * d22 - d12 * d12
    flat = area[:, 0] <= NO_AREA * np.maximum(d11 * d22, 1e-300)[:, 0]
    area = np.where(flat[:, None], 1.0, area)
    second, third = (d22 * d31 - d12 * d32) / area, (d11 * d32 - d12 * d31) / area
    shares = np.clip(np.stack([1 - second - third, second, third], axis=2), 0, 1)
    if flat.any():
        shares[flat] = _along_longest(corners[flat], triangles[flat])
    shares[shares < 1e-6] = 0
    return shares / np.maximum(shares.sum(axis=2, keepdims=True), 1e-12)


def _along_longest(corners: Reals, triangles: Reals) -> Reals:
    """The same on triangles without area."""
    ways = np.roll(triangles, -1, axis=1) - triangles
    length = np.einsum("tij,tij->ti", ways, ways)
    begin, rows = length.argmax(axis=1), np.arange(len(triangles))
    way, long = ways[rows, begin], length[rows, begin]
    along = np.einsum("tij,tj->ti", corners - triangles[rows, begin][:, None], way) / np.maximum(long, 1e-300)[:, None]
    made = np.zeros((len(triangles), 3, 3))
    made[rows, :, (begin + 1) % 3] = np.clip(along, 0, 1)
    made[rows, :, begin] = 1 - np.clip(along, 0, 1)
    return made


def laid_flat(places: Reals, facing: Reals) -> Reals:
    """(t, 3, 2) places on the planes they lie in, along two axes of each plane: u,v of the cut in metres."""
    helper = np.where(np.abs(facing[:, 1:2]) < 0.9, [[0.0, 1.0, 0.0]], [[1.0, 0.0, 0.0]])
    across = np.cross(helper, facing)
    across /= np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-300)
    up = np.cross(facing, across)
    return np.stack([np.einsum("tij,tj->ti", places, across), np.einsum("tij,tj->ti", places, up)], axis=2)


@dataclass(frozen=True, eq=False)
class Pattern(Solution):
    """A mesh in pieces, with shared points welded.

    corners, shares: (n, 3) where each point lies on the mesh; offset: (n, 3) how far off it; facing: (n, 3) its normal,
    not a number on the surface; uv: (n, 2) likewise; piece: (n,); faces: (t, 3); origin: (t,) the face of the mesh, -1
    inside; joined: (n,) a name of each point's place; number: (pieces,); middle: (pieces, 3) and body_points: (pieces, 8), the
    middle of each piece and points of it; touching: (p, 2) pairs of pieces that touch; solid: whether they are closed.
    """

    corners: Numbers
    shares: Reals
    offset: Reals
    facing: Reals
    uv: Reals
    piece: NDArray[np.int32]
    faces: NDArray[np.int32]
    origin: NDArray[np.int32]
    joined: Numbers
    number: Numbers
    middle: Reals
    body_points: Numbers
    touching: NDArray[np.int32]
    solid: NDArray[np.bool_]


def pattern(triangles: Triangles, rest: Reals, faces: NDArray[np.int32], solid: bool) -> Pattern:
    """Pieces with shared points welded. rest: (n, 3) and faces: (m, 3) of the mesh before. solid: they are closed."""
    inside = triangles.source < 0
    inner = np.repeat(inside, 3)
    corner = np.repeat(faces[triangles.source].astype(np.int64), 3, axis=0)
    corner[inner] = triangles.near[inside].reshape(-1, 1)
    shares = triangles.shares.reshape(-1, 3).copy()
    shares[inner] = [1.0, 0, 0]
    corner, shares = canonical(corner, shares)
    offset = np.zeros((len(inner), 3))
    offset[inner] = triangles.places[inside].reshape(-1, 3) - rest[corner[inner, 0]]
    facing = np.full((len(inner), 3), np.nan)
    facing[inner] = np.repeat(triangles.facing[inside], 3, axis=0)
    joined = triangles.joined.ravel()
    # Inside, places of one piece that face alike are one point; on the surface, those that lie between the same points.
    distinct = corner.copy()
    distinct[inner] = np.round(facing[inner] * 1e3).astype(np.int64)
    piece = np.repeat(triangles.piece, 3)
    name = hashed(piece * 2 + inner, joined, distinct)
    _, first, place = np.unique(name, return_index=True, return_inverse=True)
    made = place.reshape(-1, 3).astype(np.int32)
    proper = are_triangles(made)
    at = Mixture(corner[first], shares[first]).carried(rest) + offset[first]
    outside = ~inner[first]
    number, kept, of_piece = triangles.numbers(), made[proper], piece[first].astype(np.int32)
    middle, body_points = _middles(of_piece, kept, len(number), at)
    return Pattern(
        corners=np.take(corner, first, axis=0),
        shares=np.take(shares, first, axis=0),
        offset=np.take(offset, first, axis=0),
        facing=np.take(facing, first, axis=0),
        uv=np.where(inner[first][:, None], triangles.uv.reshape(-1, 2)[first], np.nan),
        piece=of_piece,
        faces=kept,
        origin=triangles.source[proper].astype(np.int32),
        joined=joined[first],
        number=number,
        middle=middle,
        body_points=body_points,
        touching=_touching(at[outside], piece[first][outside]),
        solid=np.array([solid]),
    )


MOST_TOUCHING = 16


def _touching(places: Reals, piece: Numbers) -> NDArray[np.int32]:
    """(p, 2) pairs of pieces with points of the surface at one place. places: (n, 3), piece: (n,) of such points."""
    size = max(float(np.ptp(places, axis=0).max(initial=0)), 1e-12) if len(places) else 1.0
    name = hashed(np.round(places / size * 1e5).astype(np.int64))
    order = np.argsort(name, kind="stable")
    name, piece = name[order], piece[order]
    count = int(piece.max(initial=0)) + 1
    pairs = [np.zeros(0, dtype=np.int64)]
    for step in range(1, min(MOST_TOUCHING, len(name))):
        same = np.flatnonzero(name[step:] == name[:-step])
        if len(same) == 0:
            break
        one, other = piece[same].astype(np.int64), piece[same + step].astype(np.int64)
        pairs.append((np.minimum(one, other) * count + np.maximum(one, other))[one != other])
    both = np.unique(np.concatenate(pairs))
    return np.stack([both // count, both % count], axis=1).astype(np.int32)


def _middles(piece: NDArray[np.int32], faces: NDArray[np.int32], count: int, places: Reals) -> tuple[Reals, Numbers]:
    """The middle of each of so many pieces (of its surface, by area) and points on the mesh that it moves with."""
    area = face_areas(places.astype(np.float32), faces) + 1e-18
    of_face = piece[faces[:, 0]] if len(faces) else np.zeros(0, dtype=np.int64)
    total = np.bincount(of_face, area, count).astype(np.float64)
    first, second, third = (np.take(places, faces[:, corner], axis=0) for corner in range(3))
    centres = (first + second + third) / 3
    middle = np.stack([np.bincount(of_face, area * centres[:, axis], count) for axis in range(3)], axis=1).astype(
        np.float64
    )
    middle /= np.maximum(total, 1e-18)[:, None]
    order = np.argsort(piece, kind="stable")
    starts = np.searchsorted(piece[order], np.arange(count + 1))
    held = np.maximum(np.diff(starts), 1)
    steps = np.minimum((np.arange(BODY_CORNERS) * held[:, None]) // BODY_CORNERS, held[:, None] - 1)
    chosen = order[np.minimum(starts[:-1, None] + steps, max(len(order) - 1, 0))] if len(order) else steps * 0
    return middle, chosen.astype(np.int64)


def broken(mesh: Mesh, found: Pattern) -> tuple[Mesh, Bodies]:
    """The mesh in the pieces of a pattern, and those pieces, each at its middle."""
    number = -1 - found.joined
    made = mesh.mixed(found.corners, found.shares, number)
    inner = ~np.isnan(found.facing[:, 0])
    normals = np.where(inner[:, None], np.nan_to_num(found.facing), made.normals).astype(np.float32)
    uv, offset = found.uv, found.offset
    laid = None if made.uv is None and not inner.any() else np.where(np.isnan(uv), _uv(made), uv).astype(np.float32)
    made = replace(
        made,
        points=made.points + offset.astype(np.float32),
        rest=made.rest + offset.astype(np.float32),
        normals=normals,
        uv=laid,
        faces=found.faces,
        origin=np.append(mesh.origins(), np.int32(-1))[found.origin],
        piece=found.piece,
    )
    return made, _bodies(made, found, inner)


def _uv(mesh: Mesh) -> Reals:
    return np.zeros((len(mesh.points), 2)) if mesh.uv is None else mesh.uv.astype(np.float64)


def _bodies(mesh: Mesh, found: Pattern, inner: NDArray[np.bool_]) -> Bodies:
    points, number, middle, piece = found.body_points, found.number, found.middle, found.piece
    count = len(number)
    shares = np.full(points.shape, 1 / points.shape[1])
    places = mesh.mixed(points, shares, number)
    # The middle lies off the points' mean by as much as it did at rest.
    shift = middle - places.rest
    middles = (places.points + shift).astype(np.float32)
    outside = mesh.faces[~inner[mesh.faces].any(axis=1)]
    a, b, c = (mesh.points[outside[:, corner]].astype(np.float64) for corner in range(3))
    facing = np.cross(b - a, c - a)
    of_face = piece[outside[:, 0]] if len(outside) else np.zeros(0, dtype=np.int64)
    normal = np.stack([np.bincount(of_face, facing[:, axis], count) for axis in range(3)], axis=1)
    length = np.linalg.norm(normal, axis=1, keepdims=True)
    normal = np.where(length > 1e-12, normal / np.maximum(length, 1e-300), [0.0, 1.0, 0.0])
    radius = np.zeros(count)
    np.maximum.at(radius, piece, np.linalg.norm(mesh.points - middles[piece], axis=1))
    places = replace(places, points=middles, rest=middle.astype(np.float32), normals=normal.astype(np.float32))
    turn = np.broadcast_to(NO_TURN.astype(np.float32), (count, 4)).copy()
    touching = found.touching
    sizes = np.ones((count, 3), dtype=np.float32)
    return Bodies(places, turn, sizes, radius.astype(np.float32), touching=touching)


def hashed(*columns: NDArray[np.integer]) -> NDArray[np.uint64]:
    """(n,) one number for the values of each row."""
    if len(columns[0]) == 0:
        return np.zeros(0, dtype=np.uint64)
    mixed = np.zeros(len(columns[0]), dtype=np.uint64)
    with np.errstate(over="ignore"):
        for column in columns:
            for values in column.reshape(len(column), -1).T:
                mixed = (mixed ^ values.astype(np.uint64)) * np.uint64(0x9E3779B97F4A7C15)
                mixed ^= mixed >> np.uint64(29)
    return mixed
