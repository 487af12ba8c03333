"""Arrival times on surfaces against exact distances, a second geodesic library, and edge paths.

Exact: great circles on a sphere, straight lines on a sheet, straight lines on the unrolled cylinder.
Second route: fast marching and exact straightened paths of geometry-central (Python package potpourri3d).
"""

from __future__ import annotations

import json
import subprocess
from pathlib import Path

import numpy as np
import potpourri3d
import pytest
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import dijkstra

from windsock.core.kernels.arrival import arrival_times, starts_about, surface_of
from windsock.core.shapes.plane import Plane, build_plane
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment

START = Moment(0, 0)
FRONTEND = Path(__file__).parents[3] / "frontend"


def from_point(points, faces, point: int, slowness=None) -> np.ndarray:
    starts = np.full(len(points), np.inf)
    starts[point] = 0.0
    slow = np.ones(len(points)) if slowness is None else slowness
    found = arrival_times(surface_of(points, faces), starts, slow)
    assert found is not None
    return found


def cylinder(segments: int) -> tuple[np.ndarray, np.ndarray]:
    """A closed tube of radius 1 and height 4; every other row is turned by half a cell, so that faces are sharp."""
    rows = round(4 / (2 * np.pi / segments))
    column, row = (v.ravel() for v in np.meshgrid(np.arange(segments), np.arange(rows + 1)))
    angle = 2 * np.pi * (column + 0.5 * (row % 2)) / segments
    points = np.stack([np.cos(angle), 4 * row / rows, np.sin(angle)], axis=1)
    faces = []
    for low in range(rows):
        for at in range(segments):
            a, b = low * segments + at, low * segments + (at + 1) % segments
            c, d = a + segments, (low + 1) * segments + (at + 1) % segments
            faces += [(a, b, c), (b, d, c)] if low % 2 == 0 else [(a, b, d), (a, d, c)]
    return points, np.array(faces)


# Tolerances: the method is of first order; the errors below were seen, with a third of room.
@pytest.mark.parametrize(("subdivisions", "error"), [(4, 0.018), (5, 0.010), (6, 0.006)])
def test_great_circles_on_a_sphere(subdivisions, error):
    mesh = build_sphere(Sphere(subdivisions=subdivisions), START)
    exact = np.arccos(np.clip(mesh.points.astype(float) @ mesh.points[7].astype(float), -1, 1))
    found = from_point(mesh.points, mesh.faces, 7)
    far = exact > 0.2
    assert np.abs(found - exact)[far].max() < error * exact[far].max()


@pytest.mark.parametrize("cells", [20, 40, 80])
def test_straight_lines_on_a_sheet(cells):
    mesh = build_plane(Plane(width=2.0, depth=2.0, columns=cells, rows=cells), START)
    corner = int(np.argmin(mesh.points.sum(axis=1)))
    found = from_point(mesh.points, mesh.faces, corner)
    exact = np.linalg.norm(mesh.points - mesh.points[corner], axis=1)
    # On a flat sheet a round front from one point is exact, but for the rounding of single precision.
    np.testing.assert_allclose(found, exact, rtol=3e-6, atol=1e-6)


@pytest.mark.parametrize(("segments", "error"), [(24, 0.03), (48, 0.016), (96, 0.009)])
def test_unrolled_lines_on_a_cylinder(segments, error):
    points, faces = cylinder(segments)
    found = from_point(points, faces, 0)
    angle = np.abs(np.arctan2(points[:, 2], points[:, 0]) - np.arctan2(points[0, 2], points[0, 0]))
    exact = np.hypot(np.minimum(angle, 2 * np.pi - angle), points[:, 1])
    assert np.abs(found - exact).max() < error * exact.max()


def test_the_error_falls_as_the_faces_do():
    errors = []
    for subdivisions in (4, 5, 6):
        mesh = build_sphere(Sphere(subdivisions=subdivisions), START)
        exact = np.arccos(np.clip(mesh.points.astype(float) @ mesh.points[0].astype(float), -1, 1))
        errors.append(np.abs(from_point(mesh.points, mesh.faces, 0) - exact).mean())
    assert np.log2(errors[0] / errors[1]) > 0.8
    assert np.log2(errors[1] / errors[2]) > 0.8


def test_twice_the_speed_takes_half_the_time():
    mesh = build_sphere(Sphere(subdivisions=4), START)
    once = from_point(mesh.points, mesh.faces, 3)
    np.testing.assert_allclose(
        from_point(mesh.points, mesh.faces, 3, np.full(len(mesh.points), 0.5)), once / 2, rtol=1e-6
    )


def test_where_the_speed_is_zero_the_front_never_comes():
    mesh = build_plane(Plane(width=2.0, depth=2.0, columns=40, rows=40), START)
    wall = (np.abs(mesh.points[:, 0]) < 0.15) & (mesh.points[:, 2] < 0.5)
    slow = np.where(wall, np.inf, 1.0)
    corner = int(np.argmin(mesh.points @ [1, 0, 1]))
    found = from_point(mesh.points, mesh.faces, corner, slow)
    assert np.all(np.isinf(found[wall]))
    assert np.all(np.isfinite(found[~wall]))
    behind = int(np.argmin(np.linalg.norm(mesh.points - [1, 0, -1], axis=1)))
    # Round the end of the wall: straight to its first corner, along it, and straight on.
    start, one, two, end = mesh.points[corner], np.array([-0.2, 0, 0.5]), np.array([0.2, 0, 0.5]), mesh.points[behind]
    exact = np.linalg.norm(one - start) + np.linalg.norm(two - one) + np.linalg.norm(end - two)
    assert found[behind] == pytest.approx(exact, rel=0.03)


def test_a_straight_front_passes_from_a_fast_half_into_a_slow_one():
    """Layer time: a front from a straight edge takes the sum of way times slowness."""
    mesh = build_plane(Plane(width=2.0, depth=1.0, columns=60, rows=30), START)
    slow = np.where(mesh.points[:, 0] < 1e-6, 0.5, 2.0)
    starts = np.where(mesh.points[:, 0] < -0.999, 0.0, np.inf)
    found = arrival_times(surface_of(mesh.points, mesh.faces), starts, slow)
    x = mesh.points[:, 0].astype(float)
    exact = np.where(x < 0, (x + 1) * 0.5, 0.5 + x * 2.0)
    np.testing.assert_allclose(found, exact, atol=2.5 * 2 / 60)


def test_never_longer_than_along_the_edges_and_never_shorter_than_straight_through():
    rng = np.random.default_rng(4)
    mesh = build_sphere(Sphere(subdivisions=3), START)
    points = mesh.points * (1 + 0.25 * rng.random((len(mesh.points), 1)))
    found = from_point(points, mesh.faces, 0)
    ends = np.concatenate([mesh.faces[:, [0, 1]], mesh.faces[:, [1, 2]], mesh.faces[:, [2, 0]]])
    lengths = np.linalg.norm(points[ends[:, 0]] - points[ends[:, 1]], axis=1)
    along = dijkstra(csr_matrix((lengths, ends.T), shape=(len(points),) * 2), directed=False, indices=0)
    assert np.all(found <= along * (1 + 1e-6))
    assert np.all(found >= np.linalg.norm(points - points[0], axis=1) * (1 - 1e-6))


def bunny() -> tuple[np.ndarray, np.ndarray]:
    told = subprocess.run(
        ["node", "-e", "console.log(JSON.stringify(require('bunny')))"], cwd=FRONTEND, capture_output=True, check=True
    )
    shape = json.loads(told.stdout)
    return np.array(shape["positions"], dtype=float), np.array(shape["cells"])


def test_on_the_bunny_against_a_second_library():
    """The Stanford bunny (npm `bunny`), whose faces are uneven and often obtuse."""
    points, faces = bunny()
    solver = potpourri3d.MeshFastMarchingDistanceSolver(points, faces)
    paths = potpourri3d.EdgeFlipGeodesicSolver(points, faces)
    rng, near = np.random.default_rng(2), []
    size = np.ptp(points, axis=0).max()
    for start in rng.integers(0, len(points), 3):
        found = from_point(points, faces, int(start))
        assert np.all(np.isfinite(found))
        other = np.asarray(solver.compute_distance([[(int(start), [])]])).ravel()
        # The other marching takes fronts as straight even next to their start: seen 1 to 5 % late against the paths.
        assert np.abs(found - other).mean() < 0.03 * size
        for end in rng.integers(0, len(points), 12):
            if end == start:
                continue
            way = np.asarray(paths.find_geodesic_path(int(start), int(end)))
            straightest = np.linalg.norm(np.diff(way, axis=0), axis=1).sum()
            # Seen 0.986 to 1.012. A straightened path is only locally shortest: the front may also be quicker.
            assert found[end] < straightest * 1.02
            assert found[end] > np.linalg.norm(points[start] - points[end])
            near.append(abs(found[end] / straightest - 1) < 0.015)
    assert np.mean(near) > 0.9


@pytest.mark.parametrize("cells", [24, 48])
def test_a_front_starts_on_the_crossing_itself_not_at_the_points(cells):
    mesh = build_plane(Plane(width=2.0, depth=2.0, columns=cells, rows=cells), START)
    surface = surface_of(mesh.points, mesh.faces)
    x = mesh.points[:, 0].astype(float)
    line = -0.3137
    starts = starts_about(surface, line - x, np.ones(len(x)), 0.0)
    found = arrival_times(surface, starts, np.ones(len(x)))
    np.testing.assert_allclose(found, np.maximum(x - line, 0), atol=1e-5)


def test_it_stops_when_it_is_cancelled():
    mesh = build_sphere(Sphere(subdivisions=5), START)
    starts = np.full(len(mesh.points), np.inf)
    starts[0] = 0
    cancelled = np.ones(1, dtype=np.uint8)
    surface = surface_of(mesh.points, mesh.faces)
    assert arrival_times(surface, starts, np.ones(len(starts)), cancelled) is None


def test_faces_without_area_and_loose_points_are_passed_over():
    points = np.array([[0.0, 0, 0], [1, 0, 0], [0, 1, 0], [2, 0, 0], [5, 5, 5]])
    found = from_point(points, np.array([[0, 1, 2], [0, 1, 3], [1, 1, 2]]), 0)
    assert found[1] == pytest.approx(1)
    assert np.isinf(found[4])
