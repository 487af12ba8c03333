"""Fracture: pieces that fill the whole, cells of the places nearest to a site, and shapes that do not close."""

from __future__ import annotations

import numpy as np
import pytest
from manifold3d import Manifold
from scipy.spatial import KDTree
from shots import closed_volume, evaluator, parse_shot, parts_of, recipe_shot, times_of_edges

from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.sites import blocks, sites_on, sites_within, slabs
from windsock.core.kernels.areas import face_areas
from windsock.core.kernels.cells import cell_corners
from windsock.core.kernels.clipping import parted
from windsock.core.kernels.solids import shards, solid_of
from windsock.core.parts.part import Part
from windsock.core.refusals import Cancelled, Refusal
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment

INTO = ("cells", "slabs", "blocks")
TORUS = {"kind": "ring", "radius": 1.0, "thickness": 0.35, "segments": 48, "sides": 20}


def broken(geometry: dict | None = None, loose: bool = False, **step: object) -> Part:
    """loose: with a shift by nothing after it, so that the faces inside are there."""
    steps = [{"kind": "fracture"} | step, *([{"kind": "shift"}] if loose else [])]
    return parts_of(recipe_shot(*steps, geometry=geometry))["body"]


def piece_volumes(mesh: Mesh) -> np.ndarray:
    assert mesh.piece is not None
    corners = mesh.points[mesh.faces].astype(float)
    parts = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6
    return np.bincount(mesh.piece[mesh.faces[:, 0]], parts)


@pytest.mark.parametrize("into", INTO)
@pytest.mark.parametrize("geometry", [None, TORUS, {"kind": "box", "divisions": 3}], ids=["ball", "torus", "box"])
def test_pieces_are_closed_and_fill_the_whole(geometry, into):
    whole = parts_of(recipe_shot(geometry=geometry))["body"].mesh
    part = broken(geometry, loose=True, into=into, count=24, block=[0.6, 0.6, 0.6])
    volumes = piece_volumes(part.mesh)
    assert part.solid
    assert len(volumes) == len(part.pieces) >= 8
    assert volumes.min() > 0
    # Places are kept in single precision: a millionth of the size at each point.
    assert volumes.sum() == pytest.approx(closed_volume(whole), rel=1e-5)
    assert set(times_of_edges(part.mesh)) == {2}


@pytest.mark.parametrize("count", [15, 60])
def test_every_point_of_a_cell_is_nearest_to_its_own_site(count):
    """scipy's k-d tree as the independent search; the points are those that the solid cut and the sheet cut make."""
    ball = build_sphere(Sphere(radius=1, subdivisions=4), Moment(0, 0))
    points = ball.points.astype(float)
    sites = sites_within(points, ball.faces, count, 3, None)
    cells = cell_corners(sites, points.min(axis=0) - 0.01, points.max(axis=0) + 0.01, 0.0)
    solid = solid_of(points, ball.faces)
    assert solid is not None
    made = shards(solid, cells, np.arange(len(ball.faces)), lambda share: None)
    np.testing.assert_array_equal(np.unique(made.cell), np.arange(count))
    tree = KDTree(sites)
    places = made.corners.reshape(-1, 3)
    nearest, _ = tree.query(places)
    assert np.abs(np.linalg.norm(places - sites[np.repeat(made.cell, 3)], axis=1) - nearest).max() < 2e-5
    cell, source, shares = parted(points, ball.faces, sites, 0.0)
    corners = np.einsum("tij,tjk->tik", shares, points[ball.faces[source]]).reshape(-1, 3)
    nearest, _ = tree.query(corners)
    assert np.abs(np.linalg.norm(corners - sites[np.repeat(cell, 3)], axis=1) - nearest).max() < 1e-9
    assert np.bincount(source, np.repeat(1, len(source))).min() >= 1


def test_cells_cut_out_together_are_those_cut_out_one_by_one():
    """The plain loop of manifold3d as the slow twin, on two balls, one of which lies within a single cell."""
    one, other = (build_sphere(Sphere(radius=radius, subdivisions=3), Moment(0, 0)) for radius in (1.0, 0.05))
    points = np.concatenate([one.points, other.points + np.float32([2.5, 0.1, 0])]).astype(float)
    faces = np.concatenate([one.faces, other.faces + len(one.points)]).astype(np.int32)
    sites = np.concatenate([sites_within(one.points.astype(float), one.faces, 40, 5, None), [[2.4, 0, 0], [2.4, 5, 0]]])
    cells = cell_corners(sites, points.min(axis=0) - 0.1, points.max(axis=0) + 0.1, 0.0)
    solid = solid_of(points, faces)
    assert solid is not None
    made = shards(solid, cells, np.arange(len(faces)), lambda share: None)
    for cell, corners in enumerate(cells):
        own = made.corners[made.cell == cell]
        volume = np.einsum("ti,ti->t", own[:, 0], np.cross(own[:, 1], own[:, 2])).sum() / 6
        alone = 0.0 if corners is None else (solid ^ Manifold.hull_points(corners)).volume()
        assert volume == pytest.approx(alone, abs=1e-6)
    assert (made.source[made.cell == 40] >= len(one.faces)).all()
    assert len(made.source[made.cell == 40]) == len(other.faces)


@pytest.mark.parametrize("into", ["cells", "blocks", "slabs"])
def test_work_on_pieces_can_be_stopped(into):
    told: list[float] = []

    def check(share: float) -> None:
        told.append(share)
        if share > 0:
            raise Cancelled

    ball = build_sphere(Sphere(radius=1, subdivisions=3), Moment(0, 0))
    points = ball.points.astype(float)
    sites = {"cells": sites_within(points, ball.faces, 20, 1, None), "blocks": blocks(-np.ones(3), np.ones(3), np.full(3, 0.7)),
             "slabs": slabs(-np.ones(3), np.ones(3), 0, 6, 0.0, 1)}[into]  # fmt: skip
    cells = cell_corners(sites, np.full(3, -1.1), np.full(3, 1.1), 0.0)
    solid = solid_of(points, ball.faces)
    assert solid is not None
    with pytest.raises(Cancelled):
        shards(solid, cells, np.arange(len(ball.faces)), check)
    assert len(told) == 2


@pytest.mark.parametrize("gap", [0.0, 0.05])
def test_a_gap_is_as_wide_as_said(gap):
    """Along the way from site to site the planes of two neighbours are so far apart."""
    sites = np.array([[-0.5, 0, 0], [0.5, 0, 0], [0, 1, 0]])
    cells = cell_corners(sites, np.full(3, -2.0), np.full(3, 2.0), gap)
    left, right = cells[0], cells[1]
    assert left is not None
    assert right is not None
    assert left[:, 0].max() == pytest.approx(-gap / 2, abs=1e-9)
    assert right[:, 0].min() == pytest.approx(gap / 2, abs=1e-9)


def test_cells_have_as_many_faces_as_poisson_voronoi_ones():
    """J. L. Meijering, "Interface area, edge length, and number of vertices in crystal aggregates with random nucleation"
    (1953): a cell has 48 pi^2 / 35 + 2 faces on average, about 15.54 (value from memory, the formula as second route)."""
    expected = 48 * np.pi**2 / 35 + 2
    assert expected == pytest.approx(15.535, abs=0.001)
    rng = np.random.default_rng(7)
    found = []
    for _ in range(2):
        sites = rng.uniform(0, 1, (2500, 3))
        cells = cell_corners(sites, np.zeros(3), np.ones(3), 0.0)
        for site, corners in zip(sites, cells, strict=True):
            # Those at the border are cut by the box.
            if corners is None or corners.min() < 1e-6 or corners.max() > 1 - 1e-6 or abs(site - 0.5).max() > 0.38:
                continue
            # Three faces meet at every corner, so by Euler's formula there are V / 2 + 2 of them.
            found.append(len(corners) / 2 + 2)
    assert len(found) > 1500
    # Inner cells only are looked at, which favours small ones a little.
    assert np.mean(found) == pytest.approx(expected, abs=4 * np.std(found) / len(found) ** 0.5 + 0.15)


@pytest.mark.parametrize("step", [{}, {"gap": 0.03}, {"thickness": 0.05}, {"into": "faces", "thickness": 0.02}])
def test_an_open_mesh_becomes_sheets(step):
    plane = {"kind": "plane", "width": 2, "depth": 1, "columns": 12, "rows": 6}
    part = broken(plane, loose=True, count=20, **step)
    assert not part.solid
    mesh = part.mesh
    surface = mesh.faces[mesh.origin >= 0] if mesh.origin is not None else mesh.faces
    area = face_areas(mesh.points, surface).sum()
    if "gap" in step:
        assert 1.0 < area < 2.0
    else:
        assert area == pytest.approx(2.0, rel=1e-5)
    if "thickness" in step:
        assert set(times_of_edges(mesh)) == {2}
        assert closed_volume(mesh) == pytest.approx(2.0 * step["thickness"], rel=1e-4)
        assert np.ptp(mesh.points[:, 1]) == pytest.approx(step["thickness"], rel=1e-4)


def test_what_hangs_apart_is_apart():
    letters = {"kind": "text", "words": "ijk", "depth": 0.1, "face_size": 0.2}
    # i and j have dots.
    assert len(broken(letters, into="islands").pieces) == 5
    ball = broken(into="faces")
    assert len(ball.pieces) == len(ball.mesh.faces) == 5120


def test_pieces_that_have_not_moved_look_as_if_nothing_were_broken():
    """Normals, places and u,v of the surface are those of the whole, and nothing inside is drawn."""
    whole = parts_of(recipe_shot(geometry=TORUS))["body"].mesh
    drawn = broken(TORUS, count=30).mesh
    assert drawn.origin is not None
    assert (drawn.origin >= 0).all()
    tree = KDTree(whole.points)
    used = np.unique(drawn.faces)
    apart, near = tree.query(drawn.points[used])
    on_a_point = apart < 1e-6
    assert on_a_point.sum() > len(whole.points) / 2
    assert np.abs(drawn.normals[used][on_a_point] - whole.normals[near[on_a_point]]).max() < 1e-5
    centre = (
        np.array([1.0, 0, 1.0]) * drawn.points[used] / np.linalg.norm(drawn.points[used][:, [0, 2]], axis=1)[:, None]
    )
    facing = drawn.points[used] - centre
    facing /= np.linalg.norm(facing, axis=1, keepdims=True)
    # The analytic normal of the torus, to what its flat faces allow.
    assert np.einsum("ij,ij->i", facing, drawn.normals[used]).min() > 0.98


def test_a_piece_that_moves_shows_its_inside_and_so_do_those_about_it():
    steps = [{"kind": "fracture", "count": 40}, {"kind": "shift", "field": "front", "move": [0, 0.4, 0]}]
    for frame, moved in ((0, False), (60, True)):
        part = parts_of(recipe_shot(*steps), frame)["body"]
        assert part.mesh.origin is not None
        assert bool((part.mesh.origin < 0).any()) is moved
    part = parts_of(recipe_shot(*steps), 60)["body"]
    assert part.mesh.piece is not None
    shifted = part.pieces.places.points[:, 1] - part.pieces.places.rest[:, 1] > 0.2
    assert 0 < shifted.sum() < len(shifted)
    inside = np.unique(part.mesh.piece[part.mesh.faces[part.mesh.origin < 0][:, 0]])
    assert set(np.flatnonzero(shifted)) <= set(inside)
    assert len(inside) < len(part.pieces)


def test_pieces_stay_the_same_while_the_shape_is_moved_or_more_are_asked_for():
    place = {"keys": {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 50, "value": [3, 1, 0]}}}
    document = recipe_shot({"kind": "fracture", "count": 12})
    document["items"]["ball"] |= {"place": place, "turn": [10, 20, 30]}
    first, later = (parts_of(document, frame)["body"] for frame in (0, 37.5))
    assert np.array_equal(first.mesh.points, later.mesh.points)
    assert np.array_equal(first.pieces.places.number, later.pieces.places.number)
    points = build_sphere(Sphere(subdivisions=3), Moment(0, 0))
    few, many = (sites_within(points.points.astype(float), points.faces, n, 5, None) for n in (10, 35))
    assert np.array_equal(few, many[:10])


@pytest.mark.parametrize("frame", [0, 60])
def test_a_field_makes_cells_denser_as_it_is_at_the_first_frame(frame):
    place = {"keys": {"a": {"frame": 0, "value": [1, 0, 0]}, "b": {"frame": 100, "value": [-1, 0, 0]}}}
    document = recipe_shot({"kind": "fracture", "field": "front", "zone": "inside", "count": 120})
    document["items"]["fog"]["place"] = place
    part = parts_of(document, frame)["body"]
    right = part.pieces.places.rest[:, 0] > 0
    assert right.sum() > 4 * (~right).sum()


@pytest.mark.parametrize("seed", [1, 2])
def test_sites_on_a_surface_are_as_many_on_every_area(seed):
    """Two triangles, one nine times as large: chi-squared, one degree of freedom, 10.83 at 0.1 %."""
    points = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [10, 0, 0], [13, 0, 0], [10, 3, 0]], dtype=float)
    faces = np.array([[0, 1, 2], [3, 4, 5]], dtype=np.int32)
    sites = sites_on(points, faces, 4000, seed, None)
    small = (sites[:, 0] < 5).sum()
    assert (small - 400) ** 2 / 400 + (small - 400) ** 2 / 3600 < 10.83


def test_inside_faces_have_the_look_of_the_inside():
    part = broken(gap=0.02, inside={"base_colour": "#FF0000", "roughness": 0.1})
    mesh = part.mesh
    assert mesh.colour is not None
    assert mesh.roughness is not None
    inner = mesh.faces[mesh.origin < 0].ravel()
    assert mesh.colour[inner, 0] == pytest.approx(1)
    assert mesh.roughness[inner] == pytest.approx(0.1)
    assert np.isnan(mesh.colour[mesh.faces[mesh.origin >= 0]]).all()


def test_a_crossed_and_a_doubled_mesh_still_give_pieces():
    """Two balls in each other, one of them twice: no solid, but sheets, and nothing fails."""
    ball = build_sphere(Sphere(subdivisions=2), Moment(0, 0))
    points = np.concatenate([ball.points, ball.points * 0.8 + 0.3, ball.points]).astype(np.float32)
    faces = np.concatenate([ball.faces, ball.faces + len(ball.points), ball.faces]).astype(np.int32)
    mesh = Mesh(points, points, np.tile(ball.normals, (3, 1)), faces, np.arange(len(points)))
    document = recipe_shot(
        {"kind": "fracture", "count": 20}, geometry={"kind": "imported", "asset": "0" * 64, "unit": 1.0}
    )
    del document["items"]["ball"]["geometry"]["unit"]
    frame = evaluator(held=mesh).frame(parse_shot(document), 0)
    part = frame.draw[0].body
    assert len(part.pieces) >= 20
    assert np.isfinite(part.mesh.points).all()


def test_too_many_blocks_are_refused_with_what_to_do():
    with pytest.raises(Refusal, match="Take larger ones"):
        broken(into="blocks", block=[0.01, 0.01, 0.01])


@pytest.mark.parametrize("width", [0.05, 0.1])
def test_edges_of_loose_pieces_are_rounded_and_of_welded_ones_not(width):
    box = {"kind": "box", "divisions": 4}
    plain = {"into": "slabs", "count": 2, "uneven": 0.0, "axis": "x"}
    still = broken(box, rounding=width, **plain).mesh
    used = still.points[np.unique(still.faces)]
    # While nothing has moved every point lies on the box.
    assert np.abs(np.abs(used).max(axis=1) - 0.5).max() < 1e-6
    sharp, rounded = (broken(box, loose=True, rounding=one, **plain).mesh for one in (0.0, width))
    assert set(times_of_edges(rounded)) == {2}
    lost = closed_volume(sharp) - closed_volume(rounded)
    # A parabola of depth 0.35 w at the edge takes about its area along the twelve edges of two half boxes, 16 m in all;
    # what a right angle allows lies between nothing and the whole chamfer, w^2 / 2.
    assert 0.1 * width**2 * 16 < lost < 0.5 * width**2 * 16
    moved = np.abs(np.abs(rounded.points[:, 1:]).max(axis=1) - 0.5) > 1e-4
    corner = np.sort(0.5 - np.abs(rounded.points[:, 1:]), axis=1)[:, 1]
    inner = np.minimum(np.abs(np.abs(rounded.points[:, 0]) - 0.5), np.abs(rounded.points[:, 0]))
    assert (np.minimum(corner, inner)[moved] < 1.3 * width).all()
