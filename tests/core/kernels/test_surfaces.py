"""Areas and bands on faces, against plain formulas."""

from __future__ import annotations

import numpy as np
import pytest

from windsock.core.kernels.areas import face_areas, point_areas
from windsock.core.kernels.band import band_lengths


def grid(cells: int, stretch: float = 1.0) -> tuple[np.ndarray, np.ndarray]:
    """A square of one metre by `stretch` metres in triangles."""
    x, z = np.meshgrid(np.linspace(0, 1, cells + 1), np.linspace(0, stretch, cells + 1), indexing="ij")
    points = np.stack([x.ravel(), np.zeros(x.size), z.ravel()], axis=1)
    corner = (np.arange(cells)[:, None] * (cells + 1) + np.arange(cells)).ravel()
    one = np.stack([corner, corner + 1, corner + cells + 2], axis=1)
    other = np.stack([corner, corner + cells + 2, corner + cells + 1], axis=1)
    return points, np.concatenate([one, other]).astype(np.int32)


def test_areas_are_half_the_cross_product():
    rng = np.random.default_rng(1)
    points = rng.normal(size=(60, 3)).astype(np.float32)
    faces = rng.integers(0, 60, (200, 3)).astype(np.int32)
    a, b, c = (points[faces[:, corner]].astype(np.float64) for corner in range(3))
    plain = np.linalg.norm(np.cross(b - a, c - a), axis=1) / 2
    np.testing.assert_allclose(face_areas(points, faces), plain, rtol=1e-12, atol=1e-15)
    shares = np.zeros(60)
    np.add.at(shares, faces.ravel(), np.repeat(plain / 3, 3))
    np.testing.assert_allclose(point_areas(points, faces), shares, rtol=1e-9)


@pytest.mark.parametrize(("way", "length"), [((1.0, 0.0), 2.0), ((0.0, 1.0), 1.0), ((0.6, 0.8), None)])
def test_a_straight_front_is_as_long_as_it_is_drawn(way, length):
    # By plain geometry: where values that rise evenly one way have the level, a line across the square.
    points, faces = grid(80, 2.0)
    values = points[:, 0] * way[0] + points[:, 2] * way[1]
    level, width = 0.5, np.full(len(points), 0.08)
    found, lengths = band_lengths(points, faces, values, level, width)
    if length is None:
        ends = np.array([[level / way[0], 0.0], [0.0, level / way[1]]])
        length = float(np.linalg.norm(ends[0] - ends[1]))
    assert lengths.sum() == pytest.approx(length, rel=0.03)
    # Only faces within the band carry any of it.
    assert (np.abs(values[faces[found]] - level).min(axis=1) < 0.04).all()
    # A wider band has the same length: it is that of the front.
    assert band_lengths(points, faces, values, level, width * 2)[1].sum() == pytest.approx(lengths.sum(), rel=0.05)


def test_a_band_without_width_or_faces_without_area_have_none_of_it():
    points, faces = grid(4)
    assert len(band_lengths(points, faces, points[:, 0], 0.5, np.zeros(len(points)))[0]) == 0
    flat = points.copy()
    flat[:, 2] = 0
    assert len(band_lengths(flat, faces, points[:, 0], 0.5, np.full(len(points), 0.4))[0]) == 0
