"""Places that keep their distance: of candidates in order, each is taken that no taken one is too near to."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import Whole, compiled

Reals = NDArray[np.float64]


def spaced(places: Reals, spacing: float, most: int) -> NDArray[np.int64]:
    """Which of (n, 3) candidates are taken, in their order, at most so many.

    Every two that are taken are at least `spacing` metres apart (straight through space), and every candidate that is not
    taken has one within that. Dart throwing (R. L. Cook, "Stochastic sampling in computer graphics", 1986), the taken
    ones found in a grid of cubes of that size by a hash of the cube.
    """
    if len(places) == 0 or spacing <= 0:
        return np.arange(min(len(places), most))
    cubes = np.floor((places - places.min(axis=0)) / spacing).astype(np.int64)
    size = 1 << max(4, int(np.ceil(np.log2(len(places) + 1))))
    return _throw(np.ascontiguousarray(places), cubes, spacing * spacing, size - 1, most)


@compiled
def _slot(x: Whole, y: Whole, z: Whole, mask: int):  # pragma: no cover - compiled
    return (x * 73856093 ^ y * 19349663 ^ z * 83492791) & mask


@compiled
def _throw(
    places: NDArray[np.float64], cubes: NDArray[np.int64], least: float, mask: int, most: int
):  # pragma: no cover - compiled
    first = np.full(mask + 1, -1, np.int64)
    after = np.full(len(places), -1, np.int64)
    taken = np.empty(min(len(places), most), np.int64)
    count = 0
    for place in range(len(places)):
        if count == most:
            break
        x, y, z = cubes[place]
        free = True
        for dx in range(-1, 2):
            for dy in range(-1, 2):
                for dz in range(-1, 2):
                    other = first[_slot(x + dx, y + dy, z + dz, mask)]
                    while other >= 0:
                        a = places[place, 0] - places[other, 0]
                        b = places[place, 1] - places[other, 1]
                        c = places[place, 2] - places[other, 2]
                        if a * a + b * b + c * c < least:
                            free = False
                            break
                        other = after[other]
                    if not free:
                        break
                if not free:
                    break
            if not free:
                break
        if free:
            slot = _slot(x, y, z, mask)
            after[place] = first[slot]
            first[slot] = place
            taken[count] = place
            count += 1
    return taken[:count].copy()


def filled(corners: Reals, taken: Reals, spacing: float, most: int) -> tuple[NDArray[np.int64], Reals]:
    """Places on triangles that are still free of taken ones: (k,) which triangle, and (k, 3) the shares of its corners.

    corners: (t, 3, 3), taken: (n, 3) metres. A triangle is done with where one taken place covers all of it, or when it is
    small; else its middle is taken if that is free, and it is split in four. So no hole is left that is larger than the
    spacing and a few hundredths (compare D.-M. Yan and P. Wonka, "Gap processing for adaptive maximal Poisson-disk
    sampling", 2013).
    """
    low = corners.reshape(-1, 3).min(axis=0) if len(corners) else np.zeros(3)
    return _fill(np.ascontiguousarray(corners), np.ascontiguousarray(taken), low, spacing, most)


SMALLEST = 0.12
"""Edges of the triangles that are not split any more, in spacings."""


@compiled
def _fill(
    corners: NDArray[np.float64], taken: NDArray[np.float64], low: NDArray[np.float64], spacing: float, most: int
):  # pragma: no cover - compiled
    room = max(1024, 2 * len(taken))
    mask = 1
    while mask < 4 * room:
        mask *= 2
    mask -= 1
    first, after = np.full(mask + 1, -1, np.int64), np.full(room, -1, np.int64)
    places = np.empty((room, 3))
    count = 0
    for one in range(len(taken)):
        places[count] = taken[one]
        slot = _slot_of(taken[one], low, spacing, mask)
        after[count] = first[slot]
        first[slot] = count
        count += 1
    begun = count
    which, shares = np.empty(room, np.int64), np.empty((room, 3))
    large, stack = np.empty((128, 3, 3)), np.empty((128, 3, 3))
    near, part = np.empty((256, 3)), np.empty((3, 3))
    least = spacing * spacing
    for t in range(len(corners)):
        large[0] = np.eye(3)
        many = 1
        while many > 0 and count < most:
            many -= 1
            _part(large[many], corners[t], part)
            if _longest(part) > least and many + 4 <= len(large):
                _split(large, many)
                many += 4
                continue
            # All that can come near to any part of a triangle no longer than a spacing is looked up once.
            known = _gather(part, places, first, after, low, spacing, mask, near)
            stack[0] = large[many]
            height = 1
            while height > 0 and count < most:
                height -= 1
                share = stack[height]
                _part(share, corners[t], part)
                free, covered = _look(part, near, known, least)
                if covered:
                    continue
                if free and known < len(near):
                    if count == room:
                        room *= 2
                        after, places = _longer1(after, room), _longer2(places, room)
                        which, shares = _longer1(which, room), _longer2(shares, room)
                    which[count] = t
                    for axis in range(3):
                        shares[count, axis] = (share[0, axis] + share[1, axis] + share[2, axis]) / 3
                        places[count, axis] = (part[0, axis] + part[1, axis] + part[2, axis]) / 3
                        near[known, axis] = places[count, axis]
                    known += 1
                    slot = _slot_of(places[count], low, spacing, mask)
                    after[count] = first[slot]
                    first[slot] = count
                    count += 1
                if _longest(part) > SMALLEST * SMALLEST * least and height + 4 <= len(stack):
                    _split(stack, height)
                    height += 4
    return which[begun:count].copy(), shares[begun:count].copy()


@compiled
def _part(
    share: NDArray[np.float64], triangle: NDArray[np.float64], part: NDArray[np.float64]
):  # pragma: no cover - compiled
    for corner in range(3):
        for axis in range(3):
            part[corner, axis] = (
                share[corner, 0] * triangle[0, axis]
                + share[corner, 1] * triangle[1, axis]
                + share[corner, 2] * triangle[2, axis]
            )


@compiled
def _longest(part: NDArray[np.float64]):  # pragma: no cover - compiled
    """The square of the longest edge of a triangle."""
    best = 0.0
    for one in range(3):
        other = (one + 1) % 3
        length = 0.0
        for axis in range(3):
            length += (part[one, axis] - part[other, axis]) ** 2
        best = max(best, length)
    return best


@compiled
def _split(stack: NDArray[np.float64], place: int):  # pragma: no cover - compiled
    """The part at a place of a stack replaced by its four quarters, from there on."""
    share = stack[place].copy()
    for axis in range(3):
        a, b, c = share[0, axis], share[1, axis], share[2, axis]
        ab, bc, ca = (a + b) / 2, (b + c) / 2, (c + a) / 2
        stack[place, 0, axis], stack[place, 1, axis], stack[place, 2, axis] = a, ab, ca
        stack[place + 1, 0, axis], stack[place + 1, 1, axis], stack[place + 1, 2, axis] = ab, b, bc
        stack[place + 2, 0, axis], stack[place + 2, 1, axis], stack[place + 2, 2, axis] = ca, bc, c
        stack[place + 3, 0, axis], stack[place + 3, 1, axis], stack[place + 3, 2, axis] = ab, bc, ca


@compiled
def _longer1(values: NDArray[np.int64], room: int):  # pragma: no cover - compiled
    more = np.full(room, -1, np.int64)
    more[: len(values)] = values
    return more


@compiled
def _longer2(values: NDArray[np.float64], room: int):  # pragma: no cover - compiled
    more = np.empty((room, 3))
    more[: len(values)] = values
    return more


@compiled
def _slot_of(
    place: NDArray[np.float64], low: NDArray[np.float64], spacing: float, mask: int
):  # pragma: no cover - compiled
    x = np.int64(np.floor((place[0] - low[0]) / spacing))
    y = np.int64(np.floor((place[1] - low[1]) / spacing))
    z = np.int64(np.floor((place[2] - low[2]) / spacing))
    return _slot(x, y, z, mask)


@compiled
def _gather(
    part: NDArray[np.float64],
    places: NDArray[np.float64],
    first: NDArray[np.int64],
    after: NDArray[np.int64],
    low: NDArray[np.float64],
    spacing: float,
    mask: int,
    near: NDArray[np.float64],
):  # pragma: no cover - compiled
    """How many taken places are within a spacing of any part of a triangle whose edges are no longer; they are in `near`."""
    mx = (part[0, 0] + part[1, 0] + part[2, 0]) / 3
    my = (part[0, 1] + part[1, 1] + part[2, 1]) / 3
    mz = (part[0, 2] + part[1, 2] + part[2, 2]) / 3
    x = np.int64(np.floor((mx - low[0]) / spacing))
    y = np.int64(np.floor((my - low[1]) / spacing))
    z = np.int64(np.floor((mz - low[2]) / spacing))
    reach = (1.6 * spacing) ** 2
    count = 0
    for dx in range(-2, 3):
        for dy in range(-2, 3):
            for dz in range(-2, 3):
                other = first[_slot(x + dx, y + dy, z + dz, mask)]
                while other >= 0:
                    a, b, c = places[other, 0] - mx, places[other, 1] - my, places[other, 2] - mz
                    if a * a + b * b + c * c < reach and count < len(near):
                        near[count, 0], near[count, 1], near[count, 2] = a + mx, b + my, c + mz
                        count += 1
                    other = after[other]
    return count


@compiled
def _look(
    part: NDArray[np.float64], near: NDArray[np.float64], known: int, least: float
):  # pragma: no cover - compiled
    """Whether no place is within the spacing of the middle, and whether one is within it of all three corners."""
    mx = (part[0, 0] + part[1, 0] + part[2, 0]) / 3
    my = (part[0, 1] + part[1, 1] + part[2, 1]) / 3
    mz = (part[0, 2] + part[1, 2] + part[2, 2]) / 3
    free = True
    for one in range(known):
        a, b, c = near[one, 0] - mx, near[one, 1] - my, near[one, 2] - mz
        if a * a + b * b + c * c >= least:
            continue
        free = False
        within = True
        for corner in range(3):
            u, v, w = near[one, 0] - part[corner, 0], near[one, 1] - part[corner, 1], near[one, 2] - part[corner, 2]
            if u * u + v * v + w * w >= least:
                within = False
                break
        if within:
            return False, True
    return free, False
