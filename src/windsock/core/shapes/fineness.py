"""How finely a shape is split before its recipe begins."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from windsock.core.declarations import Declared, Quantity
from windsock.core.geometry.catmull_clark import squared
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.subdivision import refined

Way = Literal["flat", "smooth", "squares"]


class Fineness(Declared):
    """Every face split so many times. flat: the shape stays; smooth: Loop's surface; squares: Catmull and Clark's."""

    times: Annotated[int, Quantity("How often faces are split", low=0, high=5, drag=0.02, whole=True)] = 0
    way: Annotated[Way, Field(description="Whether the shape is smoothed as it is split")] = "flat"

    def faces(self, before: int) -> int:
        """How many faces so many become, at most: triangles that are no squares become six the first time."""
        first = 6 if self.way == "squares" and self.times else 4
        return before * first * 4 ** (self.times - 1) if self.times else before


def finely(mesh: Mesh, fineness: Fineness) -> Mesh:
    """The shape with finer faces, as if it had been made so: they rest where they are."""
    if fineness.times == 0:
        return mesh
    weight = np.ones(len(mesh.points))
    if fineness.way == "squares":
        made, _ = squared(mesh, weight, fineness.times)
    else:
        made = mesh
        for _ in range(fineness.times):
            made, weight = refined(made, weight, fineness.way == "smooth")
    measures = {
        name: made.from_rest(values.astype(np.float64)).astype(np.float32) for name, values in mesh.measures.items()
    }
    rest = made.points if mesh.rest is mesh.points else made.rest
    pictures = None if mesh.pictures is None else mesh.pictures.of(made.origins())
    return replace(made, rest=rest, descent=(), origin=None, pictures=pictures, measures=measures)
