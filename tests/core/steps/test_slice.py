"""Slice: cuts are exact, closed by a cap, and what is beside them goes along with that."""

from __future__ import annotations

import numpy as np
import pytest
from shots import closed_volume, one_way_edges, parts_of, recipe_shot

BALL = {"kind": "sphere", "radius": 0.5, "subdivisions": 5}
BOX = {"kind": "box", "width": 1.0, "height": 0.8, "depth": 0.6, "divisions": 6}
KNIFE = {"kind": "shape", "name": "Knife", "rank": 8, "place": [0.5, 0, 0]}


def sliced(
    step: dict | None = None,
    *before: dict,
    frame: float = 0,
    geometry: dict | None = None,
    fields=None,
    others=None,
    **item,
):
    """The parts of a shape cut by a slab from -0.1 to 0.1 along X, where nothing else is said."""
    document = recipe_shot(
        *before, {"kind": "slice"} | (step or {}), geometry=geometry or BOX, fields=fields or {}, parts=("cap",)
    )
    next(iter(document["items"].values())).update(item)
    document["items"].update(others or {})
    return parts_of(document, frame)


def left(parts: dict) -> float:
    """What body and cap enclose together, in cubic metres; they have to close."""
    body, cap = parts["body"].mesh, parts["cap"].mesh
    assert one_way_edges(body, cap) == 0
    return closed_volume(body) + closed_volume(cap)


def test_a_slab_takes_what_is_between_two_planes():
    parts = sliced()
    assert left(parts) == pytest.approx(0.8 * 0.8 * 0.6, rel=1e-6)
    assert np.abs(parts["cap"].mesh.points[:, 0]) == pytest.approx(0.1, abs=1e-6)
    assert left(sliced({"zone": "outside"})) == pytest.approx(0.2 * 0.8 * 0.6, rel=1e-6)


def test_a_ball_loses_a_slab():
    """What is left are two caps of a ball, each of pi h^2 (3 R - h) / 3 (Archimedes); the mesh lies a little within the ball."""
    height = 0.4
    wanted = 2 * np.pi * height**2 * (1.5 - height) / 3
    assert left(sliced(geometry=BALL)) == pytest.approx(wanted, rel=2e-3)


@pytest.mark.parametrize("zone", ["inside", "outside"])
def test_turned_and_stretched_it_is_cut_in_metres_of_the_world(zone: str):
    knife = {"knife": {"kind": "controller", "name": "Knife", "rank": 9, "place": [1, 2, 3]}}
    parts = sliced(
        {"controller": "knife", "axis": "y", "zone": zone},
        others=knife,
        scale=[2, 1, 3],
        turn=[0, 0, 90],
        place=[1, 2, 3],
    )
    # X of the box, twice as long, stands along Y of the world.
    within = 0.1 * 0.8 * 0.6
    assert left(parts) == pytest.approx(within if zone == "outside" else 0.48 - within, rel=1e-5)


def test_the_surface_beside_the_cut_goes_with_the_cap():
    parts = sliced({"beside": 0.05})
    assert left(parts) == pytest.approx(0.384, rel=1e-6)
    beside = np.abs(parts["cap"].mesh.points[:, 0])
    assert beside.min() == pytest.approx(0.1, abs=1e-6)
    assert beside.max() == pytest.approx(0.15, abs=1e-6)
    assert np.abs(parts["body"].mesh.points[:, 0]).min() == pytest.approx(0.15, abs=1e-6)


def around(reach: float) -> dict:
    source = {"kind": "around", "rank": 0, "controller": "knife", "reach": reach + 0.15, "soft": 0.3}
    return {"near": {"letter": "A", "name": "Near", "rank": 0, "level": 0.5, "band": 0.2, "sources": {"near": source}}}


def test_a_field_cuts_exactly_at_its_level():
    """All points of the cap lie on the ball about the controller; of half a ball 2/3 pi r^3 is taken from the box."""
    knife = {"knife": {"kind": "controller", "name": "Knife", "rank": 9, "place": [0.5, 0, 0]}}
    parts = sliced({"by": "field", "field": "near", "voxel": 0.02}, others=knife, fields=around(0.25))
    away = np.linalg.norm(parts["cap"].mesh.points - [0.5, 0, 0], axis=1)
    assert away == pytest.approx(0.25, abs=2e-3)
    assert np.median(away) == pytest.approx(0.25, abs=1e-5)
    assert left(parts) == pytest.approx(0.48 - 2 / 3 * np.pi * 0.25**3, rel=1e-3)
    assert len(sliced({"by": "field"})["body"].mesh.faces) == len(sliced({"by": "shape"})["body"].mesh.faces)


def test_another_shape_cuts_it_as_that_moves():
    ball = KNIFE | {"geometry": BALL | {"radius": 0.25, "subdivisions": 4}}
    assert left(sliced({"by": "shape", "cutter": "knife"}, others={"knife": ball})) == pytest.approx(
        0.48 - 2 / 3 * np.pi * 0.25**3, rel=2e-3
    )
    away = sliced({"by": "shape", "cutter": "knife"}, others={"knife": ball | {"place": [5, 0, 0]}})
    assert left(away) == pytest.approx(0.48, rel=1e-6)
    assert len(away["cap"].mesh.faces) == 0
    within = sliced(
        {"by": "shape", "cutter": "knife", "zone": "outside"}, others={"knife": ball | {"place": [5, 0, 0]}}
    )
    assert len(within["body"].mesh.faces) == 0
    beside = sliced({"by": "shape", "cutter": "knife", "beside": 0.05}, others={"knife": ball})
    flat = beside["cap"].mesh.points[np.abs(beside["cap"].mesh.points[:, 0] - 0.5) < 1e-6]
    assert np.linalg.norm(flat[:, 1:], axis=1).max() < 0.31


def test_what_does_not_close_is_cut_by_its_volume():
    """A ball with a hole at its top: what is inside goes by the winding number, and the hole is closed."""
    hole = {"kind": "cut_away", "field": "near"}
    top = {"knife": {"kind": "controller", "name": "Knife", "rank": 9, "place": [0, 0.5, 0]}}
    parts = sliced({"voxel": 0.02}, hole, geometry=BALL, others=top, fields=around(0.15))
    height = 0.4
    assert left(parts) == pytest.approx(2 * np.pi * height**2 * (1.5 - height) / 3, rel=0.05)
    sheet = {"kind": "plane", "width": 1.0, "depth": 1.0, "columns": 10, "rows": 10}
    assert len(sliced(geometry=sheet)["cap"].mesh.faces) == 0


def test_points_on_the_cut_keep_their_numbers_as_it_moves():
    one, other = (set(sliced({"start": -0.1, "end": end})["body"].mesh.number.tolist()) for end in (0.1, 0.104))
    assert len(one & other) > 0.95 * len(one)


def test_twice_and_after_other_steps():
    once = {"kind": "slice", "axis": "y", "makes": "cap"}
    parts = sliced({"axis": "x"}, once)
    assert closed_volume(parts["body"].mesh) + closed_volume(parts["cap"].mesh) != 0
    bent = sliced(None, {"kind": "bend", "angle": 40.0, "axis": "y"}, geometry=BOX | {"divisions": 12})
    assert left(bent) == pytest.approx(0.384, rel=0.05)
    pieces = sliced(None, {"kind": "fracture", "count": 5, "gap": 0.0})
    assert left(pieces) == pytest.approx(0.384, rel=1e-3)


def test_it_keeps_uv_and_colour_of_the_surface():
    parts = sliced()
    mesh = parts["body"].mesh
    whole = sliced({"start": 5.0, "end": 6.0})["body"].mesh
    right = mesh.points[:, 0] > 0.45
    assert mesh.uv is not None
    assert whole.uv is not None
    there = {tuple(np.round(row, 5)) for row in np.column_stack([whole.points, whole.uv]).tolist()}
    assert all(tuple(np.round(row, 5)) in there for row in np.column_stack([mesh.points, mesh.uv])[right].tolist())
