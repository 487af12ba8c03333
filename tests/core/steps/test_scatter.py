"""Scatter: density, spacing, what stands where, and copies that stay stuck to a surface that is moved, cut and refined."""

from __future__ import annotations

import igl
import numpy as np
import pytest
from scipy.spatial import KDTree
from scipy.spatial.transform import Rotation
from shots import evaluator, parse_shot, parts_of, recipe_shot

from windsock.core.geometry.sowing import apart, on_edges, on_faces, on_points
from windsock.core.kernels.laying import found_again
from windsock.core.kernels.packing import packed_copies
from windsock.core.kernels.spacing import spaced
from windsock.core.parts.part import Part
from windsock.core.refusals import Refusal
from windsock.core.shapes.box import Box, build_box
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment

PLAIN = {"vary": 0, "tilt": 0, "soft": 0, "turn": 0}


def scattered(*more: dict, frame: float = 0, geometry: dict | None = None, before: tuple = (), **step: object) -> Part:
    laid = {"kind": "scatter", "count": 500} | PLAIN | step
    return parts_of(recipe_shot(*before, laid, *more, geometry=geometry, parts=("copies",)), frame)["copies"]


@pytest.mark.parametrize("spacing", [0.15, 0.06])
@pytest.mark.parametrize("seed", [1, 7])
def test_no_two_copies_are_nearer_than_the_spacing_and_no_hole_is_larger(spacing, seed):
    copies = scattered(by="spacing", spacing=spacing, seed=seed)
    places = copies.mesh.points.astype(float)
    apart_, _ = KDTree(places).query(places, k=2)
    assert apart_[:, 1].min() >= spacing * (1 - 1e-5)
    ball = build_sphere(Sphere(subdivisions=6), Moment(0, 0)).points.astype(float)
    hole, _ = KDTree(places).query(ball)
    # Triangles of 0.12 spacings are not looked into any more; the ball's points are a little off the flat faces.
    assert hole.max() < 1.07 * spacing


def test_as_many_fit_as_random_sequential_addition_leaves_room_for():
    """J. Feder, "Random sequential adsorption" (1980): discs cover 0.547 of the plane (value from memory); libigl's blue
    noise on the same mesh as second route."""
    plane = {"kind": "plane", "width": 4, "depth": 4, "columns": 2, "rows": 2}
    copies = scattered(geometry=plane, by="spacing", spacing=0.05)
    covered = len(copies.copies) * np.pi * 0.025**2 / 4.05**2
    assert 0.50 < covered < 0.56
    points = np.array([[-2, 0, -2], [2, 0, -2], [2, 0, 2], [-2, 0, 2]], dtype=float)
    other = igl.blue_noise(points, np.array([[0, 1, 2], [0, 2, 3]]), 0.05)[2]
    assert len(copies.copies) == pytest.approx(len(other), rel=0.1)


def test_spacing_agrees_with_the_slow_way():
    places = np.random.default_rng(2).uniform(0, 1, (600, 3))
    taken: list[int] = []
    for one in range(len(places)):
        if all(np.linalg.norm(places[one] - places[other]) >= 0.12 for other in taken):
            taken.append(one)
    assert spaced(places, 0.12, 10_000).tolist() == taken
    assert spaced(places, 0.12, 20).tolist() == taken[:20]


@pytest.mark.parametrize("build", [Box(divisions=1), Sphere(build="latitude", segments=40, rings=60)])
def test_as_dense_on_every_area_though_faces_are_very_uneven(build):
    """Chi-squared over eighths of the shape, 7 degrees of freedom: 24.3 at 0.1 %. Rings make tiny faces at the poles."""
    mesh = build_box(build, Moment(0, 0)) if isinstance(build, Box) else build_sphere(build, Moment(0, 0))
    level = mesh.points.astype(float)
    sown = on_faces(level, mesh.faces, 8000, 3)
    places = np.einsum("kc,kcx->kx", sown.shares, level[mesh.faces[sown.face]])
    counts = np.bincount((places > 0) @ np.array([1, 2, 4]), minlength=8)
    assert ((counts - 1000) ** 2 / 1000).sum() < 24.3


def test_density_is_the_field():
    """The share of copies that are there, by bins of the field's value: chi-squared, 9 degrees of freedom, 27.9 at 0.1 %."""
    copies = scattered(frame=60, field="front", zone="value", count=20_000)
    every = scattered(count=20_000)
    fog = np.array([3 - 4 * 0.6, 0, 0])
    value = np.clip(1.5 - np.linalg.norm(every.mesh.points - fog, axis=1), 0, 1)
    there = np.isin(every.mesh.number, copies.mesh.number)
    bins = np.minimum((value * 10).astype(int), 9)
    expected, found = np.bincount(bins, value, 10), np.bincount(bins, there, 10)
    spread = np.bincount(bins, value * (1 - value), 10)
    used = spread > 5
    assert used.sum() > 6
    assert ((found - expected)[used] ** 2 / spread[used]).sum() < 27.9


@pytest.mark.parametrize("on_what", ["faces", "edges", "path"])
def test_more_copies_leave_the_first_ones_where_they_were(on_what):
    step: dict = {"on_what": on_what}
    document = recipe_shot({"kind": "scatter"} | PLAIN | step, parts=("copies",))
    document["items"]["line"] = {
        "kind": "path", "name": "Line", "rank": 9,
        "points": {"a": {"rank": 0, "place": [0, 0, 0]}, "b": {"rank": 1, "place": [2, 1, 0]}, "c": {"rank": 2, "place": [3, 0, 1]}},
    }  # fmt: skip
    found = []
    for count in (300, 1000):
        document["items"]["ball"]["recipe"]["steps"]["s1"] |= {
            "count": count,
            "path": "line" if on_what == "path" else None,
        }
        found.append(parts_of(document)["copies"])
    few, many = found
    assert len(few.copies) == 300
    assert len(many.copies) == 1000
    assert np.array_equal(few.mesh.points, many.mesh.points[:300])
    assert np.array_equal(few.copies.turn, many.copies.turn[:300])


def test_copies_stand_on_the_analytic_normal():
    copies = scattered(geometry={"kind": "sphere", "subdivisions": 5})
    up = Rotation.from_quat(copies.copies.turn).apply([0, 1, 0])
    radial = copies.mesh.points / np.linalg.norm(copies.mesh.points, axis=1, keepdims=True)
    assert np.einsum("ij,ij->i", up, radial).min() > np.cos(np.radians(0.5))
    straight = scattered(stand="world")
    assert Rotation.from_quat(straight.copies.turn).apply([0, 1, 0]) == pytest.approx(
        np.tile([0, 1, 0], (500, 1)), abs=1e-6
    )


def test_sizes_are_world_metres_on_a_stretched_and_turned_shape():
    document = recipe_shot({"kind": "scatter", "count": 200, "size": 0.2, "what": "blocks"} | PLAIN, parts=("copies",))
    document["items"]["ball"] |= {"scale": [3, 3, 3], "turn": [20, 40, 60], "place": [5, 0, 0]}
    item = next(one for one in evaluator().frame(parse_shot(document), 0).draw if one.part == "copies")
    assert item.body.copies.size == pytest.approx(0.2)
    assert np.linalg.det(item.matrix[:3, :3]) == pytest.approx(1)
    world = item.points @ item.matrix[:3, :3].T + item.matrix[:3, 3]
    assert np.linalg.norm(world - np.array([5, 0, 0]), axis=1) == pytest.approx(3, abs=0.01)


def test_copies_are_stuck_to_a_surface_that_swings():
    """A copy's place in its face is the same at every frame, while the surface is swung about."""
    keys = {"keys": {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 12, "value": [2, 0, 0]}}}
    document = recipe_shot(
        {"kind": "follow_through", "swings": 2},
        {"kind": "scatter", "count": 300, "on_what": "faces"} | PLAIN,
        parts=("copies",),
    )
    document["items"]["ball"]["place"] = keys
    one = evaluator()
    shot = parse_shot(document)
    rest = build_sphere(Sphere(subdivisions=4), Moment(0, 0))
    sown = on_faces(rest.points.astype(float), rest.faces, 300, 1)
    for frame in (0, 6, 13, 20):
        body, copies = (item.body for item in one.frame(shot, frame).draw)
        known = np.einsum("kc,kcx->kx", sown.shares, body.mesh.points[body.mesh.faces[sown.face]])
        assert copies.mesh.points == pytest.approx(known, abs=1e-5)
    moved = np.abs(body.mesh.points - body.mesh.rest).max()
    assert moved > 0.05


@pytest.mark.parametrize("way", ["cut", "refined", "squares", "broken"])
def test_copies_keep_their_places_on_what_is_left_of_a_surface(way):
    before = {
        "cut": {"kind": "cut_away", "field": "front"},
        "refined": {"kind": "refine", "times": 2},
        "squares": {"kind": "refine", "times": 2, "way": "squares", "amount": 0},
        "broken": {"kind": "fracture", "count": 20},
    }[way]
    whole = scattered(count=800)
    left = scattered(count=800, frame=60, before=(before,))
    if way == "cut":
        fog = np.array([3 - 4 * 0.6, 0, 0])
        kept = np.linalg.norm(whole.mesh.points - fog, axis=1) > 1.0
        assert (~kept).sum() > 100
        # The cut's edge is a chord of the faces it crosses.
        assert (np.isin(whole.mesh.number, left.mesh.number) == kept).mean() > 0.99
    else:
        # Squares have their middles a little off the two triangles that they are made of.
        assert len(left.copies) >= (790 if way == "squares" else 800)
    row = np.searchsorted(whole.mesh.number, left.mesh.number)
    assert left.mesh.points == pytest.approx(whole.mesh.points[row], abs=2e-5 if way != "squares" else 2e-3)


def test_places_are_found_again_as_the_slow_way_does():
    mesh = build_box(Box(divisions=2), Moment(0, 0))
    sown = on_faces(mesh.points.astype(float), mesh.faces, 60, 4)
    places = np.einsum("kc,kcx->kx", sown.shares, mesh.points[mesh.faces[sown.face]].astype(float))
    order = np.random.default_rng(1).permutation(len(mesh.faces))[:-6]
    now, shares = found_again(places, sown.face, mesh.points, mesh.faces[order], order.astype(np.int32))
    for place, face, got, share in zip(places, sown.face, now, shares, strict=True):
        if face not in order:
            assert got == -1
            continue
        assert order[got] == face
        assert share @ mesh.points[mesh.faces[face]] == pytest.approx(place, abs=1e-6)


def test_points_and_edges_carry_copies():
    box = build_box(Box(divisions=1), Moment(0, 0))
    on = on_points(box, 100, 1)
    corners = np.einsum("kc,kcx->kx", on.shares, box.points[box.faces[on.face]])
    assert len(np.unique(corners.round(5), axis=0)) == 8
    edges = on_edges(box.points.astype(float), box, 500, 1)
    places = np.einsum("kc,kcx->kx", edges.shares, box.points[box.faces[edges.face]])
    outer = (np.abs(np.abs(places) - 0.5) < 1e-6).sum(axis=1)
    assert (outer >= 1).all()
    assert len(apart(box.points.astype(float), box.faces, 0.2, 50, 1).face) == 50


def test_inside_a_shape_and_along_a_path():
    inside = scattered(on_what="volume", count=400)
    assert np.linalg.norm(inside.mesh.points, axis=1).max() < 1
    assert len(inside.copies) == 400


def test_settings_ruled_by_fields_of_their_own():
    ruled = scattered(
        frame=60,
        size=0.1,
        length=2.0,
        size_by={"field": "front"},
        lift=0.5,
        lift_by={"field": "front", "zone": "inside"},
    )
    every = scattered(frame=60, size=0.1)
    row = np.searchsorted(every.mesh.number, ruled.mesh.number)
    places = every.mesh.points[row]
    value = np.clip(1.5 - np.linalg.norm(places - np.array([3 - 4 * 0.6, 0, 0]), axis=1), 0, 1)
    assert ruled.copies.size[:, 0] == pytest.approx(0.1 * value, abs=1e-4)
    assert ruled.copies.size[:, 1] == pytest.approx(0.2 * value, abs=2e-4)
    out = np.linalg.norm(ruled.mesh.points, axis=1) - np.linalg.norm(places, axis=1)
    assert out == pytest.approx(np.where(value >= 0.5, 0.5, 0.0), abs=2e-3)


def test_copies_of_shapes_by_their_shares():
    document = recipe_shot(
        {"kind": "scatter", "count": 4000, "what": "shapes", "times": 0.1, "shapes_of": {"a": {"rank": 0, "shape": "one", "share": 3}, "b": {"rank": 1, "shape": "two"}}},
        parts=("copies",),
    )  # fmt: skip
    for name, divisions in (("one", 1), ("two", 2)):
        document["items"][name] = {
            "kind": "shape",
            "name": name,
            "rank": 5,
            "shown": 0,
            "geometry": {"kind": "box", "divisions": divisions},
        }
    drawn = [item.body for item in evaluator().frame(parse_shot(document), 0).draw if item.part == "copies"]
    assert [len(body.copies.models[0].mesh.faces) for body in drawn] == [12, 48]
    assert len(drawn[0].copies) == pytest.approx(3000, abs=4 * 750**0.5)
    document["items"]["one"]["recipe"] = {
        "steps": {
            "s": {
                "kind": "scatter",
                "rank": 0,
                "what": "shapes",
                "makes": "copies",
                "shapes_of": {"c": {"rank": 0, "shape": "ball"}},
            }
        }
    }
    document["items"]["one"]["recipe"]["parts"] = {
        "body": {"name": "Body", "rank": 0},
        "copies": {"name": "C", "rank": 1},
    }
    with pytest.raises(Refusal, match="in a circle"):
        parse_shot(document)


@pytest.mark.parametrize(
    ("step", "says"),
    [
        ({"by": "spacing", "spacing": 0.0001}, "would fit"),
        ({"count": 10**9}, "outside 0 to"),
        ({"makes": "nothing"}, "does not have"),
        ({"what": "shapes", "shapes_of": {"a": {"rank": 0, "shape": "fog"}}}, "no shape of the shot"),
    ],
)
def test_what_cannot_be_is_refused_with_what_would_fit(step, says):
    with pytest.raises(Refusal, match=says):
        scattered(**step)


@pytest.mark.parametrize("count", [1, 5000])
def test_copies_travel_within_the_stated_error(count):
    """Every number is unpacked as the graphics card does it; the bound is stated by the packing itself."""
    rng = np.random.default_rng(count)
    points = (rng.normal(size=(count, 3)) * [3, 0.2, 11] + 40).astype(np.float32)
    turn = Rotation.random(count, random_state=1).as_quat().astype(np.float32)
    size = rng.uniform(0, 0.7, (count, 3)).astype(np.float32)
    packed = packed_copies(points, turn, size)
    place = packed.place[:, :3] / 65535 * packed.span + np.array(packed.low)
    sized = packed.size[:, :3] / 65535 * packed.largest
    quaternion = packed.turn / 32767
    quaternion /= np.linalg.norm(quaternion, axis=1, keepdims=True)
    corner = rng.normal(size=(count, 3))
    corner /= np.linalg.norm(corner, axis=1, keepdims=True)
    there = points + Rotation.from_quat(turn).apply(corner * size)
    found = place + Rotation.from_quat(quaternion).apply(corner * sized)
    assert np.linalg.norm(found - there, axis=1).max() <= packed.error(1.0)
    assert packed.error(1.0) < 2e-3
    assert packed.place.nbytes + packed.turn.nbytes + packed.size.nbytes == 24 * count
