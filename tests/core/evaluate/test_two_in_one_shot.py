"""Two shapes in one shot, and edits of what a step reads: a warm evaluator answers as a fresh one does."""

from __future__ import annotations

import copy

import numpy as np
import pytest
from shots import cut_ball, evaluator, parsed, recipe_shot

from windsock.core.evaluate.frame import Evaluator
from windsock.core.parts.copies_part import CopiesPart


def bytes_of(one: Evaluator, document: dict, frame: float) -> list[bytes]:
    found: list[bytes] = []
    for item in one.frame(parsed(document), frame).draw:
        mesh = item.body.mesh
        found += [mesh.points.tobytes(), mesh.faces.tobytes(), mesh.normals.tobytes()]
        if isinstance(item.body, CopiesPart):
            found += [item.body.copies.turn.tobytes(), item.body.copies.size.tobytes()]
    return found


def held_against_fresh(one: Evaluator, document: dict, frames: tuple[float, ...] = (10, 60)) -> None:
    for frame in frames:
        assert bytes_of(one, document, frame) == bytes_of(evaluator(), document, frame)


def two_released() -> dict:
    """Two balls broken alike, one lying to the side of the other, both let go by nothing."""
    document = recipe_shot({"kind": "fracture", "count": 8}, {"kind": "release", "field": None, "speed": 0})
    document["items"]["ball"]["place"] = [0, 2, 0]
    other = copy.deepcopy(document["items"]["ball"]) | {"rank": 5, "name": "Other", "place": [4, 3, 1]}
    document["items"]["other"] = other
    return document


def test_two_shapes_that_are_let_go_alike_fly_each_from_where_it_is():
    document = two_released()
    shapes = {item.item: item for item in evaluator().frame(parsed(document), 4).draw}
    pieces = {name: item.body.pieces.places.points + item.matrix[:3, 3] for name, item in shapes.items()}
    apart = pieces["other"] - pieces["ball"]
    assert apart == pytest.approx(np.broadcast_to([4, 1, 1], apart.shape), abs=1e-4)
    held_against_fresh(evaluator(), document)


@pytest.mark.parametrize(
    "edit",
    [
        lambda document: document["items"]["other"].update(place=[4, 7, 1]),
        lambda document: document["items"]["other"].update(turn=[0, 40, 30]),
        lambda document: document["items"]["ball"]["recipe"]["steps"]["s1"].update(count=5),
        lambda document: document["items"]["ball"]["recipe"]["steps"]["s1"].update(seed=9),
        lambda document: document.update(rate={"numerator": 30, "denominator": 1}),
        lambda document: document.update(frames={"first": 5, "last": 90}),
    ],
    ids=["lifted", "turned", "count", "seed", "rate", "range"],
)
def test_what_is_let_go_by_nothing_follows_every_edit(edit):
    one, document = evaluator(), two_released()
    held_against_fresh(one, document)
    edit(document)
    held_against_fresh(one, document)


@pytest.mark.parametrize("edited", ["point", "place", "subject", "subject turned"])
def test_copies_along_a_path_follow_the_path_and_their_subject(edited):
    document = recipe_shot({"kind": "scatter", "on_what": "path", "path": "line", "count": 20}, parts=("copies",))
    document["items"]["ball"]["recipe"]["steps"]["s1"]["makes"] = "copies"
    points = {f"p{one}": {"rank": one, "place": [one - 1, 0.3 * one, 0]} for one in range(3)}
    document["items"]["line"] = {"kind": "path", "name": "Line", "rank": 5, "points": points}
    one = evaluator()
    held_against_fresh(one, document, (10,))
    if edited == "point":
        document["items"]["line"]["points"]["p1"]["place"] = [0, 2, 0.5]
    elif edited == "place":
        document["items"]["line"]["place"] = [0, 2, 0]
    else:
        document["items"]["ball"]["turn" if "turned" in edited else "place"] = [0, 30, 0]
    held_against_fresh(one, document, (10,))


def test_fields_with_a_past_on_two_shapes_that_are_alike_are_each_its_own():
    """Both are cut by a front that spreads from the same seeds; the second stands elsewhere."""
    document = cut_ball({"kind": "sphere", "subdivisions": 3}, frames={"first": 0, "last": 60})
    spread = {"kind": "spread", "seeds": "front", "speed": 1.0}
    document["fields"]["after"] = {"letter": "B", "name": "After", "rank": 1, "sources": {"s": spread}}
    document["items"]["ball"]["recipe"]["steps"]["cut"]["field"] = "after"
    other = copy.deepcopy(document["items"]["ball"]) | {"rank": 4, "name": "Other", "place": [1.2, 0.4, 0]}
    document["items"]["other"] = other
    one = evaluator()
    held_against_fresh(one, document, (30, 60))
    document["items"]["other"]["place"] = [0.5, -0.8, 0]
    held_against_fresh(one, document, (30, 60))
    alone = copy.deepcopy(document)
    del alone["items"]["other"]
    (own,) = (item.body.mesh for item in evaluator().frame(parsed(alone), 50).draw)
    beside = next(item.body.mesh for item in one.frame(parsed(document), 50).draw if item.item == "ball")
    assert np.array_equal(own.points, beside.points)


@pytest.mark.parametrize("spacing", [0.2, 0.5])
def test_copies_by_spacing_whose_size_a_field_rules_follow_the_spacing(spacing):
    step = {"kind": "scatter", "by": "spacing", "spacing": 0.3, "field": "front", "size_by": {"field": "front"}}
    document = recipe_shot(step | {"makes": "copies"}, parts=("copies",))
    one = evaluator()
    held_against_fresh(one, document)
    document["items"]["ball"]["recipe"]["steps"]["s1"]["spacing"] = spacing
    held_against_fresh(one, document)
