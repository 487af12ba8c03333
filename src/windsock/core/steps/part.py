"""What goes through a recipe from step to step, and what drives a step."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from windsock.core.fields.source import Elements, Values
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix, moved
from windsock.core.look import Look


@dataclass(frozen=True, eq=False)
class Part:
    """A named outcome of a recipe: geometry, its look, and what is seen of its faces from behind (a look: its own)."""

    mesh: Mesh
    look: Look
    backs: Look | Literal["shown", "hidden"]

    @property
    def nbytes(self) -> int:
        return self.mesh.nbytes


@dataclass(frozen=True, eq=False)
class Drive:
    """A field as one step listens to it.

    values: (n,) at the points of the entering part. measure: the field at any elements.
    """

    values: Values
    measure: Callable[[Elements], Values]
    level: float
    band: float


def elements_of(mesh: Mesh, matrix: Matrix) -> Elements:
    """The points of a mesh as elements; matrix: (4, 4) from the subject's space to the world."""
    return Elements(posed=moved(mesh.points, matrix), rest=mesh.rest.astype(np.float64))
