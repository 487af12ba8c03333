"""The plan: nodes after those they need, what stands still, and what a history depends on."""

from __future__ import annotations

import copy
import time

from histories import MOVING, around, subject_shot
from shots import evaluator, parsed

from windsock.core.evaluate.plan import Plan


def document() -> dict:
    fields = {
        "seed": around(0.4, 0.2),
        "front": {"sources": {"s": {"kind": "spread", "seeds": "seed"}}, "memory": {"kind": "hold"}},
        "grain": {"sources": {"n": {"kind": "noise", "size": 0.3}}},
        "late": {"sources": {"a": {"kind": "another", "field": "front", "lag": 0.2}}},
    }
    made = subject_shot({"kind": "sphere", "subdivisions": 2}, fields, place=MOVING)
    steps = {
        "follow": {"kind": "follow_through", "rank": 0, "field": "grain"},
        "cut": {"kind": "cut_away", "rank": 1, "field": "late"},
        "off": {"kind": "cut_away", "rank": 2, "field": "seed", "on": False},
    }
    made["items"]["it"]["recipe"] = {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": steps}
    return made


def test_every_node_comes_after_those_it_needs():
    plan = Plan(parsed(document()))
    order = plan.order()
    for node, needs in plan.graph().items():
        assert all(order.index(need) < order.index(node) for need in needs), node
    assert order.index("front seed it") < order.index("field front it") < order.index("field late it")
    assert order.index("march it/follow") < order.index("step it/follow") < order.index("step it/cut")
    assert "memory front it" in order
    assert "step it/off" not in order


def test_all_that_was_made_has_a_node_and_a_cost():
    shot = parsed(document())
    frame = evaluator().frame(shot, 40)
    # Fields that only other fields read are measured within those.
    within = {"field front it"}
    assert {cost.node for cost in frame.costs} == set(Plan(shot).order()) - within
    kinds = {cost.node.split()[0]: cost.kind for cost in frame.costs}
    assert kinds["front"] == kinds["crossed"] == "solved"
    assert kinds["march"] == kinds["memory"] == "marched"
    assert kinds["field"] == kinds["step"] == kinds["shape"] == "immediate"
    assert all(cost.bytes > 0 for cost in frame.costs)


def test_what_a_node_took_is_told_with_and_without_what_it_is_made_from():
    shot, one = parsed(document()), evaluator()
    started = time.perf_counter()
    costs = one.frame(shot, 40).costs
    spent = (time.perf_counter() - started) * 1000
    assert all(0 <= cost.own <= cost.milliseconds for cost in costs)
    assert sum(cost.own for cost in costs) < spent  # nothing is counted twice
    around = {cost.node: cost for cost in costs}["march it/follow"]
    assert around.own < around.milliseconds  # it measures fields on its way


def changed(path: list[str], value: object) -> dict:
    made = copy.deepcopy(document())
    place = made
    for step in path[:-1]:
        place = place[step]
    place[path[-1]] = value
    return made


def test_a_history_is_found_again_unless_something_that_it_reads_has_changed():
    """Nothing says what it reads but the reading itself."""
    one = evaluator()

    def times_found(document: dict) -> int:
        made = {cost.node: cost.made for cost in one.frame(parsed(document), 20).costs}
        return made["crossed seed it"]

    assert times_found(document()) == 1
    for path, value in (
        (["fields", "seed", "name"], "Another"),
        (["fields", "seed", "band"], 0.3),
        (["fields", "grain", "level"], 0.1),
        (["items", "fog", "name"], "Another"),
        (["items", "it", "look"], {"roughness": 0.1}),
    ):
        assert times_found(changed(path, value)) == 1, path
    for number, (path, value) in enumerate((
        (["fields", "seed", "level"], 0.4),
        (["fields", "seed", "sources", "s", "reach"], 0.5),
        (["items", "fog", "place", "keys", "k2", "frame"], 90),
        (["items", "it", "geometry", "subdivisions"], 3),
        (["items", "it", "turn"], [0, 10, 0]),
        (["rate"], {"numerator": 30, "denominator": 1}),
        (["frames"], {"first": 0, "last": 80}),
    ), 2):  # fmt: skip
        assert times_found(changed(path, value)) == number, path
