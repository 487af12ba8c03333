"""Mattes of items and parts, as the open specification Cryptomatte 1.2.0 (J. Friedman, A. C. Jones, 2015) has them: the hash
of a name as a 32-bit float, and how much of the pixel it covers, ranked by that."""

from __future__ import annotations

import json
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from windsock.picture.layers import Identity
from windsock.picture.scene import Floats

RANKS = 6
"""Names that a pixel holds at most; two go into one set of four channels."""


def hash_of(name: str) -> np.uint32:
    """The 32-bit hash of a name (MurmurHash3 x86), with an exponent that is neither 0 nor 255, so that it is a number."""
    import mmh3  # it is there only where pictures are made

    found = mmh3.hash(name, 0, signed=False)
    if (found >> 23) & 255 in (0, 255):
        found ^= 1 << 23
    return np.uint32(found)


def matte(identity: Identity, names: Sequence[str]) -> tuple[dict[str, Floats], dict[str, str]]:
    """The channels by their endings ("00.R" …), each (height, width), and what its names are by their hashes. names: one for
    each of the named of the identity; those with the same name are one."""
    unique = sorted(set(names))
    number = {name: place for place, name in enumerate(unique)}
    owner = np.array([number[name] for name in names], dtype=np.int64)[identity.name]
    pairs, which = np.unique(identity.pixel * max(len(unique), 1) + owner, return_inverse=True)
    cover = np.minimum(np.bincount(which.ravel(), identity.cover, len(pairs)), 1).astype(np.float32)
    pixel, owner = np.divmod(pairs, max(len(unique), 1))
    order = np.lexsort((owner, -cover, pixel))
    pixel, owner, cover = pixel[order], owner[order], cover[order]
    # The place of each among those of its pixel.
    rank = np.arange(len(pixel)) - np.searchsorted(pixel, pixel)
    height, width = identity.size
    hashes = np.array([hash_of(name) for name in unique], dtype=np.uint32)
    channels: dict[str, Floats] = {}
    for place in range(RANKS):
        here = (rank == place) & (cover > 0)
        ids, covered = np.zeros(height * width, dtype=np.uint32), np.zeros(height * width, dtype=np.float32)
        ids[pixel[here]], covered[pixel[here]] = hashes[owner[here]], cover[here]
        name, value = ("R", "G") if place % 2 == 0 else ("B", "A")
        channels[f"{place // 2:02d}.{name}"] = ids.view(np.float32).reshape(height, width)
        channels[f"{place // 2:02d}.{value}"] = covered.reshape(height, width)
    return channels, {name: f"{hashes[place]:08x}" for place, name in enumerate(unique)}


def metadata(layer: str, manifest: dict[str, str]) -> dict[str, str]:
    """What the head of a file says of a matte by the name of its channels."""
    key = f"cryptomatte/{hash_of(layer):08x}"[:19]
    return {
        f"{key}/name": layer,
        f"{key}/hash": "MurmurHash3_32",
        f"{key}/conversion": "uint32_to_float32",
        f"{key}/manifest": json.dumps(manifest, ensure_ascii=False, separators=(",", ":")),
    }


def selected(channels: dict[str, NDArray[np.float32]], name: str) -> Floats:
    """(height, width) how much of each pixel a name covers, from the channels of a matte."""
    wanted = hash_of(name)
    found: Floats | None = None
    for rank in range(RANKS):
        ids, value = ("R", "G") if rank % 2 == 0 else ("B", "A")
        here = channels[f"{rank // 2:02d}.{ids}"].view(np.uint32) == wanted
        part = np.where(here, channels[f"{rank // 2:02d}.{value}"], np.float32(0))
        found = part if found is None else found + part
    assert found is not None
    return found
