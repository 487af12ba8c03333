"""Cutting faces along a crossing, against the slow way face by face."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from windsock.core.kernels.crossing import crossing_shares, split_faces


def area(points: np.ndarray, faces: np.ndarray) -> float:
    a, b, c = points[faces[:, 0]], points[faces[:, 1]], points[faces[:, 2]]
    return float(0.5 * np.linalg.norm(np.cross(b - a, c - a), axis=1).sum())


def clipped_area(triangle: np.ndarray, over: np.ndarray) -> float:
    """Sutherland and Hodgman (1974): clip one triangle where a linear function is below zero."""
    polygon: list[np.ndarray] = []
    for i in range(3):
        j = (i + 1) % 3
        if over[i] < 0:
            polygon.append(triangle[i])
        if (over[i] < 0) != (over[j] < 0):
            polygon.append(triangle[i] + (triangle[j] - triangle[i]) * over[i] / (over[i] - over[j]))
    return sum(
        0.5 * float(np.linalg.norm(np.cross(polygon[i] - polygon[0], polygon[i + 1] - polygon[0])))
        for i in range(1, len(polygon) - 1)
    )


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000))
def test_what_is_left_is_what_clipping_each_face_leaves(seed):
    rng = np.random.default_rng(seed)
    points = rng.normal(size=(30, 3))
    faces = np.array([rng.choice(30, 3, replace=False) for _ in range(40)], dtype=np.int32)
    over = points @ rng.normal(size=3) - rng.normal() * 0.3
    split = split_faces(faces, over >= 0, np.arange(30))
    share = over[split.first] / (over[split.first] - over[split.second])
    added = points[split.first] + (points[split.second] - points[split.first]) * share[:, None]
    ours = area(np.concatenate([points, added]), split.faces)
    expected = sum(clipped_area(points[face], over[face]) for face in faces)
    assert ours == pytest.approx(expected, rel=1e-9, abs=1e-12)


def test_winding_is_kept():
    points = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0]], dtype=float)
    for drop in range(1, 7):
        dropped = np.array([bool(drop & 1), bool(drop & 2), bool(drop & 4)])
        split = split_faces(np.array([[0, 1, 2]], dtype=np.int32), dropped, np.arange(3))
        added = 0.5 * (points[split.first] + points[split.second])
        every = np.concatenate([points, added])
        a, b, c = (every[split.faces[:, i]] for i in range(3))
        assert (np.cross(b - a, c - a)[:, 2] > 0).all()


def test_edges_on_a_seam_are_split_in_the_same_order():
    """Two faces with points of their own but the same numbers, given in opposite order."""
    faces = np.array([[0, 1, 2], [4, 3, 5]], dtype=np.int32)
    number = np.array([7, 9, 1, 7, 9, 2])
    split = split_faces(faces, np.array([True, False, False, True, False, False]), number)
    pairs = {(int(number[a]), int(number[b])) for a, b in zip(split.first, split.second, strict=True)}
    assert pairs == {(7, 9), (1, 7), (2, 7)}


@pytest.mark.parametrize(
    "curve",
    [lambda t: t**3 - 0.2, lambda t: np.where(t < 0.37, -1.0, 1.0), lambda t: np.exp(9 * t) - 50, lambda t: 0.3 - t],
)
def test_roots_are_those_of_a_root_finder(curve):
    ends = np.array([0.0]), np.array([1.0])
    share = crossing_shares(curve(ends[0]), curve(ends[1]), lambda _, t: curve(t))[0]
    expected = brentq(lambda t: float(np.asarray(curve(np.array([t])))[0]), 0, 1, xtol=1e-12)
    assert share == pytest.approx(expected, abs=1e-7)


def test_edges_that_are_found_are_not_asked_for_again():
    asked: list[int] = []

    def values(edge, share):
        asked.append(len(edge))
        return np.where(edge == 0, share - 0.5, share**9 - 0.001)

    crossing_shares(np.array([-0.5, -0.001]), np.array([0.5, 0.999]), values)
    assert asked[0] == 2
    assert asked[-1] == 1
