"""What the page is told of where steps reach, and of where what goes along a path is carried."""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot, recipe_shot

from windsock.evaluator.bundle import regions, spaces


def test_a_region_is_told_in_metres_along_its_axis_however_the_controller_is_stretched():
    steps = [
        {"kind": "bend", "controller": "fog", "start": 0.5, "end": -1.0},
        {"kind": "twist", "axis": "x"},
        {"kind": "taper", "on": False},
    ]
    document = recipe_shot(*steps)
    document["items"]["fog"]["scale"] = [1.0, 3.0, 1.0]
    shot = parse_shot(document)
    bend, twist = regions(shot, evaluator().frame(shot, 0))
    assert bend == {"item": "ball", "step": "s1", "space": "fog", "axis": "y", "start": -3.0, "end": 1.5}
    assert (twist["space"], twist["axis"], twist["start"], twist["end"]) == ("ball", "x", -1.0, 1.0)


def test_what_goes_along_a_path_has_a_space_of_its_own():
    document = recipe_shot()
    points = {"a": {"rank": 0, "place": [0, 0, 0]}, "b": {"rank": 1, "place": [4, 0, 0]}}
    document["items"]["way"] = {"kind": "path", "name": "Way", "rank": 5, "points": points}
    document["items"]["ball"] |= {"parent": "way", "along": {"share": 0.25, "turning": "own"}, "place": [0, 2, 0]}
    shot = parse_shot(document)
    found = spaces(shot, shot.moment(0))
    assert list(found) == ["ball"]
    matrix = np.array(found["ball"]).reshape(4, 4).T
    assert matrix[:3, 3] == pytest.approx([1, 0, 0], abs=1e-9)
    assert shot.placement("ball", shot.moment(0))[:3, 3] == pytest.approx([1, 2, 0], abs=1e-9)
