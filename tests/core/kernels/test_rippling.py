"""Waves on meshes: against standing modes of a membrane, d'Alembert's solution on a line, the speed of a ring; energy never grows."""

from __future__ import annotations

from math import ceil

import numpy as np
import pytest

from windsock.core.kernels.laplacian import cotangent_weights
from windsock.core.kernels.rippling import SAFE, membrane, rippled


def sheet(columns: int, rows: int, width: float, depth: float, turned: bool = False) -> tuple[np.ndarray, np.ndarray]:
    """A rectangle of triangles, all diagonals one way or every second the other."""
    x, z = np.meshgrid(np.linspace(0, width, columns + 1), np.linspace(0, depth, rows + 1))
    points = np.stack([x.ravel(), np.zeros(x.size), z.ravel()], axis=1)
    faces = []
    for row in range(rows):
        for column in range(columns):
            a = row * (columns + 1) + column
            b, c, d = a + 1, a + columns + 1, a + columns + 2
            other = turned and (row + column) % 2
            faces += [(a, c, b), (b, c, d)] if not other else [(a, c, d), (a, d, b)]
    return points, np.array(faces, dtype=np.int64)


def tube(columns: int, long: float) -> tuple[np.ndarray, np.ndarray]:
    """A thin tube along X, open at both ends: a line whose sides are no edges."""
    points, faces = sheet(columns, 6, long, 6.0)
    angle = points[:, 2] / 6 * 2 * np.pi
    round_points = np.stack([points[:, 0], 0.01 * np.cos(angle), 0.01 * np.sin(angle)], axis=1)
    place = np.arange(len(points))
    place[-(columns + 1) :] = place[: columns + 1]
    return round_points[: -(columns + 1)], place[faces]


def energy(
    points: np.ndarray, faces: np.ndarray, height: np.ndarray, rate: np.ndarray, speed: float, step: float = 0.0
) -> float:
    """Of the membrane; with the length of a step, the energy that leapfrog keeps to the last digit: E. Hairer, C. Lubich and
    G. Wanner, "Geometric numerical integration illustrated by the Stormer-Verlet method" (2003)."""
    weights, mass = cotangent_weights(points, faces)
    rows = np.repeat(np.arange(len(points)), np.diff(weights.indptr))
    before = height - step * rate
    here, there = height[rows] - height[weights.indices], before[rows] - before[weights.indices]
    stretch = 0.25 * (weights.data * here * there).sum()
    return float(0.5 * (mass * rate**2).sum() + speed**2 * stretch)


@pytest.mark.parametrize("turned", [False, True])
@pytest.mark.parametrize(("m", "n"), [(1, 0), (2, 1), (3, 2)])
def test_standing_modes_of_a_rectangle_with_free_edges(turned, m, n):
    """A. Fetter and J. Walecka, "Theoretical Mechanics of Particles and Continua", 47: cos(m pi x / a) cos(n pi z / b) swings with
    c pi sqrt(m2 / a2 + n2 / b2), from memory."""
    width, depth, speed = 2.0, 1.5, 1.3
    points, faces = sheet(64, 48, width, depth, turned)
    shape = np.cos(m * np.pi * points[:, 0] / width) * np.cos(n * np.pi * points[:, 2] / depth)
    swings = speed * np.pi * np.hypot(m / width, n / depth)
    on = membrane(points, faces, 0.0)
    for turns in (0.25, 0.5, 3.0):
        height, _ = rippled(on, shape, np.zeros(len(points)), speed, 0.0, False, turns * 2 * np.pi / swings)
        assert height == pytest.approx(shape * np.cos(2 * np.pi * turns), abs=0.06 * max(1, turns))


def test_on_a_line_half_goes_each_way():
    """J. d'Alembert (1747): what starts at rest goes half to one side and half to the other, at the speed."""
    points, faces = sheet(800, 1, 8.0, 0.01)
    bump = np.exp(-(((points[:, 0] - 4.0) / 0.15) ** 2))
    height, _ = rippled(membrane(points, faces, 0.0), bump, np.zeros(len(points)), 1.5, 0.0, False, 1.0)
    expected = 0.5 * sum(np.exp(-(((points[:, 0] - at) / 0.15) ** 2)) for at in (2.5, 5.5))
    assert height == pytest.approx(expected, abs=0.01)


def test_a_ring_runs_at_the_speed():
    points, faces = sheet(240, 240, 6.0, 6.0)
    away = np.hypot(points[:, 0] - 3.0, points[:, 2] - 3.0)
    bump, on = np.exp(-((away / 0.12) ** 2)), membrane(points, faces, 0.0)
    line = np.flatnonzero((np.abs(points[:, 2] - 3.0) < 1e-9) & (points[:, 0] >= 3.0))
    fronts = []
    for seconds in (0.8, 1.6):
        height, _ = rippled(on, bump, np.zeros(len(points)), 1.4, 0.0, False, seconds)
        top = int(np.argmax(height[line]))
        before, here, after = height[line][top - 1 : top + 2]
        # The crest of the parabola through three places.
        fronts.append(away[line][top] + 0.025 * 0.5 * (before - after) / (before - 2 * here + after))
    assert (fronts[1] - fronts[0]) / 0.8 == pytest.approx(1.4, rel=0.01)


@pytest.mark.parametrize("swallow", [False, True])
def test_energy_never_grows(swallow):
    points, faces = sheet(40, 30, 2.0, 1.5, True)
    rng = np.random.default_rng(3)
    points[:, 1] = 0.05 * rng.random(len(points))
    height, rate = rng.normal(size=len(points)), rng.normal(size=len(points))
    on = membrane(points, faces, 0.0)
    seconds = 1 / 30
    step = seconds / ceil(seconds * 2.0 * on.stiffest**0.5 / (2 * SAFE))
    height, rate = rippled(on, height, rate, 2.0, 0.0, swallow, seconds)
    before = first = energy(points, faces, height, rate, 2.0, step)
    for _ in range(60):
        height, rate = rippled(on, height, rate, 2.0, 0.0, swallow, seconds)
        now = energy(points, faces, height, rate, 2.0, step)
        assert now <= before * (1 + 1e-9)
        before = now
    assert now == pytest.approx(first, rel=1e-9) if not swallow else now < 0.7 * first


def test_a_sheet_whose_edges_swallow_comes_to_rest():
    points, faces = sheet(60, 60, 2.0, 2.0)
    height = np.exp(-((np.hypot(points[:, 0] - 0.8, points[:, 2] - 1.1) / 0.2) ** 2))
    on, still = membrane(points, faces, 0.0), np.zeros(len(points))
    before = energy(points, faces, height, still, 1.0)
    assert energy(points, faces, *rippled(on, height, still, 1.0, 0.0, True, 4.0), 1.0) < 0.02 * before
    assert energy(points, faces, *rippled(on, height, still, 1.0, 0.0, False, 4.0), 1.0) > 0.8 * before


def test_edges_that_swallow_throw_back_little():
    points, faces = tube(400, 4.0)
    bump = np.exp(-(((points[:, 0] - 3.0) / 0.15) ** 2))
    on, still = membrane(points, faces, 0.0), np.zeros(len(points))
    thrown, _ = rippled(on, bump, still, 1.0, 0.0, False, 2.0)
    swallowed, _ = rippled(on, bump, still, 1.0, 0.0, True, 2.0)
    right = points[:, 0] > 1.5
    assert np.abs(thrown[right]).max() > 0.45
    assert np.abs(swallowed[right]).max() < 0.02


@pytest.mark.parametrize("speed", [0.0, 1.0, 1000.0])
def test_no_setting_and_no_face_makes_it_unstable(speed):
    points, faces = sheet(30, 30, 1.0, 1.0)
    points[5, 0] = points[4, 0] + 1e-7
    bump = np.exp(-(((points[:, 0] - 0.5) / 0.1) ** 2))
    height, rate = rippled(membrane(points, faces, 0.02), bump, np.zeros(len(points)), speed, 0.1, False, 0.25)
    assert np.isfinite(height).all()
    assert np.isfinite(rate).all()
    assert np.abs(height).max() < 2.5


def test_damping_takes_the_rate_by_an_exponent():
    points, faces = sheet(2, 2, 1.0, 1.0)
    rate = np.ones(len(points))
    _, after = rippled(membrane(points, faces, 0.0), np.zeros(len(points)), rate, 1.0, 2.0, False, 0.5)
    assert after == pytest.approx(np.exp(-1.0))


@pytest.mark.parametrize("swallow", [False, True])
def test_it_is_all_the_same_in_which_order_the_places_of_a_grid_come(swallow):
    """A grid is worked out along its rows and columns, other meshes from place to place."""
    points, faces = sheet(70, 40, 2.0, 1.5)
    random = np.random.default_rng(3)
    order, height = random.permutation(len(points)), random.random(len(points))
    back = np.argsort(order)
    grid, mixed = membrane(points, faces, 0.0), membrane(points[order], back[faces], 0.0)
    assert len(grid.bands) == 4
    assert len(mixed.bands) == 0
    here = rippled(grid, height, 0 * height, 1.0, 0.3, swallow, 0.4)
    there = rippled(mixed, height[order], 0 * height, 1.0, 0.3, swallow, 0.4)
    for one, other in zip(here, there, strict=True):
        np.testing.assert_allclose(one[order], other, rtol=0, atol=1e-11)
