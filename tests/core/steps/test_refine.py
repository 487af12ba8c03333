"""Refine in a recipe: finer where a field is, kept within limits, and what comes after finds what it needs."""

from __future__ import annotations

import numpy as np
import pytest
from shots import Files, cut_ball, edge_lengths_at_border, evaluator, parsed

from windsock.core.document.patches import patched
from windsock.core.findings import find_all
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import TooMuch


def after(document: dict, frame: float = 50) -> Mesh:
    return evaluator().frame(parsed(document), frame).draw[0].body.mesh


def refined(geometry: dict | None = None, field: dict | None = None, **step: object) -> dict:
    document = cut_ball(geometry or {"kind": "sphere", "subdivisions": 3}, field=field)
    refine = {"kind": "refine", "rank": -1, "field": None} | step
    document["items"]["ball"]["recipe"]["steps"]["refine"] = refine
    return document


@pytest.mark.parametrize("times", [1, 2])
def test_a_cut_after_refine_is_exact_and_leaves_no_border_but_its_own(times):
    frame = 50.7
    middle = np.array([3 - 4 * frame / 100, 0, 0])
    mesh = after(refined(times=times), frame)
    distance = np.linalg.norm(mesh.points - middle, axis=1)
    assert distance.min() > 1 - 1e-4
    assert (np.abs(distance - 1) < 1e-4).sum() > 20 * times
    border, _ = edge_lengths_at_border(mesh)
    np.testing.assert_allclose(distance[np.unique(border)], 1, atol=1e-3)


def test_driven_it_is_finer_in_the_band_only():
    document = refined(field={"band": 0.2}, times=2, zone="band")
    document["items"]["ball"]["recipe"]["steps"] = {
        "refine": document["items"]["ball"]["recipe"]["steps"]["refine"] | {"field": "front"}
    }
    mesh = after(document)
    plain = cut_ball({"kind": "sphere", "subdivisions": 3})
    plain["items"]["ball"]["recipe"]["steps"] = {}
    whole = after(plain)
    assert len(whole.faces) < len(mesh.faces) < 6 * len(whole.faces)
    middles = mesh.points[mesh.faces].astype(float).mean(axis=1)
    size = np.linalg.norm(mesh.points[mesh.faces[:, 0]] - mesh.points[mesh.faces[:, 1]], axis=1)
    near = np.abs(np.linalg.norm(middles - [1, 0, 0], axis=1) - 1) < 0.05
    far = np.linalg.norm(middles - [1, 0, 0], axis=1) > 1.5
    assert np.median(size[near]) < 0.4 * np.median(size[far])


def test_noise_and_rest_places_stay_with_the_shape_when_it_is_smoothed():
    mesh = after(refined(way="smooth", times=2))
    # Places of rest lie on the faces as they were made: within the ball, by no more than the height of a chord.
    assert np.linalg.norm(mesh.rest, axis=1).max() <= 1 + 1e-6
    assert np.linalg.norm(mesh.rest, axis=1).min() > 0.98


def test_too_many_are_refused_before_the_work_or_by_the_step():
    with pytest.raises(TooMuch, match="times would fit"):
        after(refined({"kind": "sphere", "subdivisions": 7}, times=3))
    document = refined({"kind": "sphere", "subdivisions": 8}, times=2, zone="outside")
    document["items"]["ball"]["recipe"]["steps"]["refine"]["field"] = "front"
    with pytest.raises(TooMuch, match="let a narrower field drive it"):
        after(document, 0)


def test_a_coarse_import_is_mended_by_a_refine_before_the_step():
    """What a finding offers where the shape itself has no setting for it."""
    document = cut_ball({"kind": "sphere", "subdivisions": 3}, field={"band": 0.05})
    shade = {"kind": "shade", "rank": 0, "field": "front", "zone": "inside"}
    document["items"]["ball"]["recipe"]["steps"] = {"shade": shade}
    document["items"]["ball"]["geometry"] = {"kind": "imported", "asset": "a" * 64}
    one = evaluator()
    plain = cut_ball({"kind": "sphere", "subdivisions": 3})
    mesh = one.at_rest(one.scene(parsed(plain), 0), "ball").value.mesh
    one._assets = Files(mesh)
    (finding,) = find_all(one, parsed(document))
    assert finding.kind == "coarse_faces"
    assert finding.mend is not None
    mended = patched(document, finding.mend.patch)
    steps = parsed(mended).items["ball"].recipe.steps  # type: ignore[arg-type, union-attr]
    assert [(step.kind, step.field) for step in sorted(steps.values(), key=lambda step: step.rank)] == [
        ("refine", "front"), ("shade", "front"),
    ]  # fmt: skip
    assert find_all(one, parsed(mended)) == []  # type: ignore[arg-type]
