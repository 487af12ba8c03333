"""What goes through a recipe from step to step, and what drives a step."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from windsock.core.fields.source import Elements, Subject, Values
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix, moved, turned_normals
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

    elements: the points of the entering part. values: (n,) at them. measure: the field at any elements.
    """

    elements: Elements
    values: Values
    measure: Callable[[Elements], Values]
    level: float
    band: float


def elements_of(mesh: Mesh, matrix: Matrix, subject: Subject) -> Elements:
    """The points of a mesh as elements; matrix: (4, 4) from the subject's space to the world."""

    def facing() -> Values:
        return turned_normals(mesh.normals.astype(np.float64), matrix)

    return Elements(moved(mesh.points, matrix), mesh.rest.astype(np.float64), subject, mesh.from_rest, facing)
