"""Corner normals against the plain loop over all pairs of faces."""

from __future__ import annotations

import numpy as np
import pytest

from windsock.core.kernels.creases import corner_normals


@pytest.mark.parametrize("angle", [0.2, 0.8, 3.2])
@pytest.mark.parametrize("count", [5, 60])
def test_it_is_what_every_pair_says(count, angle):
    random = np.random.default_rng(count)
    facing = random.normal(size=(count, 3))
    place = random.integers(0, max(count // 2, 4), (count, 3))
    unit = facing / np.linalg.norm(facing, axis=1, keepdims=True)
    expected = np.zeros((count, 3, 3))
    for face in range(count):
        for corner in range(3):
            for other in range(count):
                times = int((place[other] == place[face, corner]).sum())
                if times and (other == face or unit[face] @ unit[other] >= np.cos(angle)):
                    expected[face, corner] += times * facing[other]
    expected /= np.linalg.norm(expected, axis=2, keepdims=True)
    np.testing.assert_allclose(corner_normals(facing, place.astype(np.int64), angle), expected, atol=1e-9)


def test_faces_of_no_area_get_a_normal_all_the_same():
    made = corner_normals(np.zeros((1, 3)), np.array([[0, 1, 2]]), 0.5)
    assert np.linalg.norm(made, axis=2).tolist() == [[1, 1, 1]]
