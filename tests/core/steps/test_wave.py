"""Waves: against the sine and the trochoid, at any frame rate, closing on themselves."""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot, parts_of, recipe_shot

from windsock.core.changing import planned
from windsock.core.changing.closing import CloseStep
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal

SHEET = {"kind": "plane", "width": 6.0, "depth": 0.5, "columns": 240, "rows": 2}
STRAIGHT = {"kind": "wave", "form": "straight", "length": 1.5, "speed": 0.75, "height": 0.2}


def sheet_of(step: dict, frame: float = 0, geometry: dict | None = None, **shot) -> Mesh:
    document = recipe_shot(step, geometry=geometry or SHEET) | shot
    return parts_of(document, frame)["body"].mesh


def test_a_straight_wave_is_a_sine_that_travels():
    for frame in (0.0, 17.0, 30.5):
        made = sheet_of(STRAIGHT, frame)
        come = 0.75 * frame / 24
        known = 0.1 * np.cos(2 * np.pi * (made.rest[:, 0].astype(np.float64) - come) / 1.5)
        assert made.points[:, 1] == pytest.approx(known, abs=2e-6)
        assert made.points[:, [0, 2]] == pytest.approx(made.rest[:, [0, 2]], abs=1e-6)


def test_a_sharp_crest_is_a_trochoid():
    """F. J. von Gerstner (1802): every point goes round a circle of half the height, crests are narrower than troughs."""
    still = sheet_of(STRAIGHT | {"sharp": 1.0})
    rest = still.rest.astype(np.float64)
    apart = still.points - rest
    assert np.hypot(apart[:, 0], apart[:, 1]) == pytest.approx(0.1, abs=1e-5)
    # Between places at one height midway, a crest takes less of the way than a trough.
    ends = np.sort(np.interp([0.25, 0.75], rest[:241, 0] / 1.5, still.points[:241, 0]))
    assert np.diff(ends)[0] == pytest.approx(0.75 + 0.2, abs=1e-3)
    # However high it is, the surface never folds over itself.
    steep = sheet_of(STRAIGHT | {"sharp": 1.0, "height": 3.0})
    along = steep.points[np.lexsort((steep.rest[:, 0], steep.rest[:, 2]))].reshape(-1, 241, 3)
    assert np.diff(along[:, :, 0], axis=1).min() >= -1e-5


def test_a_round_wave_goes_out_from_a_controller_turned_and_stretched():
    step = {"kind": "wave", "form": "round", "length": 0.7, "speed": 0.4, "height": 0.1, "controller": "fog"}
    document = recipe_shot(step, geometry=SHEET | {"depth": 6.0, "rows": 60, "columns": 60})
    document["items"]["fog"] |= {"place": [0.3, 0.0, -0.2], "turn": [0.0, 35.0, 0.0], "scale": [1.0, 5.0, 2.0]}
    document["items"]["ball"] |= {"turn": [0.0, 70.0, 0.0], "scale": [0.5, 2.0, 1.5], "place": [0.1, 0.4, 0.0]}
    item = evaluator().frame(parse_shot(document), 40).draw[0]
    world = item.body.mesh.points @ item.matrix[:3, :3].T + item.matrix[:3, 3]
    far = np.hypot(world[:, 0] - 0.3, world[:, 2] + 0.2)
    known = 0.4 + 0.05 * np.cos(2 * np.pi * (far - 0.4 * 40 / 24) / 0.7)
    assert world[:, 1] == pytest.approx(known, abs=1e-5)


@pytest.mark.parametrize("settings", [{}, {"sharp": 0.8, "fades": 2.0}, {"form": "round", "raises": "normal"}])
def test_it_is_the_same_again_after_each_period_at_any_frame_rate(settings):
    """Common practice, no source: a wave of period 2 s loops at 60 frames of 30 per second."""
    step = STRAIGHT | settings
    at_30 = {"rate": {"numerator": 30, "denominator": 1}, "frames": {"first": 0, "last": 119}}
    start, later = (sheet_of(step, frame, **at_30) for frame in (0, 60))
    assert later.points == pytest.approx(start.points, abs=1e-5)
    for fps in (24, 25, 30, 60):
        rate = {"rate": {"numerator": fps, "denominator": 1}, "frames": {"first": 0, "last": 10 * fps}}
        assert sheet_of(step, 1.25 * fps, **rate).points == pytest.approx(
            sheet_of(step, 37.5, **at_30).points, abs=1e-6
        )


def test_a_keyed_speed_is_gone_through_not_jumped():
    keys = {"a": {"frame": 0, "value": 0.0, "easing": {"kind": "linear"}}, "b": {"frame": 48, "value": 1.0}}
    made = sheet_of(STRAIGHT | {"speed": {"keys": keys}}, 48)
    # Half of one metre a second for two seconds.
    known = 0.1 * np.cos(2 * np.pi * (made.rest[:, 0].astype(np.float64) - 1.0) / 1.5)
    assert made.points[:, 1] == pytest.approx(known, abs=1e-5)


def test_it_fades_over_its_way_and_dies_in_time():
    plain, faded = sheet_of(STRAIGHT), sheet_of(STRAIGHT | {"fades": 2.0})
    share = np.exp(-np.abs(plain.rest[:, 0].astype(np.float64)) / 2)
    assert faded.points[:, 1] == pytest.approx(plain.points[:, 1] * share, abs=1e-6)
    late, died = sheet_of(STRAIGHT, 48), sheet_of(STRAIGHT | {"dies": 3.0}, 48)
    assert died.points[:, 1] == pytest.approx(late.points[:, 1] * np.exp(-2 / 3), abs=1e-6)


def test_it_comes_from_the_surfaces_of_a_group_however_they_move():
    step = {"kind": "wave", "form": "shapes", "group": "stones", "length": 0.9, "speed": 0.0, "height": 0.1}
    document = recipe_shot(step, geometry=SHEET | {"depth": 6.0, "rows": 40, "columns": 40})
    document["items"]["stone"] = {
        "kind": "shape",
        "name": "Stone",
        "rank": 9,
        "place": [0.5, 0.0, 0.2],
        "geometry": {"kind": "sphere", "radius": 0.4, "subdivisions": 5},
    }
    document["groups"] = {"stones": {"name": "Stones", "rank": 0, "members": {"stone": {"rank": 0}}}}
    made = parts_of(document)["body"].mesh
    far = np.abs(np.linalg.norm(made.rest - np.array([0.5, 0, 0.2]), axis=1) - 0.4)
    assert made.points[:, 1] == pytest.approx(0.05 * np.cos(2 * np.pi * far / 0.9), abs=5e-4)
    document["groups"]["stones"]["members"] = {}
    empty = parts_of(document)["body"].mesh
    assert empty.points.tobytes() == empty.rest.tobytes()


def test_it_goes_along_a_path():
    """Along a circle of radius 1 the way is the angle."""
    points = {
        f"p{k}": {"rank": k, "place": [float(np.cos(a)), 0.0, float(np.sin(a))], "joint": "smooth"}
        for k, a in enumerate(np.linspace(0, np.pi, 25))
    }
    step = {"kind": "wave", "form": "path", "path": "bow", "length": 0.5, "speed": 0.0, "height": 0.2}
    document = recipe_shot(step, geometry=SHEET | {"width": 3.0, "depth": 3.0, "rows": 40, "columns": 40})
    document["items"]["bow"] = {"kind": "path", "name": "Bow", "rank": 8, "points": points}
    made = parts_of(document)["body"].mesh
    rest = made.rest.astype(np.float64)
    angle = np.arctan2(rest[:, 2], rest[:, 0])
    beside = (angle > 0.25) & (angle < np.pi - 0.25) & (np.hypot(rest[:, 0], rest[:, 2]) > 0.3)
    known = 0.1 * np.cos(2 * np.pi * angle / 0.5)
    assert made.points[beside, 1] == pytest.approx(known[beside], abs=6e-3)


def test_pieces_and_copies_are_moved_whole():
    wave = {"kind": "wave", "form": "straight", "length": 1.0, "speed": 0.0, "height": 0.4, "pieces": "whole"}
    for step, part in (({"kind": "fracture", "count": 9}, "body"), ({"kind": "scatter", "count": 40}, "copies")):
        parts = ("copies",) if part == "copies" else ()
        before = parts_of(recipe_shot(step, parts=parts))[part]
        after = parts_of(recipe_shot(step, wave | {"part": part}, parts=parts))[part]
        middles = before.bodies().places.points.astype(np.float64)
        shift = after.bodies().places.points - middles
        assert shift[:, 1] == pytest.approx(0.2 * np.cos(2 * np.pi * middles[:, 0]), abs=1e-5)
        if part == "body":
            moved = after.mesh.points - before.mesh.points
            assert moved == pytest.approx(shift[before.mesh.piece], abs=1e-5)


def test_a_press_closes_the_shot_on_itself():
    document = recipe_shot(STRAIGHT | {"speed": 0.71}, geometry=SHEET)
    shot = parse_shot(document)
    lasts = shot.lasts
    for setting in ("speed", "length"):
        wish = {"kind": "close_step", "item": "ball", "step": "s1", "setting": setting}
        made = planned(CloseStep.model_validate(wish), shot)
        value = made.patch[0].value
        closed = STRAIGHT | {"speed": 0.71} | {setting: value}
        assert lasts * closed["speed"] / closed["length"] == pytest.approx(round(lasts * 0.71 / 1.5))
        first, last = (sheet_of(closed, frame) for frame in (shot.frames.first, shot.frames.last + 1))
        assert last.points == pytest.approx(first.points, abs=1e-5)
        report = evaluator().frame(parse_shot(recipe_shot(closed, geometry=SHEET)), 0).steps[0]
        assert report.told.endswith("in the shot and closes")
    keyed = {"keys": {"a": {"frame": 0, "value": 1.0}, "b": {"frame": 48, "value": 2.0}}}
    for settings in ({"dies": 1.0}, {"dies": keyed}, {"speed": keyed}, {"length": keyed}, {"speed": 0.0}):
        shot = parse_shot(recipe_shot(STRAIGHT | settings, geometry=SHEET))
        with pytest.raises(Refusal, match="does not repeat"):
            planned(CloseStep(item="ball", step="s1", setting="speed"), shot)
    with pytest.raises(Refusal, match="closes by its speed or its length"):
        planned(CloseStep(item="ball", step="s1", setting="height"), parse_shot(document))
    bent = parse_shot(recipe_shot({"kind": "bend"}))
    with pytest.raises(Refusal, match="Bend does not repeat"):
        planned(CloseStep(item="ball", step="s1", setting="speed"), bent)


@pytest.mark.parametrize("form", ["round", "straight", "shapes", "path"])
def test_amount_0_and_nothing_to_come_from_leave_the_bits(form):
    plain = sheet_of({"kind": "shade"}).points
    assert sheet_of({"kind": "wave", "form": form, "amount": 0}).points.tobytes() == plain.tobytes()
    if form in ("shapes", "path"):
        assert sheet_of({"kind": "wave", "form": form}).points.tobytes() == plain.tobytes()
