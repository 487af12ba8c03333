"""Subdivision against Loop's published masks, counts by valence, and what must survive: closedness, seams, u,v, rest."""

from __future__ import annotations

import numpy as np
import pytest
from shots import edge_lengths_at_border

from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.subdivision import refined, smoothed_places, split_edges
from windsock.core.kernels.areas import face_areas
from windsock.core.shapes.box import Box, build_box
from windsock.core.shapes.plane import Plane, build_plane
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment

START = Moment(0, 0)


def everywhere(mesh: Mesh) -> np.ndarray:
    return np.ones(len(mesh.points))


def volume(mesh: Mesh) -> float:
    corners = mesh.points[mesh.faces].astype(float)
    return float(np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6)


def by_hand(mesh: Mesh) -> dict[tuple, np.ndarray]:
    """Loop's rules, told place by place and edge by edge: (place,) and (place, place) to where they go."""
    _, first, place = np.unique(mesh.number, return_index=True, return_inverse=True)
    points = mesh.points[first].astype(float)
    faces = place[mesh.faces]
    across: dict[tuple, list[int]] = {}
    for face in faces:
        for turn in range(3):
            a, b, c = np.roll(face, -turn)
            across.setdefault(tuple(sorted((int(a), int(b)))), []).append(int(c))
    made: dict[tuple, np.ndarray] = {}
    for (a, b), corners in across.items():
        made[a, b] = (points[a] + points[b]) / 2
        if len(corners) == 2:
            made[a, b] = 3 / 8 * (points[a] + points[b]) + 1 / 8 * (points[corners[0]] + points[corners[1]])
    for one in range(len(points)):
        edges = [edge for edge in across if one in edge]
        borders = [edge for edge in edges if len(across[edge]) != 2]
        if borders:
            ends = [sum(edge) - one for edge in borders]
            made[one,] = 3 / 4 * points[one] + 1 / 8 * (points[ends[0]] + points[ends[1]])
        else:
            n = len(edges)
            beta = (5 / 8 - (3 / 8 + np.cos(2 * np.pi / n) / 4) ** 2) / n
            made[one,] = (1 - n * beta) * points[one] + beta * sum(points[sum(edge) - one] for edge in edges)
    return made


@pytest.mark.parametrize(
    "mesh",
    [
        build_sphere(Sphere(subdivisions=2), START),
        build_plane(Plane(columns=5, rows=4), START),
        build_box(Box(divisions=3), START),
    ],
    ids=["ball", "sheet", "box"],
)
def test_places_are_those_of_loops_masks(mesh):
    split = split_edges(mesh, np.ones(len(mesh.points), dtype=bool))
    found, expected = smoothed_places(mesh, split), by_hand(mesh)
    _, place = np.unique(mesh.number, return_inverse=True)
    for point, where in enumerate(found[: len(mesh.points)]):
        np.testing.assert_allclose(where, expected[int(place[point]),], atol=1e-6)
    for (a, b), where in zip(split.edges, found[len(mesh.points) :], strict=True):
        np.testing.assert_allclose(where, expected[tuple(sorted((int(place[a]), int(place[b]))))], atol=1e-6)


@pytest.mark.parametrize("times", [1, 2])
def test_flat_splitting_keeps_area_volume_normals_and_closedness(times):
    mesh, weight = build_box(Box(divisions=2), START), None
    before = mesh
    for _ in range(times):
        mesh, weight = refined(mesh, everywhere(mesh) if weight is None else weight, False)
    assert len(mesh.faces) == len(before.faces) * 4**times
    assert volume(mesh) == pytest.approx(1, rel=1e-6)
    assert face_areas(mesh.points, mesh.faces).sum() == pytest.approx(6, rel=1e-6)
    assert len(edge_lengths_at_border(mesh)[0]) == 0
    np.testing.assert_allclose(np.abs(mesh.normals).max(axis=1), 1, atol=1e-6)
    assert mesh.uv is not None
    # u,v of a side are linear in its places.
    top = mesh.normals[:, 1] > 0.5
    uv = np.column_stack([mesh.uv[top], np.ones(top.sum())])
    _, misfit, rank, _ = np.linalg.lstsq(uv, mesh.points[top].astype(float), rcond=None)
    assert rank == 3
    assert misfit.max() < 1e-9


def test_middles_on_a_seam_are_one_place():
    mesh = build_sphere(Sphere(build="latitude", segments=12, rings=6), START)
    made, _ = refined(mesh, everywhere(mesh), False)
    places = {tuple(np.round(place, 5)) for place in made.points.tolist()}
    assert len(np.unique(made.number)) == len(places)
    assert len(edge_lengths_at_border(made)[0]) == 0


@pytest.mark.parametrize("smooth", [False, True])
def test_where_the_weight_is_not_nothing_changes_and_the_mesh_stays_closed(smooth):
    mesh = build_sphere(Sphere(subdivisions=3), START)
    weight = np.clip(mesh.points[:, 0] * 3, 0, 1).astype(float)
    made, after = refined(mesh, weight, smooth)
    assert len(mesh.faces) < len(made.faces) < 4 * len(mesh.faces)
    assert len(edge_lengths_at_border(made)[0]) == 0
    assert volume(made) == pytest.approx(volume(mesh), rel=0.05)
    np.testing.assert_array_equal(made.points[: len(mesh.points)][weight == 0], mesh.points[weight == 0])
    assert len(after) == len(made.points)
    corners = made.points[made.faces].astype(float)
    facing = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    assert (np.einsum("ij,ij->i", facing, corners.mean(axis=1)) > 0).all()


def test_a_smoothed_box_comes_ever_nearer_to_one_surface():
    """Loop's surface of a closed mesh has a limit: the volume changes by about a quarter as much at every split."""
    mesh, weight = build_box(Box(divisions=1), START), None
    volumes = [volume(mesh)]
    for _ in range(4):
        mesh, weight = refined(mesh, everywhere(mesh) if weight is None else weight, True)
        volumes.append(volume(mesh))
    changes = -np.diff(volumes)
    assert (changes > 0).all()
    assert (changes[2:] < 0.35 * changes[1:-1]).all()
    assert len(edge_lengths_at_border(mesh)[0]) == 0
