"""How far a surface is stretched and folded: against singular values of NumPy's and closed forms, and read as a field."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from shots import cut_ball, evaluator, parse_shot, recipe_shot

from windsock.core.evaluate.frame import Heat
from windsock.core.evaluate.probe import probe
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.strain import strain_of

BALL = {"kind": "sphere", "radius": 1.0, "subdivisions": 3}
STRETCH = {"kind": "surface", "reading": "stretch", "low": 1.0, "high": 3.0}
FOLD = {"kind": "surface", "reading": "fold", "low": 0.0, "high": 180.0}


def strip(points: list, faces: list, rest: list) -> Mesh:
    made = np.array(points, dtype=np.float32)
    return Mesh(
        made,
        np.array(rest, dtype=np.float32),
        np.zeros_like(made),
        np.array(faces, dtype=np.int32),
        np.arange(len(made)),
    )


def ball() -> Mesh:
    return evaluator().frame(parse_shot(recipe_shot(geometry=BALL)), 0).draw[0].body.mesh


def test_the_stretch_of_an_affine_map_is_its_largest_singular_value_in_the_faces():
    """On each face: NumPy's singular values of the map between orthonormal bases of its plane before and after."""
    mesh, rng = ball(), np.random.default_rng(2)
    linear = np.eye(3) + 0.6 * rng.normal(size=(3, 3))
    made = strain_of(replace(mesh, points=(mesh.points @ linear.T).astype(np.float32)), np.eye(4))
    start = mesh.points[mesh.faces[:, 0]].astype(float)
    sides = np.stack([mesh.points[mesh.faces[:, k]].astype(float) - start for k in (1, 2)], axis=2)
    bases = np.linalg.qr(sides)[0]
    largest = np.linalg.svd(linear @ bases, compute_uv=False)[:, 0]
    expected = np.zeros(len(mesh.points))
    np.maximum.at(expected, mesh.faces.ravel(), np.repeat(largest, 3))
    assert made.stretch == pytest.approx(expected, rel=2e-4)


def test_turned_carried_and_stretched_as_a_whole_it_is_not_strained():
    mesh = ball()
    matrix = np.array([[0, -3.0, 0, 1], [2, 0, 0, 5], [0, 0, 0.5, -2], [0, 0, 0, 1]])
    made = strain_of(mesh, matrix)
    assert made.stretch == pytest.approx(1, abs=1e-6)
    assert made.fold == pytest.approx(0, abs=1e-5)


@pytest.mark.parametrize("degrees", [0.0, 30.0, 90.0, 180.0])
def test_the_fold_of_two_faces_is_the_angle_between_them(degrees):
    """A square folded over its diagonal, as flat at rest; its other two corners are at the fold's faces, not on its edge."""
    rest = [[0, 0, 0], [1, 0, 0], [0, 0, 1], [1, 0, 1]]
    axis, angle = np.array([-1, 0, 1]) / np.sqrt(2), np.radians(degrees)
    arm = np.array([1.0, 0, 1]) - [1, 0, 0]
    turned = (
        arm * np.cos(angle)
        + np.cross(axis, arm) * np.sin(angle)
        + axis * (axis @ arm) * (1 - np.cos(angle))
        + [1, 0, 0]
    )
    mesh = strip([*rest[:3], turned], [[0, 2, 1], [1, 2, 3]], rest)
    made = strain_of(mesh, np.eye(4))
    assert made.fold == pytest.approx([0, degrees, degrees, 0], abs=0.1)
    assert made.stretch == pytest.approx(1, abs=1e-6)
    # Folded at rest and flat now, it is not folded more.
    back = strip(rest, [[0, 2, 1], [1, 2, 3]], [*rest[:3], turned])
    assert strain_of(back, np.eye(4)).fold == pytest.approx(0, abs=0.1)


def test_faces_of_no_area_are_neither():
    flat = strip([[0, 0, 0], [1, 0, 0], [2, 0, 0], [0, 1, 0]], [[0, 1, 2], [0, 1, 3]], [[0, 0, 0]] * 4)
    made = strain_of(flat, np.eye(4))
    assert made.stretch == pytest.approx(1)
    assert made.fold == pytest.approx(0)
    empty = strain_of(strip([[0, 0, 0]], np.zeros((0, 3)), [[0, 0, 0]]), np.eye(4))
    assert (empty.stretch, empty.fold) == ([1.0], [0.0])


def heat_of(document: dict, frame: float = 0, one=None) -> np.ndarray:
    made = (one or evaluator()).frame(parse_shot(document), frame, heat=Heat("front", "ball"))
    return made.draw[0].heat


def pulled(source: dict, **step: object) -> dict:
    """A ball of which one half is pulled out along x, and a field of how far it is strained."""
    document = cut_ball(source=None, geometry=BALL)
    document["fields"]["front"]["sources"] = {"it": {"rank": 0} | source}
    taper = {"kind": "taper", "rank": 0, "axis": "x", "start": -1.0, "end": 1.0, "size": 2.5} | step
    document["items"]["ball"]["recipe"]["steps"] = {"taper": taper}
    return document


def test_it_is_read_as_a_field_where_the_shape_stands_now():
    factor = {"keys": {"a": {"frame": 0, "value": 1.0}, "b": {"frame": 20, "value": 2.5}}}
    document, one = pulled(STRETCH, size=factor), evaluator()
    assert heat_of(document, 0, one) == pytest.approx(0, abs=1e-6)
    later = heat_of(document, 20, one)
    mesh = one.frame(parse_shot(document), 20).draw[0].body.mesh
    assert later[mesh.rest[:, 0] > 0.5].min() > later[mesh.rest[:, 0] < -0.5].max()
    assert later.tobytes() == heat_of(document, 20).tobytes()
    # On the shape before its recipe nothing is.
    assert heat_of(pulled(STRETCH | {"measured": "rest"})) == pytest.approx(0, abs=1e-6)
    # Turned and stretched as a whole it is the same: only what steps do counts.
    turned = pulled(STRETCH)
    turned["items"]["ball"] |= {"turn": [20.0, 50.0, 0.0], "scale": [2.0, 2.0, 2.0], "place": [1.0, 2.0, 3.0]}
    assert heat_of(turned) == pytest.approx(heat_of(pulled(STRETCH)), abs=2e-3)


def test_a_later_step_and_the_probe_read_the_same():
    document = pulled(STRETCH)
    document["fields"]["front"]["level"] = 0.25
    document["items"]["ball"]["recipe"]["steps"]["cut"] = {"kind": "cut_away", "rank": 1, "field": "front"}
    shot = parse_shot(document)
    whole = evaluator().frame(parse_shot(pulled(STRETCH)), 0).draw[0].body.mesh
    left = evaluator().frame(shot, 0).draw[0].body.mesh
    values = strain_of(whole, np.eye(4)).stretch
    assert 0 < len(left.faces) < len(whole.faces)
    kept = np.isin(whole.number, left.number)
    assert (values[kept] < 1.5 + 1e-6).mean() > 0.99
    del document["items"]["ball"]["recipe"]["steps"]["cut"]
    at = int(np.argmax(values))
    place = tuple(map(float, whole.points[at]))
    found = probe(evaluator(), parse_shot(document), 0, "front", "ball", place)
    assert found.value == pytest.approx(min((values[at] - 1) / 2, 1), abs=1e-4)
