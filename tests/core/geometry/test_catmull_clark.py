"""Squares: the masks as Catmull and Clark published them (1978), and what follows from them."""

from __future__ import annotations

import numpy as np
import pytest
from shots import closed_volume, evaluator, parsed, times_of_edges

from windsock.core.geometry.catmull_clark import squared, squares_of
from windsock.core.geometry.mesh import Mesh
from windsock.core.shapes.box import Box, build_box
from windsock.core.shapes.plane import Plane, build_plane
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment

NOW = Moment(0, 0)


def split(mesh: Mesh, times: int) -> Mesh:
    return squared(mesh, np.ones(len(mesh.points)), times)[0]


def test_a_cube_after_one_split_as_the_masks_say():
    """Half a side h = 1/2: face points at h; edge points (1/2 + 1/4) h twice; corners (Q + 2R) / 3 = 5/9 h thrice."""
    mesh = split(build_box(Box(divisions=1), NOW), 1)
    places = {tuple(sorted(np.round(np.abs(place), 5))) for place in mesh.points.astype(float)}
    corner = round(5 / 18, 5)
    assert places == {(0.0, 0.0, 0.5), (0.0, 0.375, 0.375), (corner,) * 3}
    assert len(np.unique(mesh.number)) == 8 + 12 + 6
    assert len(mesh.faces) == 2 * 24


@pytest.mark.parametrize("times", [2, 3])
def test_counts_closedness_and_rest(times):
    box = build_box(Box(divisions=2), NOW)
    mesh = split(box, times)
    assert len(squares_of(box).squares) == 24
    assert len(mesh.faces) == 2 * 24 * 4**times
    assert (times_of_edges(mesh) == 2).all()
    assert 0 < closed_volume(mesh) < closed_volume(box)
    # Rest places stay on the box.
    assert np.abs(mesh.rest).max(axis=1) == pytest.approx(0.5)


def test_a_flat_grid_stays_flat_and_its_regular_inside_stays_regular():
    """B-splines reproduce straight lines: the points of an even grid go to the points of an even grid."""
    mesh = split(build_plane(Plane(width=4, depth=4, columns=4, rows=4), NOW), 1)
    assert mesh.points[:, 1] == pytest.approx(0.0)
    inner = np.abs(mesh.points[:, [0, 2]]).max(axis=1) < 0.9
    assert (mesh.points[inner][:, [0, 2]] * 2) % 1 == pytest.approx(0.0, abs=1e-6)


def test_triangles_without_partners_become_three_squares():
    ball = build_sphere(Sphere(subdivisions=0), NOW)
    assert len(squares_of(ball).squares) == 0
    mesh = split(ball, 1)
    assert len(mesh.faces) == 20 * 3 * 2
    assert (times_of_edges(mesh) == 2).all()


def test_half_a_weight_goes_half_the_way():
    box = build_box(Box(divisions=1), NOW)
    whole, half = split(box, 1), squared(box, np.full(len(box.points), 0.5), 1)[0]
    np.testing.assert_allclose(half.points, (whole.rest + whole.points) / 2, atol=1e-6)


@pytest.mark.parametrize(("way", "faces"), [("flat", 192), ("smooth", 192), ("squares", 192)])
def test_a_shape_can_be_split_before_its_recipe(way, faces):
    shape = {"kind": "shape", "name": "Box", "rank": 0, "geometry": {"kind": "box", "divisions": 1}}
    shape["fineness"] = {"times": 2, "way": way}
    one = evaluator()
    mesh = one.at_rest(one.scene(parsed({"name": "Box", "items": {"b": shape}}), 0), "b").value.mesh
    assert len(mesh.faces) == faces
    assert mesh.descent == ()
    np.testing.assert_array_equal(mesh.rest, mesh.points)  # as if it had been made so
    assert (np.abs(mesh.points).max() < 0.5 - 1e-6) == (way != "flat")
