"""Meshes that no one should send: of no area, crossed, doubled, turned inside out, one-sided, tiny, huge, far away.

What breaks them or covers them gives a result of sound numbers, or says in words why not.
"""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot, recipe_shot

from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal, TooMuch
from windsock.formats.scene import checked

CORNERS = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)], dtype=float)
OUTWARD = np.array(
    [[3, 1, 0], [2, 3, 0], [7, 6, 4], [5, 7, 4], [5, 4, 0], [1, 5, 0], [7, 3, 2], [6, 7, 2], [6, 2, 0], [4, 6, 0], [7, 5, 1], [3, 7, 1]]
)  # fmt: skip


def strip(turns: float) -> tuple[np.ndarray, np.ndarray]:
    """A band of 40 squares that comes back to itself after so many half turns: with one it has one side only (Moebius)."""
    angle = np.linspace(0, 2 * np.pi, 40, endpoint=False)
    points = [
        [(1 + s * np.cos(turns * a)) * np.cos(a), s * np.sin(turns * a), (1 + s * np.cos(turns * a)) * np.sin(a)]
        for a in angle
        for s in (-0.3, 0.3)
    ]
    faces = [corner for i in range(39) for corner in ([2 * i, 2 * i + 1, 2 * i + 3], [2 * i, 2 * i + 3, 2 * i + 2])]
    return np.array(points), np.array([*faces, [78, 79, 0], [78, 0, 1]])


MESHES: dict[str, tuple[np.ndarray, np.ndarray]] = {
    "one face": (CORNERS[:3], np.array([[0, 1, 2]])),
    "a face of no area": (np.array([[0, 0, 0], [1, 0, 0], [0.5, 1e-9, 0]]), np.array([[0, 1, 2]])),
    "a place": (np.zeros((3, 3)), np.array([[0, 1, 2]])),
    "a box of no depth": (CORNERS * [1, 1, 0], OUTWARD),
    "a box as thin as paper": (CORNERS * [1, 1, 1e-7], OUTWARD),
    "inside out": (CORNERS, OUTWARD[:, ::-1]),
    "tiny": (CORNERS * 1e-6, OUTWARD),
    "huge": (CORNERS * 1e5, OUTWARD),
    "far away": (CORNERS + 9e5, OUTWARD),
    "doubled": (CORNERS, np.concatenate([OUTWARD, OUTWARD])),
    "with slivers": (
        np.concatenate([CORNERS, [[0.5, 0, 1e-9], [0.5, 0, 2e-9]]]),
        np.concatenate([OUTWARD, [[0, 8, 9], [8, 9, 4]]]),
    ),
    "two that cross": (
        np.concatenate([CORNERS, CORNERS + [0.5, 0.4, 0.3]]),
        np.concatenate([OUTWARD, OUTWARD + 8]),
    ),
    "one-sided": strip(0.5),
}
BREAKING = {
    "cells": {"kind": "fracture", "count": 20},
    "cells with a gap": {"kind": "fracture", "count": 20, "gap": 0.01, "rounding": 0.01},
    "slabs": {"kind": "fracture", "into": "slabs", "count": 9},
    "thick blocks": {"kind": "fracture", "into": "blocks", "thickness": 0.05},
    "faces": {"kind": "fracture", "into": "faces", "thickness": 0.05},
    "islands": {"kind": "fracture", "into": "islands"},
    "wires": {"kind": "wire"},
}
COVERING = {
    "faces": {"kind": "scatter", "count": 40},
    "edges": {"kind": "scatter", "count": 40, "on_what": "edges"},
    "volume": {"kind": "scatter", "count": 40, "on_what": "volume"},
    "spacing": {"kind": "scatter", "by": "spacing", "spacing": 0.1},
    "embers": {"kind": "shed", "field": "front"},
}


def mesh_of(name: str) -> Mesh:
    places, faces = MESHES[name]
    points = places.astype(np.float32)
    made = Mesh(points, points, np.zeros_like(points), faces.astype(np.int32), np.arange(len(points)))
    return checked(made, keeps_normals=False)


def sound(name: str, *steps: dict, parts: tuple[str, ...] = ()) -> None:
    document = recipe_shot(*steps, geometry={"kind": "imported", "asset": "0" * 64}, parts=parts)
    try:
        frame = evaluator(held=mesh_of(name)).frame(parse_shot(document), 60)
    except (Refusal, TooMuch) as refusal:
        words = str(refusal)
    else:
        for item in frame.draw:
            assert np.isfinite(item.points).all()
            assert np.isfinite(item.body.mesh.normals).all()
            assert item.body.mesh.faces.max(initial=-1) < len(item.body.mesh.points)
        return
    assert "Nothing was changed." in words


@pytest.mark.parametrize("name", list(MESHES))
def test_bad_meshes_are_broken_soundly_or_refused(name):
    for step in BREAKING.values():
        sound(name, step, {"kind": "shift", "move": [0, 0.1, 0]})
    sound(name, BREAKING["cells"], {"kind": "release", "field": "front"})


@pytest.mark.parametrize("name", list(MESHES))
def test_bad_meshes_are_covered_soundly_or_refused(name):
    for step in COVERING.values():
        sound(name, step | {"makes": "copies"}, {"kind": "jumble", "part": "copies"}, parts=("copies",))
