"""Places in and about a subject, as what a field can be measured at."""

from __future__ import annotations

from functools import cache

import numpy as np
from numpy.typing import NDArray

from windsock.core.fields.elements import Elements, Subject, Values
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.kernels.nearest import nearest_points


def elements_about(places: Values, matrix: Matrix, subject: Subject) -> Elements:
    """Places in and about a subject, (n, 3) in its own space, as elements that take their values from its nearest points."""
    mesh = subject.mesh

    @cache
    def near() -> NDArray[np.int64]:
        # Most fields need none of it, and there may be millions of places.
        return nearest_points(places, mesh.points)

    def carry(values: Values) -> Values:
        return values[near()]

    def facing() -> Values:
        return turned_normals(mesh.normals[near()].astype(np.float64), matrix)

    return Elements(moved(places, matrix), places, subject, carry, facing, resting=True)
