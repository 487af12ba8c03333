"""Grids: distances to a surface, when a front comes to each node, the surface between nodes, what is left without small bits."""

from __future__ import annotations

import igl
import numpy as np
import pytest
import skfmm
from skimage.measure import euler_number, label, marching_cubes
from skimage.morphology import area_opening

from windsock.core.geometry.volume import MOST_NODES, nodes_of, volume_of
from windsock.core.kernels.eikonal import swept_times
from windsock.core.kernels.isosurface import IsoSurface, isosurface_of
from windsock.core.kernels.opening import without_small
from windsock.core.refusals import TooMuch
from windsock.core.shapes.box import Box, build_box
from windsock.core.shapes.ring import Ring, build_ring
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment

START = Moment(0, 0)


def cube(nodes: int, half: float = 1.1) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    axis = np.linspace(-half, half, nodes, dtype=np.float32)
    return tuple(np.meshgrid(axis, axis, axis, indexing="ij"))  # type: ignore[return-value]


def measured(surface: IsoSurface, shape: tuple, step: float) -> tuple[float, float, int]:
    """Volume, area, and the Euler characteristic."""
    places, faces = surface.places(shape) * step, surface.faces
    a, b, c = (places[faces[:, corner]] for corner in range(3))
    across = np.cross(b - a, c - a)
    edges = np.unique(np.sort(faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1), axis=0)
    volume = float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6)
    return volume, float(np.linalg.norm(across, axis=1).sum() / 2), len(places) - len(edges) + len(faces)


def test_the_surface_of_a_ball_and_of_a_torus_have_the_right_volume_area_and_euler_characteristic():
    x, y, z = cube(89)
    step = 2.2 / 88
    volume, area, euler = measured(isosurface_of(np.float32(0.8) - np.sqrt(x * x + y * y + z * z)), x.shape, step)
    assert volume == pytest.approx(4 / 3 * np.pi * 0.8**3, rel=2e-3)
    assert area == pytest.approx(4 * np.pi * 0.8**2, rel=2e-3)
    assert euler == 2
    ring = np.float32(0.25) - np.sqrt((np.sqrt(x * x + y * y) - np.float32(0.7)) ** 2 + z * z)
    volume, area, euler = measured(isosurface_of(ring), x.shape, step)
    assert volume == pytest.approx(2 * np.pi**2 * 0.7 * 0.25**2, rel=5e-3)
    assert area == pytest.approx(4 * np.pi**2 * 0.7 * 0.25, rel=5e-3)
    assert euler == 0


def test_any_values_give_a_surface_that_closes():
    """Values by chance have every ambiguous cube there is; still each edge is gone along as often one way as the other."""
    values = np.random.default_rng(4).normal(size=(26, 33, 19)).astype(np.float32)
    values[[0, -1]], values[:, [0, -1]], values[:, :, [0, -1]] = -1, -1, -1
    surface = isosurface_of(values)
    sides = surface.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64)
    names, back = sides[:, 0] * len(surface.first) + sides[:, 1], sides[:, 1] * len(surface.first) + sides[:, 0]
    assert np.array_equal(np.sort(names), np.sort(back))
    assert len(np.unique(surface.number())) == len(surface.first)


def test_the_surface_is_that_of_scikit_image():
    """A second route: the same points on the same edges."""
    x, y, z = cube(41)
    values = (0.8 - np.sqrt(x * x + y * y + z * z) + 0.1 * np.sin(7 * x) * np.sin(6 * y) * np.sin(5 * z)).astype(
        np.float32
    )
    ours = isosurface_of(values)
    theirs, _, _, _ = marching_cubes(values, 0.0)
    one = np.unique(np.round(ours.places(values.shape), 3), axis=0)
    other = np.unique(np.round(theirs.astype(float), 3), axis=0)
    assert len(one) == pytest.approx(len(other), abs=3)
    assert np.abs(ours.places(values.shape).mean(axis=0) - theirs.mean(axis=0)).max() < 0.01
    assert measured(ours, values.shape, 1.0)[0] == pytest.approx(
        _enclosed(theirs, marching_cubes(values, 0.0)[1]), rel=1e-3
    )
    assert measured(ours, values.shape, 1.0)[2] == 2 * euler_number(values > 0, connectivity=1)


def _enclosed(places: np.ndarray, faces: np.ndarray) -> float:
    a, b, c = (places[faces[:, corner]].astype(float) for corner in range(3))
    return abs(float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6))


def from_point(nodes: int) -> tuple[np.ndarray, np.ndarray]:
    """Arrivals from a point at the middle at speed 1, which are known exactly within a tenth, and as they are exactly."""
    x, y, z = cube(nodes, 1.0)
    away = np.sqrt(x * x + y * y + z * z)
    times = np.where(away < 0.1, away, np.inf).astype(np.float32)
    assert swept_times(times, np.full(times.shape, 2 / (nodes - 1), dtype=np.float32))
    return times, away


def test_arrivals_from_a_point_converge_with_the_first_order():
    """|grad T| = 1 from a point: T is the distance. The observed order is at least 0.8 as the grid is halved."""
    errors = [float(np.abs(times - away).mean()) for times, away in map(from_point, (21, 41, 81))]
    assert np.log2(errors[0] / errors[1]) > 0.8
    assert np.log2(errors[1] / errors[2]) > 0.8
    assert errors[2] < 0.025


def test_a_plane_through_two_speeds_comes_when_both_layers_say():
    """Layer time: a front along x through 0.5 m at speed 1 and then at speed 4."""
    pace = np.where(np.arange(41) <= 20, 1.0, 4.0)
    slowness = np.broadcast_to((0.025 / pace)[:, None, None], (41, 5, 6)).astype(np.float32)
    times = np.full(slowness.shape, np.inf, dtype=np.float32)
    times[0] = 0
    swept_times(times, slowness)
    assert times[20] == pytest.approx(0.5, rel=1e-5)
    assert times[40] == pytest.approx(0.5 + 0.5 / 4, rel=1e-5)


def test_a_front_bent_at_a_border_takes_the_way_that_snell_says():
    """From a point 0.3 m above a border, speed 1 above and 2 below: the least time of all straight ways by way of the border."""
    nodes, step = 97, 1 / 48
    axis = (np.arange(nodes) - 48) * step
    x, y = np.meshgrid(axis, axis, indexing="ij")
    pace = np.broadcast_to(np.where(y > 0, 1.0, 2.0)[:, :, None], (nodes, nodes, 3))
    away = np.sqrt((x - axis[48]) ** 2 + (y - 0.3) ** 2)
    times = np.repeat(np.where(away < 0.1, away, np.inf)[:, :, None], 3, axis=2).astype(np.float32)
    swept_times(times, (step / pace).astype(np.float32))
    crossing = np.linspace(-1.0, 1.0, 4001)
    for place in ((70, 20), (60, 8), (30, 30)):
        there = (axis[place[0]], axis[place[1]])
        exact = (np.hypot(crossing, 0.3) + np.hypot(crossing - there[0], there[1]) / 2).min()
        assert times[(*place, 1)] == pytest.approx(exact, rel=0.05)


def test_arrivals_are_those_of_scikit_fmm():
    """A second route, with a pace that changes from place to place and places that no front enters."""
    x, y, z = cube(49, 1.0)
    step = 2 / 48
    pace = (1 + 0.5 * np.sin(5 * x) * np.sin(4 * y) * np.sin(3 * z)).astype(np.float32)
    wall = (np.abs(x - 0.5) < 0.06) & (y < 0.6)
    away = np.sqrt(x * x + y * y + z * z) - np.float32(0.3)
    other = skfmm.travel_time(np.ma.array(away, mask=wall), pace, dx=step, order=1)
    slowness = np.where(wall, np.inf, step / pace).astype(np.float32)
    times = np.where(away <= 0, 0, np.where(away < step, away / pace, np.inf)).astype(np.float32)
    times[wall] = np.inf
    swept_times(times, slowness)
    outside = (away > 0) & ~wall
    assert np.isinf(times[wall]).all()
    assert np.abs(times - np.ma.filled(other, 0))[outside].mean() < 0.5 * step
    assert np.abs(times - np.ma.filled(other, 0))[outside].max() < 3 * step


def test_what_is_reached_later_than_said_is_not_gone_on_from():
    times = np.full((30, 3, 3), np.inf, dtype=np.float32)
    times[0] = 0
    slowness = np.ones(times.shape, dtype=np.float32)
    swept_times(times, slowness, before=10.5)
    assert times[10, 1, 1] == 10
    assert np.isinf(times[13:]).all()
    times[times > 10.5] = np.inf
    swept_times(times, slowness, after=20.0)
    assert times[11, 1, 1] == 20
    assert times[29, 1, 1] == 38


def test_distances_are_those_of_libigl_and_carry_the_nearest_face():
    ring = build_ring(Ring(radius=1.0, thickness=0.7, segments=60, sides=40), START)
    points, faces = ring.points.astype(np.float64), ring.faces.astype(np.int64)
    made = volume_of(points, faces, 0.05, 0.2)
    nodes = np.arange(made.distance.size)
    places = made.places(nodes)
    squared, _, _ = igl.point_mesh_squared_distance(places, points, faces)
    exact = np.sqrt(np.asarray(squared).ravel())
    assert np.abs(np.abs(made.distance.ravel()) - exact).max() < 0.1 * 0.05
    assert np.abs(np.abs(made.distance.ravel()) - exact).mean() < 2e-3 * 0.05
    near = exact < 0.05
    assert np.abs(np.abs(made.distance.ravel()) - exact)[near].max() < 1e-6
    winding = np.asarray(igl.fast_winding_number(points, faces, places)).ravel()
    clear = exact > 1e-4
    assert np.array_equal((made.distance.ravel() < 0)[clear], (winding > 0.5)[clear])
    # The face is the one that the distance belongs to.
    some = nodes[::97]
    corners = points[faces[made.face.ravel()[some]]]
    own = [
        np.sqrt(igl.point_mesh_squared_distance(places[[node]], three, np.array([[0, 1, 2]]))[0])
        for node, three in zip(some, corners, strict=True)
    ]
    assert np.abs(np.ravel(own) - np.abs(made.distance.ravel()[some])).max() < 1e-6


@pytest.mark.parametrize("spoilt", ["open", "inverted", "self-crossing"])
def test_what_is_not_closed_or_turned_inside_out_has_the_inside_that_one_sees(spoilt: str):
    ball = build_sphere(Sphere(radius=0.5, subdivisions=4), START)
    points, faces = ball.points.astype(np.float64), ball.faces.astype(np.int64)
    wanted = 4 / 3 * np.pi * 0.5**3
    if spoilt == "open":
        faces = faces[8:]
    if spoilt == "inverted":
        faces = faces[:, ::-1]
    if spoilt == "self-crossing":
        faces = np.concatenate([faces, faces + len(points)])
        points = np.concatenate([points, points + [0.4, 0, 0]])
        apart = 0.4
        wanted = 2 * wanted - np.pi * (4 * 0.5 + apart) * (2 * 0.5 - apart) ** 2 / 12
    made = volume_of(points, faces, 0.025)
    assert float((made.distance < 0).sum()) * 0.025**3 == pytest.approx(wanted, rel=0.03)


def test_a_band_of_cells_grows_about_fourfold_at_half_the_voxel():
    """Common practice."""
    box = build_box(Box(width=1, height=1, depth=1), START)
    points, faces = box.points.astype(np.float64), box.faces.astype(np.int64)
    counts = [int((np.abs(volume_of(points, faces, voxel).distance) < voxel).sum()) for voxel in (0.05, 0.025, 0.0125)]
    assert counts[1] / counts[0] == pytest.approx(4, rel=0.25)
    assert counts[2] / counts[1] == pytest.approx(4, rel=0.15)


def test_a_voxel_that_needs_too_much_is_refused_with_the_finest_that_fits():
    ball = build_sphere(Sphere(radius=1.0, subdivisions=2), START)
    with pytest.raises(TooMuch, match=r"Voxels of ([0-9.]+) m would fit") as told:
        volume_of(ball.points.astype(np.float64), ball.faces, 0.001)
    finest = float(str(told.value).split("Voxels of ")[1].split(" m")[0])
    count = np.prod(nodes_of(np.ptp(ball.points, axis=0).astype(np.float64), finest, 0.0))
    assert 0.8 * MOST_NODES < count <= MOST_NODES


def test_bits_that_are_too_small_are_lowered_as_scikit_image_does():
    """Area opening in a plane, where scikit-image has it; in space by its meaning: no bit at any level is smaller."""
    values = np.random.default_rng(3).integers(0, 12, size=(24, 31)).astype(np.float32)
    ours = without_small(values[:, :, None], np.ones((24, 31, 1), dtype=bool), 9)[:, :, 0]
    assert np.array_equal(ours, area_opening(values, 9, connectivity=1))
    space = np.random.default_rng(5).integers(0, 6, size=(12, 13, 14)).astype(np.float32)
    opened = without_small(space, np.ones(space.shape, dtype=bool), 20)
    assert (opened <= space).all()
    for level in range(1, 6):
        sizes = np.bincount(label(opened >= level, connectivity=1).ravel())[1:]
        assert len(sizes) == 0 or sizes.min() >= 20
