"""Cut away against the analytic cap of a sphere."""

from __future__ import annotations

import numpy as np
import pytest
from shots import cut_ball, cut_mesh, edge_lengths_at_border, evaluator, parsed

from windsock.core.evaluate.measured import PosedMesh
from windsock.core.kernels.areas import face_areas

# The controller stands at distance 1.4 m on X from the centre of the ball of radius 1; the field is 1/2 at 1 m from it.
FRAME, APART, REACH = 40.0, 1.4, 1.0
# The two spheres meet in the plane x = (R^2 - r^2 + d^2) / 2d, so the cap has the height h = R - x and the area 2 pi R h.
PLANE = (1 - REACH**2 + APART**2) / (2 * APART)
LEFT = 4 * np.pi - 2 * np.pi * (1 - PLANE)
RIM = 2 * np.pi * np.sqrt(1 - PLANE**2)


def longest_edge(subdivisions: int) -> float:
    mesh = cut_mesh(cut_ball({"kind": "sphere", "subdivisions": subdivisions}, step={"on": False}))
    return float(np.linalg.norm(mesh.points[mesh.faces[:, 0]] - mesh.points[mesh.faces[:, 1]], axis=1).max())


@pytest.mark.parametrize("subdivisions", [3, 4, 5])
def test_area_and_rim_are_those_of_the_analytic_cap(subdivisions):
    mesh = cut_mesh(cut_ball({"kind": "sphere", "subdivisions": subdivisions}), FRAME)
    edge = longest_edge(subdivisions)
    assert face_areas(mesh.points, mesh.faces).sum() == pytest.approx(LEFT, rel=edge**2 / 4)
    assert edge_lengths_at_border(mesh)[1].sum() == pytest.approx(RIM, rel=edge**2 / 4)


def test_the_error_falls_with_the_square_of_the_face_size():
    errors = []
    for subdivisions in (3, 4, 5):
        mesh = cut_mesh(cut_ball({"kind": "sphere", "subdivisions": subdivisions}), FRAME)
        errors.append(abs(edge_lengths_at_border(mesh)[1].sum() - RIM))
    assert errors[0] / errors[1] > 2.5
    assert errors[1] / errors[2] > 2.5


NOISY = {"n": {"kind": "noise", "rank": 1, "word": "roughened by", "size": 0.5, "octaves": 3}}


@pytest.mark.parametrize("fall", ["straight", "smooth"])
@pytest.mark.parametrize("noisy", [False, True])
@pytest.mark.parametrize("subdivisions", [3, 4, 5])
def test_edge_points_lie_on_the_level(subdivisions, noisy, fall):
    document = cut_ball({"kind": "sphere", "subdivisions": subdivisions}, {"fall": fall})
    if noisy:
        document["fields"]["front"]["sources"] |= NOISY
    shot = parsed(document)
    scene = evaluator().scene(shot, FRAME)
    mesh = cut_mesh(document, FRAME)
    border = np.unique(edge_lengths_at_border(mesh)[0])
    values = evaluator().field_values(
        scene,
        "front",
        PosedMesh(mesh, "", scene.placement("ball"), evaluator().at_rest(scene, "ball").value).elements(),
    )
    assert len(border) > 20
    np.testing.assert_allclose(values[border], 0.5, atol=1e-5)
    assert (values <= 0.5 + 1e-5).all()


def test_inside_and_outside_are_the_two_halves():
    inside, outside = (
        face_areas(mesh.points, mesh.faces).sum()
        for mesh in (cut_mesh(cut_ball(step={"zone": zone}), FRAME) for zone in ("inside", "outside"))
    )
    whole = cut_mesh(cut_ball(step={"on": False}))
    assert inside + outside == pytest.approx(face_areas(whole.points, whole.faces).sum(), rel=1e-5)


def test_a_band_leaves_both_sides():
    document = cut_ball(field={"band": 0.2}, step={"zone": "band"})
    shot, mesh = parsed(document), cut_mesh(document, FRAME)
    scene = evaluator().scene(shot, FRAME)
    values = evaluator().field_values(
        scene,
        "front",
        PosedMesh(mesh, "", scene.placement("ball"), evaluator().at_rest(scene, "ball").value).elements(),
    )
    assert ((values <= 0.4 + 1e-5) | (values >= 0.6 - 1e-5)).all()
    assert values.min() < 0.4 < 0.6 < values.max()


def test_smooth_shading_is_kept_across_the_cut():
    """Normals of a ball point away from its centre, at the points that the cut added too."""
    mesh = cut_mesh(cut_ball(), FRAME)
    away = mesh.points / np.linalg.norm(mesh.points, axis=1, keepdims=True)
    assert np.einsum("ij,ij->i", away, mesh.normals).min() > 0.9995
    assert mesh.number[np.unique(edge_lengths_at_border(mesh)[0])].max() < 0


def test_uv_is_interpolated():
    """On a sheet u and v are straight functions of the place, so they must be so at added points too."""
    document = cut_ball({"kind": "plane", "width": 2.0, "depth": 2.0, "columns": 7, "rows": 5})
    mesh = cut_mesh(document, 60)
    assert mesh.uv is not None
    np.testing.assert_allclose(mesh.uv[:, 0], mesh.points[:, 0] / 2 + 0.5, atol=1e-6)
    np.testing.assert_allclose(mesh.uv[:, 1], 0.5 - mesh.points[:, 2] / 2, atol=1e-6)


def test_a_seam_stays_closed():
    """A sphere by latitude has its u,v seam through the cut: no border appears but the rim, one closed loop of places."""
    document = cut_ball({"kind": "sphere", "build": "latitude", "segments": 40, "rings": 20})
    document["items"]["fog"]["place"] = [0.0, 0.2, 1.4]
    mesh = cut_mesh(document, 0)
    border, _ = edge_lengths_at_border(mesh)
    places = np.round(mesh.points[border].reshape(-1, 3).astype(float), 5)
    _, counts = np.unique(places, axis=0, return_counts=True)
    assert (counts == 2).all()


def test_fading_weighs_points_by_the_zone_and_moves_none():
    document = cut_ball(field={"band": 0.4}, step={"edge": "fading"})
    whole, faded = cut_mesh(cut_ball(step={"on": False})), cut_mesh(document, FRAME)
    assert faded.opacity is not None
    shot = parsed(document)
    scene = evaluator().scene(shot, FRAME)
    values = evaluator().field_values(
        scene,
        "front",
        PosedMesh(faded, "", scene.placement("ball"), evaluator().at_rest(scene, "ball").value).elements(),
    )
    np.testing.assert_allclose(faded.opacity, np.clip(1 - ((values - 0.5) / 0.4 + 0.5), 0, 1), atol=1e-6)
    assert {tuple(p) for p in faded.points} <= {tuple(p) for p in whole.points}


def test_amount_0_cuts_nothing_and_no_field_cuts_all():
    assert len(cut_mesh(cut_ball(step={"amount": 0.0}), FRAME).faces) == 20 * 4**4
    assert len(cut_mesh(cut_ball(step={"field": None}), FRAME).faces) == 0


def test_amount_weighs_the_value_before_it_is_compared():
    """Half the value against half the level is the same cut."""
    one = cut_mesh(cut_ball(), FRAME)
    other = cut_mesh(cut_ball(step={"amount": 0.5}, field={"level": 0.25}), FRAME)
    assert face_areas(one.points, one.faces).sum() == pytest.approx(
        face_areas(other.points, other.faces).sum(), rel=1e-6
    )


def test_a_shape_that_is_moved_turned_and_stretched_is_cut_where_the_field_is():
    document = cut_ball()
    document["items"]["ball"] |= {"place": [0.2, 0.1, 0.0], "turn": [10, 20, 30], "scale": [1.5, 0.7, 1.0]}
    shot = parsed(document)
    frame = evaluator().frame(shot, 45)
    item = frame.draw[0]
    scene = evaluator().scene(shot, 45)
    border = np.unique(edge_lengths_at_border(item.body.mesh)[0])
    values = evaluator().field_values(
        scene, "front", PosedMesh(item.body.mesh, "", item.matrix, item.subject).elements()
    )
    np.testing.assert_allclose(values[border], 0.5, atol=1e-5)


def test_rest_places_survive_a_cut_of_a_shape_that_stands_elsewhere():
    document = cut_ball()
    document["items"]["ball"] |= {"place": [0.2, 0, 0], "turn": [0, 40, 0]}
    mesh = cut_mesh(document, 50)
    made = mesh.number < 0
    assert made.sum() > 20
    # The subject has not been deformed: each point, also a made one, rests where it is in the shape's own space.
    np.testing.assert_allclose(mesh.rest, mesh.points, atol=1e-6)
    noisy = cut_ball()
    noisy["items"]["ball"]["recipe"]["steps"]["shade"] = {
        "kind": "shade", "rank": 1, "field": "patches", "channel": "metallic", "laid": "everywhere",
    }  # fmt: skip
    noisy["fields"]["patches"] = {
        "letter": "B", "name": "Patches", "rank": 1, "sources": {"n": {"kind": "noise", "rank": 0, "size": 0.4}},
    }  # fmt: skip
    whole = cut_mesh(noisy, 0)
    left = cut_mesh(noisy, 50)
    there = {tuple(place): value for place, value in zip(whole.points.tolist(), whole.metallic.tolist(), strict=True)}
    kept = left.number >= 0
    found = [there[tuple(place)] for place in left.points[kept].tolist()]
    np.testing.assert_array_equal(left.metallic[kept], np.float32(found))
