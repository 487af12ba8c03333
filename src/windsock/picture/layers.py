"""What was rendered of a frame: pictures as arrays in linear light, from the top."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from windsock.picture.scene import Floats


class Named(NamedTuple):
    """What a surface is of: the item, the part, and the piece, -1 for what is whole."""

    item: str
    part: str
    piece: int


@dataclass(frozen=True, eq=False)
class Identity:
    """What covers the pixels. named: all that does; pixel, name, cover: (k,) which pixel is covered by which of those, and how far, 0..1;
    once for each pair. size: the height and width of the picture."""

    named: list[Named]
    pixel: NDArray[np.int64]
    name: NDArray[np.int64]
    cover: Floats
    size: tuple[int, int]

    def covered(self, which: Sequence[int]) -> Floats:
        """(height, width) how far some of the named cover each pixel together."""
        own = np.isin(self.name, which)
        height, width = self.size
        total = np.bincount(self.pixel[own], self.cover[own], height * width)
        return np.minimum(total, 1).reshape(height, width).astype(np.float32)

    @property
    def bytes(self) -> int:
        """What it takes in memory."""
        return self.pixel.nbytes + self.name.nbytes + self.cover.nbytes


@dataclass(eq=False)
class Layers:
    """light: (height, width, 3), all that is seen. opacity: (height, width). emission, albedo, normal (of the world, facing the
    camera): (height, width, 3). position: (height, width, 3) world metres, and depth: (height, width) metres along the lens, at the middles of the pixels, 0 for nothing.
    motion: (height, width, 2) pixels to the right and up to where what is there, and what is behind all, is one frame later.
    identity: for mattes. depths: (rays, height, width) metres along the lens to what rays of each pixel meet, infinite for nothing.
    These only where they were asked for. values: (height, width) of each field that was measured, times how far what it was
    measured on covers; measured: all fields that were asked for."""

    light: Floats
    opacity: Floats
    emission: Floats
    albedo: Floats
    normal: Floats
    position: Floats | None = None
    depth: Floats | None = None
    motion: Floats | None = None
    identity: Identity | None = None
    depths: Floats | None = None
    values: dict[str, Floats] = field(default_factory=dict[str, Floats])
    measured: frozenset[str] = frozenset()

    def arrays(self) -> dict[str, NDArray[Any]]:
        """All that finishing goes by, as plain arrays."""
        held: dict[str, NDArray[Any]] = {"light": self.light, "opacity": self.opacity, "emission": self.emission}
        told: dict[str, Any] = {"measured": sorted(self.measured)}
        if self.depths is not None:
            held["depths"] = self.depths
        if self.identity is not None:
            held |= {name: getattr(self.identity, name) for name in ("pixel", "name", "cover")}
            told["named"] = self.identity.named
        held |= {f"values {name}": values for name, values in self.values.items()}
        return held | {"told": np.frombuffer(json.dumps(told).encode(), dtype=np.uint8)}

    @classmethod
    def of_arrays(cls, held: Mapping[str, NDArray[Any]]) -> Layers:
        """What `arrays` gave. What only passes are made from is not there."""
        told, light = json.loads(held["told"].tobytes()), held["light"]
        none = np.zeros_like(light)
        made = cls(light, held["opacity"], held["emission"], none, none, depths=held.get("depths"))
        made.measured = frozenset(told["measured"])
        made.values = {key.removeprefix("values "): held[key] for key in held if key.startswith("values ")}
        if "named" in told:
            named = [Named(*one) for one in told["named"]]
            height, width = light.shape[:2]
            made.identity = Identity(named, held["pixel"], held["name"], held["cover"], (height, width))
        return made

    @property
    def bytes(self) -> int:
        """What it takes in memory."""
        own = [value for value in vars(self).values() if isinstance(value, np.ndarray)]
        named = 0 if self.identity is None else self.identity.bytes
        return named + sum(one.nbytes for one in (*own, *self.values.values()))
