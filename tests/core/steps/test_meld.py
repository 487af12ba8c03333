"""Meld: the skin of one point is a ball, near ones flow together, and it goes by neither sampling nor where the grid lies."""

from __future__ import annotations

import numpy as np
import pytest
from shots import closed_volume, parts_of, recipe_shot, times_of_edges

from windsock.core.geometry.mesh import Mesh
from windsock.core.kernels.melding import bell, bricks_about, own_weights
from windsock.core.kernels.together import parts_and_holes

TINY = {"kind": "sphere", "radius": 0.0005, "subdivisions": 0}
BALL = {"kind": "sphere", "radius": 0.5, "subdivisions": 3}


def skin(step: dict | None = None, *before: dict, geometry: dict | None = None, frame: float = 0, **item) -> Mesh:
    document = recipe_shot(
        *before,
        {"kind": "meld", "radius": 0.2, "cell": 0.02, "makes": "skin"} | (step or {}),
        geometry=geometry or TINY,
        parts=("skin", "more"),
        fields={},
    )
    next(iter(document["items"].values())).update(item)
    return parts_of(document, frame)["skin"].mesh


def test_the_bell_is_the_published_one():
    """B. Wyvill, C. McPheeters, G. Wyvill (1986): f(0) = 1, f(R/2) = 1/2, f(R) = 0."""
    assert bell(0) == 1
    assert bell(0.5) == pytest.approx(0.5)
    assert bell(1) == pytest.approx(0)
    assert (np.diff([bell(share) for share in np.linspace(0, 1, 50)]) < 0).all()


@pytest.mark.parametrize("blend", [1.2, 2.0, 3.5])
def test_the_skin_of_one_point_is_a_ball_of_the_radius(blend: float):
    mesh = skin({"blend": blend})
    assert np.linalg.norm(mesh.points, axis=1) == pytest.approx(0.2, abs=2e-3)
    assert closed_volume(mesh) == pytest.approx(4 / 3 * np.pi * 0.2**3, rel=0.02)
    assert (times_of_edges(mesh) == 2).all()


def test_denser_points_make_no_thicker_skin():
    """A ball in few and in many faces: the skin lies as far outside."""
    few = skin(geometry=BALL | {"subdivisions": 3})
    many = skin(geometry=BALL | {"subdivisions": 5})
    outer = [np.linalg.norm(mesh.points, axis=1).max() for mesh in (few, many)]
    assert outer[0] == pytest.approx(outer[1], abs=5e-3)
    assert 0.6 < outer[0] < 0.72


def with_another(apart: float, blend: float = 2.0) -> Mesh:
    """The skin over two tiny balls."""
    document = recipe_shot(
        {"kind": "meld", "radius": 0.2, "cell": 0.02, "makes": "skin", "group": "g", "blend": blend},
        geometry=TINY,
        parts=("skin",),
        fields={},
    )
    ball = document["items"]["ball"]
    document["items"]["other"] = ball | {"name": "Other", "place": [apart, 0, 0], "recipe": {"steps": {}}}
    document["groups"] = {"g": {"name": "G", "rank": 0, "members": {"other": {"rank": 0}}}}
    return parts_of(document)["skin"].mesh


def halves(apart: float, blend: float) -> int:
    """Into how many closed pieces that skin falls."""
    mesh = with_another(apart, blend)
    return (len(np.unique(mesh.number)) - len(times_of_edges(mesh)) + len(mesh.faces)) // 2


def test_two_flow_together_from_further_away_the_more_they_blend():
    assert halves(0.3, 2.0) == 1
    assert halves(0.46, 2.0) == 1
    assert halves(0.46, 1.2) == 2
    assert halves(0.85, 2.0) == 2


def test_points_of_it_keep_their_names_where_the_box_about_all_of_it_grows():
    one, other = skin(), with_another(1.7)
    assert len(np.unique(one.number)) == len(one.number)
    assert np.isin(one.number, other.number).all()


def test_it_is_in_metres_of_the_world_and_goes_with_the_shape():
    wide = skin(scale=[3.0, 1.0, 1.0])
    assert np.ptp(wide.points, axis=0) == pytest.approx([0.4 / 3, 0.4, 0.4], abs=5e-3)
    turned = skin(turn=[30.0, 40.0, 50.0], place=[1.0, 2.0, 3.0])
    assert turned.points.tobytes() == skin().points.tobytes()


def test_copies_are_melded_by_their_size_and_colours_are_mixed():
    scatter = {"kind": "scatter", "makes": "more", "count": 60, "size": 1.0, "what": "beads", "vary": 0.0}
    mesh = skin({"part": "more", "radius": 0.1}, scatter, geometry=BALL)
    assert closed_volume(mesh) > 0
    ramp = {"kind": "smooth", "stops": {"a": {"at": 0, "colour": "#000000"}, "b": {"at": 1, "colour": "#FFFFFF"}}}
    fields = {
        "up": {
            "letter": "A",
            "name": "Up",
            "rank": 0,
            "level": 0.5,
            "band": 0.2,
            "sources": {"s": {"kind": "surface", "rank": 0, "reading": "height", "low": -0.5, "high": 0.5}},
        }
    }
    document = recipe_shot(
        {"kind": "shade", "field": "up", "channel": "base_colour", "ramp": ramp},
        {"kind": "meld", "radius": 0.1, "cell": 0.03, "makes": "skin", "look": None},
        geometry=BALL,
        parts=("skin",),
        fields=fields,
    )
    shaded = parts_of(document)["skin"].mesh
    assert shaded.colour is not None
    assert np.corrcoef(shaded.colour[:, 0], shaded.points[:, 1])[0, 1] > 0.8


def test_a_trail_is_melded_with_the_body_that_it_is_of():
    keys = {"a": {"frame": 0, "value": [0, 0, 0], "easing": {"kind": "linear"}}, "b": {"frame": 48, "value": [2, 0, 0]}}
    trail = {"kind": "trail", "of": "points", "count": 5, "lasts": 0.5, "makes": "more", "width": 0.05}
    ball = {"kind": "sphere", "radius": 0.2, "subdivisions": 3}
    both = skin({"part": "more", "also": "body", "radius": 0.05}, trail, geometry=ball, frame=24, place={"keys": keys})
    alone = skin({"part": "more", "radius": 0.05}, trail, geometry=ball, frame=24, place={"keys": keys})
    assert closed_volume(both) > closed_volume(alone)
    assert both.points[:, 0].min() < -0.5
    assert both.points[:, 0].max() == pytest.approx(0.25, abs=0.04)


def test_own_weights_are_1_for_what_stands_alone():
    places = np.array([[20.0, 20, 20], [21.0, 20, 20], [60.0, 20, 20]])
    reach = np.full(3, 4.0)
    weight = own_weights(places, reach, bricks_about(places, reach, (81, 41, 41)))
    assert weight[2] == 1
    assert weight[0] == pytest.approx(1 / (1 + bell(0.25)))
    assert weight[0] == weight[1]


def test_what_is_too_fine_is_refused_with_what_would_fit():
    with pytest.raises(Exception, match=r"would fit|larger cells"):
        skin({"cell": 0.0005}, geometry=BALL)


def test_it_is_made_smooth_without_becoming_smaller():
    """Bumps of separate copies over a ball, about 0.35 m from one to the next: they go, and the volume stays."""
    copies = {
        "kind": "scatter",
        "by": "spacing",
        "spacing": 0.2,
        "what": "flakes",
        "size": 1.0,
        "vary": 0.0,
        "makes": "more",
    }
    rough, smooth = (
        skin({"part": "more", "radius": 0.15, "cell": 0.03, "smooth": width}, copies, geometry=BALL)
        for width in (0.0, 0.5)
    )
    outside = [mesh.points[np.linalg.norm(mesh.points, axis=1) > 0.5] for mesh in (rough, smooth)]
    spread = [np.linalg.norm(points, axis=1).std() for points in outside]
    assert spread[1] < 0.65 * spread[0]
    assert closed_volume(smooth) == pytest.approx(closed_volume(rough), rel=0.02)
    np.testing.assert_array_equal(smooth.number, rough.number)


def test_parts_and_holes_are_counted():
    """Euler and Poincare: points less edges and faces are twice the parts less twice the handles."""
    sphere, ring = form(BALL), form({"kind": "ring", "radius": 0.5, "thickness": 0.1, "segments": 20, "sides": 8})
    assert parts_and_holes(sphere) == (1, 0)
    assert parts_and_holes(ring) == (1, 1)
    assert parts_and_holes(np.concatenate([ring, ring + ring.max() + 1, sphere + 10_000])) == (3, 2)


def form(geometry: dict) -> np.ndarray:
    """The faces of a shape between places."""
    mesh = parts_of(recipe_shot(geometry=geometry, fields={}))["body"].mesh
    return np.unique(mesh.number, return_inverse=True)[1][mesh.faces]
