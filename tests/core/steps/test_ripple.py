"""Ripple: rings from what touches water, at their speed; calm where nothing does; any frame, warm or fresh."""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot

from windsock.core.geometry.mesh import Mesh


def puddle(step: dict | None = None, stone: dict | None = None, water: dict | None = None, **shot) -> dict:
    """A stone that dips into water between frames 6 and 18."""
    dips = {
        "keys": {
            "a": {"frame": 6, "value": [0, 0.3, 0], "easing": {"kind": "linear"}},
            "b": {"frame": 12, "value": [0, 0.08, 0], "easing": {"kind": "linear"}},
            "c": {"frame": 18, "value": [0, 0.3, 0]},
        }
    }
    settings = {"kind": "ripple", "rank": 0, "group": "movers", "speed": 1.0, "damping": 0.0} | (step or {})
    return {
        "name": "Puddle",
        "items": {
            "water": {
                "kind": "shape",
                "name": "Water",
                "rank": 0,
                "geometry": {"kind": "plane", "width": 4.0, "depth": 4.0, "columns": 80, "rows": 80},
                "recipe": {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": {"ring": settings}},
            }
            | (water or {}),
            "stone": {
                "kind": "shape",
                "name": "Stone",
                "rank": 1,
                "place": dips,
                "geometry": {"kind": "sphere", "radius": 0.15, "subdivisions": 3},
            }
            | (stone or {}),
        },
        "groups": {"movers": {"name": "Movers", "rank": 0, "members": {"stone": {"rank": 0}}}},
        "frames": {"first": 0, "last": 60},
    } | shot


def rippled(document: dict, frame: float, one=None) -> Mesh:
    engine = one or evaluator()
    return engine.parts(engine.scene(parse_shot(document), frame), "water")["body"].value.mesh


def test_rings_run_out_at_the_speed_from_where_it_was_touched():
    engine, document = evaluator(), puddle()
    assert not rippled(document, 6, engine).points[:, 1].any()
    edges = []
    for frame in (24, 36):
        mesh = rippled(document, frame, engine)
        away, high = np.hypot(mesh.points[:, 0], mesh.points[:, 2]), np.abs(mesh.points[:, 1])
        edges.append(away[high > 0.1 * high.max()].max())
    assert edges[1] - edges[0] == pytest.approx(0.5, abs=0.08)


def test_a_stone_that_lies_in_it_sets_off_nothing():
    mesh = rippled(puddle(stone={"place": [0, 0.05, 0]}), 40)
    assert not mesh.points[:, 1].any()


def test_any_frame_in_any_order_warm_or_fresh_is_the_same():
    document, engine = puddle({"walls": "swallow"}), evaluator()
    frames = [50, 3, 30.5, 17]
    warm = {frame: rippled(document, frame, engine).points.tobytes() for frame in frames}
    for frame in frames:
        assert rippled(document, frame).points.tobytes() == warm[frame]
    rippled(puddle({"strength": 1.0}), 30.5, engine)
    assert rippled(document, 30.5, engine).points.tobytes() == warm[30.5]


def test_it_runs_over_any_mesh_and_closes_over_seams():
    ball = {
        "geometry": {"kind": "sphere", "radius": 1.0, "build": "latitude", "segments": 48, "rings": 24},
        "place": [0, -1, 0],
    }
    mesh = rippled(puddle(water=ball), 30)
    away = np.linalg.norm(mesh.points, axis=1)
    assert np.abs(away - 1).max() > 1e-3
    by_place: dict[int, float] = {}
    for number, far in zip(mesh.number.tolist(), away.tolist(), strict=True):
        assert by_place.setdefault(number, far) == pytest.approx(far, abs=1e-6)


def test_it_follows_steps_before_it_and_is_seen_as_far_as_the_field_says():
    bend = {"kind": "bend", "rank": -1, "axis": "x", "angle": 40.0, "start": -2.0, "end": 2.0}
    document = puddle({"amount": 0.5})
    plain = rippled(puddle(), 24).points[:, 1]
    assert rippled(document, 24).points[:, 1] == pytest.approx(0.5 * plain, abs=1e-6)
    document = puddle()
    document["items"]["water"]["recipe"]["steps"]["bend"] = bend
    bent = rippled(document, 24)
    document["items"]["water"]["recipe"]["steps"]["ring"]["on"] = False
    flat = rippled(document, 24)
    assert np.linalg.norm(bent.points - flat.points, axis=1) == pytest.approx(np.abs(plain), abs=2e-4)
