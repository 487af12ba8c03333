"""Few keys for many samples: what goes straight from key to key stays as near to all of them as is asked for."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Reals = NDArray[np.float64]
Numbers = NDArray[np.int64]
Away = Callable[[Reals, Reals], Reals]
"""(k,) how far (k, m) values are from (k, m) others."""


def thinned(times: Reals, values: Reals, within: float, away: Away, most: int) -> Numbers | None:
    """(k,) which of (n, m) samples at (n,) growing times to keep, the first and the last among them; None where it takes more than
    `most`.

    Method: D. H. Douglas and T. K. Peucker, "Algorithms for the reduction of the number of points required to represent a digitized
    line or its caricature" (1973), with what is gone straight to at the same moment in place of the nearest place of a line
    (N. Meratnia and R. A. de By, "Spatiotemporal compression techniques for moving point objects", 2004).
    """
    kept, waiting = {0, len(times) - 1}, [(0, len(times) - 1)]
    while waiting:
        first, last = waiting.pop()
        if last - first < 2:
            continue
        between = slice(first + 1, last)
        ends = np.array([first, last])
        off = away(straight(times[ends], values[ends], times[between]), values[between])
        worst = int(np.argmax(off))
        if off[worst] > within:
            middle = first + 1 + worst
            kept.add(middle)
            if len(kept) > most:
                return None
            waiting += [(first, middle), (middle, last)]
    return np.array(sorted(kept))


def straight(times: Reals, values: Reals, asked: Reals) -> Reals:
    """(k, m) at (k,) times what goes straight from each of (n, m) values at (n,) growing times to the next."""
    out = np.empty((len(asked), values.shape[1]))
    for column in range(values.shape[1]):
        out[:, column] = np.interp(asked, times, values[:, column])
    return out
