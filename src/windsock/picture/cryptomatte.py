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
    each of the surfaces of the identity; surfaces with the same name are one."""
    unique = sorted(set(names))
    _, height, width = identity.covered.shape
    pixels = height * width
    place = np.arange(pixels)
    covered = np.zeros((pixels, len(unique)), dtype=np.float32)
    for number, name in enumerate(names):
        covered[:, unique.index(name)] += identity.covered[number].ravel()
    ranks = min(RANKS, len(unique))
    best = np.argsort(-covered, axis=1, kind="stable")[:, :ranks]
    hashes = np.array([hash_of(name) for name in unique], dtype=np.uint32)
    channels: dict[str, Floats] = {}
    for rank in range(RANKS):
        ids, cover = np.zeros(pixels, dtype=np.uint32), np.zeros(pixels, dtype=np.float32)
        if rank < ranks:
            cover = np.minimum(covered[place, best[:, rank]], 1)
            ids = np.where(cover > 0, hashes[best[:, rank]], np.uint32(0)).astype(np.uint32)
        name, value = ("R", "G") if rank % 2 == 0 else ("B", "A")
        channels[f"{rank // 2:02d}.{name}"] = ids.view(np.float32).reshape(height, width)
        channels[f"{rank // 2:02d}.{value}"] = cover.reshape(height, width)
    return channels, {name: f"{hashes[number]:08x}" for number, name in enumerate(unique)}


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
