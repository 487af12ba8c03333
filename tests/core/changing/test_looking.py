"""The camera brought to where someone looks from."""

from __future__ import annotations

import numpy as np
import pytest
from pydantic import TypeAdapter
from shots import cut_ball

from windsock.core.changing import Change, planned
from windsock.core.changing.looking import FocusAt
from windsock.core.document.patches import patched
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.refusals import Refusal

CHANGE = TypeAdapter(Change)
PLACE, TARGET = (4.0, 3.0, -2.0), (1.0, 0.5, 0.0)
KEYED = {"keys": {"k1": {"frame": 0, "value": [0, 0, 9]}, "k2": {"frame": 10, "value": [9, 0, 0]}}}
ARM = {"kind": "controller", "name": "Arm", "rank": 0, "place": [1, 2, 3], "turn": [20, 90, 10]}


def looked(items: dict, frame: float = 0.0, camera: str | None = "camera", place: tuple = PLACE) -> Shot:
    told = {"name": "Looking", "items": items, "camera": camera}
    change = CHANGE.validate_python({"kind": "look_from", "camera": camera, "place": place, "target": TARGET})
    shot = parse_shot(told)
    return parse_shot(patched(shot.model_dump(mode="json"), planned(change, shot, None, frame).patch))


def camera(**given: object) -> dict:
    return {"kind": "camera", "name": "Camera", "rank": 1} | given


@pytest.mark.parametrize(
    "items",
    [
        {"camera": camera(place=[0, 1, 5])},
        {"arm": ARM, "camera": camera(parent="arm", aim="arm")},
        {"arm": ARM, "camera": camera(parent="arm", place=KEYED)},
    ],
    ids=["free", "carried and aiming", "carried and keyed"],
)
def test_a_camera_looks_from_the_place_at_the_target_upright(items: dict):
    if items["camera"].get("aim"):
        items["camera"]["parent"] = None  # nothing may aim at what carries it
    shot = looked(items, 5.0)
    matrix = shot.placement("camera", shot.moment(5.0))
    assert matrix[:3, 3] == pytest.approx(PLACE, abs=1e-4)
    ahead = np.subtract(TARGET, PLACE)
    assert -matrix[:3, 2] == pytest.approx(ahead / np.linalg.norm(ahead), abs=1e-5)
    assert matrix[1, 0] == pytest.approx(0, abs=1e-5)  # its own X axis is level
    place = shot.items["camera"].place
    assert not hasattr(place, "keys") or sorted(key.frame for key in place.keys.values()) == [0, 5, 10]


def test_a_shot_without_a_camera_gets_one():
    shot = looked({}, camera=None)
    assert shot.camera is not None
    assert shot.placement(shot.camera, shot.moment(0))[:3, 3] == pytest.approx(PLACE)


def test_what_cannot_be_is_refused():
    with pytest.raises(Refusal, match="the place where it stands"):
        looked({"camera": camera()}, place=TARGET)
    told = parse_shot({"name": "None", "items": {"arm": ARM}})
    change = CHANGE.validate_python({"kind": "look_from", "camera": "arm", "place": PLACE, "target": TARGET})
    with pytest.raises(Refusal, match="no camera"):
        planned(change, told)


def lens(millimetres: float) -> Shot:
    shot = parse_shot(
        {"name": "Lens", "items": {"camera": camera(sensor=36.0)}, "picture": {"width": 1500, "height": 1000}}
    )
    change = CHANGE.validate_python({"kind": "set_focal_length", "camera": "camera", "millimetres": millimetres})
    return parse_shot(patched(shot.model_dump(mode="json"), planned(change, shot).patch))


@pytest.mark.parametrize(("millimetres", "angle"), [(50.0, 26.99), (24.0, 53.13), (12.0, 90.0)])
def test_a_focal_length_is_an_angle_of_view_on_the_sensor(millimetres: float, angle: float):
    """Against the tables of vertical angles of view that photographers use for a picture 24 mm high (common practice)."""
    assert lens(millimetres).items["camera"].angle == pytest.approx(angle, abs=0.01)


def test_a_focal_length_beyond_every_angle_is_refused():
    with pytest.raises(Refusal, match="must lie between 1 and 150"):
        lens(1e4)


def test_what_was_pressed_is_sharp_for_a_camera_or_a_finishing_step():
    """Metres along the lens, not to the place: what lies beside it at the same depth is as sharp."""
    document = cut_ball()
    eye = {"kind": "camera", "name": "Eye", "rank": 3, "place": [0, 0, 8], "focus_on": "ball"}
    document["items"]["eye"] = eye
    document |= {"camera": "eye", "finishing": {"dof": {"kind": "depth_of_field", "rank": 0, "focus_on": "ball"}}}
    for of in ("/items/eye", "/finishing/dof"):
        edit = planned(FocusAt(of=of, place=(1.5, -1.0, 2.0)), parse_shot(document))
        put = {operation.path: operation.value for operation in edit.patch}
        assert put == {f"{of}/focus": 6.0, f"{of}/focus_on": None}
    with pytest.raises(Refusal, match="not before the camera"):
        planned(FocusAt(of="/items/eye", place=(0.0, 0.0, 9.0)), parse_shot(document))
    with pytest.raises(Refusal, match="put into focus"):
        planned(FocusAt(of="/items/ball", place=(0.0, 0.0, 0.0)), parse_shot(document))
