"""Wire: which edges, that tubes are closed and as wide as said, and that what comes after finds what it needs."""

from __future__ import annotations

import numpy as np
import pytest
from shots import cut_ball, edge_lengths_at_border, evaluator, parsed

from windsock.core.geometry.mesh import Mesh
from windsock.core.kernels.areas import face_areas
from windsock.core.refusals import TooMuch
from windsock.core.shapes.box import Box, build_box
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.steps.wire import edges_of
from windsock.core.timing.parameter import Moment

START = Moment(0, 0)


def wired(geometry: dict | None = None, frame: float = 50, later: dict | None = None, **step: object) -> Mesh:
    document = cut_ball(geometry or {"kind": "box", "divisions": 3})
    steps = {"wire": {"kind": "wire", "rank": 0, "field": None, "width": 0.02} | step}
    document["items"]["ball"]["recipe"]["steps"] = steps | ({"later": later} if later else {})
    document["items"]["ball"] |= {"scale": [2, 1, 0.5]}
    return evaluator().frame(parsed(document), frame).draw[0].body.mesh


@pytest.mark.parametrize("cells", [1, 3])
def test_the_edges_of_a_box(cells):
    box = build_box(Box(divisions=cells), START)
    # Squares of n x n cells on six sides, shared along the 12 edges of the box: 12 n^2 in all; a diagonal for each cell.
    assert len(edges_of(box, "squares")) == 12 * cells**2
    assert len(edges_of(box, "all")) == 12 * cells**2 + 6 * cells**2
    assert len(edges_of(box, "sharp")) == 12 * cells


@pytest.mark.parametrize("splits", [1, 3])
def test_the_edges_of_a_ball_of_triangles_keep_eulers_formula(splits):
    ball = build_sphere(Sphere(subdivisions=splits), START)
    points, faces = len(np.unique(ball.number)), len(ball.faces)
    assert len(edges_of(ball, "all")) == points + faces - 2


@pytest.mark.parametrize("sides", [3, 6])
def test_tubes_are_closed_and_as_wide_as_said_in_the_world(sides):
    mesh = wired(sides=sides)
    edges = 12 * 3**2
    assert len(mesh.faces) == edges * (4 * sides - 4)
    assert len(edge_lengths_at_border(mesh)[0]) == 0
    corners = mesh.points[mesh.faces].astype(np.float64)
    volume = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6
    # Prisms over a regular polygon of radius 0.01 m in the world; the box is stretched by 2, 1 and 1/2, volumes by 1.
    area = 0.5 * sides * 0.01**2 * np.sin(2 * np.pi / sides)
    # Along each axis lie 4 n^2 edges of 1 / n.
    total = 4 * 3 * (2 + 1 + 0.5)
    assert volume == pytest.approx(area * total, rel=1e-4)
    assert (face_areas(mesh.points, mesh.faces) > 0).all()


def test_where_the_field_is_zero_there_are_no_wires_and_between_they_are_thinner():
    ball = {"kind": "sphere", "subdivisions": 4}
    everywhere, driven = wired(ball), wired(ball, field="front", zone="value")
    assert 0 < len(driven.faces) < len(everywhere.faces)
    assert driven.points[:, 0].min() > -1


def test_a_cut_after_wire_cuts_the_tubes_exactly():
    cut = {"kind": "cut_away", "rank": 1, "field": "front", "backs": "hidden"}
    ball = {"kind": "sphere", "subdivisions": 3}
    whole, left = wired(ball), wired(ball, later=cut)
    assert 0 < len(left.faces) < 2 * len(whole.faces)
    made = left.number < 0
    places = left.points[made] * np.array([2, 1, 0.5], dtype=np.float32)
    # The front at frame 50: reach 1.5 m about (1, 0, 0), 1 m soft, level 1/2: a ball of 1 m.
    distance = np.linalg.norm(places - np.array([1, 0, 0]), axis=1)
    assert distance.min() > 1 - 1e-4
    assert (np.abs(distance - 1) < 1e-4).sum() > 20


def test_u_v_and_rest_go_along():
    mesh = wired()
    assert mesh.uv is not None
    assert mesh.uv.min() >= 0
    assert mesh.uv.max() <= 1
    assert np.abs(mesh.rest - mesh.points).max() < 1e-6
    assert np.abs(np.linalg.norm(mesh.normals, axis=1) - 1).max() < 1e-5


def test_more_wires_than_fit_are_refused_before_the_work():
    with pytest.raises(TooMuch, match="wires of Ball"):
        wired({"kind": "sphere", "subdivisions": 8}, sides=12)
