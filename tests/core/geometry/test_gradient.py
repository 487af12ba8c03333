"""Gradients on a surface: exact where the values are linear, and against the derivative on a sphere."""

from __future__ import annotations

import numpy as np
import pytest

from windsock.core.geometry.gradient import face_gradients, point_gradients
from windsock.core.shapes.plane import Plane, build_plane
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment

START = Moment(0, 0)


@pytest.mark.parametrize("cells", [3, 40])
def test_a_linear_function_has_its_own_slope_on_a_sheet(cells):
    mesh = build_plane(Plane(columns=cells, rows=cells), START)
    points = mesh.points.astype(np.float64)
    values = 3 * points[:, 0] - 4 * points[:, 2] + 7
    assert np.allclose(face_gradients(points, mesh.faces, values), 5, rtol=1e-5)
    assert np.allclose(point_gradients(points, mesh.faces, mesh.number, values), 5, rtol=1e-5)


def test_height_on_a_sphere_changes_by_the_cosine_of_the_latitude():
    errors = []
    for splits in (4, 5):
        mesh = build_sphere(Sphere(subdivisions=splits, radius=2.0), START)
        points = mesh.points.astype(np.float64)
        found = point_gradients(points, mesh.faces, mesh.number, points[:, 1])
        errors.append(np.abs(found - np.sqrt(1 - (points[:, 1] / 2) ** 2)).max())
    assert errors[0] < 0.06
    assert errors[1] < 0.6 * errors[0]


def test_faces_of_no_area_have_no_slope():
    points = np.array([[0.0, 0, 0], [1, 0, 0], [2, 0, 0]])
    faces = np.array([[0, 1, 2]], dtype=np.int32)
    assert face_gradients(points, faces, np.array([0.0, 1, 5])).tolist() == [0]
    assert point_gradients(points, faces, np.arange(3), np.array([0.0, 1, 5])).tolist() == [0, 0, 0]
