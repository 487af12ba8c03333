"""Distance to a surface against closed forms and a brute-force search."""

from __future__ import annotations

import numpy as np
import pytest

from windsock.core.kernels.nearest import nearest_place
from windsock.core.kernels.surface_distance import Surface, is_inside, surface_distance
from windsock.core.shapes.box import Box, build_box
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment

AT = Moment(0.0, 0.0)


def surface_of_box(divisions: int) -> Surface:
    mesh = build_box(Box(width=2.0, height=1.0, depth=3.0, divisions=divisions), AT)
    return Surface(mesh.points, mesh.faces)


@pytest.mark.parametrize("divisions", [1, 9])
def test_exact_distance_to_a_box(divisions):
    """Closed form: outside the length of what sticks out, inside the least way to a side."""
    places = np.random.default_rng(divisions).uniform(-3, 3, (4000, 3))
    over = np.abs(places) - np.array([1.0, 0.5, 1.5])
    outside = np.linalg.norm(np.maximum(over, 0), axis=1)
    inside = np.minimum(over.max(axis=1), 0)
    found = surface_distance(places, surface_of_box(divisions), 100.0, inside_is_near=False)
    np.testing.assert_allclose(found, np.where(outside > 0, outside, -inside), atol=1e-6)
    counted = surface_distance(places, surface_of_box(divisions), 100.0, inside_is_near=True)
    np.testing.assert_allclose(counted, outside, atol=1e-6)


@pytest.mark.parametrize("radius", [1e-4, 0.004, 1.0, 3000.0])
def test_rays_meet_a_ball_of_any_size_where_they_should(radius):
    """Closed form: straight down upon a ball, the height of what is above the place."""
    mesh = build_sphere(Sphere(radius=radius, subdivisions=5), AT)
    along = np.linspace(-0.9, 0.9, 301) * radius
    starts = np.stack([along, np.full(301, 2 * radius), np.full(301, 0.0371 * radius)], axis=1)
    face, far = Surface(mesh.points, mesh.faces).first_hits(starts, np.tile([0.0, -1.0, 0.0], (301, 1)))
    assert (face >= 0).all()
    heights = np.sqrt(radius**2 - starts[:, 0] ** 2 - starts[:, 2] ** 2)
    np.testing.assert_allclose(far, 2 * radius - heights, atol=0.003 * radius)


@pytest.mark.parametrize("subdivisions", [2, 4])
def test_against_every_face_of_a_ball(subdivisions):
    mesh = build_sphere(Sphere(radius=1.3, subdivisions=subdivisions), AT)
    points = mesh.points.astype(float)
    places = np.random.default_rng(3).uniform(-2, 2, (150, 3))
    found = surface_distance(places, Surface(points, mesh.faces), 100.0, inside_is_near=False)
    for place, distance in zip(places, found, strict=True):
        corners, weights = nearest_place(place, points, mesh.faces)
        assert distance == pytest.approx(np.linalg.norm(place - weights @ points[corners]), abs=1e-9)


def test_places_beyond_the_reach_may_be_passed_over_but_never_those_within():
    surface = surface_of_box(4)
    places = np.random.default_rng(4).uniform(-6, 6, (3000, 3))
    whole = surface_distance(places, surface, 1e9, inside_is_near=False)
    near = surface_distance(places, surface, 0.7, inside_is_near=False)
    assert (near[whole <= 0.7] == whole[whole <= 0.7]).all()
    assert (near[whole > 0.7] > 0.7).all()


def test_inside_is_told_on_a_surface_with_a_hole():
    mesh = build_sphere(Sphere(radius=1.0, subdivisions=4), AT)
    open_faces = mesh.faces[mesh.points[mesh.faces].mean(axis=1)[:, 1] < 0.9]
    places = np.random.default_rng(5).uniform(-1.4, 1.4, (2000, 3))
    radius = np.linalg.norm(places, axis=1)
    clear = (np.abs(radius - 1) > 0.1) & (places[:, 1] < 0.6)
    assert (is_inside(places, Surface(mesh.points, open_faces)) == (radius < 1))[clear].all()


def test_nothing_is_infinitely_far():
    empty = Surface(np.zeros((0, 3)), np.zeros((0, 3), dtype=np.int64))
    assert (surface_distance(np.zeros((3, 3)), empty, 1.0, inside_is_near=True) == np.inf).all()
