"""Gradient noise against Perlin, "Improving Noise" (2002), and another library."""

from __future__ import annotations

import math

import numpy as np
import pytest
from pyfastnoiselite.pyfastnoiselite import FastNoiseLite, NoiseType

from windsock.core.kernels.noise import GRADIENT_NOISE_PEAK, gradient_noise


def published_permutation() -> list[int]:
    """The table of the published reference implementation; the checksum guards against a slip of the pen."""
    text = (
        "151 160 137 91 90 15 131 13 201 95 96 53 194 233 7 225 140 36 103 30 69 142 8 99 37 240 21 10 23 190 6 148 "
        "247 120 234 75 0 26 197 62 94 252 219 203 117 35 11 32 57 177 33 88 237 149 56 87 174 20 125 136 171 168 68 "
        "175 74 165 71 134 139 48 27 166 77 146 158 231 83 111 229 122 60 211 133 230 220 105 92 41 55 46 245 40 244 "
        "102 143 54 65 25 63 161 1 216 80 73 209 76 132 187 208 89 18 169 200 196 135 130 116 188 159 86 164 100 109 "
        "198 173 186 3 64 52 217 226 250 124 123 5 202 38 147 118 126 255 82 85 212 207 206 59 227 47 16 58 17 182 "
        "189 28 42 223 183 170 213 119 248 152 2 44 154 163 70 221 153 101 155 167 43 172 9 129 22 39 253 19 98 108 "
        "110 79 113 224 232 178 185 112 104 218 246 97 228 251 34 242 193 238 210 144 12 191 179 162 241 81 51 145 "
        "235 249 14 239 107 49 192 214 31 181 199 106 157 184 84 204 176 115 121 50 45 127 4 150 254 138 236 205 93 "
        "222 114 67 29 24 72 243 141 128 195 78 66 215 61 156 180"
    )
    table = [int(word) for word in text.split()]
    assert sorted(table) == list(range(256))
    return table


TABLE = published_permutation()


def published(x: float, y: float, z: float) -> float:
    """The published function, line by line, slow and obvious."""
    p = TABLE + TABLE

    def fade(t):
        return t * t * t * (t * (t * 6 - 15) + 10)

    def lerp(t, a, b):
        return a + t * (b - a)

    def grad(h, x, y, z):
        h &= 15
        u = x if h < 8 else y
        v = y if h < 4 else (x if h in (12, 14) else z)
        return (u if h & 1 == 0 else -u) + (v if h & 2 == 0 else -v)

    i, j, k = (math.floor(c) & 255 for c in (x, y, z))
    x, y, z = (c - math.floor(c) for c in (x, y, z))
    u, v, w = fade(x), fade(y), fade(z)
    a = p[i] + j
    aa, ab = p[a] + k, p[a + 1] + k
    b = p[i + 1] + j
    ba, bb = p[b] + k, p[b + 1] + k
    return lerp(
        w,
        lerp(
            v,
            lerp(u, grad(p[aa], x, y, z), grad(p[ba], x - 1, y, z)),
            lerp(u, grad(p[ab], x, y - 1, z), grad(p[bb], x - 1, y - 1, z)),
        ),
        lerp(
            v,
            lerp(u, grad(p[aa + 1], x, y, z - 1), grad(p[ba + 1], x - 1, y, z - 1)),
            lerp(u, grad(p[ab + 1], x, y - 1, z - 1), grad(p[bb + 1], x - 1, y - 1, z - 1)),
        ),
    )


@pytest.mark.parametrize("spread", [3.0, 40.0])
def test_with_the_published_permutation_it_is_the_published_function(spread):
    # Fractions of a cell are of single precision (6e-8); the slopes of the fade make up to thirty times that of it.
    points = np.random.default_rng(1).uniform(-spread, spread, (2000, 3))
    ours = gradient_noise(points, 0, 1, np.array(TABLE)) * GRADIENT_NOISE_PEAK
    np.testing.assert_allclose(ours, [published(*point) for point in points], atol=3e-6)


def test_it_is_zero_at_lattice_points():
    lattice = np.stack(np.meshgrid(*[np.arange(-4, 5)] * 3), axis=-1).reshape(-1, 3).astype(float)
    np.testing.assert_array_equal(gradient_noise(lattice, 7, 1), 0.0)


@pytest.mark.parametrize("octaves", [1, 4])
def test_statistics_of_a_million_samples(octaves):
    points = np.random.default_rng(2).uniform(-500, 500, (1_000_000, 3))
    values = gradient_noise(points, 3, octaves)
    assert np.abs(values).max() <= 1.0
    # Standard error of the mean of independent samples is under 0.0003; cells are shared, hence the wider bound.
    assert abs(values.mean()) < 0.003
    thirds = [values[np.argsort(points[:, axis])[: len(values) // 3]].var() for axis in range(3)]
    assert max(thirds) / min(thirds) < 1.03


def test_no_direction_is_preferred():
    """The change over a short step has the same size along each axis, within 3 %."""
    points = np.random.default_rng(4).uniform(-200, 200, (200_000, 3))
    here = gradient_noise(points, 9, 1)
    steps = [np.abs(gradient_noise(points + 0.05 * np.eye(3)[axis], 9, 1) - here).mean() for axis in range(3)]
    assert max(steps) / min(steps) < 1.03


def test_the_stated_peak_is_reached_and_not_passed():
    """Climbing from many samples to the nearest peaks finds the stated range to 3 % and never more."""
    rng = np.random.default_rng(8)
    points = rng.uniform(-1000, 1000, (400_000, 3))
    best = points[np.argsort(-np.abs(gradient_noise(points, 0, 1)))[:200]]
    for size in (0.1, 0.05, 0.02, 0.01):
        tries = best[:, None, :] + rng.normal(0, size, (200, 60, 3))
        values = np.abs(gradient_noise(tries.reshape(-1, 3), 0, 1)).reshape(200, 60)
        best = tries[np.arange(200), values.argmax(axis=1)]
    peak = np.abs(gradient_noise(best, 0, 1)).max()
    assert 0.9 < peak <= 1.0


def test_spread_and_grain_are_those_of_another_library():
    """Same method, other hash: variance within 10 %, and the distance at which values are unrelated within 10 %."""
    other = FastNoiseLite(1)
    other.noise_type = NoiseType.NoiseType_Perlin
    other.frequency = 1.0
    points = np.random.default_rng(6).uniform(-300, 300, (200_000, 3)).astype(np.float32)

    def theirs(places: np.ndarray) -> np.ndarray:
        return other.gen_from_coords(np.ascontiguousarray(places.T, dtype=np.float32))

    def ours(places: np.ndarray) -> np.ndarray:
        return gradient_noise(places, 1, 1)

    def relation(noise, apart: float) -> float:
        return float(np.corrcoef(noise(points), noise(points + np.float32([apart, 0, 0])))[0, 1])

    for apart in (0.1, 0.25, 0.5):
        assert relation(ours, apart) == pytest.approx(relation(theirs, apart), abs=0.05)
    assert ours(points).std() == pytest.approx(theirs(points).std(), rel=0.12)


def test_seeds_and_octaves_differ_and_repeat():
    points = np.random.default_rng(3).uniform(-9, 9, (500, 3))
    one = gradient_noise(points, 1, 3)
    np.testing.assert_array_equal(one, gradient_noise(points, 1, 3))
    assert np.abs(one - gradient_noise(points, 2, 3)).mean() > 0.05
