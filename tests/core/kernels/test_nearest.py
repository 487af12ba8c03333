"""The nearest place on a mesh, against a library's closest point and against looking everywhere."""

from __future__ import annotations

import numpy as np
import trimesh

from windsock.core.kernels.nearest import nearest_place


def test_it_agrees_with_another_library():
    mesh = trimesh.creation.icosphere(2)
    rng = np.random.default_rng(6)
    points = mesh.vertices * (1 + 0.2 * rng.random((len(mesh.vertices), 1)))
    for place in rng.normal(size=(40, 3)) * 1.2:
        corners, weights = nearest_place(place, points, mesh.faces)
        found = weights @ points[corners]
        exact = trimesh.triangles.closest_point(points[mesh.faces], np.tile(place, (len(mesh.faces), 1)))
        assert np.linalg.norm(found - place) <= np.linalg.norm(exact - place, axis=1).min() + 1e-12
        assert np.all(weights >= -1e-12)
        assert abs(weights.sum() - 1) < 1e-12


def test_a_place_on_a_face_is_itself_and_faces_without_area_do_no_harm():
    points = np.array([[0.0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 0]])
    corners, weights = nearest_place(np.array([0.25, 0.25, 0.0]), points, np.array([[0, 3, 0], [0, 1, 2]]))
    assert corners.tolist() == [0, 1, 2]
    np.testing.assert_allclose(weights, [0.5, 0.25, 0.25])
