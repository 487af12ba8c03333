"""Imprint: depth and width of a straight pass against the stated profile, what is raised against what is pressed down, and where it is looked at."""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot

from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import TooMuch

RADIUS, SUNK = 0.3, 0.1


def track(step: dict | None = None, ground: dict | None = None, mover: dict | None = None, **shot) -> dict:
    """A ball that goes along X through a plane, a third of its radius below the surface, in 48 frames."""
    place = {
        "keys": {
            "a": {"frame": 0, "value": [-1.2, RADIUS - SUNK, 0], "easing": {"kind": "linear"}},
            "b": {"frame": 48, "value": [1.2, RADIUS - SUNK, 0]},
        }
    }
    settings = {"kind": "imprint", "rank": 0, "group": "movers", "rim": "none", "finest": 0.03} | (step or {})
    return {
        "name": "Sand",
        "items": {
            "sand": {
                "kind": "shape",
                "name": "Sand",
                "rank": 0,
                "geometry": {"kind": "plane", "width": 4.0, "depth": 2.0, "columns": 8, "rows": 4},
                "recipe": {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": {"press": settings}},
            }
            | (ground or {}),
            "ball": {
                "kind": "shape",
                "name": "Ball",
                "rank": 1,
                "place": place,
                "geometry": {"kind": "sphere", "radius": RADIUS, "subdivisions": 4},
            }
            | (mover or {}),
        },
        "groups": {"movers": {"name": "Movers", "rank": 0, "members": {"ball": {"rank": 0}}}},
        "frames": {"first": 0, "last": 50},
    } | shot


def pressed(document: dict, frame: float = 48, one=None) -> Mesh:
    engine = one or evaluator()
    return engine.parts(engine.scene(parse_shot(document), frame), "sand")["body"].value.mesh


def volumes(mesh: Mesh) -> tuple[float, float]:
    """Cubic metres below and above the plane through 0: the places of a mesh go straight between its points, so that the mean of three
    corners is exact where all lie on one side."""
    corners = mesh.points[mesh.faces].astype(np.float64)
    across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])[:, 1] / 2
    signed = across * corners[:, :, 1].mean(axis=1)
    return float(-signed[signed < 0].sum()), float(signed[signed > 0].sum())


def across_the_track(mesh: Mesh, at: float = 0.0) -> tuple[np.ndarray, np.ndarray]:
    """Z and Y of the points near a place along X."""
    near = np.abs(mesh.points[:, 0] - at) < 0.012
    return mesh.points[near, 2], mesh.points[near, 1]


def test_a_straight_pass_is_as_deep_and_wide_as_the_ball_goes_in():
    z, y = across_the_track(pressed(track()))
    expected = np.minimum(RADIUS - SUNK - np.sqrt(np.maximum(RADIUS**2 - z**2, 0)), 0)
    expected[np.abs(z) > RADIUS] = 0
    # The ball is one of flat faces, looked at every eighth of its size.
    assert y == pytest.approx(expected, abs=0.006)
    assert y.min() == pytest.approx(-SUNK, abs=1e-3)
    width = np.abs(z[y < -1e-3]).max()
    assert width == pytest.approx(np.sqrt(RADIUS**2 - (RADIUS - SUNK) ** 2), abs=0.02)


@pytest.mark.parametrize("packed", [0.0, 0.4])
def test_what_is_pressed_down_is_raised_beside_it_but_for_what_is_packed(packed):
    alone, _ = volumes(pressed(track()))
    down, up = volumes(pressed(track({"rim": "kept", "packed": packed})))
    assert up > 0.01
    assert up - down == pytest.approx(-packed * alone, abs=0.01 * alone)


def test_a_flat_track_is_as_deep_as_said_and_a_round_one_in_its_middle():
    flat = pressed(track({"profile": "flat", "depth": 0.05}))
    assert flat.points[:, 1].min() == pytest.approx(-0.05, abs=1e-6)
    assert np.unique(np.round(flat.points[:, 1], 6)) == pytest.approx([-0.05, 0.0])
    z, y = across_the_track(pressed(track({"profile": "round", "depth": 0.05, "soft": 0.12})))
    assert y.min() == pytest.approx(-0.05, abs=2e-3)
    assert (np.diff(y[np.argsort(np.abs(z))]) > -2e-3).all()


def test_its_edges_are_raised_to_the_height_that_is_said_at_the_track_and_fall_off_from_there():
    z, y = across_the_track(pressed(track({"rim": "height", "rim_height": 0.04, "rim_width": 0.15})))
    beside = np.abs(z) > 0.24
    assert y[beside].max() == pytest.approx(0.04, abs=0.008)
    assert y[np.abs(z) > 0.55].max() < 0.01


def test_a_coarse_plane_shows_a_clean_track():
    coarse, left = pressed(track()), pressed(track({"finest": 0}))
    assert len(left.points) == 45
    corners = coarse.points[coarse.faces]
    edges = np.linalg.norm((corners - corners[:, [1, 2, 0]])[:, :, [0, 2]], axis=2)
    touched = coarse.points[coarse.faces][:, :, 1].min(axis=1) < -0.01
    assert edges[touched].max() < 0.031


def test_nothing_is_too_fast_to_leave_a_track():
    """A ball that drops through the plane within one frame, from and to where it does not touch it."""
    drop = {
        "keys": {
            "a": {"frame": 10, "value": [0.3, 40.0, 0.1], "easing": {"kind": "linear"}},
            "b": {"frame": 11, "value": [0.3, -40.0, 0.1]},
        }
    }
    mesh = pressed(track(mover={"place": drop}), 20)
    deepest = mesh.points[np.argmin(mesh.points[:, 1])]
    assert deepest[1] < -0.2
    assert np.hypot(deepest[0] - 0.3, deepest[2] - 0.1) < 0.1


def test_it_comes_back_in_the_seconds_that_are_said():
    document = track({"recovers": 0.5})
    engine = evaluator()
    # The middle is left by the ball at about frame 24 + 24 * 0.224 / 1.2.
    depths = [-across_the_track(pressed(document, frame, engine))[1].min() for frame in (24, 30, 35, 40, 45)]
    assert depths[0] == pytest.approx(SUNK, abs=1e-3)
    assert (np.diff(depths) < 0).all()
    assert depths[-1] < 1e-6


def test_any_frame_and_any_rate_and_place_give_the_same_track():
    engine, document = evaluator(), track({"rim": "kept"})
    last = pressed(document, 48, engine).points.tobytes()
    pressed(document, 3, engine)
    assert pressed(document, 48, engine).points.tobytes() == last == pressed(document).points.tobytes()
    slow = pressed(track({"rim": "kept"}, rate={"numerator": 25, "denominator": 1}), 24.0)
    fast = pressed(track({"rim": "kept"}, rate={"numerator": 50, "denominator": 1}), 24.0)
    assert slow.points[:, 1].min() == pytest.approx(fast.points[:, 1].min(), abs=2e-3)
    # Turned and carried with its ball, the ground sees the same.
    turned = {"turn": [0, 0, 90], "place": [3.0, 1.0, -2.0]}
    upright = {
        "place": {
            "keys": {
                "a": {"frame": 0, "value": [3.0 - 0.2, 1.0 - 1.2, -2.0], "easing": {"kind": "linear"}},
                "b": {"frame": 48, "value": [3.0 - 0.2, 1.0 + 1.2, -2.0]},
            }
        },
        "turn": [0, 0, 90],
    }
    stood = pressed(track({"rim": "kept"}, ground=turned, mover=upright))
    flat = pressed(document)
    assert volumes(stood)[0] == pytest.approx(volumes(flat)[0], rel=0.01)


def test_a_stretched_ground_is_pressed_in_metres_of_the_world():
    wide = {
        "scale": [2.0, 5.0, 1.0],
        "geometry": {"kind": "plane", "width": 2.0, "depth": 2.0, "columns": 8, "rows": 8},
    }
    mesh = pressed(track(ground=wide))
    assert mesh.points[:, 1].min() * 5.0 == pytest.approx(-SUNK, abs=2e-3)


def test_the_field_says_how_much_of_it_counts():
    fields = {
        "half": {
            "letter": "A",
            "name": "Half",
            "rank": 0,
            "sources": {"s": {"kind": "surface", "rank": 0, "reading": "u", "low": 0.499, "high": 0.501}},
        }
    }
    mesh = pressed(track({"field": "half"}, fields=fields))
    left, right = mesh.points[mesh.points[:, 0] < -0.1], mesh.points[mesh.points[:, 0] > 0.1]
    assert min(left[:, 1].min(), right[:, 1].min()) == pytest.approx(-SUNK, abs=1e-3)
    assert max(left[:, 1].min(), right[:, 1].min()) == 0


def test_moving_the_path_presses_the_track_elsewhere_and_warm_is_as_fresh():
    engine = evaluator()
    pressed(track(), 48, engine)
    moved = track(mover={"place": [0.5, RADIUS - SUNK, 0.4]})
    mesh = pressed(moved, 48, engine)
    assert mesh.points.tobytes() == pressed(moved).points.tobytes()
    deepest = mesh.points[np.argmin(mesh.points[:, 1])]
    assert np.hypot(deepest[0] - 0.5, deepest[2] - 0.4) < 0.05


def test_pieces_and_copies_press_as_well():
    """Copies of a ball on a plane that falls; the plane itself stays above."""
    falls = {"keys": {"a": {"frame": 0, "value": [0, 1.0, 0]}, "b": {"frame": 24, "value": [0, 0.2, 0]}}}
    scatter = {
        "kind": "scatter",
        "rank": 0,
        "makes": "stones",
        "count": 12,
        "what": "shapes",
        "shapes_of": {"a": {"rank": 0, "shape": "stone"}},
    }
    mover = {
        "place": falls,
        "geometry": {"kind": "plane", "width": 2.0, "depth": 1.0, "columns": 2, "rows": 2},
        "recipe": {
            "parts": {"body": {"name": "Body", "rank": 0}, "stones": {"name": "Stones", "rank": 1}},
            "steps": {"lay": scatter},
        },
    }
    document = track(mover=mover)
    document["items"]["stone"] = {
        "kind": "shape",
        "name": "Stone",
        "rank": 3,
        "place": [0, 50, 0],
        "geometry": {"kind": "sphere", "radius": 0.28, "subdivisions": 2},
    }
    early, late = pressed(document, 2), pressed(document, 40)
    assert early.points[:, 1].min() == 0
    assert late.points[:, 1].min() < -0.03


def test_too_fine_a_track_is_refused_with_what_would_help():
    with pytest.raises(TooMuch, match="Allow longer edges"):
        pressed(track({"finest": 0.002}))
