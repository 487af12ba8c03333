"""Trail: as long as the way, where the way was, the same at any frame rate; of points, pieces and the whole."""

from __future__ import annotations

import numpy as np
import pytest
from shots import closed_volume, parts_of, recipe_shot, times_of_edges

from windsock.core.geometry.mesh import Mesh

BALL = {"kind": "sphere", "radius": 0.1, "subdivisions": 2}
ROUND = {
    "place": {
        "keys": {
            "a": {"frame": 0, "value": [0, 0, 0], "easing": {"kind": "linear"}},
            "b": {"frame": 96, "value": [4.0, 0, 0]},
        }
    }
}


def trail(step: dict | None = None, *before: dict, frame: float = 48, **item) -> Mesh:
    """The trail of a ball that goes along x at 1 m/s at 24 frames a second."""
    document = recipe_shot(
        *before,
        {"kind": "trail", "of": "whole", "lasts": 1.0, "width": 0.02, "spacing": 0.05} | (step or {}),
        geometry=BALL,
        parts=("trail",),
        fields={},
    )
    next(iter(document["items"].values())).update(ROUND | item)
    shot = {key: item.pop(key) for key in ("rate",) if key in item}
    return parts_of(document | shot, frame)["trail"].mesh


def in_world(mesh: Mesh, frame: float = 48) -> np.ndarray:
    return mesh.points.astype(np.float64) + [frame / 24, 0, 0]


def test_it_is_where_the_way_was_and_as_long():
    mesh = trail({"thinner": 0.0})
    places = in_world(mesh)
    assert places[:, 0].min() == pytest.approx(1.0, abs=1e-4)
    assert places[:, 0].max() == pytest.approx(2.0, abs=1e-4)
    assert np.hypot(places[:, 1], places[:, 2]) == pytest.approx(0.01, abs=1e-4)
    assert (times_of_edges(mesh) == 2).all()
    # A tube of ten sides: the area of a decagon times its length.
    assert closed_volume(mesh) == pytest.approx(5 * 0.01**2 * np.sin(2 * np.pi / 10) * 1.0, rel=1e-3)


def test_its_end_is_thinner_and_all_of_it_is_there_for_0_seconds():
    places = in_world(trail({"lasts": 0.0, "thinner": 1.0}))
    assert places[:, 0].min() == pytest.approx(0.0, abs=1e-4)
    radius = np.hypot(places[:, 1], places[:, 2])
    assert radius == pytest.approx(0.01 * places[:, 0] / 2, abs=1e-4)


def test_its_steps_stay_where_they_are_as_time_goes_on():
    one, other = trail(frame=40), trail(frame=44)
    shared = np.intersect1d(one.number, other.number)
    assert len(shared) > 100
    first = in_world(one, 40)[np.argsort(one.number)][np.isin(np.sort(one.number), shared)]
    then = in_world(other, 44)[np.argsort(other.number)][np.isin(np.sort(other.number), shared)]
    along = np.abs(first[:, 0] - then[:, 0])
    assert np.median(along) < 1e-4


def circling(frames: int, rate: int) -> dict:
    """Once round a circle of 1 m in two seconds: a controller carries the ball round."""
    document = recipe_shot(
        {"kind": "trail", "of": "whole", "lasts": 0.0, "width": 0.01, "spacing": 0.02},
        geometry=BALL,
        parts=("trail",),
        fields={},
    )
    turn = {
        "keys": {
            "a": {"frame": 0, "value": [0, 0, 0], "easing": {"kind": "linear"}},
            "b": {"frame": frames, "value": [0, 360.0, 0]},
        }
    }
    document["items"]["fog"] = {"kind": "controller", "name": "Round", "rank": 1, "turn": turn}
    next(iter(document["items"].values())).update({"parent": "fog", "place": [1.0, 0, 0]})
    return document | {"rate": {"numerator": rate, "denominator": 1}, "frames": {"first": 0, "last": frames}}


@pytest.mark.parametrize("rate", [24, 25, 60])
def test_a_circle_is_as_long_as_it_is_whatever_the_frame_rate(rate: int):
    """The length of the trail of a point on a circle is 2 pi r, within the chord error of its steps: r (step / r)^2 / 24 of it."""
    mesh = parts_of(circling(2 * rate, rate), 2 * rate)["trail"].mesh
    rows = mesh.points.reshape(-1, 10, 3).astype(np.float64).mean(axis=1)
    assert np.linalg.norm(np.diff(rows, axis=0), axis=1).sum() == pytest.approx(2 * np.pi, rel=1e-3)


def test_points_and_pieces_each_have_their_own():
    many = trail({"of": "points", "count": 6})
    rows = many.points.reshape(-1, 10, 3).mean(axis=1)
    heads = rows[np.flatnonzero(many.uv.reshape(-1, 10, 2)[:, 0, 1] == 0)]
    assert len(heads) == 6
    assert np.linalg.norm(heads, axis=1) == pytest.approx(0.1, abs=1e-3)
    broken = trail({"of": "pieces"}, {"kind": "fracture", "count": 4}, {"kind": "jumble", "move": [0, 0.5, 0]})
    assert (broken.uv.reshape(-1, 10, 2)[:, 0, 1] == 0).sum() == 4


def test_what_springs_leaves_the_way_that_it_has_swung():
    stopped = {
        "place": {
            "keys": {
                "a": {"frame": 0, "value": [0, 0, 0], "easing": {"kind": "linear"}},
                "b": {"frame": 24, "value": [2.0, 0, 0]},
            }
        }
    }
    swinging = trail(None, {"kind": "follow_through", "swings": 1.0, "damping": 0.1}, frame=48, **stopped)
    stiff = trail(None, frame=36, **stopped)
    # It swings on beyond where it is held, and so has a way when all stands still.
    assert (swinging.points[:, 0] > 0.08).any()
    assert stiff.points[:, 0].max() < 0.02


def test_ribbons_are_flat_and_smooth_ways_end_where_the_thing_is():
    ribbon = trail({"form": "ribbons", "thinner": 0.0})
    assert len(ribbon.faces) == len(ribbon.points) - 2
    assert (
        np.abs(np.einsum("ij,ij->i", ribbon.normals.astype(float), np.tile([1.0, 0, 0], (len(ribbon.points), 1)))).max()
        < 1e-3
    )
    soft = trail({"smooth": 0.3})
    assert soft.points[:, 0].max() == pytest.approx(0.0, abs=1e-3)


def test_what_stands_still_has_none():
    assert len(trail(place=[0, 0, 0]).faces) == 0
    assert len(trail(frame=0).faces) == 0


CAMERA = {"eye": {"kind": "camera", "name": "Camera", "rank": 9, "angle": 30, "place": [2.0, 3.0, 4.0]}}


def test_lines_face_the_camera_wherever_that_is():
    """Common practice: a strip that faces the eye lies at right angles to the line of sight, so that it is as wide as is said."""
    document = recipe_shot(
        {"kind": "trail", "of": "whole", "lasts": 1.0, "width": 0.02, "spacing": 0.05, "form": "lines", "thinner": 0.0},
        geometry=BALL,
        parts=("trail",),
        fields={},
        camera="eye",
    )
    document["items"] |= CAMERA
    next(iter(document["items"].values())).update(ROUND)
    for eye in ([2.0, 3.0, 4.0], [-1.0, 0.5, 0.1]):
        document["items"]["eye"]["place"] = eye
        mesh = parts_of(document, 48)["trail"].mesh
        places = in_world(mesh).reshape(-1, 2, 3)
        across, sight = places[:, 1] - places[:, 0], np.array(eye) - places.mean(axis=1)
        assert np.linalg.norm(across, axis=1) == pytest.approx(0.02, abs=1e-6)
        assert np.einsum("nc,nc->n", across, sight) == pytest.approx(0, abs=1e-6)
        normals = mesh.normals.reshape(-1, 2, 3)[:, 0]
        # What is left of the sight across the way, which goes along X, is just along the normal.
        seen = sight * [0, 1, 1]
        assert np.abs(np.einsum("nc,nc->n", normals, seen)) == pytest.approx(np.linalg.norm(seen, axis=1), rel=1e-4)


def test_a_sheet_joins_the_ways_of_neighbours():
    """A ring that goes along its axis leaves the wall of a cylinder, but for the gap where the shortest joining leaves one: of k
    neighbours on a circle, k - 1 chords times the length of the way."""
    ring = {"kind": "ring", "radius": 0.5, "thickness": 0.001, "segments": 32, "sides": 3}
    document = recipe_shot(
        {"kind": "trail", "of": "points", "count": 8, "lasts": 1.0, "spacing": 0.05, "form": "sheet"},
        geometry=ring,
        parts=("trail",),
        fields={},
    )
    item = next(iter(document["items"].values()))
    going = ROUND["place"]["keys"]
    item["place"] = {"keys": {key: one | {"value": [0, one["value"][0], 0]} for key, one in going.items()}}
    mesh = parts_of(document, 48)["trail"].mesh
    corners = mesh.points[mesh.faces].astype(np.float64)
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1).sum() / 2
    assert area == pytest.approx(7 * 2 * 0.5 * np.sin(np.pi / 8), rel=0.01)
    # In the world its steps stay where they are as time goes on.
    then = parts_of(document, 50)["trail"].mesh
    lay = {int(number): place for number, place in zip(mesh.number, mesh.points + [0, 48 / 24, 0], strict=True)}
    lies = {int(number): place for number, place in zip(then.number, then.points + [0, 50 / 24, 0], strict=True)}
    steps = [np.abs(lay[number] - lies[number]).max() for number in lay.keys() & lies.keys()]
    assert len(steps) > 100
    assert np.median(steps) < 1e-4


def test_a_sheet_of_one_thing_is_nothing_and_said():
    assert len(trail({"form": "sheet"}).faces) == 0
