"""Mean curvature against shapes whose curvature is known."""

from __future__ import annotations

import numpy as np
import pytest

from windsock.core.geometry.curvature import mean_curvature
from windsock.core.shapes.plane import Plane, build_plane
from windsock.core.shapes.revolve import ProfilePoint, Revolve, build_revolve
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment

AT = Moment(0.0, 0.0)


@pytest.mark.parametrize("radius", [0.5, 2.0])
@pytest.mark.parametrize("subdivisions", [3, 4])
def test_a_ball_has_one_over_its_radius(radius, subdivisions):
    mesh = build_sphere(Sphere(radius=radius, subdivisions=subdivisions), AT)
    found = mean_curvature(mesh)
    np.testing.assert_allclose(found, 1 / radius, rtol=0.04)  # the areas about the twelve corners are uneven
    assert np.median(found) == pytest.approx(1 / radius, rel=0.005)


@pytest.mark.parametrize("radius", [0.4, 1.5])
def test_a_cylinder_has_half_of_one_over_its_radius_and_its_ends_count_as_flat(radius):
    profile = {f"p{n}": ProfilePoint(rank=n, radius=radius, height=float(n)) for n in range(2)}
    mesh = build_revolve(Revolve(profile=profile, segments=128, ring_height=0.05), AT)
    found = mean_curvature(mesh)
    ends = np.isclose(mesh.points[:, 1] % 1, 0, atol=1e-6)
    np.testing.assert_allclose(found[~ends], 0.5 / radius, rtol=0.01)
    assert (found[ends] == 0).all()


def test_a_sheet_is_flat():
    np.testing.assert_allclose(mean_curvature(build_plane(Plane(columns=9, rows=7), AT)), 0, atol=1e-4)
