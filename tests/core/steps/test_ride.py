"""Ride: against affine maps (Ju, Schaefer, Warren 2005), rigid motions, and a bend of the carrier itself."""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot, parts_of, recipe_shot

from windsock.core.changing import planned
from windsock.core.changing.timing import ChangeRate
from windsock.core.document.patches import patched
from windsock.core.findings import find_all
from windsock.core.findings.finding import Finding
from windsock.core.geometry.binding import Binding
from windsock.core.kernels.mean_value import by_weights, mean_value_weights
from windsock.core.kernels.surface_distance import Surface
from windsock.core.steps.ride import Ride

BALL = {"kind": "sphere", "radius": 0.5, "subdivisions": 3}
CAGE = {"kind": "box", "width": 1.6, "height": 1.6, "depth": 1.6, "divisions": 3}
SLAB = {"kind": "box", "width": 3.0, "height": 0.2, "depth": 1.0, "divisions": 30}
BENT = {"kind": "bend", "rank": 0, "axis": "x", "start": -1.5, "end": 1.5}


def riding(ride: dict, carrier: dict, before: tuple[dict, ...] = (), after: tuple[dict, ...] = (), **ball) -> dict:
    """A ball that rides on another shape. before, after: steps of the ball about it."""
    plain = {} if "kind" in ride else {"kind": "ride", "carrier": "other"}
    steps = (*before, plain | ride, *after)
    document = recipe_shot(*steps, geometry=ball.pop("geometry", BALL))
    document["items"]["ball"] |= ball
    document["items"]["other"] = {"kind": "shape", "name": "Other", "rank": 7, "geometry": CAGE} | carrier
    return document


def keyed(first, last, frame=48):
    keys = {"a": {"frame": 0, "value": first, "easing": {"kind": "linear"}}, "b": {"frame": frame, "value": last}}
    return {"keys": keys}


def recipe(*steps: dict) -> dict:
    named = {f"s{rank}": {"rank": rank} | step for rank, step in enumerate(steps)}
    return {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": named}


def drawn(document: dict, frame: float = 0, item: str = "ball", one=None):
    found = (one or evaluator()).frame(parse_shot(document), frame).draw
    return next(made for made in found if made.item == item)


def world(document: dict, frame: float = 0, item: str = "ball", one=None) -> np.ndarray:
    made = drawn(document, frame, item, one)
    return made.body.mesh.points.astype(np.float64) @ made.matrix[:3, :3].T + made.matrix[:3, 3]


def affine_between(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    """(4, 3) the map that takes one set of places to another, by least squares."""
    return np.linalg.lstsq(np.c_[one, np.ones(len(one))], other, rcond=None)[0]


def test_the_coordinates_of_a_cage_give_each_place_back_inside_and_outside():
    """Partition of unity and linear precision: the theorem of Ju, Schaefer and Warren (2005)."""
    document = recipe_shot(geometry=CAGE)
    mesh = drawn(document).body.mesh
    points, faces = mesh.points.astype(np.float64), mesh.faces.astype(np.int64)
    random = np.random.default_rng(5)
    places = random.uniform(-2, 2, (500, 3))
    # On a corner, on an edge, on a face, and in the plane of a face beside it.
    places[:4] = [
        points[0],
        (points[faces[0, 0]] + points[faces[0, 1]]) / 2,
        points[faces[0]].mean(axis=0),
        [0.8, 1.7, 0.1],
    ]
    weights = mean_value_weights(places, points, faces)
    assert weights.sum(axis=1) == pytest.approx(1, abs=1e-5)
    assert by_weights(weights, points) == pytest.approx(places, abs=2e-5)
    inside = np.abs(places).max(axis=1) < 0.79
    assert (weights[inside] > -1e-6).all(), "a box is convex, so within it all coordinates are positive"


@pytest.mark.parametrize("before", [(), ({"kind": "bend", "angle": 60.0, "start": -0.5, "end": 0.5},)])
def test_an_affine_map_of_a_cage_is_the_same_map_of_what_is_in_it(before):
    """Also of what a step before it has moved elsewhere, and of what lies outside."""
    stands = {"turn": keyed([10, 20, 0], [40, -60, 15]), "scale": keyed([1, 1, 1], [1.4, 0.6, 1.1])}
    carrier = stands | {"place": keyed([0, 0, 0], [2.0, 0.5, -1])}
    document = riding({"by": "cage"}, carrier, before, place=[0.7, 0.1, 0], turn=[0, 30, 0], scale=[1, 1.3, 1])
    still = riding(
        {"by": "cage", "amount": 0}, carrier, before, place=[0.7, 0.1, 0], turn=[0, 30, 0], scale=[1, 1.3, 1]
    )
    map_ = affine_between(world(document, 0, "other"), world(document, 30, "other"))
    expected = np.c_[world(still, 30), np.ones(len(world(still)))] @ map_
    assert world(document, 30) == pytest.approx(expected, abs=3e-6)


def test_by_its_surface_it_goes_stiffly_with_what_is_moved_and_turned():
    carrier = {"turn": keyed([0, 0, 0], [0, 90, 40]), "place": keyed([0, -1.2, 0], [3.0, 0.5, -1]), "geometry": SLAB}
    document = riding({}, carrier, place=[0.9, 0, 0], scale=[1, 2, 1])
    map_ = affine_between(world(document, 0, "other"), world(document, 48, "other"))
    expected = np.c_[world(document), np.ones(len(world(document)))] @ map_
    assert world(document, 48) == pytest.approx(expected, abs=5e-6)


@pytest.mark.parametrize("by", ["surface", "cage"])
@pytest.mark.parametrize("pieces", ["bend", "whole"])
def test_what_stands_still_carries_nothing_and_amount_0_keeps_the_bits(by, pieces):
    plain = world(recipe_shot(geometry=BALL))
    assert world(riding({"by": by, "pieces": pieces}, {})).tobytes() == plain.tobytes()
    moving = riding({"by": by, "pieces": pieces, "amount": 0}, {"place": keyed([0, 0, 0], [1, 0, 0])})
    assert world(moving, 40).tobytes() == plain.tobytes()


def test_it_rides_on_what_a_recipe_does_to_the_carrier():
    """A coating laid on a slab stays as far from it as it was, and as wide, while the slab bends."""
    bent = recipe(BENT | {"angle": keyed(0, 120)})
    coat = SLAB | {"height": 0.1, "width": 2.0}
    document = riding({}, {"geometry": SLAB, "recipe": bent}, geometry=coat, place=[0, 0.2, 0])
    for frame in (0, 20, 48):
        surface = Surface(world(document, frame, "other"), drawn(document, frame, "other").body.mesh.faces)
        gap = np.abs(Binding.bound(world(document, frame), surface, "surface").gap - 0.05)
        under = world(document)[:, 1] < 0.151
        assert gap[under].max() < 4e-3
    assert np.ptp(world(document, 48)[:, 0]) < 0.85 * np.ptp(world(document, 0)[:, 0])


def test_pieces_and_copies_go_whole():
    carrier = {"turn": keyed([0, 0, 0], [0, 0, 90]), "geometry": CAGE}
    broken = riding({"pieces": "whole"}, carrier, ({"kind": "fracture", "count": 6},), geometry=BALL)
    turn = np.array([[0, -1, 0], [1, 0, 0], [0, 0, 1]])
    assert world(broken, 48) == pytest.approx(world(broken) @ turn.T, abs=1e-5)
    scatter = {"kind": "scatter", "makes": "more", "count": 50, "seed": 3}
    document = riding({"part": "more"}, carrier, (scatter,))
    document["items"]["ball"]["recipe"]["parts"]["more"] = {"name": "More", "rank": 1}
    first, last = (parts_of(document, frame)["more"].mesh.points for frame in (0, 48))
    assert last == pytest.approx(first @ turn.T, abs=1e-5)


def test_it_is_bound_at_a_chosen_frame():
    """At that frame it is where it would be without the step; a carrier that stood elsewhere before takes it there."""
    carrier = {"place": keyed([0, 0, 0], [4.8, 0, 0])}
    document = riding({"bound": "frame", "frame": 20}, carrier)
    plain = world(recipe_shot(geometry=BALL))
    assert world(document, 20) == pytest.approx(plain, abs=1e-6)
    assert world(document, 0) == pytest.approx(plain - [2.0, 0, 0], abs=2e-6)
    assert world(document, 48) == pytest.approx(plain + [2.8, 0, 0], abs=2e-6)


def test_the_frame_at_which_it_is_bound_keeps_its_second_at_another_rate():
    shot = parse_shot(riding({"bound": "frame", "frame": 20}, {"place": keyed([0, 0, 0], [4.8, 0, 0])}))
    edit = planned(ChangeRate(kind="change_rate", numerator=48), shot)
    after = patched(shot.model_dump(mode="json"), edit.patch)
    assert after["items"]["ball"]["recipe"]["steps"]["s1"]["frame"] == 40
    assert world(after, 96) == pytest.approx(world(shot.model_dump(mode="json"), 48), abs=1e-6)


def test_it_is_bound_anew_by_itself_and_a_live_evaluator_answers_as_a_fresh_one():
    live = evaluator()
    carrier = {"place": keyed([0, 0, 0], [1, 1, 0]), "geometry": CAGE}
    for ride in ({}, {"by": "cage"}, {"by": "cage", "bound": "frame", "frame": 12}, {"amount": 0.5}):
        for geometry in (CAGE, CAGE | {"width": 2.0}, CAGE | {"divisions": 2}):
            document = riding(ride, carrier | {"geometry": geometry, "recipe": recipe(BENT | {"angle": keyed(0, 90)})})
            for frame in (30, 3.5):
                assert world(document, frame, one=live).tobytes() == world(document, frame).tobytes()


@pytest.mark.parametrize("kind", ["ride", "morph", "pair"])
def test_what_is_read_at_the_start_of_a_shape_in_a_time_of_its_own_is_never_stale(kind):
    """Its recipe is at frame 30 when the shot begins: a key there counts, though the shot's first frame is another."""
    live = evaluator()
    steps = {
        "ride": {},
        "morph": {"kind": "morph", "target": "other", "amount": 0.5, "laid": "standing"},
        "pair": {
            "kind": "pair",
            "target": "other",
            "makes": "more",
            "begins_at": 0.0,
            "lasts": 2.0,
            "laid": "standing",
        },
    }
    for angle in (40, 80, 40):
        bent = recipe(BENT | {"angle": {"keys": {"a": {"frame": 0, "value": 0}, "b": {"frame": 30, "value": angle}}}})
        for retime in ({"frame": keyed(30, 60)}, {"frame": 30.0}, None):
            document = riding(steps[kind], {"geometry": SLAB, "recipe": bent | {"retime": retime}})
            document["items"]["ball"]["recipe"]["parts"]["more"] = {"name": "More", "rank": 1}
            document["items"]["ball"]["place"] = keyed([0, 0.3, 0], [0.5, 0.4, 0])
            for frame in (24, 6):
                assert world(document, frame, one=live).tobytes() == world(document, frame).tobytes()


@pytest.mark.parametrize("fps", [24, 25, 30, 60])
def test_equal_seconds_are_equal_shapes(fps):
    carrier = {"turn": keyed([0, 0, 0], [0, 0, 90], 2 * fps), "geometry": CAGE}
    document = riding({}, carrier)
    document["rate"] = {"numerator": fps, "denominator": 1}
    document["frames"] = {"first": 0, "last": 4 * fps}
    document24 = riding({}, carrier | {"turn": keyed([0, 0, 0], [0, 0, 90], 48)})
    assert world(document, fps) == pytest.approx(world(document24, 24), abs=2e-6)


@pytest.mark.parametrize("by", ["surface", "cage"])
def test_odd_carriers_make_no_numbers_that_are_none(by):
    front = {"kind": "cut_away", "field": "front"}
    flat = {"kind": "plane", "columns": 2, "rows": 2}
    fine = {"kind": "sphere", "subdivisions": 4}
    point = {"scale": keyed([1, 1, 1], [1e-4, 1e-4, 1e-4])}
    for carrier in (
        {"geometry": flat, "turn": keyed([0, 0, 0], [0, 90, 0])},
        {"geometry": fine, "place": keyed([0, 0, 0], [1, 0, 0])},
        {"geometry": CAGE} | point,
        {"geometry": CAGE, "recipe": recipe(front)},
    ):
        document = riding({"by": by}, carrier)
        document["fields"] = {
            "front": {
                "letter": "Z",
                "name": "Front",
                "rank": 9,
                "level": keyed(0.9, 0.0),
                "sources": {"s": {"kind": "chance"}},
            }
        }
        for frame in (0, 24, 48):
            assert np.isfinite(world(document, frame)).all()


def test_a_step_bound_to_nothing_says_so():
    ride = Ride(rank=0, by="cage", carrier="other")
    assert "no faces" in ride.doubts(Binding.nothing())
    places = np.array([[0.0, 0, 0], [3.0, 0, 0]])
    mesh = drawn(recipe_shot(geometry=CAGE)).body.mesh
    bound = Binding.bound(places, Surface(mesh.points.astype(np.float64), mesh.faces), "cage")
    assert bound is not None
    assert "50 % of its points, up to 2.2 m away, lie outside of the cage" in ride.doubts(bound)


def test_what_lies_outside_of_its_cage_is_found():
    moved = {"place": keyed([0, 0, 0], [1, 0, 0])}
    assert all(finding.kind != "doubtful" for finding in found(riding({"by": "cage"}, moved)))
    (finding,) = [one for one in found(riding({"by": "cage"}, moved, place=[0.7, 0, 0])) if one.kind == "doubtful"]
    assert "lie outside of the cage" in finding.says
    assert finding.place == "/items/ball/recipe/steps/s1"
    many = riding({"by": "cage"}, moved | {"geometry": {"kind": "sphere", "subdivisions": 3}})
    assert any("more than 500 faces" in finding.says for finding in found(many))


def found(document: dict) -> list[Finding]:
    return find_all(evaluator(), parse_shot(document))


def test_pieces_of_a_shape_of_few_faces_each_go_with_what_is_beneath_them():
    """Wherever the shape has no points of its own: the middle of each piece is bound."""
    wave = {"kind": "wave", "form": "straight", "length": 1.2, "speed": 0.0, "height": keyed(0.0, 0.3)}
    water = {"kind": "plane", "width": 6.0, "depth": 3.0, "columns": 240, "rows": 4}
    floe = {"kind": "box", "width": 4.0, "height": 0.2, "depth": 1.5, "divisions": 1}
    carrier = {"geometry": water, "recipe": recipe(wave)}
    document = riding({"pieces": "whole"}, carrier, ({"kind": "fracture", "count": 40},), geometry=floe)
    made = drawn(document, 48).body.pieces.places
    went = made.points - made.rest
    phase = 2 * np.pi * made.rest[:, 0] / 1.2
    assert np.corrcoef(went[:, 1], np.cos(phase))[0, 1] ** 2 + np.corrcoef(went[:, 1], np.sin(phase))[0, 1] ** 2 > 0.98
