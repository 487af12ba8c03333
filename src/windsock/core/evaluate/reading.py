"""What a field does to a subject at a moment, as shares of its surface."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.fields.zones import Band

BINS = 48


@dataclass(frozen=True)
class Coverage:
    """Shares of the subject, by area, that are inside, in the band and outside; they sum to 1 (to 0 with no area)."""

    inside: float
    band: float
    outside: float


@dataclass(frozen=True)
class Reading:
    """A field as one listener gets it: its id, the coverage, a histogram of shares over 0..1, and the mean width of the
    band in values."""

    field: str
    coverage: Coverage
    histogram: tuple[float, ...]
    band: float

    @property
    def nbytes(self) -> int:
        return 8 * (len(self.histogram) + 8)


MOST_READ = 20_000
"""Of more elements than this about so many are read, evenly: what is told of them is seen as a picture."""


def read(field: str, values: NDArray[np.float64], areas: NDArray[np.float64], level: float, band: Band) -> Reading:
    """A field as one listener gets it, at (n,) elements."""
    every = max(1, len(values) // MOST_READ)
    some = slice(None, None, every)
    near = band[some] if isinstance(band, np.ndarray) else band
    coverage = read_coverage(values[some], areas[some], level, near)
    width = float(np.mean(near)) if len(values) else 0.0
    return Reading(field, coverage, read_histogram(values[some], areas[some]), width)


def read_coverage(values: NDArray[np.float64], areas: NDArray[np.float64], level: float, band: Band) -> Coverage:
    """values, areas: (n,); band: in values. It reaches half its width to either side of the level."""
    total = areas.sum()
    if total <= 0:
        return Coverage(0.0, 0.0, 0.0)
    over = values >= level + band / 2
    under = values < level - band / 2
    inside, band_share, outside = (float(areas @ mask / total) for mask in (over, ~(over | under), under))
    return Coverage(inside, band_share, outside)


def read_histogram(values: NDArray[np.float64], areas: NDArray[np.float64]) -> tuple[float, ...]:
    """(BINS,) the share of the area in each of the equal intervals of 0..1."""
    # numpy's own histogram takes several times as long to come to the same.
    within = (values >= 0) & (values <= 1)
    place = np.minimum((np.where(within, values, 0.0) * BINS).astype(np.int64), BINS - 1)
    counts = np.bincount(place, np.where(within, areas, 0.0), BINS)
    total = counts.sum()
    return tuple((counts / total).round(6).tolist()) if total > 0 else (0.0,) * BINS
