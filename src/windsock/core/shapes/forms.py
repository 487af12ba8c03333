"""Light forms that copies can take without a shape of their own. They stand on +Y and are one metre at their longest."""

from __future__ import annotations

from functools import cache
from typing import Literal

import numpy as np

from windsock.core.geometry.mesh import Mesh, smooth_normals

Form = Literal["flakes", "needles", "beads", "blocks"]


@cache
def form_mesh(form: Form) -> Mesh:
    """flakes: flat, six-sided, across +Y. needles: three-sided, from the origin up. beads: round. blocks: cubes."""
    if form == "flakes":
        return _flake()
    if form == "needles":
        return _needle()
    return _bead() if form == "beads" else _block()


def _mesh(points: list[list[float]] | np.ndarray, faces: list[list[int]] | np.ndarray, flat: bool) -> Mesh:
    places = np.asarray(points, dtype=np.float32)
    corners = np.asarray(faces, dtype=np.int32)
    number = np.arange(len(places), dtype=np.int64)
    if not flat:
        return Mesh(places, places, smooth_normals(places, corners, number), corners, number)
    # Each face has points of its own; those of one place have one number.
    number, places = number[corners.ravel()], places[corners.ravel()]
    corners = np.arange(len(places), dtype=np.int32).reshape(-1, 3)
    normals = smooth_normals(places, corners, np.arange(len(places), dtype=np.int64))
    return Mesh(places, places, normals, corners, number)


def _flake() -> Mesh:
    """A thin plate, uneven round its edge so that it reads as broken off, a little bent."""
    angle = np.arange(6) * np.pi / 3
    reach = np.array([0.5, 0.42, 0.47, 0.4, 0.5, 0.44])
    rim = np.stack([np.cos(angle) * reach, np.array([0.02, -0.03, 0.03, -0.02, 0.04, -0.03]), np.sin(angle) * reach], 1)
    top, low = rim + [0, 0.025, 0], rim - [0, 0.025, 0]
    points = np.concatenate([[[0, 0.05, 0], [0, 0.0, 0]], top, low])
    one = np.arange(6)
    two = (one + 1) % 6
    faces = np.concatenate(
        [
            np.stack([0 * one, 2 + two, 2 + one], 1),
            np.stack([0 * one + 1, 8 + one, 8 + two], 1),
            np.stack([2 + one, 2 + two, 8 + two], 1),
            np.stack([2 + one, 8 + two, 8 + one], 1),
        ]
    )
    return _mesh(points, faces, True)


def _needle() -> Mesh:
    angle = np.arange(3) * 2 * np.pi / 3
    low = np.stack([np.cos(angle) * 0.05, 0 * angle, np.sin(angle) * 0.05], axis=1)
    points = np.concatenate([low, [[0.0, 1.0, 0.0]]])
    return _mesh(points, [[0, 3, 1], [1, 3, 2], [2, 3, 0]], False)


def _bead() -> Mesh:
    rings, round_ = 4, 8
    points = [[0.0, 0.5, 0.0]]
    for ring in range(1, rings):
        polar = np.pi * ring / rings
        for side in range(round_):
            angle = 2 * np.pi * side / round_
            points.append(
                [0.5 * np.sin(polar) * np.cos(angle), 0.5 * np.cos(polar), 0.5 * np.sin(polar) * np.sin(angle)]
            )
    points.append([0.0, -0.5, 0.0])
    last = len(points) - 1
    faces: list[list[int]] = []
    for side in range(round_):
        after = (side + 1) % round_
        faces.append([0, 1 + after, 1 + side])
        for ring in range(rings - 2):
            a, b = 1 + ring * round_ + side, 1 + ring * round_ + after
            faces += [[a, b, b + round_], [a, b + round_, a + round_]]
        low = 1 + (rings - 2) * round_
        faces.append([last, low + side, low + after])
    return _mesh(points, faces, False)


def _block() -> Mesh:
    corner = np.array([[x, y, z] for x in (-0.5, 0.5) for y in (-0.5, 0.5) for z in (-0.5, 0.5)])
    faces = [
        [0, 1, 3], [0, 3, 2], [4, 6, 7], [4, 7, 5], [0, 4, 5], [0, 5, 1],
        [2, 3, 7], [2, 7, 6], [0, 2, 6], [0, 6, 4], [1, 5, 7], [1, 7, 3],
    ]  # fmt: skip
    return _mesh(corner, faces, True)
