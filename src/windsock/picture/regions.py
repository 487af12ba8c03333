"""A part of a picture that is rendered by itself: it is laid into a coarser rendering of the whole, by which it is finished."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.opencv import opencv
from windsock.picture.layers import Identity, Layers
from windsock.picture.scene import Floats, Region

Shares = tuple[float, float, float, float]
"""A part of a picture: its left, top, right and bottom edges as shares of its width and height, from the top left."""

COARSE = 320
"""Pixels that the whole is at most wide where only a part is asked for."""


def in_pixels(shares: Shares, width: int, height: int) -> Region:
    """The pixels of a part of a picture of a size; at least one each way."""
    left, top = (min(int(share * side), side - 1) for share, side in zip(shares, (width, height), strict=False))
    right, bottom = (int(np.ceil(share * side)) for share, side in zip(shares[2:], (width, height), strict=True))
    return left, top, max(min(right, width), left + 1), max(min(bottom, height), top + 1)


def coarse_size(width: int, height: int) -> tuple[int, int]:
    """Pixels of the whole beside a part of a picture of a size."""
    wide = min(width, COARSE)
    return wide, max(round(height * wide / width), 1)


def laid_in(whole: Layers, part: Layers, region: Region, width: int, height: int) -> Layers:
    """A picture of a size with a part of it as that was rendered, and the rest from a rendering of the whole at another size."""
    left, top, right, bottom = region

    def joined(coarse: Floats, fine: Floats, smooth: bool = True) -> Floats:
        cv = opencv()
        way = cv.INTER_LINEAR if smooth else cv.INTER_NEAREST
        large = cv.resize(np.ascontiguousarray(coarse), (width, height), interpolation=way)
        large[top:bottom, left:right] = fine
        return large

    made = Layers(
        *(joined(getattr(whole, name), getattr(part, name)) for name in ("light", "opacity", "emission")),
        albedo=part.albedo,
        normal=part.normal,
        values={key: joined(whole.values[key], part.values[key]) for key in whole.values.keys() & part.values.keys()},
        measured=whole.measured & part.measured,
    )
    if whole.depths is not None and part.depths is not None:
        rays = min(len(whole.depths), len(part.depths))
        # Far and near are not mixed.
        made.depths = np.stack([joined(whole.depths[ray], part.depths[ray], smooth=False) for ray in range(rays)])
    if whole.identity is not None and part.identity is not None:
        made.identity = _joined_identity(whole.identity, part.identity, region, width, height)
    return made


def _joined_identity(whole: Identity, part: Identity, region: Region, width: int, height: int) -> Identity:
    left, top, right, bottom = region
    names = {name: place for place, name in enumerate(dict.fromkeys([*whole.named, *part.named]))}
    # Each pixel beside the part has what covers the pixel of the whole that lies there.
    rows = np.arange(height) * whole.size[0] // height
    columns = np.arange(width) * whole.size[1] // width
    beside = np.ones((height, width), dtype=bool)
    beside[top:bottom, left:right] = False
    wanted = (rows[:, None] * whole.size[1] + columns)[beside]
    order = np.argsort(whole.pixel, kind="stable")
    starts = np.searchsorted(whole.pixel[order], wanted)
    counts = np.searchsorted(whole.pixel[order], wanted, side="right") - starts
    firsts = np.cumsum(counts) - counts
    taken = order[np.arange(counts.sum()) - np.repeat(firsts, counts) + np.repeat(starts, counts)]
    own_row, own_column = np.divmod(part.pixel, part.size[1])
    return Identity(
        list(names),
        np.concatenate(
            [np.repeat(np.flatnonzero(beside.ravel()), counts), (own_row + top) * width + own_column + left]
        ),
        np.concatenate([_renamed(whole, names)[taken], _renamed(part, names)]),
        np.concatenate([whole.cover[taken], part.cover]),
        (height, width),
    )


def _renamed(identity: Identity, names: dict) -> NDArray[np.int64]:
    numbers = np.array([names[name] for name in identity.named], dtype=np.int64)
    return numbers[identity.name] if len(numbers) else identity.name
