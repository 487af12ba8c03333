"""What goes through a recipe from step to step, and what drives a step."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from windsock.core.fields.source import Elements, Subject, Values
from windsock.core.fields.zones import Band, Zone, zone_weight
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.look import Look
from windsock.core.timing.curve import Curve


@dataclass(frozen=True, eq=False)
class Part:
    """A named outcome of a recipe: geometry, its look, and what is seen of its faces from behind (a look: its own).

    alpha: whether an opacity below 1 is blended, or cut at 1/2.
    """

    mesh: Mesh
    look: Look
    backs: Look | Literal["shown", "hidden"]
    alpha: Literal["blend", "cut"] = "blend"

    @property
    def nbytes(self) -> int:
        return self.mesh.nbytes


@dataclass(frozen=True, eq=False)
class Drive:
    """A field as one step listens to it.

    elements: the points of the entering part. values: (n,) at them. measure: the field at any elements. overall: (n,)
    the recipe's overall field at the points, or None. band: its width in values, at all points or (n,). measured_overall: that at any elements.
    """

    elements: Elements
    values: Values
    measure: Callable[[Elements], Values]
    level: float
    band: Band
    overall: Values | None = None
    measured_overall: Callable[[Elements], Values] | None = None

    def zone(self, zone: Zone, curve: Curve | None) -> Values:
        """(n,) the weight of a zone, through a curve."""
        weight = zone_weight(zone, self.values, self.level, self.band)
        return weight if curve is None else curve(weight)

    def lowered(self) -> Values:
        """(n,) the values times the overall field: what a cutting step compares with the level."""
        return self.values if self.overall is None else self.values * self.overall

    def lowered_at(self, elements: Elements) -> Values:
        """(n,) the same at any elements."""
        values = self.measure(elements)
        return values if self.measured_overall is None else values * self.measured_overall(elements)


def elements_of(mesh: Mesh, matrix: Matrix, subject: Subject) -> Elements:
    """The points of a mesh as elements; matrix: (4, 4) from the subject's space to the world."""

    def facing() -> Values:
        return turned_normals(mesh.normals.astype(np.float64), matrix)

    return Elements(moved(mesh.points, matrix), mesh.rest.astype(np.float64), subject, mesh.from_rest, facing)
