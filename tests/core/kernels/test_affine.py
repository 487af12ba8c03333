"""Points through a matrix, against the plain product."""

from __future__ import annotations

import numpy as np
import pytest

from windsock.core.kernels.affine import affine, lengths, linear

RNG = np.random.default_rng(4)


@pytest.mark.parametrize("kind", [np.float32, np.float64])
def test_points_vectors_and_lengths_are_those_of_the_product(kind):
    points = RNG.normal(size=(500, 3)).astype(kind)
    matrix = np.eye(4)
    matrix[:3] = RNG.normal(size=(3, 4))
    told = points.astype(np.float64) @ matrix[:3, :3].T + matrix[:3, 3]
    np.testing.assert_allclose(affine(points, matrix), told, atol=1e-12)
    np.testing.assert_allclose(lengths(points, matrix), np.linalg.norm(told, axis=1), atol=1e-12)
    turned = points.astype(np.float64) @ matrix[:3, :3].T
    np.testing.assert_allclose(linear(points, matrix[:3, :3]), turned, atol=1e-12)
    unit = turned / np.linalg.norm(turned, axis=1, keepdims=True)
    np.testing.assert_allclose(linear(points, matrix[:3, :3], unit=True), unit, atol=1e-12)


def test_what_has_no_length_stays_so():
    assert (linear(np.zeros((2, 3)), np.eye(3), unit=True) == 0).all()
    assert (lengths(np.zeros((2, 3)), np.eye(4)) == 0).all()
