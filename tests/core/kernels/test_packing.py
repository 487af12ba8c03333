"""Packed arrays against the plain arithmetic that they stand for (glTF 2.0, normalized integers)."""

from __future__ import annotations

import numpy as np

from windsock.core.kernels.packing import packed_normals, packed_tint


def test_normals_are_within_half_a_step():
    normals = np.random.default_rng(0).uniform(-1.2, 1.2, (500, 3)).astype(np.float32)
    packed = packed_normals(normals)
    assert packed.shape == (500, 4)
    assert np.all(packed[:, 3] == 0)
    np.testing.assert_allclose(packed[:, :3] / 32767, np.clip(normals, -1, 1), atol=0.51 / 32767)


def test_a_colour_that_is_none_shows_the_base():
    base = np.array([0.1, 0.2, 0.3], dtype=np.float32)
    colour = np.array([[0.5, 0.6, 2.0], [np.nan] * 3], dtype=np.float32)
    opacity = np.array([0.25, -1.0], dtype=np.float32)
    told = packed_tint(2, base, colour, opacity) / 65535
    np.testing.assert_allclose(told, [[0.5, 0.6, 1, 0.25], [0.1, 0.2, 0.3, 0]], atol=0.51 / 65535)
    np.testing.assert_allclose(packed_tint(1, base, None, None)[0] / 65535, [0.1, 0.2, 0.3, 1], atol=0.51 / 65535)
