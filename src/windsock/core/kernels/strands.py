"""What has travelled, as strands: how far it had come at each look, and the part of its way between two moments in even steps."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Floats = NDArray[np.float32]
Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]


def carried_frames(places: Floats) -> tuple[Floats, Floats]:
    """(t, k) metres that each of k things has come until each look, and (t, k, 3) a direction across its way that turns no more about it
    than it must.

    places: (t, k, 3). Method: W. Wang, B. Juettler, D. Zheng, Y. Liu, "Computation of rotation minimizing frames" (2008), by double
    reflection; where it stands the direction stays.
    """
    come, across = np.zeros(places.shape[:2], dtype=np.float32), np.zeros(places.shape, dtype=np.float32)
    _frames(places, come, across)
    return come, across


def strands(
    places: Floats, come: Floats, across: Floats, first: float, last: float, step: float
) -> tuple[Reals, Reals, Reals, Reals, Numbers, Numbers]:
    """The ways of k things between two looks (fractions allowed), the older end first, in even steps of their length.

    The steps are counted from where each began, so that they do not slide along the way as time goes on. Gives (n, 3) places, (n, 3)
    directions ahead and (n, 3) across, (n,) the share of the time, 1 at the last; (n,) which step from the start each is, -1 and -2 for
    the two ends; and (k + 1,) where each strand begins. One that has come nowhere has no points.
    """
    counts = np.zeros(places.shape[1], dtype=np.int64)
    none = np.zeros((0, 3))
    _walk(places, come, across, first, last, step, counts, counts, none, none, none, none[:, 0], counts[:0], False)
    starts = np.concatenate([[0], np.cumsum(counts)])
    total = int(starts[-1])
    made, ahead, side = np.zeros((total, 3)), np.zeros((total, 3)), np.zeros((total, 3))
    share, number = np.zeros(total), np.zeros(total, dtype=np.int64)
    _walk(places, come, across, first, last, step, counts, starts, made, ahead, side, share, number, True)
    return made, ahead, side, share, number, starts


@compiled
def _frames(places: Floats, come: Floats, across: Floats):  # pragma: no cover - compiled
    for thing in range(places.shape[1]):
        ahead = np.zeros(3)
        up = np.zeros(3)
        begun = False
        for look in range(1, places.shape[0]):
            step = np.zeros(3)
            length = 0.0
            for axis in range(3):
                step[axis] = places[look, thing, axis] - places[look - 1, thing, axis]
                length += step[axis] ** 2
            length = np.sqrt(length)
            come[look, thing] = come[look - 1, thing] + (length if length < np.inf else 0.0)
            if length > 1e-9 and length < np.inf:
                way = step / length
                if not begun:
                    helper = np.array([0.0, 1.0, 0.0]) if abs(way[1]) < 0.95 else np.array([1.0, 0.0, 0.0])
                    up = helper - way * (helper @ way)
                    up /= np.sqrt(up @ up)
                    begun = True
                    for earlier in range(look):
                        for axis in range(3):
                            across[earlier, thing, axis] = up[axis]
                else:
                    # Over two equal steps the first reflection is that along the step itself.
                    turned = up - 2 * (way @ up) * way
                    carried = ahead - 2 * (way @ ahead) * way
                    left = way - carried
                    square = left @ left
                    if square > 1e-18:
                        turned = turned - 2 / square * (left @ turned) * left
                    up = turned - way * (way @ turned)
                    up /= max(np.sqrt(up @ up), 1e-12)
                ahead = way
            for axis in range(3):
                across[look, thing, axis] = up[axis]


@compiled
def _between(values: Floats, thing: int, look: float, made: Reals):  # pragma: no cover - compiled
    low = min(int(np.floor(look)), values.shape[0] - 1)
    high = min(low + 1, values.shape[0] - 1)
    share = look - low
    for axis in range(3):
        a, b = float(values[low, thing, axis]), float(values[high, thing, axis])
        made[axis] = a + (b - a) * share if share > 0 else a


@compiled
def _come(come: Floats, thing: int, look: float) -> float:  # pragma: no cover - compiled
    low = min(int(np.floor(look)), come.shape[0] - 1)
    high = min(low + 1, come.shape[0] - 1)
    return float(come[low, thing]) + (float(come[high, thing]) - float(come[low, thing])) * (look - low)


@compiled
def _walk(
    places: Floats,
    come: Floats,
    across: Floats,
    first: float,
    last: float,
    step: float,
    counts: Numbers,
    starts: Numbers,
    made: Reals,
    ahead: Reals,
    side: Reals,
    share: Reals,
    number: Numbers,
    writes: bool,
):  # pragma: no cover - compiled
    lasts = max(last - first, 1e-9)
    for thing in range(places.shape[1]):
        begin = first
        # What is not there yet has no way; it begins with the first look at which it is.
        low = int(np.floor(begin))
        while low < last and not np.isfinite(places[low, thing, 0]):
            low += 1
            begin = float(low)
        start, end = _come(come, thing, begin), _come(come, thing, last)
        if not end - start > 1e-6 or not np.isfinite(places[min(int(np.ceil(last)), len(places) - 1), thing, 0]):
            continue
        one = int(np.floor(start / step)) + 1
        other = int(np.ceil(end / step)) - 1
        if not writes:
            counts[thing] = max(other - one + 1, 0) + 2
            continue
        at = starts[thing]
        look = low
        for turn in range(max(other - one + 1, 0) + 2):
            if turn == 0:
                when, which = begin, -1
            elif turn == max(other - one + 1, 0) + 1:
                when, which = last, -2
            else:
                which = one + turn - 1
                wanted = which * step
                while look + 1 < len(come) - 1 and come[look + 1, thing] < wanted:
                    look += 1
                gone = float(come[look + 1, thing]) - float(come[look, thing])
                when = look + ((wanted - float(come[look, thing])) / gone if gone > 0 else 0.0)
                when = min(max(when, begin), last)
            _between(places, thing, when, made[at])
            _between(across, thing, when, side[at])
            share[at] = (when - first) / lasts
            number[at] = which
            at += 1
        for row in range(starts[thing], at):
            before, after = max(row - 1, starts[thing]), min(row + 1, at - 1)
            length = 0.0
            for axis in range(3):
                ahead[row, axis] = made[after, axis] - made[before, axis]
                length += ahead[row, axis] ** 2
            length = max(np.sqrt(length), 1e-12)
            inside = 0.0
            for axis in range(3):
                ahead[row, axis] /= length
                inside += side[row, axis] * ahead[row, axis]
            length = 0.0
            for axis in range(3):
                side[row, axis] -= inside * ahead[row, axis]
                length += side[row, axis] ** 2
            for axis in range(3):
                side[row, axis] /= max(np.sqrt(length), 1e-12)
