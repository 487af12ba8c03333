"""Across, Within, Near, Surface, Chance and Noise in a field, against closed forms; at rest and posed."""

from __future__ import annotations

import numpy as np
import pytest

from tests.shots import cut_ball, evaluator, parsed, points_as_elements
from windsock.core.document.shot import BadDocument, parse_shot
from windsock.core.fields.elements import rest_elements
from windsock.core.kernels.chance import chance

PLACES = np.random.default_rng(7).uniform(-3, 3, (4000, 3))


def document(source: dict, **items) -> dict:
    """A ball and a controller at the origin, and one field of one source."""
    made = cut_ball()
    made["items"]["fog"]["place"] = [0.0, 0.0, 0.0]
    made["items"] |= items
    made["fields"]["front"]["sources"] = {"s": source}
    return made


def values(made: dict, frame: float = 0.0, places: np.ndarray = PLACES) -> np.ndarray:
    """The field of a document at loose places."""
    shot = parsed(made)
    scene = evaluator().scene(shot, frame)
    return evaluator().field_values(scene, "front", points_as_elements(places))


def across(**settings) -> dict:
    return {"kind": "across", "controller": "fog", "at": 0.5, "soft": 0.4} | settings


@pytest.mark.parametrize(("axis", "place"), [("x", 0), ("y", 1), ("z", 2)])
def test_across_is_a_ramp_along_the_axis(axis, place):
    expected = np.clip((0.5 - PLACES[:, place]) / 0.4, 0, 1)
    np.testing.assert_allclose(values(document(across(axis=axis))), expected, atol=1e-9)


def test_across_turns_with_its_controller_and_is_in_metres_however_it_is_stretched():
    made = document(across(axis="y"))
    made["items"]["fog"] |= {"turn": [0.0, 0.0, 30.0], "scale": [4.0, 9.0, 0.2], "place": [0.3, 0.0, 0.0]}
    direction = np.array([-np.sin(np.pi / 6), np.cos(np.pi / 6), 0])
    along = (PLACES - [0.3, 0, 0]) @ direction
    np.testing.assert_allclose(values(made), np.clip((0.5 - along) / 0.4, 0, 1), atol=1e-9)


def test_a_sweep_goes_once_and_never_comes_again():
    """The place is a distance: far ahead it is 0 for good, far behind 1 for good."""
    far = np.array([[0, height, 0] for height in (-1e4, -77.0, 77.0, 1e4)])
    np.testing.assert_array_equal(values(document(across()), places=far), [1, 1, 0, 0])


def test_a_wavering_edge_keeps_to_its_bounds_and_leaves_no_islands():
    made = document(across(edge="wavering", wave=0.3, wave_size=0.5, soft=0.0))
    found = values(made)
    assert set(found[np.abs(PLACES[:, 1] - 0.5) > 0.3] - (PLACES[:, 1] < 0.5)[np.abs(PLACES[:, 1] - 0.5) > 0.3]) == {
        0.0
    }
    straight = (PLACES[:, 1] <= 0.5).astype(float)
    assert 0.01 < np.abs(found - straight).mean() < 0.2
    columns = np.stack(np.meshgrid(np.linspace(-2, 2, 9), np.linspace(-1, 2, 200), [0.3]), axis=-1).reshape(200, -1, 3)
    up = values(made, places=columns.reshape(-1, 3)).reshape(200, -1)
    assert (np.diff(up, axis=0) <= 0).all()


def test_an_edge_in_steps_takes_whole_slabs():
    found = values(document(across(edge="steps", step=0.25, soft=0.0, at=0.6)))
    np.testing.assert_array_equal(found, np.floor(PLACES[:, 1] / 0.25) * 0.25 <= 0.6)


@pytest.mark.parametrize("soft", [0.0, 0.7])
def test_within_a_box_by_its_exact_distance(soft):
    """Closed form: the length of what sticks out of the half sizes."""
    beyond = np.linalg.norm(np.maximum(np.abs(PLACES) - [0.5, 1.0, 1.5], 0), axis=1)
    expected = np.clip(1 - beyond / soft, 0, 1) if soft else (beyond == 0).astype(float)
    source = {"kind": "within", "controller": "fog", "size": [1.0, 2.0, 3.0], "soft": soft}
    np.testing.assert_allclose(values(document(source)), expected, atol=1e-9)


def test_within_a_slab_there_is_no_end_sideways():
    source = {"kind": "within", "controller": "fog", "form": "slab", "axis": "z", "size": [0.1, 0.1, 2.0], "soft": 0.5}
    expected = np.clip(1 - np.maximum(np.abs(PLACES[:, 2]) - 1, 0) / 0.5, 0, 1)
    np.testing.assert_allclose(values(document(source)), expected, atol=1e-9)


@pytest.mark.parametrize("level", [0.0, 0.3, 0.5, 1.0])
@pytest.mark.parametrize("fall", ["straight", "smooth"])
def test_the_outline_that_is_drawn_is_where_the_value_is_the_level(level, fall):
    shot = parsed(document(across(fall=fall)))
    plane = shot.fields["front"].sources["s"].outline(level, shot.moment(0))
    assert values(document(across(fall=fall)), places=np.array([[0, plane["distance"], 0]]))[0] == pytest.approx(
        level, abs=1e-6
    )
    box = {"kind": "within", "controller": "fog", "size": [1.0, 2.0, 3.0], "soft": 0.6, "fall": fall}
    shot = parsed(document(box))
    told = shot.fields["front"].sources["s"].outline(level, shot.moment(0))
    place = np.array([[told["half"][0] + told["margin"], 0, 0]])
    assert values(document(box), places=place)[0] == pytest.approx(level, abs=1e-6)


def buoy(**more) -> dict:
    """A second ball of radius 0.5 that moves along X."""
    keys = {
        "k1": {"frame": 0, "value": [0.0, 0.0, 0.0], "easing": {"kind": "linear"}},
        "k2": {"frame": 100, "value": [2.0, 0.0, 0.0]},
    }
    geometry = {"kind": "sphere", "radius": 0.5, "subdivisions": 5}
    return {"kind": "shape", "name": "Buoy", "rank": 5, "geometry": geometry, "place": {"keys": keys}} | more


def near(**settings) -> dict:
    made = document({"kind": "near", "group": "wet", "reach": 0.8, "soft": 0.8} | settings, buoy=buoy())
    made["groups"] = {"wet": {"name": "Wet", "rank": 0, "members": {"buoy": {}}}}
    return made


@pytest.mark.parametrize("frame", [0, 40, 100])
def test_near_is_the_distance_to_where_the_shape_is_now(frame):
    """Closed form of a sphere; its triangles lie up to 0.0002 m within it."""
    distance = np.linalg.norm(PLACES - [frame / 50, 0, 0], axis=1) - 0.5
    np.testing.assert_allclose(values(near(), frame), np.clip(1 - np.maximum(distance, 0) / 0.8, 0, 1), atol=6e-4)
    outside_only = values(near(inside="not counted"), frame)
    np.testing.assert_allclose(outside_only, np.clip(1 - np.abs(distance) / 0.8, 0, 1), atol=6e-4)


def test_joining_the_group_is_all_a_shape_has_to_do_and_the_subject_itself_does_not_count():
    made = near()
    made["groups"]["wet"]["members"]["ball"] = {}
    np.testing.assert_array_equal(values(made), values(near()))
    made["items"]["second"] = buoy(place=[0.0, 2.0, 0.0], name="Second")
    without = values(made)
    made["groups"]["wet"]["members"]["second"] = {}
    distance = np.linalg.norm(PLACES - [0, 2, 0], axis=1) - 0.5
    expected = np.maximum(without, np.clip(1 - np.maximum(distance, 0) / 0.8, 0, 1))
    np.testing.assert_allclose(values(made), expected, atol=6e-4)
    made["groups"]["wet"]["members"] = {}
    assert (values(made) == 0).all()


def test_near_a_shape_means_what_its_recipe_leaves_of_it():
    made = near()
    made["fields"]["gone"] = {
        "letter": "B",
        "name": "Gone",
        "rank": 1,
        "sources": {"s": across(axis="y", at=0.0, soft=0.0)},
    }
    made["items"]["buoy"]["recipe"] = {
        "parts": {"body": {"name": "Body", "rank": 0}},
        "steps": {"cut": {"kind": "cut_away", "rank": 0, "field": "gone"}},
    }
    below = np.array([[0.0, -0.5, 0.0]])
    assert values(near(), places=below)[0] == pytest.approx(1.0, abs=1e-3)
    assert values(made, places=below)[0] == pytest.approx(1 - (np.hypot(0.5, 0.5)) / 0.8, abs=2e-3)


def test_shapes_that_are_measured_from_each_other_are_refused_with_the_circle():
    made = near()
    made["fields"]["back"] = {
        "letter": "B",
        "name": "Back",
        "rank": 1,
        "sources": {"s": {"kind": "near", "group": "dry"}},
    }
    made["groups"]["dry"] = {"name": "Dry", "rank": 1, "members": {"ball": {}}}
    made["items"]["buoy"]["recipe"] = {
        "parts": {"body": {"name": "Body", "rank": 0}},
        "steps": {"cut": {"kind": "cut_away", "rank": 0, "field": "back"}},
    }
    with pytest.raises(BadDocument, match=r"circle, .*Ball.*Buoy|circle, .*Buoy.*Ball"):
        parse_shot(made)


def on_ball(source: dict, frame: float = 0.0, **ball) -> tuple[np.ndarray, np.ndarray]:
    """The field at the points of the ball, and (n, 3) those points in its own space."""
    made = document(source)
    made["items"]["ball"] |= ball
    made["items"]["eye"] = {"kind": "camera", "name": "Eye", "rank": 9, "place": [0.0, 0.0, 8.0]}
    shot = parsed(made | {"camera": "eye"})
    engine = evaluator()
    scene = engine.scene(shot, frame)
    subject = engine.at_rest(scene, "ball").value
    elements = rest_elements(subject, scene.placement("ball"))
    return evaluator().field_values(scene, "front", elements), subject.mesh.points.astype(float)


def test_surface_height_and_facing_on_a_ball():
    height, points = on_ball({"kind": "surface", "reading": "height", "low": 1.0, "high": 3.0}, place=[0.0, 2.0, 0.0])
    np.testing.assert_allclose(height, (points[:, 1] + 1) / 2, atol=1e-6)
    facing, points = on_ball({"kind": "surface", "reading": "axis", "axis": "x", "low": 180.0, "high": 0.0})
    np.testing.assert_allclose(facing, 1 - np.arccos(np.clip(points[:, 0], -1, 1)) / np.pi, atol=1e-3)
    camera, points = on_ball({"kind": "surface", "reading": "camera", "low": 90.0, "high": 0.0})
    towards = np.array([0, 0, 8.0]) - points
    angle = np.degrees(np.arccos((points * towards).sum(axis=1) / np.linalg.norm(towards, axis=1)))
    np.testing.assert_allclose(camera, np.clip(1 - angle / 90, 0, 1), atol=1e-3)


def test_surface_facing_on_a_ball_that_is_squeezed():
    """The normal of an ellipsoid x^2/a^2 + … = 1 is (x/a^2, …), not the direction from its middle."""
    facing, points = on_ball({"kind": "surface", "reading": "axis", "low": 180.0, "high": 0.0}, scale=[1.0, 0.25, 1.0])
    normal = points / [1, 0.25, 1]
    normal /= np.linalg.norm(normal, axis=1, keepdims=True)
    np.testing.assert_allclose(facing, 1 - np.arccos(np.clip(normal[:, 1], -1, 1)) / np.pi, atol=2e-3)


def test_surface_order_u_v_and_curvature():
    sheet = {"kind": "plane", "width": 4.0, "depth": 2.0, "columns": 8, "rows": 4}
    u, points = on_ball({"kind": "surface", "reading": "u"}, geometry=sheet)
    v, _ = on_ball({"kind": "surface", "reading": "v"}, geometry=sheet)
    np.testing.assert_allclose(u, points[:, 0] / 4 + 0.5, atol=1e-6)
    np.testing.assert_allclose(v, 0.5 - points[:, 2] / 2, atol=1e-6)
    order, points = on_ball({"kind": "surface", "reading": "order"})
    np.testing.assert_allclose(order, np.arange(len(points)) / (len(points) - 1))
    bulge, _ = on_ball({"kind": "surface", "reading": "curvature", "low": 0.0, "high": 2.0})
    np.testing.assert_allclose(bulge, 0.5, atol=0.02)


def test_surface_reads_the_colour_that_a_shape_came_with():
    profile = {
        f"p{n}": {"rank": n, "radius": 1.0, "height": n, "colour": "#FF0000" if n else "#0000FF"} for n in range(3)
    }
    lathe = {"kind": "revolve", "profile": profile, "segments": 8, "ring_height": 1.0}
    red, points = on_ball({"kind": "surface", "reading": "attribute", "attribute": "red"}, geometry=lathe)
    np.testing.assert_array_equal(red[points[:, 1] > 1], 1)
    np.testing.assert_array_equal(red[points[:, 1] < 1], 0)
    bright, _ = on_ball({"kind": "surface", "reading": "attribute", "attribute": "brightness"}, geometry=lathe)
    np.testing.assert_allclose(np.unique(bright.round(4)), [0.0722, 0.2126], atol=1e-4)  # Rec. 709 luminance


def test_chance_is_even_and_belongs_to_the_element():
    found, points = on_ball({"kind": "chance", "seed": 3})
    np.testing.assert_allclose(found, chance(np.arange(len(points)), 3))
    later, _ = on_ball({"kind": "chance", "seed": 3}, 55, place=[1.0, 0.0, 0.0])
    np.testing.assert_array_equal(found, later)


def noise(**settings) -> dict:
    return {"kind": "noise", "size": 0.8, "contrast": 20} | settings


def test_a_controllers_noise_goes_through_the_subject_with_it():
    made = document(noise(space="controller", controller="fog"))
    here = values(made)
    made["items"]["fog"]["place"] = [0.7, -0.2, 0.4]
    np.testing.assert_allclose(values(made, places=PLACES + [0.7, -0.2, 0.4]), here, atol=1e-9)
    made["items"]["fog"] |= {"place": [0.0, 0.0, 0.0], "scale": [2.0, 2.0, 2.0]}
    np.testing.assert_allclose(values(made, places=PLACES * 2), here, atol=1e-9)


def test_stretch_draws_the_cells_out():
    here = values(document(noise(octaves=2)))
    drawn = values(document(noise(octaves=2, stretch=[1.0, 3.0, 1.0])), places=PLACES * [1, 3, 1])
    np.testing.assert_allclose(drawn, here, atol=1e-9)


@pytest.mark.parametrize("pattern", ["gradient", "simplex", "cellular", "ridged", "billow", "tongues"])
def test_a_looped_noise_follows_its_last_frame_with_its_first(pattern):
    """101 frames: frame 101 would be the first again, at any rate of change."""
    made = document(noise(pattern=pattern, evolution=0.6, looped=True)) | {"frames": {"first": 0, "last": 100}}
    few = PLACES[:400]
    first = values(made, 0, few)
    np.testing.assert_allclose(values(made, 101, few), first, atol=2e-5)
    assert np.abs(values(made, 50, few) - first).mean() > 0.02


def test_nothing_depends_on_the_frame_rate():
    """Evolution is by the second: frame 24 at 24 a second is frame 60 at 60."""
    few = PLACES[:400]
    for source in (noise(evolution=0.8), across(edge="wavering", evolution=0.5)):
        slow = document(source) | {"rate": {"numerator": 24, "denominator": 1}}
        fast = document(source) | {"rate": {"numerator": 60, "denominator": 1}}
        np.testing.assert_allclose(values(slow, 24, few), values(fast, 60, few), atol=1e-12)


MEASURED = [
    across(axis="x"),
    {"kind": "around", "controller": "fog", "reach": 2.0, "soft": 1.5},
    {"kind": "within", "controller": "fog", "soft": 0.8},
    {"kind": "surface", "reading": "height", "low": -1.0, "high": 1.0},
    noise(space="world"),
]


@pytest.mark.parametrize("source", MEASURED, ids=lambda source: source["kind"])
def test_at_rest_a_source_sticks_to_a_surface_that_steps_move_and_posed_it_does_not(source):
    """The ball lags behind its own jump; where it rests does not change after it."""
    keys = {
        "k1": {"frame": 0, "value": [0.0, 0.0, 0.0], "easing": {"kind": "hold"}},
        "k2": {"frame": 10, "value": [0.5, 0.0, 0.0]},
    }
    made = document(source)
    made["items"]["ball"]["place"] = {"keys": keys}
    made["items"]["ball"]["recipe"]["steps"] = {
        "lag": {"kind": "follow_through", "rank": 0, "swings": 1.0, "damping": 0.1},
        "cut": {"kind": "cut_away", "rank": 1, "field": "front", "edge": "fading", "zone": "outside"},
    }

    def opacity(measured: str, frame: float) -> np.ndarray:
        made["fields"]["front"]["sources"]["s"] = source | {"measured": measured}
        mesh = evaluator().frame(parsed(made), frame).draw[0].body.mesh
        return mesh.points[:, 0].max() if mesh.opacity is None else np.sort(mesh.opacity)

    made["fields"]["front"]["level"], made["fields"]["front"]["band"] = 0.5, 1.0
    np.testing.assert_array_equal(opacity("rest", 12), opacity("rest", 30))
    if source.get("reading") != "height":
        swung = opacity("posed", 12)
        assert len(swung) != len(opacity("posed", 30)) or np.abs(swung - opacity("posed", 30)).max() > 0.01
