"""Built shapes against closed forms."""

from __future__ import annotations

import numpy as np
import pytest
from shots import Files, edge_lengths_at_border
from shots import closed_volume as volume

from windsock.core.geometry.mesh import Mesh
from windsock.core.kernels.areas import face_areas
from windsock.core.shapes.box import Box
from windsock.core.shapes.plane import Plane
from windsock.core.shapes.revolve import ProfilePoint, Revolve
from windsock.core.shapes.ring import Ring
from windsock.core.shapes.sphere import Sphere
from windsock.core.shapes.tube import Tube
from windsock.core.timing.parameter import Moment

NOW = Moment(frame=0, seconds=0)


def made(geometry) -> Mesh:
    return geometry.make(NOW, Files(), lambda _: pytest.fail("no path is needed"))


def area(mesh: Mesh) -> float:
    return float(face_areas(mesh.points, mesh.faces).sum())


def euler(mesh: Mesh) -> int:
    """Points - edges + faces, by place."""
    _, place = np.unique(mesh.number, return_inverse=True)
    faces = place[mesh.faces]
    edges = np.unique(np.sort(faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1), axis=0)
    return len(np.unique(faces)) - len(edges) + len(faces)


SPHERES = [
    Sphere(radius=0.7, subdivisions=3),
    Sphere(radius=0.7, subdivisions=5),
    Sphere(radius=0.7, build="latitude", segments=48, rings=24),
]
CLOSED = [*SPHERES, Box(width=2.0, height=1.0, depth=0.5, divisions=4)]


@pytest.mark.parametrize("sphere", SPHERES)
def test_a_sphere_lies_on_its_radius_and_comes_near_its_area_and_volume(sphere):
    mesh = made(sphere)
    np.testing.assert_allclose(np.linalg.norm(mesh.points, axis=1), 0.7, rtol=1e-6)
    np.testing.assert_allclose(mesh.normals, mesh.points / 0.7, atol=1e-6)
    # A chord of length e lies e^2 / 8r below the arc: relative error of area about (e / r)^2 / 4 at most.
    edge = float(np.linalg.norm(mesh.points[mesh.faces[:, 0]] - mesh.points[mesh.faces[:, 1]], axis=1).max())
    assert area(mesh) == pytest.approx(4 * np.pi * 0.7**2, rel=(edge / 0.7) ** 2 / 4)
    assert volume(mesh) == pytest.approx(4 / 3 * np.pi * 0.7**3, rel=(edge / 0.7) ** 2 / 2)
    assert area(mesh) < 4 * np.pi * 0.7**2


@pytest.mark.parametrize("geometry", CLOSED)
def test_closed_shapes_are_closed_and_counted(geometry):
    mesh = made(geometry)
    assert len(edge_lengths_at_border(mesh)[0]) == 0
    assert euler(mesh) == 2
    assert len(mesh.faces) == geometry.face_count()
    assert volume(mesh) > 0


def test_a_box_is_exact():
    mesh = made(Box(width=2.0, height=1.0, depth=0.5, divisions=7))
    assert volume(mesh) == pytest.approx(1.0, rel=1e-6)
    assert area(mesh) == pytest.approx(2 * (2.0 + 1.0 + 0.5), rel=1e-6)
    assert set(np.abs(mesh.normals).max(axis=1)) == {1.0}


def test_a_sheet_is_exact_and_faces_up():
    mesh = made(Plane(width=3.0, depth=2.0, columns=6, rows=5))
    assert area(mesh) == pytest.approx(6.0, rel=1e-6)
    a, b, c = (mesh.points[mesh.faces[:, corner]] for corner in range(3))
    assert (np.cross(b - a, c - a)[:, 1] > 0).all()


def profile(*points: tuple[float, float], joint: str = "corner") -> dict[str, ProfilePoint]:
    return {f"p{i}": ProfilePoint(rank=i, radius=r, height=h, joint=joint) for i, (r, h) in enumerate(points)}  # type: ignore[arg-type]


@pytest.mark.parametrize("segments", [48, 96, 192])
@pytest.mark.parametrize(
    "outline", [((0.0, 0.0), (1.0, 0.0), (0.6, 2.0), (0.0, 2.0)), ((0.0, -1.0), (0.8, 0.0), (0.0, 1.0))]
)
def test_a_surface_of_revolution_obeys_pappus(segments, outline):
    """Pappus: area = 2 pi (distance of the curve's centroid) x length; volume = 2 pi (of the region's centroid) x area.

    A regular polygon of n sides in place of the circle is smaller by at most 1 - sinc(2 pi / n) in area of section.
    """
    mesh = made(Revolve(profile=profile(*outline), segments=segments, ring_height=0.1))
    points = np.array(outline)
    chords = np.diff(points, axis=0)
    lengths = np.linalg.norm(chords, axis=1)
    middles = (points[:-1, 0] + points[1:, 0]) / 2
    curve = 2 * np.pi * float((middles * lengths).sum())
    r, h = points.T
    # Twice the signed area and the first moment of the region between curve and axis, by Green's theorem.
    moment = float(((r[:-1] ** 2 + r[:-1] * r[1:] + r[1:] ** 2) * np.diff(h)).sum() / 6)
    solid = 2 * np.pi * moment
    missing = 1 - np.sinc(2 / segments)
    assert area(mesh) == pytest.approx(curve, rel=missing)
    assert volume(mesh) == pytest.approx(solid, rel=missing * 1.01)
    assert euler(mesh) == 2


def test_a_smooth_profile_point_has_no_crease_and_a_corner_has():
    for joint, least in (("smooth", 0.9999), ("corner", None)):
        mesh = made(
            Revolve(profile=profile((0.5, 0.0), (0.8, 0.5), (0.5, 1.0), joint=joint), segments=24, ring_height=0.05)
        )
        at_middle = np.abs(mesh.points[:, 1] - 0.5) < 1e-6
        facing = {}
        worst = 1.0
        for number, normal in zip(mesh.number[at_middle], mesh.normals[at_middle], strict=True):
            worst = min(worst, float(normal @ facing.setdefault(number, normal)))
        assert worst > least if least else worst < 0.7


def test_paint_runs_from_a_point_to_the_next_with_a_sharp_edge():
    points = profile((1.0, 0.0), (1.0, 1.0), (1.0, 2.0))
    points["p0"] = points["p0"].model_copy(update={"colour": "#FF0000"})
    mesh = made(Revolve(profile=points, segments=12, ring_height=0.25))
    assert mesh.colour is not None
    painted = ~np.isnan(mesh.colour[:, 0])
    assert painted.any()
    assert (mesh.points[painted, 1] <= 1.0).all()
    assert (mesh.points[~painted, 1] >= 1.0).all()


def test_face_counts_are_upper_bounds_before_the_work():
    revolve = Revolve(profile=profile((0.0, 0.0), (1.0, 0.0), (0.0, 1.0)), segments=4096, ring_height=0.001)
    assert revolve.face_count() > 19_000_000


@pytest.mark.parametrize("cells", [(24, 12), (96, 48)])
def test_a_ring_by_pappus(cells):
    """Area 4 pi^2 R r and volume 2 pi^2 R r^2 (Pappus's centroid theorems), from below as the faces are chords."""
    segments, sides = cells
    mesh = made(Ring(radius=0.8, thickness=0.4, segments=segments, sides=sides))
    error = 2 * (np.pi / sides) ** 2 + 2 * (np.pi / segments) ** 2
    assert area(mesh) == pytest.approx(4 * np.pi**2 * 0.8 * 0.2, rel=error)
    assert volume(mesh) == pytest.approx(2 * np.pi**2 * 0.8 * 0.2**2, rel=error)
    assert volume(mesh) < 2 * np.pi**2 * 0.8 * 0.2**2
    assert euler(mesh) == 0
    assert len(edge_lengths_at_border(mesh)[0]) == 0
    from_middle = mesh.points - 0.8 * mesh.points * [1, 0, 1] / np.linalg.norm(mesh.points[:, [0, 2]], axis=1)[:, None]
    np.testing.assert_allclose(mesh.normals, from_middle / 0.2, atol=1e-5)


@pytest.mark.parametrize("segments", [24, 96])
@pytest.mark.parametrize("wall", [0.1, 0.5, 2.0])
def test_a_tube_is_closed_and_has_the_volume_of_its_wall(segments, wall):
    mesh = made(Tube(radius=0.5, wall=wall, height=1.5, segments=segments, rows=6))
    inner = max(0.5 - wall, 0)
    # The area of a regular polygon in its circle.
    polygon = 0.5 * segments * np.sin(2 * np.pi / segments)
    assert volume(mesh) == pytest.approx(polygon * (0.5**2 - inner**2) * 1.5, rel=1e-5)
    assert euler(mesh) == (0 if inner > 0 else 2)
    assert len(edge_lengths_at_border(mesh)[0]) == 0
    faces = mesh.points[mesh.faces].astype(float)
    facing = np.cross(faces[:, 1] - faces[:, 0], faces[:, 2] - faces[:, 0])
    assert (np.einsum("ij,ikj->ik", facing, mesh.normals[mesh.faces].astype(float)) > 0).all()


@pytest.mark.parametrize(
    "geometry", [Ring(segments=30, sides=10), Tube(segments=30, rows=7), Tube(wall=9.0, rim_rows=3)]
)
def test_counts_told_beforehand_hold_for_rings_and_tubes(geometry):
    assert len(made(geometry).faces) <= geometry.face_count() <= 2 * len(made(geometry).faces)


def test_a_ring_whose_section_is_larger_than_its_radius_is_held_at_it():
    assert np.abs(made(Ring(radius=0.3, thickness=5.0)).points).max() <= 0.6 + 1e-6
