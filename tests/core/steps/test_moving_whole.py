"""Shift and Jumble: pieces and copies moved, turned and sized, by the field, about their own middles or a controller."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from shots import parts_of, recipe_shot

from windsock.core.kernels.bodies import displaced, facing_turns, linear_parts, product


def pieces_of(*steps: dict, frame: float = 0, **item: object):
    document = recipe_shot({"kind": "fracture", "count": 12}, *steps)
    document["items"]["ball"] |= item
    return parts_of(document, frame)["body"]


def test_quaternions_against_scipy():
    rng = np.random.default_rng(5)
    angles = rng.uniform(-3, 3, (50, 3))
    place, axes = rng.normal(size=(50, 3)), Rotation.random(50, random_state=1).as_quat()
    turn = Rotation.random(50, random_state=2).as_quat().astype(np.float32)
    size = np.ones((50, 3), dtype=np.float32)
    move, factor = rng.normal(size=(50, 3)), rng.uniform(0, 2, (50, 3))
    # At half the weight, in degrees.
    weight = np.full(50, 0.5)
    places, turns, sizes = displaced(
        place, turn, size, axes, 2 * move, np.degrees(2 * angles), 2 * factor - 1, weight, None
    )
    frame = Rotation.from_quat(axes)
    spin = frame * Rotation.from_euler("xyz", angles) * frame.inv()
    assert places == pytest.approx(place + frame.apply(move))
    known = (spin * Rotation.from_quat(turn)).as_matrix()
    assert linear_parts(turns, np.ones((50, 3))) == pytest.approx(known, abs=1e-6)
    assert sizes == pytest.approx(factor.astype(np.float32))
    one, other = Rotation.random(9, random_state=3), Rotation.random(9, random_state=4)
    assert Rotation.from_quat(product(one.as_quat(), other.as_quat())).as_matrix() == pytest.approx(
        (one * other).as_matrix()
    )


def test_turns_that_face_a_normal():
    normals = np.random.default_rng(1).normal(size=(200, 3))
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    normals[0], normals[1] = [0, -1, 0], [0, 1, 0]
    up = np.tile([0.0, 1.0, 0.0], (200, 1))
    along = np.roll(normals, 1, axis=0)
    for made in (facing_turns(normals), facing_turns(normals, along)):
        assert Rotation.from_quat(made).apply(up) == pytest.approx(normals, abs=1e-6)
        assert np.linalg.norm(made, axis=1) == pytest.approx(1)
    sideways = Rotation.from_quat(facing_turns(normals, along)).apply([1.0, 0, 0])
    assert (np.einsum("ij,ij->i", sideways, along) > -1e-9).all()


def test_a_shift_without_a_field_moves_all_alike():
    before, after = pieces_of(), pieces_of({"kind": "shift", "move": [0.5, 1, -2], "axes": "world"})
    used = np.unique(before.mesh.faces)
    assert after.mesh.points[used] - before.mesh.points[used] == pytest.approx(
        np.tile([0.5, 1, -2], (len(used), 1)), abs=1e-5
    )


def test_world_axes_are_the_worlds_however_the_shape_lies():
    after = pieces_of({"kind": "shift", "move": [0, 1, 0], "axes": "world"}, turn=[0, 0, 90], scale=[2, 2, 2])
    own = after.pieces.places.points - after.pieces.places.rest
    # Turned by 90 degrees about Z and twice as large, one metre up is half a unit along the shape's own X.
    assert own == pytest.approx(np.tile([0.5, 0, 0], (12, 1)), abs=1e-5)


def test_pieces_turn_and_shrink_about_their_own_middles():
    before, after = pieces_of(), pieces_of({"kind": "shift", "turn": [0, 70, 0], "size": [0.5, 0.5, 0.5]})
    assert after.pieces.places.points == pytest.approx(before.pieces.places.points)
    piece = before.mesh.piece
    reach = [np.linalg.norm(one.mesh.points - one.pieces.places.points[piece], axis=1) for one in (before, after)]
    assert reach[1] == pytest.approx(reach[0] * 0.5, abs=1e-5)
    gone = pieces_of({"kind": "shift", "size": [0, 0, 0]})
    assert gone.mesh.points == pytest.approx(gone.pieces.places.points[gone.mesh.piece], abs=1e-6)
    assert np.isfinite(gone.mesh.normals).all()


def test_about_a_controller_pieces_go_round_it():
    step = {"kind": "shift", "turn": [0, 90, 0], "about": "fog"}
    document = recipe_shot({"kind": "fracture", "count": 12}, step)
    document["items"]["fog"]["place"] = [2, 0, 0]
    part = parts_of(document)["body"]
    rest = part.pieces.places.rest - np.array([2, 0, 0])
    known = Rotation.from_euler("y", 90, degrees=True).apply(rest) + np.array([2, 0, 0])
    assert part.pieces.places.points == pytest.approx(known, abs=1e-5)


def test_along_the_normal_pieces_leave_the_surface():
    steps = ({"kind": "fracture", "into": "faces"}, {"kind": "shift", "move": [0, 0.3, 0], "axes": "normal"})
    part = parts_of(recipe_shot(*steps))["body"]
    out = np.linalg.norm(part.pieces.places.points, axis=1) - np.linalg.norm(part.pieces.places.rest, axis=1)
    assert out == pytest.approx(0.3, abs=2e-3)


def test_the_weight_is_how_far():
    step = {"kind": "shift", "field": "front", "zone": "value", "move": [0, 1, 0], "amount": 0.5}
    part = pieces_of(step, frame=60)
    middle = part.pieces.places.rest.astype(float)
    # The fog stands at 3 - 4 * 0.6 = 0.6: 1 within half a metre, 0 from a metre and a half on.
    expected = np.clip(1.5 - np.linalg.norm(middle - np.array([0.6, 0, 0]), axis=1), 0, 1) * 0.5
    assert part.pieces.places.points[:, 1] - middle[:, 1] == pytest.approx(expected, abs=1e-5)


def test_a_part_in_no_pieces_moves_as_one():
    document = recipe_shot({"kind": "shift", "move": [0, 1, 0], "turn": [0, 0, 30]})
    part = parts_of(document)["body"]
    assert np.linalg.norm(part.mesh.points - np.array([0, 1, 0]), axis=1) == pytest.approx(1, abs=1e-5)


@pytest.mark.parametrize("seed", [1, 9])
def test_jumble_is_by_chance_within_its_bounds_and_stays_the_same(seed):
    step = {
        "kind": "jumble",
        "move": [0.1, 0.2, 0.0],
        "turn": [0, 0, 0],
        "smallest": 0.5,
        "largest": 1.5,
        "seed": seed,
        "axes": "world",
    }
    document = recipe_shot({"kind": "scatter", "count": 4000}, step | {"part": "copies"}, parts=("copies",))
    document["items"]["ball"]["recipe"]["steps"]["s1"] |= {"vary": 0, "tilt": 0, "soft": 0}
    still = parts_of(
        recipe_shot({"kind": "scatter", "count": 4000, "vary": 0, "tilt": 0, "soft": 0}, parts=("copies",))
    )["copies"]
    one, again = parts_of(document)["copies"], parts_of(document, 30)["copies"]
    assert np.array_equal(one.mesh.points, again.mesh.points)
    moved = one.mesh.points - still.mesh.points
    assert np.abs(moved).max(axis=0) == pytest.approx([0.1, 0.2, 0], abs=2e-3)
    assert moved.mean(axis=0) == pytest.approx([0, 0, 0], abs=0.01)
    grown = one.copies.size[:, 0] / still.copies.size[:, 0]
    assert [grown.min(), grown.mean(), grown.max()] == pytest.approx([0.5, 1.0, 1.5], abs=0.02)
