"""Spread: fronts against exact distances, at speeds that change and from seeds that move."""

from __future__ import annotations

import numpy as np
import pytest
from histories import MOVING, around, points_of, subject_shot, values_at
from shots import cut_ball, cut_mesh

from windsock.core.kernels.areas import face_areas

SPHERE = {"kind": "sphere", "subdivisions": 5}


def spreading(geometry: dict, reach: float, place=(0.0, 0.0, 1.0), **source) -> dict:
    told = {"kind": "spread", "seeds": "seed", "speed": 0.5, "soft": 0.0} | source
    return subject_shot(geometry, {"seed": around(reach), "front": {"sources": {"s": told}}}, place=place)


def reached_angle(document: dict, frame: float) -> float:
    """The widest angle from the seed's middle that the front has come to on the unit sphere."""
    inside = values_at(document, "front", frame) >= 0.5
    return float(np.arccos(np.clip(points_of(document)[inside][:, 2], -1, 1)).max(initial=0.0))


def test_on_a_sphere_it_has_come_as_far_as_its_speed_says():
    document = spreading(SPHERE, 0.3)
    begin = 2 * np.arcsin(0.15)
    for frame in (24, 48, 96):
        assert reached_angle(document, frame) == pytest.approx(begin + 0.5 * frame / 24, abs=0.05)


def test_twice_the_speed_is_there_in_half_the_time():
    one, two = spreading(SPHERE, 0.3), spreading(SPHERE, 0.3, speed=1.0)
    for frame in (20, 44, 71):
        np.testing.assert_array_equal(values_at(one, "front", frame), values_at(two, "front", frame / 2))


def test_a_keyed_speed_warps_time_exactly():
    """The front is where a steady one is once the same way has been travelled: the integral of the speed."""
    keys = {
        "k1": {"frame": 0, "value": 0.0, "easing": {"kind": "linear"}},
        "k2": {"frame": 48, "value": 1.0, "easing": {"kind": "hold"}},
        "k3": {"frame": 60, "value": 0.0, "easing": {"kind": "hold"}},
    }
    steady, warped = spreading(SPHERE, 0.3), spreading(SPHERE, 0.3, speed={"keys": keys})
    # By frame 48 it has gone 1 s x 1 m/s, by 60 half a metre more, and then it stands.
    np.testing.assert_array_equal(values_at(warped, "front", 48), values_at(steady, "front", 48))
    np.testing.assert_array_equal(values_at(warped, "front", 60), values_at(steady, "front", 72))
    np.testing.assert_array_equal(values_at(warped, "front", 90), values_at(steady, "front", 72))


@pytest.mark.parametrize("fps", [24, 25, 30])
def test_seeds_that_move_enter_when_they_touch(fps):
    """On a sheet, a disc that goes along x at 1 m/s with a front of half that speed: a wedge behind it (Mach's cone)."""
    sheet = {"kind": "plane", "width": 4.0, "depth": 2.0, "columns": 80, "rows": 40}
    keys = {"keys": {name: key | {"frame": key["frame"] * fps / 24} for name, key in MOVING["keys"].items()}}
    told = {"kind": "spread", "seeds": "seed", "speed": 0.5, "soft": 0.0}
    document = subject_shot(sheet, {"seed": around(0.12), "front": {"sources": {"s": told}}}, place=keys)
    document |= {"rate": {"numerator": fps, "denominator": 1}, "frames": {"first": 0, "last": 4 * fps}}
    points = points_of(document)
    seconds = 2.0
    inside = values_at(document, "front", seconds * fps) >= 0.5
    # A place (x, z) is reached by the front that left at the best moment t: t + (|(x - (t - 2), z)| - 0.12) / 0.5.
    moments = np.linspace(0, seconds, 400)
    away = np.hypot(points[:, :1] - (moments - 2)[None], points[:, 2:])
    exact = (moments[None] + np.maximum(away - 0.12, 0) / 0.5).min(axis=1)
    sure = np.abs(exact - seconds) > 0.1
    np.testing.assert_array_equal(inside[sure], (exact <= seconds)[sure])


def test_a_field_holds_the_front_back_and_stops_it_where_it_is_zero():
    sheet = {"kind": "plane", "width": 4.0, "depth": 1.0, "columns": 80, "rows": 20}
    document = spreading(sheet, 0.1, place=[-2.0, 0.0, 0.0], pace="slow")
    items = document["items"]
    items["wall"] = {"kind": "controller", "name": "Wall", "rank": 2, "place": [1.2, 0.0, 0.0], "scale": [1, 1, 40]}
    walled = {"kind": "around", "controller": "wall", "reach": 0.3, "soft": 0.0, "inverted": True}
    document["fields"]["slow"] = {"letter": "Z", "name": "Slow", "rank": 9, "sources": {"s": walled}}
    x = points_of(document)[:, 0]
    late = values_at(document, "front", 10_000)
    assert np.all(late[x < 0.85] == 1)
    assert np.all(late[x > 0.95] == 0)


def test_the_front_is_the_same_however_finely_the_mesh_is_cut():
    angles = [reached_angle(spreading({"kind": "sphere", "subdivisions": n}, 0.3), 72) for n in (4, 5, 6)]
    assert max(angles) - min(angles) < 0.08


@pytest.mark.parametrize("subdivisions", [4, 5])
def test_a_cut_by_a_front_takes_away_a_cap(subdivisions):
    """Cut away by a front from a pole: the area left is that of the sphere without the cap it has come over."""
    document = cut_ball({"kind": "sphere", "subdivisions": subdivisions}, field={"band": 0.0})
    document["items"]["fog"]["place"] = [0, 0, 1.0]
    document["fields"]["seed"] = {"letter": "S", "name": "Seed", "rank": 5} | around(0.25)
    front = {"kind": "spread", "seeds": "seed", "speed": 0.5, "soft": 0.4}
    document["fields"]["front"]["sources"] = {"s": front}
    mesh = cut_mesh(document, 60)
    # The value is 1/2 where the front came 0.2 m ago.
    angle = 2 * np.arcsin(0.125) + 0.5 * 60 / 24 - 0.2
    assert face_areas(mesh.points, mesh.faces).sum() == pytest.approx(2 * np.pi * (1 + np.cos(angle)), rel=0.01)
