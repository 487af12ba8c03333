"""Where a function crosses zero on the edges of a mesh, and the faces that are left when one side is dropped."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled
from windsock.core.kernels.distinct import distinct_pairs

Places = NDArray[np.int64]
Reals = NDArray[np.float64]


@dataclass(frozen=True)
class Split:
    """Faces after a cut. Indices from n on are the points to add: point n + e lies on edge e.

    faces: (m, 3), the first `untouched` of them as they were before. first, second: (k,) the points at the ends of each split
    edge; the first has the lower number. of: (m,) which of the faces before each is a part of.
    """

    faces: NDArray[np.int32]
    first: Places
    second: Places
    untouched: int
    of: Places


def split_faces(faces: NDArray[np.int32], drop: NDArray[np.bool_], number: Places) -> Split:
    """Cut (m, 3) faces between kept and dropped points and leave out what is dropped.

    drop: (n,) which points go. number: (n,) orders the ends of an edge, so that edges that coincide along a seam are
    split by the same arithmetic at the same place. Winding is kept.
    """
    untouched, lone_dropped, lone_kept, untouched_of, gone_of, left_of = _parted(faces, drop)
    crossing = np.concatenate([lone_dropped[:, [0, 1, 0, 2]], lone_kept[:, [0, 1, 0, 2]]]).reshape(-1, 2)
    first, second, edge = _distinct_edges(crossing, number)
    added = (len(drop) + edge.reshape(-1, 2)).astype(np.int32)
    to_second, to_third = added[:, 0], added[:, 1]
    gone, left = slice(0, len(lone_dropped)), slice(len(lone_dropped), None)
    parts = [
        untouched,
        np.stack([to_second[gone], lone_dropped[:, 1], lone_dropped[:, 2]], axis=1),
        np.stack([to_second[gone], lone_dropped[:, 2], to_third[gone]], axis=1),
        np.stack([lone_kept[:, 0], to_second[left], to_third[left]], axis=1),
    ]
    of = np.concatenate([untouched_of, gone_of, gone_of, left_of])
    return Split(np.concatenate(parts).astype(np.int32), first, second, len(untouched), of)


def crossed_faces(faces: NDArray[np.int32], above: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """(m,) whether some corners of each face are above, (n,), and some are not."""
    made = np.empty(len(faces), dtype=np.bool_)
    _crossed(faces, above, made)
    return made


@compiled
def _crossed(
    faces: NDArray[np.int32], above: NDArray[np.bool_], made: NDArray[np.bool_]
):  # pragma: no cover - compiled
    for face in range(len(faces)):
        first = above[faces[face, 0]]
        made[face] = above[faces[face, 1]] != first or above[faces[face, 2]] != first


@compiled
def _parted(faces: NDArray[np.int32], drop: NDArray[np.bool_]):  # pragma: no cover - compiled
    """The faces of which nothing is dropped, one corner, or two, and which each was; the corner that is alone comes first."""
    counts = np.zeros(4, dtype=np.int64)
    for face in range(len(faces)):
        counts[int(drop[faces[face, 0]]) + int(drop[faces[face, 1]]) + int(drop[faces[face, 2]])] += 1
    untouched, untouched_of = np.empty((counts[0], 3), dtype=np.int32), np.empty(counts[0], dtype=np.int64)
    gone, gone_of = np.empty((counts[1], 3), dtype=np.int32), np.empty(counts[1], dtype=np.int64)
    left, left_of = np.empty((counts[2], 3), dtype=np.int32), np.empty(counts[2], dtype=np.int64)
    at = np.zeros(3, dtype=np.int64)
    for face in range(len(faces)):
        a, b, c = faces[face, 0], faces[face, 1], faces[face, 2]
        count = int(drop[a]) + int(drop[b]) + int(drop[c])
        if count == 3:
            continue
        place = at[count]
        at[count] += 1
        lone = count == 1
        if count > 0 and drop[b] == lone and drop[a] != lone and drop[c] != lone:
            a, b, c = b, c, a
        elif count > 0 and drop[c] == lone and drop[a] != lone and drop[b] != lone:
            a, b, c = c, a, b
        if count == 0:
            untouched[place, 0], untouched[place, 1], untouched[place, 2], untouched_of[place] = a, b, c, face
        elif count == 1:
            gone[place, 0], gone[place, 1], gone[place, 2], gone_of[place] = a, b, c, face
        else:
            left[place, 0], left[place, 1], left[place, 2], left_of[place] = a, b, c, face
    return untouched, gone, left, untouched_of, gone_of, left_of


def _distinct_edges(ends: NDArray[np.int32], number: Places) -> tuple[Places, Places, Places]:
    one, other = ends[:, 0].astype(np.int64), ends[:, 1].astype(np.int64)
    swap = number[one] > number[other]
    first, second = np.where(swap, other, one), np.where(swap, one, other)
    one_of, edge, _ = distinct_pairs(first, second, len(number))
    return first[one_of], second[one_of], edge


def crossing_shares(
    at_first: Reals,
    at_second: Reals,
    evaluate: Callable[[Places, Reals], Reals],
    tolerance: float = 1e-6,
    rounds: int = 48,
) -> Reals:
    """(k,) share of the way along each edge at which the function is zero.

    at_first, at_second: (k,) its values at the ends, of opposite sign or zero. evaluate: given (j,) indices of edges
    and (j,) shares, the (j,) values there; edges that are found are not asked for again.
    Method: T. R. Chandrupatla, "A new hybrid quadratic/bisection algorithm for finding the zero of a nonlinear function
    without using derivatives", 1997: inverse quadratic interpolation where it is safe, else bisection, so that steps in
    the function are found too. The first guess is the straight line's.
    """
    share = np.where(np.abs(at_first) <= np.abs(at_second), 0.0, 1.0)
    active = np.arange(len(at_first))
    a, b = np.zeros(len(active)), np.ones(len(active))
    fa, fb = at_first.astype(np.float64), at_second.astype(np.float64)
    slope = fa - fb
    t = np.clip(fa / np.where(slope == 0, 1, slope), 0.001, 0.999)
    for _ in range(rounds):
        x = a + t * (b - a)
        fx = evaluate(active, x)
        share[active] = x
        same = (fx >= 0) == (fa >= 0)
        c, fc = np.where(same, a, b), np.where(same, fa, fb)
        b, fb = np.where(same, b, a), np.where(same, fb, fa)
        a, fa = x, fx
        open_ = (np.abs(fx) >= tolerance) & (np.abs(b - a) >= 1e-9)
        if not open_.any():
            break
        active = active[open_]
        a, b, c, fa, fb, fc = (values[open_] for values in (a, b, c, fa, fb, fc))
        t = _next_share(a, b, c, fa, fb, fc)
    return share


def _next_share(a: Reals, b: Reals, c: Reals, fa: Reals, fb: Reals, fc: Reals) -> Reals:
    """Where between a and b to look next, given the point c before them: by a parabola where that is safe, else midway."""
    with np.errstate(divide="ignore", invalid="ignore"):
        xi, phi = (a - b) / (c - b), (fa - fb) / (fc - fb)
        curved = fa / (fb - fa) * fc / (fb - fc) + (c - a) / (b - a) * fa / (fc - fa) * fb / (fc - fb)
        safe = (phi * phi < xi) & ((1 - phi) ** 2 < 1 - xi) & np.isfinite(curved)
    margin = np.minimum(0.5, 1e-9 / np.abs(b - a))
    return np.clip(np.where(safe, curved, 0.5), margin, 1 - margin)
