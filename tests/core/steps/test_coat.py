"""Coat: its edge travels over the surface at the speed said, it is as thick as said, closes at its edge, and sticks to what moves."""

from __future__ import annotations

import numpy as np
import pytest
from shots import closed_volume, evaluator, one_way_edges, parse_shot, parts_of, recipe_shot

from windsock.core.findings import find_all
from windsock.core.geometry.coating import thickness
from windsock.core.geometry.mesh import Mesh
from windsock.core.kernels.areas import face_areas

BALL = {"kind": "sphere", "radius": 0.5, "subdivisions": 5}
PLAIN = {"bulge": 0.0, "finest": 0.0}


def coated(
    step: dict | None = None, *before: dict, frame: float = 24, geometry: dict | None = None, fields=None, **item
):
    """The parts of a shape whose coat spreads at 0.4 m/s from the low end of Y, a second from the start where nothing else is said."""
    document = recipe_shot(
        *before, {"kind": "coat", "speed": 0.4} | (step or {}), geometry=geometry or BALL, fields=fields or {}, parts=("coat",)
    )  # fmt: skip
    next(iter(document["items"].values())).update(item)
    return parts_of(document, frame)


def area(mesh: Mesh) -> float:
    return float(face_areas(mesh.rest, mesh.faces).sum())


@pytest.mark.parametrize(("frame", "way"), [(12, 0.2), (24, 0.4), (60, 1.0), (31.5, 0.525)])
def test_its_edge_goes_over_a_ball_as_far_as_said(frame: float, way: float):
    """Along great circles: the edge is the circle at the angle way / R from the lowest point (elementary geometry)."""
    coat = coated(frame=frame)["coat"].mesh
    edge = 0.5 * np.arccos(-coat.rest[:, 1].max() / 0.5)
    assert edge == pytest.approx(way, abs=2e-3)


def test_the_whole_coat_is_the_offset_of_the_shape():
    """A ball of radius R with a coat of h encloses 4/3 pi (R + h)^3; a box with one V + A h + M h^2 + ... where it is rounded, and
    (a + 2 h)(b + 2 h)(c + 2 h) where, as here, its corners stay sharp."""
    coat = coated({"by": "share", "share": 1.0, "thick": 0.02} | PLAIN)["coat"].mesh
    assert np.linalg.norm(coat.points, axis=1) == pytest.approx(0.52, abs=2e-4)
    assert closed_volume(coat) == pytest.approx(4 / 3 * np.pi * 0.52**3, rel=1e-3)
    box = {"kind": "box", "width": 1.0, "height": 0.8, "depth": 0.6, "divisions": 4}
    coat = coated({"by": "share", "share": 1.0, "thick": 0.02} | PLAIN, geometry=box)["coat"].mesh
    assert closed_volume(coat) == pytest.approx(1.04 * 0.84 * 0.64, rel=1e-5)


def test_a_share_is_one_of_the_area():
    for share in (0.25, 0.5, 0.9):
        parts = coated({"by": "share", "share": share})
        assert area(parts["coat"].mesh) / np.pi == pytest.approx(share, abs=5e-3)


def test_its_edge_is_round_and_bulges():
    """A quarter of a circle, upright where it begins; the bulge is highest a fifth of twice the width behind it and ends level."""
    behind = np.linspace(0, 0.2, 2001)
    plain = thickness(behind, 0.02, 0.05, 0.0)
    assert plain[0] == 0
    assert plain[behind >= 0.05] == pytest.approx(0.02)
    near = behind < 0.05
    assert (plain[near] / 0.02) ** 2 + (1 - behind[near] / 0.05) ** 2 == pytest.approx(1.0)
    bulge = thickness(behind, 0.0, 0.05, 0.01)
    assert bulge.max() == pytest.approx(0.01, rel=1e-5)
    assert behind[bulge.argmax()] == pytest.approx(0.02, abs=2e-4)
    assert bulge[behind >= 0.1] == pytest.approx(0.0)
    coat = coated({"thick": 0.02, "width": 0.06, "bulge": 0.015})["coat"].mesh
    out = np.linalg.norm(coat.points, axis=1) - 0.5
    back = 0.4 - 0.5 * np.arccos(np.clip(-coat.rest[:, 1] / np.linalg.norm(coat.rest, axis=1), -1, 1))
    assert out == pytest.approx(thickness(np.maximum(back, 0), 0.02, 0.06, 0.015), abs=2.5e-3)
    assert 0.5 + out.max() == pytest.approx(0.5 + thickness(behind, 0.02, 0.06, 0.015).max(), abs=5e-4)


def test_the_surface_beneath_closes_with_it():
    kept = coated()
    assert len(kept["body"].mesh.faces) == 20480
    gone = coated({"beneath": "gone"})
    assert one_way_edges(gone["body"].mesh, gone["coat"].mesh) == 0
    assert area(gone["body"].mesh) + area(gone["coat"].mesh) == pytest.approx(area(kept["body"].mesh), rel=1e-5)
    assert closed_volume(gone["body"].mesh) + closed_volume(gone["coat"].mesh) > 4 / 3 * np.pi * 0.125


def test_large_faces_show_the_same_edge():
    """A box of two triangles a side is split until its edges are short; the coat is as thick as on fine faces, and as wide."""
    coarse = {"kind": "box", "width": 1.0, "height": 1.0, "depth": 1.0, "divisions": 1}
    fine = coarse | {"divisions": 40}
    one, other = (coated({"finest": 0.05}, geometry=geometry)["coat"].mesh for geometry in (coarse, fine))
    assert closed_volume(one) == pytest.approx(closed_volume(other), rel=0.03)
    assert one.rest[:, 1].max() == pytest.approx(other.rest[:, 1].max(), abs=0.01)
    lengths = np.linalg.norm(one.rest[one.faces] - one.rest[one.faces[:, [1, 2, 0]]], axis=2)
    assert lengths.max() <= 0.05 * 1.01


def test_it_sticks_to_what_bends_and_turns():
    bend = {"kind": "bend", "angle": 60.0, "start": -0.5, "end": 0.5}
    straight, bent = coated(), coated(None, bend)
    assert np.array_equal(straight["coat"].mesh.rest, bent["coat"].mesh.rest)
    assert np.array_equal(straight["coat"].mesh.faces, bent["coat"].mesh.faces)
    assert not np.allclose(straight["coat"].mesh.points, bent["coat"].mesh.points, atol=0.01)
    turned = coated(turn=[20, 30, 40], place=[1, 2, 3])["coat"].mesh
    assert turned.points == pytest.approx(straight["coat"].mesh.points, abs=1e-5)


def test_it_is_measured_in_metres_of_the_world():
    """A ball of half the size that is stretched to twice that is the ball."""
    small = coated(geometry=BALL | {"radius": 0.25}, scale=[2, 2, 2])["coat"].mesh
    large = coated()["coat"].mesh
    assert small.rest[:, 1].max() * 2 == pytest.approx(large.rest[:, 1].max(), abs=1e-4)
    assert np.linalg.norm(small.points, axis=1).max() * 2 == pytest.approx(
        np.linalg.norm(large.points, axis=1).max(), abs=1e-3
    )


def halves(level: float) -> dict:
    """Parted at a place along X; the controller of the shot stands at 3 m as it begins."""
    across = {"kind": "across", "rank": 0, "controller": "fog", "axis": "x", "at": level - 3, "soft": 0.0}
    return {"half": {"letter": "A", "name": "Half", "rank": 0, "level": 0.5, "band": 0.2, "sources": {"x": across}}}


def test_it_never_comes_where_its_pace_is_nothing():
    whole = coated({"by": "share", "share": 1.0, "field": "half"}, fields=halves(0.0))["coat"].mesh
    sides = whole.rest[:, 0]
    assert 0.4 < area(whole) / np.pi < 0.53
    assert min(abs(sides.max()), abs(sides.min())) < 0.03


def test_it_starts_where_a_field_is_inside_or_at_a_controller():
    seeded = coated({"begins_at": "seeds", "seeds": "half", "speed": 0.0, "by": "speed"}, fields=halves(0.2))
    assert len(seeded["coat"].mesh.faces) == 0
    seeded = coated({"begins_at": "seeds", "seeds": "half", "speed": 0.1}, fields=halves(0.2))["coat"].mesh
    from_x = np.arccos(np.clip(seeded.rest[:, 0] / 0.5, -1, 1)) * 0.5
    # One end lies within the field, the other is 0.1 m beyond its border.
    begins = 0.5 * np.arccos(0.4)
    assert from_x.max() == pytest.approx(begins + 0.1, abs=0.01) or from_x.min() == pytest.approx(
        begins - 0.1, abs=0.01
    )
    assert len(coated({"begins_at": "place"})["coat"].mesh.faces) == 0


def test_it_starts_at_a_controller_on_what_a_cut_has_left():
    """Half of the ball is gone, whichever: it starts where the other is nearest to the controller, 3 m off along X."""
    for zone in ("inside", "outside"):
        step = {"begins_at": "place", "controller": "fog", "by": "share", "share": 0.05}
        parts = coated(step, {"kind": "cut_away", "field": "half", "zone": zone}, frame=0, fields=halves(0.0))
        body, coat = parts["body"].mesh, parts["coat"].mesh
        assert coat.rest[:, 0].max() == pytest.approx(body.points[:, 0].max(), abs=0.01)
        assert area(coat) == pytest.approx(0.05 * np.pi / 2, rel=0.05)


def test_it_ends_round_where_the_surface_ends():
    sheet = {"kind": "plane", "width": 1.0, "depth": 1.0, "columns": 20, "rows": 20}
    coat = coated({"by": "share", "share": 1.0, "axis": "x", "bulge": 0.0}, geometry=sheet)["coat"].mesh
    border = np.abs(coat.rest[:, [0, 2]]).max(axis=1) > 0.5 - 1e-6
    assert border.any()
    assert coat.points[border, 1] == pytest.approx(0.0, abs=1e-6)
    middle = np.abs(coat.rest[:, [0, 2]]).max(axis=1) < 0.4
    assert coat.points[middle, 1] == pytest.approx(0.02, abs=1e-5)


def test_drips_run_ahead_of_it_and_hang():
    down = {"end": "high", "speed": 0.5, "drip_length": 0.3, "drip_width": 0.08}
    dry, wet = (coated(down | {"drips": drips})["coat"].mesh for drips in (0.0, 1.0))
    assert wet.rest[:, 1].min() < dry.rest[:, 1].min() - 0.04
    assert area(wet) < 1.6 * area(dry)
    assert np.array_equal(wet.rest, coated(down | {"drips": 1.0})["coat"].mesh.rest)
    assert not np.array_equal(wet.rest[:50], coated(down | {"drips": 1.0, "seed": 2})["coat"].mesh.rest[:50])
    late = {"by": "share", "share": 1.0}
    hanging = coated(down | late | {"drips": 1.0})["coat"].mesh
    assert hanging.points[:, 1].min() < coated(down | late)["coat"].mesh.points[:, 1].min() - 0.05
    assert hanging.points[:, 1].max() < 0.56


def test_islands_start_each_from_its_own_back():
    two = {"kind": "text", "words": "ii", "size": 1.0, "depth": 0.2, "face_size": 0.08}
    coat = coated({"by": "share", "share": 1.0, "finest": 0.0, "beneath": "gone"}, geometry=two)
    assert len(coat["body"].mesh.faces) == 0


def test_nothing_and_much():
    assert len(coated({"speed": 0.0})["coat"].mesh.faces) == 0
    assert len(coated(frame=0)["coat"].mesh.faces) == 0
    assert closed_volume(coated({"speed": 100.0} | PLAIN)["coat"].mesh) > 4 / 3 * np.pi * 0.125
    flat = coated({"thick": 0.0, "bulge": 0.0, "width": 0.0})["coat"].mesh
    assert np.linalg.norm(flat.points, axis=1).max() <= 0.5 + 1e-6


def test_a_drop_lies_on_the_surface_once_that_has_turned_up():
    """What hung beneath the ball is above it once the ball stands on its head, and nothing of the coat goes into the ball."""
    over = {"keys": {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 60, "value": [180, 0, 0]}}}
    hanging = {"by": "share", "share": 1.0, "drips": 1.0, "drip_length": 0.3, "drip_width": 0.08, "bulge": 0.0}
    coat = coated(hanging, frame=60, turn=over)["coat"].mesh
    behind = np.linalg.norm(coat.points, axis=1)
    assert behind.min() > 0.49
    assert behind.max() > 0.55


def test_once_the_edge_is_far_past_a_drip_the_coat_is_as_thick_as_elsewhere():
    down = {"end": "high", "drips": 1.0, "drip_length": 0.6, "drip_width": 0.08, "width": 0.1, "bulge": 0.0}
    coat = coated(down | {"speed": 1.2}, frame=24)["coat"].mesh
    # The edge without drips is 0.35 m further on there.
    passed = coat.rest[:, 1] > 0.5 * np.cos(0.85 / 0.5)
    thin = np.linalg.norm(coat.points[passed], axis=1) < 0.518
    assert thin.mean() < 0.007


def test_it_says_which_parts_of_the_surface_it_does_not_come_to():
    two = {"kind": "text", "words": "ll", "size": 1.0, "depth": 0.2, "face_size": 0.08}
    document = recipe_shot({"kind": "coat", "begins_at": "place", "controller": "fog"}, geometry=two, parts=("coat",))
    (told,) = [one for one in find_all(evaluator(), parse_shot(document)) if one.kind == "doubtful"]
    assert "does not come to one part of the surface" in told.says
    document["items"]["ball"]["recipe"]["steps"]["s1"]["begins_at"] = "back"
    assert all(one.kind != "doubtful" for one in find_all(evaluator(), parse_shot(document)))
