"""A shape laid along a path: lengths against circles, ends, turns, closed paths, moving paths."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from shots import evaluator, parse_shot, parts_of, recipe_shot

ROD = {"kind": "box", "width": 0.2, "height": 2.0, "depth": 0.1, "divisions": 60}


def circle(radius: float = 1.0, closed: bool = True, turns: float = 1.0) -> dict:
    """A circle in the XZ plane; as good as a curve through 32 points is, about 1e-5 of its radius."""
    count = 32
    angles = np.linspace(0, 2 * np.pi * turns, count, endpoint=not closed)
    points = {
        f"p{k}": {"rank": k, "place": [radius * float(np.cos(a)), 0.0, radius * float(np.sin(a))], "joint": "smooth"}
        for k, a in enumerate(angles)
    }
    return {"kind": "path", "name": "Way", "rank": 8, "points": points, "closed": closed}


def lying(step: dict, path: dict | None = None, frame: float = 0, **item) -> np.ndarray:
    """(n, 3) the places of a rod in the world, after it was laid along a path."""
    document = recipe_shot({"kind": "lie_along", "path": "way"} | step, geometry=ROD)
    document["items"]["way"] = path or circle()
    document["items"]["ball"] |= item
    drawn = evaluator().frame(parse_shot(document), frame).draw[0]
    return drawn.body.mesh.points @ drawn.matrix[:3, :3].T + drawn.matrix[:3, 3]


def rest() -> np.ndarray:
    return parts_of(recipe_shot(geometry=ROD))["body"].mesh.points.astype(np.float64)


@pytest.mark.parametrize("stands", [{}, {"place": [3.0, 1.0, -2.0], "turn": [10.0, 200.0, 35.0]}])
def test_it_lies_on_the_path_wherever_it_stands(stands):
    world = lying({"start": 0.25, "end": 0.75}, **stands)
    middle = rest()
    angle = 2 * np.pi * (0.25 + 0.5 * (middle[:, 1] + 1) / 2)
    beside = np.hypot(world[:, 0], world[:, 2]) - 1
    assert np.abs(beside).max() < 0.13
    flat = np.arctan2(world[:, 2], world[:, 0]) % (2 * np.pi)
    assert flat == pytest.approx(angle, abs=2e-3)
    # Its section is as it was: 0.2 by 0.1.
    assert np.hypot(beside, world[:, 1]) == pytest.approx(np.hypot(middle[:, 0], middle[:, 2]), abs=1e-3)


def test_with_its_length_kept_it_covers_as_many_metres():
    world = lying({"start": 0.1, "length": "kept", "end": 0.9})
    angle = np.unwrap(np.sort(np.arctan2(world[:, 2], world[:, 0]) % (2 * np.pi)))
    assert angle[0] == pytest.approx(0.2 * np.pi, abs=2e-3)
    assert angle[-1] - angle[0] == pytest.approx(2.0, abs=2e-3)
    stretched = lying({"start": 0.1, "length": "kept"}, scale=[1.0, 1.5, 1.0])
    angle = np.sort(np.arctan2(stretched[:, 2], stretched[:, 0]) % (2 * np.pi))
    assert angle[-1] - angle[0] == pytest.approx(3.0, abs=3e-3)


def test_on_a_closed_path_it_goes_round_and_on_an_open_one_straight_on():
    assert lying({"start": 1.25, "end": 1.75}) == pytest.approx(lying({"start": 0.25, "end": 0.75}), abs=1e-5)
    arc = circle(closed=False, turns=0.25)
    world = lying({"start": 0.5, "end": 1.5}, arc)
    middle = rest()
    past = middle[:, 1] > 0.05
    # A quarter of a circle ends at (0, 0, 1), on its way to -X.
    assert -world[past, 0] == pytest.approx((middle[past, 1]) / 2 * np.pi / 2, abs=5e-3)


def test_thickness_and_turn_go_along_it_by_curves():
    points = {"a": {"x": 0.0, "y": 0.0}, "b": {"x": 1.0, "y": 1.0}}
    rising = {"points": points}
    middle = rest()
    thin = lying({"thick_along": rising, "thickness": 2.0, "start": 0.2, "end": 0.8})
    section = np.hypot(np.hypot(thin[:, 0], thin[:, 2]) - 1, thin[:, 1])
    share = (middle[:, 1] + 1) / 2
    assert section == pytest.approx(2 * share * np.hypot(middle[:, 0], middle[:, 2]), abs=3e-3)
    plain, turned = lying({"start": 0.2, "end": 0.8}), lying({"turn": 90.0, "start": 0.2, "end": 0.8})
    radial = np.hypot(plain[:, 0], plain[:, 2]) - 1
    # By a quarter turn, what stood up lies flat.
    assert np.abs(turned[:, 1]) == pytest.approx(np.abs(radial), abs=1e-3)


def test_the_path_may_move_and_be_keyed():
    way = circle() | {
        "place": {"keys": {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 24, "value": [0, 5, 0]}}}
    }
    assert lying({}, way, 24) == pytest.approx(lying({}) + [0, 5, 0], abs=1e-5)


def test_what_lies_nowhere_stays_as_it_is():
    plain = parts_of(recipe_shot(geometry=ROD))["body"].mesh.points
    same = {"rank": 0, "place": [1.0, 1.0, 1.0]}
    points = {"p1": same, "p2": same | {"rank": 1}}
    dot = {"kind": "path", "name": "Dot", "rank": 8, "points": points}
    document = recipe_shot({"kind": "lie_along", "path": "way"}, geometry=ROD)
    document["items"]["way"] = dot
    assert parts_of(document)["body"].mesh.points.tobytes() == plain.tobytes()
    for step in ({"path": None}, {"amount": 0, "path": "way"}):
        document["items"]["way"] = circle()
        document["items"]["ball"]["recipe"]["steps"]["s1"] |= step
        assert parts_of(document)["body"].mesh.points.tobytes() == plain.tobytes()


def test_copies_lie_on_the_path_turned_along_it():
    """On a circle, what stood up the rod looks along the circle, at each copy's own angle."""
    flakes = {"kind": "scatter", "count": 200, "makes": "flakes", "size": 0.02}
    lie = {"kind": "lie_along", "path": "way", "part": "flakes", "start": 0.0, "end": 0.5}
    turned = []
    for steps in ((flakes,), (flakes, lie)):
        document = recipe_shot(*steps, geometry=ROD, parts=("flakes",))
        document["items"]["way"] = circle()
        turned.append(parts_of(document)["flakes"])
    before, after = turned
    angle = np.pi * (before.mesh.points[:, 1].astype(float) + 1) / 2
    ahead = np.stack([-np.sin(angle), np.zeros_like(angle), np.cos(angle)], axis=1)
    own = Rotation.from_quat(before.copies.turn).inv().apply([0.0, 1.0, 0.0])
    assert Rotation.from_quat(after.copies.turn).apply(own) == pytest.approx(
        ahead, abs=0.01
    )  # the circle is a curve through 32 points
