"""What rays through the pixels of a picture meet, and what is to be read there."""

from __future__ import annotations

from dataclasses import dataclass, fields
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.pictures import sampled
from windsock.picture.scene import Floats, Scene

Reals = NDArray[np.float64]


@dataclass(eq=False)
class Hits:
    """For each of n rays: which surface (-1 for none), which of its faces, where in that (n, 2) (the weights of its second
    and third corner), how far along the ray, and the ray, (n, 3) each."""

    surface: NDArray[np.int64]
    face: NDArray[np.int64]
    within: Reals
    distance: Reals
    origins: Reals
    towards: Reals

    @property
    def met(self) -> NDArray[np.bool_]:
        return self.surface >= 0

    @property
    def places(self) -> Reals:
        """(n, 3) where they meet something; where they do not, the origin of the ray."""
        return self.origins + self.towards * np.where(self.met, self.distance, 0)[:, None]

    def depth(self, lens: Reals) -> Reals:
        """(n,) metres along the axis of a lens, (4, 4) to the world; 0 where nothing is met."""
        axis = -lens[:3, 2] / np.linalg.norm(lens[:3, 2])
        return np.where(self.met, (self.places - lens[:3, 3]) @ axis, 0)

    def taken(self, which: NDArray[np.integer]) -> Hits:
        """Those of some of the rays."""
        return Hits(*(getattr(self, one.name)[which] for one in fields(self)))

    @cached_property
    def groups(self) -> list[tuple[int, NDArray[np.int64]]]:
        """The rays that meet each surface, by its number."""
        order = np.argsort(self.surface.astype(np.int16), kind="stable")
        numbers, starts = np.unique(self.surface[order], return_index=True)
        ends = np.append(starts[1:], len(order))
        return [
            (int(number), order[start:end])
            for number, start, end in zip(numbers, starts, ends, strict=True)
            if number >= 0
        ]

    def _uv(self, scene: Scene, number: int, here: NDArray[np.int64]) -> Floats:
        """(k, 2) the u,v where rays meet a surface."""
        surface = scene.surfaces[number]
        assert surface.uv is not None
        return self._between(scene, number, here, surface.uv)

    def measured(self, scene: Scene, field: str) -> Floats:
        """(n, 1) the value of a field there; 0 where nothing is met."""
        found = np.zeros((len(self.surface), 1), dtype=np.float32)
        for number, here in self.groups:
            values = scene.surfaces[number].values.get(field)
            if values is not None:
                found[here] = self._between(scene, number, here, values.reshape(-1, 1))
        return found

    def moved(self, scene: Scene) -> Floats:
        """(n, 3) how far what rays meet goes in one frame."""
        found = np.zeros((len(self.surface), 3), dtype=np.float32)
        for number, here in self.groups:
            surface = scene.surfaces[number]
            if surface.later is not None:
                found[here] = self._between(scene, number, here, surface.later - surface.points)
        return found

    def _between(self, scene: Scene, number: int, here: NDArray[np.int64], values: Floats) -> Floats:
        """(k, size) what is between the corners where rays meet a surface. values: (points or 1, size)."""
        if len(values) == 1:
            return np.broadcast_to(values, (len(here), values.shape[1]))
        corners = scene.surfaces[number].faces[self.face[here]]
        within = self.within[here].astype(np.float32)
        first, second, third = (values[corners[:, corner]] for corner in range(3))
        between = first * (1 - within[:, :1] - within[:, 1:]) + second * within[:, :1] + third * within[:, 1:]
        return between.astype(np.float32, copy=False)

    def read(self, scene: Scene, name: str) -> Floats:
        """(n, k) a channel of the surfaces there, between the corners; 0 where nothing is met."""
        size = 3 if name in ("points", "normals", "colour", "emission") else 1
        found = np.zeros((len(self.surface), size), dtype=np.float32)
        for number, here in self.groups:
            surface = scene.surfaces[number]
            if name == "colour" and surface.pixels is not None:
                found[here] = sampled(surface.pixels, self._uv(scene, number, here), surface.wrap)
                continue
            values = getattr(surface, name).reshape(-1, size)
            if len(values) > 1 or values.any():
                found[here] = self._between(scene, number, here, values)
        if name == "opacity":
            for number, here in self.groups:
                surface = scene.surfaces[number]
                if surface.mask is not None:
                    found[here] *= sampled(surface.mask, self._uv(scene, number, here), surface.wrap).astype(np.float32)
        return found
