"""A step that becomes one of another kind under the same id is evaluated anew, even where neither looks at a setting of its own."""

from __future__ import annotations

from shots import evaluator, parse_shot, recipe_shot


def shot(kind: str):
    """A ball that is cut away as a whole, and what comes after that."""
    step = {"kind": kind, "makes": "more"} | ({"field": "front"} if kind == "shed" else {})
    ball = {"kind": "sphere", "subdivisions": 3}
    return parse_shot(recipe_shot({"kind": "cut_away"}, step, geometry=ball, parts=("more",), field={"band": 0.3}))


def test_what_one_kind_made_of_nothing_is_not_taken_for_what_another_makes():
    warm = evaluator()
    layers = warm.frame(shot("shells"), 60.0)
    assert all(len(item.body.mesh.points) == 0 for item in layers.draw)
    born = warm.frame(shot("shed"), 60.0)
    fresh = evaluator().frame(shot("shed"), 60.0)
    assert sum(len(item.body.mesh.points) for item in fresh.draw) > 0
    assert [item.body.mesh.points.tobytes() for item in born.draw] == [
        item.body.mesh.points.tobytes() for item in fresh.draw
    ]
