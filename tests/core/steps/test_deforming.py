"""Push, bend, twist, taper and smooth, against the deformations of solids by A. H. Barr (1984) and the filter of G. Taubin (1995)."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from shots import evaluator, parsed, parts_of, recipe_shot

from windsock.core.geometry.mesh import Mesh
from windsock.core.kernels.deforming import deformed

ROD = {"kind": "box", "width": 0.4, "height": 4.0, "depth": 0.3, "divisions": 40}
BOX = {"kind": "box", "divisions": 4}


def mesh_of(*steps: dict, geometry: dict | None = None, field: dict | None = None, frame: float = 0, **item) -> Mesh:
    document = recipe_shot(*steps, field=field) if field else recipe_shot(*steps)
    document["items"]["ball"] |= ({"geometry": geometry} if geometry else {}) | item
    return parts_of(document, frame)["body"].mesh


def line(count: int = 2001, low: float = -2.0, high: float = 2.0, aside: float = 0.0) -> np.ndarray:
    places = np.zeros((count, 3))
    places[:, 1] = np.linspace(low, high, count)
    places[:, 0] = aside
    return places


def through(way, places, most, start=-1.0, end=1.0, weight=None, normals=None):
    normals = np.tile(np.float32([1, 0, 0]), (len(places), 1)) if normals is None else normals
    weight = np.ones(len(places)) if weight is None else weight
    return deformed(way, places.astype(np.float32), normals.astype(np.float32), np.eye(4), start, end, most, weight)


@pytest.mark.parametrize("degrees", [-400.0, -90.0, 1e-3, 60.0, 180.0, 359.0])
@pytest.mark.parametrize("ends", [(-1.0, 1.0), (0.2, 1.7), (-1.5, -0.5)])
def test_a_bend_keeps_the_middle_line_s_length(degrees, ends):
    """Barr 1984: the bend is isometric along the line of its axis. A chord of an arc is shorter by (angle of a part)^2 / 24."""
    places, _ = through("bend", line(), np.radians(degrees), *ends)
    steps = np.linalg.norm(np.diff(places.astype(np.float64), axis=0), axis=1)
    parts = abs(np.radians(degrees)) / (ends[1] - ends[0]) * (4 / 2000)
    assert steps.sum() == pytest.approx(4.0 * (1 - parts**2 / 24 * (ends[1] - ends[0]) / 4), abs=4e-6)
    # The ends are turned against each other by the angle.
    first, last = places[1] - places[0], places[-1] - places[-2]
    turned = Rotation.from_euler("z", -np.radians(degrees)).apply(first)
    assert last == pytest.approx(turned, abs=4e-6)


def test_a_bend_lays_the_axis_on_a_circle():
    """Barr 1984: curvature is the angle over the length; a place beside the axis goes round the same centre."""
    radius = 2 / np.radians(120)
    for aside in (0.0, 0.3, -0.5):
        places, _ = through("bend", line(401, -1, 1, aside), np.radians(120))
        assert np.linalg.norm(places - [radius, 0, 0], axis=1) == pytest.approx(radius - aside, abs=1e-6)


@pytest.mark.parametrize("way", ["bend", "twist", "taper"])
def test_normals_are_those_of_the_deformed_surface(way):
    """Against central differences of the places along two tangents."""
    rng = np.random.default_rng(3)
    places = rng.uniform(-1.6, 1.6, (4000, 3))
    # Away from the two ends of the region, where the derivative jumps.
    places = places[np.abs(np.abs(places[:, 1]) - 1) > 0.01]
    normals = rng.normal(size=places.shape)
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    across = np.cross(normals, [0.3, 0.5, 0.8])
    across /= np.linalg.norm(across, axis=1, keepdims=True)
    other = np.cross(normals, across)
    most = 0.4 if way == "taper" else 1.1
    _, facing = through(way, places, most, normals=normals)

    def tangent(direction):
        step = 1e-3
        return (
            through(way, places + step * direction, most)[0].astype(np.float64)
            - through(way, places - step * direction, most)[0]
        )

    exact = np.cross(tangent(across), tangent(other))
    length = np.linalg.norm(exact, axis=1)
    kept = length > np.quantile(length, 0.02)
    assert np.einsum("ij,ij->i", exact / length[:, None], facing)[kept].min() > 0.9995


def test_a_twist_turns_each_slice_and_keeps_the_volume():
    rng = np.random.default_rng(4)
    places = rng.uniform(-1, 1, (200, 3))
    made, _ = through("twist", places, np.radians(90))
    for place, twisted in zip(places, made, strict=True):
        turned = Rotation.from_euler("y", -np.radians(45) * place[1]).apply(place)
        assert twisted == pytest.approx(turned, abs=1e-6)
    assert volume(mesh_of({"kind": "twist", "angle": 90.0}, geometry=ROD)) == pytest.approx(
        volume(mesh_of(geometry=ROD)), rel=1e-3
    )


def test_a_taper_is_a_frustum():
    """A cylinder tapered to a share k over its whole height h has the volume of a frustum, pi r^2 h (1 + k + k^2) / 3."""
    plain = volume(mesh_of(geometry=ROD))
    made = volume(mesh_of({"kind": "taper", "size": 0.3, "start": -2.0, "end": 2.0}, geometry=ROD))
    assert made / plain == pytest.approx((1 + 0.3 + 0.09) / 3, rel=1e-5)


def volume(mesh: Mesh) -> float:
    corners = mesh.points[mesh.faces].astype(np.float64)
    return float(np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6)


@pytest.mark.parametrize("kind", ["push", "bend", "twist", "taper", "smooth"])
def test_amount_0_is_the_shape_to_the_bit(kind):
    plain, made = mesh_of(), mesh_of({"kind": kind, "amount": 0})
    assert made.points.tobytes() == plain.points.tobytes()
    assert made.normals.tobytes() == plain.normals.tobytes()


@pytest.mark.parametrize("kind", ["push", "bend", "twist", "taper", "smooth"])
@pytest.mark.parametrize("zone", ["inside", "band"])
def test_by_a_field_points_without_weight_keep_their_bits(kind, zone):
    field = {"band": 0.4}
    plain = mesh_of(frame=60)
    made = mesh_of({"kind": kind, "field": "front", "zone": zone, "times": 1} if kind == "smooth" else
                   {"kind": kind, "field": "front", "zone": zone}, field=field, frame=60)  # fmt: skip
    still = (made.points == plain.points).all(axis=1)
    assert 0 < still.sum() < len(still)
    assert np.linalg.norm(made.normals, axis=1) == pytest.approx(1, abs=1e-5)


def test_in_a_controller_s_space_however_the_shape_stands():
    """The same place in the world bends in the same way, whichever item carries it; a stretched controller bends a longer part
    by as much."""
    bend = {"kind": "bend", "angle": 90.0, "controller": "fog", "start": -0.5, "end": 0.5}
    stands = {"place": [0.4, -0.3, 1.0], "turn": [20.0, 50.0, -30.0], "scale": [1.0, 2.0, 0.7]}
    document = recipe_shot(bend)
    document["items"]["ball"] |= stands
    document["items"]["fog"] |= {"place": [0.2, 0.1, 0.9], "turn": [0.0, 0.0, 40.0], "scale": [1.0, 3.0, 1.0]}
    item = evaluator().frame(parsed(document), 0).draw[0]
    matrix = item.matrix
    world = item.body.mesh.points @ matrix[:3, :3].T + matrix[:3, 3]
    rest = item.body.mesh.rest @ matrix[:3, :3].T + matrix[:3, 3]
    turn = Rotation.from_euler("xyz", [0, 0, 40], degrees=True)
    own = turn.inv().apply(rest - [0.2, 0.1, 0.9])
    made, _ = through("bend", own, np.radians(90), -1.5, 1.5)
    known = turn.apply(made) + [0.2, 0.1, 0.9]
    assert world == pytest.approx(known, abs=2e-5)


def test_a_box_that_is_pushed_outward_stays_a_box_without_a_crack():
    made = mesh_of({"kind": "push", "distance": 0.25}, geometry=BOX)
    plain = mesh_of(geometry=BOX)
    outer = np.abs(plain.points) > 0.499
    assert np.abs(made.points[outer]) == pytest.approx(0.75, abs=1e-6)
    for number in np.unique(made.number):
        assert np.ptp(made.points[made.number == number], axis=0).max() < 1e-6
    assert made.normals == pytest.approx(plain.normals, abs=1e-6)


@pytest.mark.parametrize("scale", [[1, 1, 1], [2.0, 0.5, 1.0]])
def test_a_push_is_in_metres_of_the_world(scale):
    plain, made = (mesh_of(*steps, scale=scale) for steps in ([], [{"kind": "push", "distance": 0.1}]))
    moved = (made.points.astype(np.float64) - plain.points) * scale
    assert np.linalg.norm(moved, axis=1) == pytest.approx(0.1, abs=1e-5)
    up = mesh_of({"kind": "push", "distance": 0.1, "along": "axis", "direction": [0, 3, 0]}, scale=scale)
    assert ((up.points.astype(np.float64) - plain.points) * scale) == pytest.approx(
        np.tile([0, 0.1, 0], (len(up.points), 1)), abs=1e-5
    )


def test_a_push_towards_a_controller_ends_there():
    made = mesh_of({"kind": "push", "distance": -50.0, "along": "controller", "controller": "fog"})
    assert made.points == pytest.approx(np.tile([3.0, 0, 0], (len(made.points), 1)), abs=1e-5)
    away = mesh_of({"kind": "push", "distance": 0.5, "along": "controller"})
    assert np.linalg.norm(away.points, axis=1) == pytest.approx(1.5, abs=1e-5)


def test_a_push_where_the_field_rises():
    """The value falls with the distance from a controller: it rises straight towards that."""
    plain = mesh_of(frame=60)
    made = mesh_of({"kind": "push", "along": "rising", "field": "front", "zone": "value", "distance": 0.2}, frame=60)
    shift = (made.points - plain.points).astype(np.float64)
    length = np.linalg.norm(shift, axis=1)
    moves = length > 1e-3
    ways = np.array([0.6, 0, 0]) - plain.points
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    assert moves.any()
    # But for places within a difference of where the value begins to fall, or has.
    assert np.quantile(np.abs(np.einsum("ij,ij->i", shift, ways)[moves] / length[moves]), 0.02) > 0.999


def test_smoothing_keeps_the_volume_where_it_should():
    """Taubin 1995: the pass band keeps what is coarse; plain smoothing shrinks it."""
    noise = {"kind": "noise", "size": 0.15, "measured": "rest"}
    rough = {"kind": "push", "distance": 0.1, "field": "front", "zone": "value"}
    field = {"sources": {"s": noise | {"rank": 0}}}
    start = mesh_of(rough, field=field)
    kept = mesh_of(rough, {"kind": "smooth", "times": 30}, field=field)
    shrunk = mesh_of(rough, {"kind": "smooth", "times": 30, "volume": "shrinking"}, field=field)
    assert volume(kept) == pytest.approx(volume(start), rel=0.01)
    assert volume(shrunk) < 0.985 * volume(start)
    assert roughness(kept) < 0.35 * roughness(start)


def roughness(mesh: Mesh) -> float:
    """How far points are from the middle of their faces' other corners, on average."""
    sums, count = np.zeros_like(mesh.points, dtype=np.float64), np.zeros(len(mesh.points))
    for corner in range(3):
        for other in range(3):
            if other != corner:
                np.add.at(sums, mesh.faces[:, corner], mesh.points[mesh.faces[:, other]])
                np.add.at(count, mesh.faces[:, corner], 1)
    return float(np.linalg.norm(sums / count[:, None] - mesh.points, axis=1).mean())


def test_a_smoothed_box_stays_closed_and_an_open_edge_stays_on_its_line():
    made = mesh_of({"kind": "smooth"}, geometry=BOX)
    for number in np.unique(made.number):
        assert np.ptp(made.points[made.number == number], axis=0).max() < 1e-6
    plane = {"kind": "plane", "columns": 8, "rows": 8}
    before, flat = mesh_of(geometry=plane), mesh_of({"kind": "smooth", "times": 5}, geometry=plane)
    assert np.ptp(flat.points[:, 1]) < 1e-6
    edge = np.abs(before.points[:, 0]) > 0.999
    inner = edge & (np.abs(before.points[:, 2]) < 0.5)
    # Round the corners the line itself is smoothed; drawn to the inside, the edge would be at 0.9.
    assert np.abs(flat.points[inner, 0]) == pytest.approx(1, abs=0.02)


@pytest.mark.parametrize("kind", ["push", "bend", "twist", "taper", "smooth"])
def test_pieces_and_copies_go_along(kind):
    step = {"kind": kind, "field": "front", "zone": "value"}
    fracture = {"kind": "fracture", "count": 12}
    plain, broken = (parts_of(recipe_shot(fracture, *steps), 60)["body"] for steps in ([], [step]))
    shift = broken.mesh.points.astype(np.float64) - plain.mesh.points
    assert np.abs(shift).max() > 1e-3
    # The middle of a piece goes as far as its points do on average.
    known = np.stack([shift[plain.mesh.piece == k].mean(axis=0) for k in range(12)])
    assert broken.pieces.places.points - plain.pieces.places.points == pytest.approx(known, abs=1e-5)
    laid = {"kind": "scatter", "count": 50}
    copies = parts_of(recipe_shot(laid, step | {"part": "copies"}, parts=("copies",)), 60)["copies"]
    assert np.isfinite(copies.mesh.points).all()


@pytest.mark.parametrize("kind", ["push", "bend", "twist", "taper", "smooth"])
def test_nothing_breaks_on_what_is_degenerate(kind):
    """A region of no length, a controller flat to nothing, faces of no area, a shape that is all gone."""
    flat = {"kind": "tube", "wall": 0.5, "segments": 8, "rows": 2, "rim_rows": 1}
    hinge = {} if kind in ("push", "smooth") else {"start": 0.2, "end": 0.2}
    for geometry in (None, flat):
        made = mesh_of({"kind": kind} | hinge, geometry=geometry)
        assert np.isfinite(made.points).all()
        assert np.isfinite(made.normals).all()
    gone = mesh_of({"kind": "cut_away", "zone": "outside"}, {"kind": kind})
    assert len(gone.points) == 0


FLAKES = {"kind": "scatter", "count": 300, "makes": "flakes", "size": 0.02}


def flakes_of(step: dict | None, **item) -> tuple[np.ndarray, Rotation]:
    """The middles and the turns of copies on a rod, in its own space, after a step."""
    steps = [FLAKES] if step is None else [FLAKES, step | {"part": "flakes"}]
    document = recipe_shot(*steps, geometry=ROD, parts=("flakes",))
    document["items"]["ball"] |= item
    part = parts_of(document)["flakes"]
    return part.mesh.points.astype(np.float64), Rotation.from_quat(part.copies.turn)


@pytest.mark.parametrize("item", [{}, {"place": [1.0, 2.0, 0.5], "turn": [30.0, 80.0, -20.0]}])
def test_copies_are_turned_as_a_bend_turns_them(item):
    """Each by the angle that the arc has come to at its height, exactly the derivative of Barr's bend but for its scale."""
    bend = {"kind": "bend", "start": -2.0, "end": 2.0, "angle": 120.0}
    before, turns = flakes_of(None, **item)
    after, bent = flakes_of(bend, **item)
    assert np.abs(after - before).max() > 0.5
    angle = np.radians(120) * before[:, 1] / 4
    expected = Rotation.from_rotvec(-angle[:, None] * [0.0, 0.0, 1.0]) * turns
    assert (expected * bent.inv()).magnitude() == pytest.approx(0, abs=2e-3)
    # A stretched rod has them stand on its bent surface as well, though there the turn is not the angle.
    assert np.isfinite(flakes_of(bend, scale=[1.0, 0.5, 2.0])[1].as_quat()).all()


def test_copies_are_turned_by_a_twist_and_are_as_they_were_at_amount_0():
    before, turns = flakes_of(None)
    after, twisted = flakes_of({"kind": "twist", "start": -2.0, "end": 2.0, "angle": 90.0})
    angle = np.radians(90) * before[:, 1] / 4
    about = Rotation.from_rotvec(-angle[:, None] * [0.0, 1.0, 0.0])
    assert about.apply(before) == pytest.approx(after, abs=1e-6)
    # Beside the turn there is a shear of a quarter turn on four metres, at most 0.25 m from the axis.
    assert (about * turns * twisted.inv()).magnitude().max() < 0.25 * np.radians(90) / 4
    assert after[:, 1] == pytest.approx(before[:, 1], abs=1e-6)
    still, same = flakes_of({"kind": "twist", "start": -2.0, "end": 2.0, "angle": 90.0, "amount": 0.0})
    assert still.tobytes() == before.tobytes()
    assert same.as_quat().tobytes() == turns.as_quat().tobytes()
