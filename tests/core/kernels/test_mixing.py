"""Places between three others, and where the faces about a place look, against loops that go one by one."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from windsock.core.geometry.mesh import smooth_normals
from windsock.core.kernels.facing import facing_sums
from windsock.core.kernels.mixing import canonical, mixed_values


def places_between(count: int, seed: int) -> tuple[np.ndarray, np.ndarray]:
    """Corners and shares, of which about a third are nothing."""
    rng = np.random.default_rng(seed)
    corners = np.stack([rng.permutation(50)[:3] for _ in range(count)])
    shares = rng.uniform(0, 1, (count, 3)) * (rng.uniform(0, 1, (count, 3)) > 0.33)
    shares[:, 0] += shares.sum(axis=1) == 0
    return corners, shares / shares.sum(axis=1, keepdims=True)


@pytest.mark.parametrize("seed", [1, 2])
def test_a_place_is_told_the_same_whatever_the_order_of_its_corners(seed):
    corners, shares = places_between(200, seed)
    of, share = canonical(corners, shares)
    for k in range(200):
        wanted = sorted(((c, s) for c, s in zip(corners[k], shares[k], strict=True) if s > 0), reverse=True)
        assert [(c, s) for c, s in zip(of[k], share[k], strict=True) if s > 0] == wanted
    for order in itertools.permutations(range(3)):
        again, shared = canonical(np.ascontiguousarray(corners[:, order]), np.ascontiguousarray(shares[:, order]))
        np.testing.assert_array_equal(again, of)
        np.testing.assert_array_equal(shared, share)


def test_values_between_are_their_mean_and_what_has_no_share_may_be_infinite():
    corners, shares = places_between(100, 3)
    values = np.random.default_rng(4).normal(size=50)
    wanted = (values[corners] * shares).sum(axis=1)
    np.testing.assert_allclose(mixed_values(corners, shares, values), wanted, atol=1e-12)
    values[7] = np.inf
    mixed = mixed_values(corners, shares, values)
    touched = ((corners == 7) & (shares > 0)).any(axis=1)
    assert np.isinf(mixed[touched]).all()
    np.testing.assert_allclose(mixed[~touched], wanted[~touched], atol=1e-12)


@pytest.mark.parametrize("seed", [5, 6])
def test_what_faces_about_a_place_look_like_together(seed):
    rng = np.random.default_rng(seed)
    points, faces = rng.normal(size=(30, 3)).astype(np.float32), rng.integers(0, 30, (80, 3)).astype(np.int32)
    place = rng.integers(0, 12, 30)
    wanted = np.zeros((12, 3))
    for face in faces:
        a, b, c = points[face].astype(float)
        for corner in face:
            wanted[place[corner]] += np.cross(b - a, c - a)
    np.testing.assert_allclose(facing_sums(points, faces, place, 12), wanted, atol=1e-12)


@pytest.mark.parametrize("number", [[0, 1, 2, 3], [0, 1, 2, 0], [-9, 40, 7, 2**40], [3, 3, 3, 3]])
def test_points_of_one_number_share_a_normal_whatever_the_numbers_are(number):
    points = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]], dtype=np.float32)
    faces = np.array([[0, 1, 2], [0, 3, 1], [0, 2, 3]], dtype=np.int32)
    normals = smooth_normals(points, faces, np.array(number))
    np.testing.assert_allclose(np.linalg.norm(normals, axis=1), 1, atol=1e-6)
    for one, other in itertools.combinations(range(4), 2):
        if number[one] == number[other]:
            np.testing.assert_array_equal(normals[one], normals[other])
    if len(set(number)) == 4:
        # Three faces of one area meet at the origin, looking along Z, Y and X; two of them at the end of X.
        np.testing.assert_allclose(normals[0], np.ones(3) / np.sqrt(3), atol=1e-6)
        np.testing.assert_allclose(normals[1], np.array([0, 1, 1]) / np.sqrt(2), atol=1e-6)
