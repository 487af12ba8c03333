"""Starters: laid on shapes of any size they are valid, show something over the shot, and nothing is amiss."""

from __future__ import annotations

import pytest
from shots import evaluator, parsed

from windsock.core.document.patches import patched
from windsock.core.document.shot import parse_shot
from windsock.core.evaluate.coverage import cover
from windsock.core.findings import find_all
from windsock.demo.starters import STARTERS, Bounds, laid


def shape_of(size: float) -> dict:
    """A shot with one ball of this diameter, standing on the ground to the right."""
    ball = {
        "kind": "shape", "name": "Ball", "rank": 0, "place": [2 * size, size / 2, 0],
        "geometry": {"kind": "sphere", "radius": size / 2, "subdivisions": 5},
    }  # fmt: skip
    told = {"name": "A shot", "frames": {"first": 10, "last": 90}, "items": {"ball": ball}}
    return parsed(told).model_dump(mode="json")


def lay(starter: str, document: dict, size: float):
    bounds = Bounds((2 * size, size / 2, 0.0), (size, size, size))
    laying = laid(starter, parsed(document), "ball", bounds)
    return laying, patched(document, laying.patch)


MEANT = {"strands": ["joining_skin"]}
"""What is found with a starter and is meant so: strands flow together and come apart as they swing."""


@pytest.mark.parametrize("size", [0.05, 1.0, 40.0])
@pytest.mark.parametrize("starter", STARTERS)
def test_it_is_laid_in_the_shapes_own_size(starter, size):
    laying, document = lay(starter, shape_of(size), size)
    shot = parse_shot(document)
    one = evaluator()
    assert [finding.says for finding in find_all(one, shot) if finding.kind not in MEANT.get(starter, [])] == []
    strip = cover(one, shot, laying.field_id, "ball")
    # At some frame it is on part of the shape, and the end is not the beginning everywhere on the way.
    assert strip.most.max() > 0.5
    assert (strip.most - strip.least).max() > 0.3
    steps = shot.items["ball"].recipe.steps  # type: ignore[union-attr]
    assert any(step.field == laying.field_id for step in steps.values())


@pytest.mark.parametrize("starter", ["track", "hail"])
def test_what_presses_a_shape_in_presses_a_flat_one_as_well(starter):
    document = shape_of(1.0)
    document["items"]["ball"] |= {
        "place": [0, 0, 0],
        "geometry": {"kind": "plane", "width": 4, "depth": 3, "columns": 40, "rows": 30},
    }
    laying = laid(starter, parsed(document), "ball", Bounds((0.0, 0.0, 0.0), (4.0, 0.0, 3.0)))
    shot = parse_shot(patched(document, laying.patch))
    assert [finding.says for finding in find_all(evaluator(), shot)] == []
    mesh = next(one for one in evaluator().frame(shot, 85).draw if one.item == "ball").body.mesh
    assert mesh.points[:, 1].min() < -0.05


@pytest.mark.parametrize(
    ("starter", "begins", "ends"), [("soft-dissolve", 1, 0), ("sweep", 1, 0), ("growing-reveal", 0, 1)]
)
def test_what_is_taken_away_is_all_gone_or_all_there_at_the_ends(starter, begins, ends):
    laying, document = lay(starter, shape_of(1.0), 1.0)
    strip = cover(evaluator(), parse_shot(document), laying.field_id, "ball")
    inside = strip.inside if starter == "growing-reveal" else 1 - strip.inside
    assert inside[0] == pytest.approx(begins, abs=0.1)
    assert inside[-1] == pytest.approx(ends, abs=0.02)


@pytest.mark.parametrize("starter", STARTERS)
def test_it_can_be_laid_twice_and_beside_what_is_there(starter):
    _, once = lay(starter, shape_of(1.0), 1.0)
    _, twice = lay(starter, once, 1.0)  # type: ignore[arg-type]
    first, second = parse_shot(once), parse_shot(twice)
    assert len(second.fields) == 2 * len(first.fields)
    assert len({field.letter for field in second.fields.values()}) == len(second.fields)
