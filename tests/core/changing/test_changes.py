"""What can be done to a shot: every change gives an edit that fits, and means what it says."""

from __future__ import annotations

from typing import get_args

import numpy as np
import pytest
from processes import shot_of
from pydantic import TypeAdapter

from windsock.core.changing import AnyChange, Bounds, Change, planned
from windsock.core.document.patches import patched
from windsock.core.document.references import references, references_to
from windsock.core.document.relations import measurable, next_steps
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.fields import AnySource
from windsock.core.refusals import Refusal
from windsock.core.shapes import AnyGeometry
from windsock.core.steps import AnyStep
from windsock.demo.loading import SHOTS

CHANGE = TypeAdapter(Change)
BOUNDS = Bounds((1.0, 2.0, 0.0), (2.0, 4.0, 1.0))


def after(shot: Shot, change: dict, bounds: Bounds | None = BOUNDS) -> Shot:
    """The shot that a change makes of one."""
    edit = planned(CHANGE.validate_python(change), shot, bounds)
    return parse_shot(patched(shot.model_dump(mode="json"), edit.patch))


def empty() -> Shot:
    return parse_shot({"name": "Any"})


def built_kinds() -> list[str]:
    return [kind.kind_name() for kind in get_args(AnyGeometry) if kind.example() is not None]


@pytest.mark.parametrize("kind", built_kinds())
def test_a_shape_of_every_kind_is_added_on_the_ground_with_every_default_spelled_out(kind):
    edit = planned(CHANGE.validate_python({"kind": "add_built", "what": kind}), empty())
    (operation,) = edit.patch
    shot = after(empty(), {"kind": "add_built", "what": kind})
    item = shot.items[edit.item_id]
    assert operation.value == item.model_dump(mode="json")
    assert item.place[1] == pytest.approx(item.geometry.below())
    assert edit.says == f"add {item.name}"
    again = after(shot, {"kind": "add_built", "what": kind})
    assert [one.name for one in again.items.values()] == [item.name, f"{item.name} 2"]
    assert len({one.rank for one in again.items.values()}) == 2


@pytest.mark.parametrize("kind", [kind.kind_name() for kind in get_args(AnyStep)])
def test_a_step_of_every_kind_is_added_and_taken_away_again(kind):
    shot = parse_shot(shot_of([{"kind": "fracture"}]))
    edit = planned(CHANGE.validate_python({"kind": "add_step", "item": "it", "step": kind}), shot, BOUNDS)
    made = parse_shot(patched(shot.model_dump(mode="json"), edit.patch))
    added = [key for key in made.items["it"].recipe.steps if key not in shot.items["it"].recipe.steps]
    assert len(added) == 1
    step = made.items["it"].recipe.steps[added[0]]
    assert step.kind == kind
    assert step.rank == max(one.rank for one in made.items["it"].recipe.steps.values())
    assert (step.field is not None) == step.wants_front
    back = after(made, {"kind": "remove_step", "item": "it", "step": added[0]})
    assert back.items["it"].recipe == shot.items["it"].recipe


def test_a_cut_gets_a_front_about_a_controller_that_no_field_uses_or_a_new_one():
    shot = after(empty(), {"kind": "add_built", "what": "sphere"})
    cut = after(shot, {"kind": "add_step", "item": "sphere", "step": "cut_away"})
    (front,) = cut.fields.values()
    assert front.sources["around"].controller == "controller"
    assert front.sources["around"].reach == 2.4  # 0.6 of the largest side
    assert cut.items["controller"].place[0] == pytest.approx(1.0 + 2.4)
    with_one = after(shot, {"kind": "add_item", "what": "controller"})
    again = after(with_one, {"kind": "add_step", "item": "sphere", "step": "cut_away"})
    assert [key for key, item in again.items.items() if item.kind == "controller"] == ["controller"]


def test_what_moves_things_takes_the_copies_that_were_made_last():
    shot = after(
        after(empty(), {"kind": "add_built", "what": "box"}), {"kind": "add_step", "item": "box", "step": "scatter"}
    )
    shot = after(shot, {"kind": "add_step", "item": "box", "step": "jumble"})
    assert shot.items["box"].recipe.steps["jumble"].part == "copies"
    shot = after(shot, {"kind": "add_step", "item": "box", "step": "shade"})
    assert shot.items["box"].recipe.steps["shade"].part == "body"
    gone = planned(CHANGE.validate_python({"kind": "remove_step", "item": "box", "step": "scatter"}), shot, BOUNDS)
    assert gone.warning == "Jumble works on what Scatter makes and goes with it."
    left = parse_shot(patched(shot.model_dump(mode="json"), gone.patch))
    assert [*left.items["box"].recipe.steps] == ["shade"]
    assert [*left.items["box"].recipe.parts] == ["body"]


@pytest.mark.parametrize("name", sorted(SHOTS))
def test_anything_can_be_removed_and_copied_in_every_demo_shot(name):
    shot = parse_shot(SHOTS[name]())
    for item in shot.items:
        edit = planned(CHANGE.validate_python({"kind": "remove_item", "item": item}), shot)
        left = parse_shot(patched(shot.model_dump(mode="json"), edit.patch))
        assert item not in left.items
        assert not references_to(left, "items", item)
        assert bool(edit.warning) == bool(references_to(shot, "items", item))
        copied = after(shot, {"kind": "copy_item", "item": item})
        assert len(copied.items) == len(shot.items) + 1


def test_what_cannot_do_without_an_item_goes_with_it_and_others_let_go_of_it():
    document = shot_of([{"kind": "release", "source": "fog", "way": "away"}, {"kind": "scatter", "path": "line"}])
    document["fields"]["one"]["sources"]["n"] = {"kind": "noise", "space": "controller", "controller": "fog", "rank": 1}
    document["items"]["tail"] = {
        "kind": "shape",
        "name": "Tail",
        "rank": 9,
        "geometry": {"kind": "sweep", "path": "line"},
    }
    document["items"]["rider"] = {"kind": "controller", "name": "Rider", "rank": 10, "parent": "line"}
    document["groups"]["near"]["members"]["fog"] = {"rank": 1}
    document = {**document, "items": document["items"]}
    shot = parse_shot(document)
    edit = planned(CHANGE.validate_python({"kind": "remove_item", "item": "fog"}), shot)
    left = parse_shot(patched(shot.model_dump(mode="json"), edit.patch))
    assert [*left.fields["one"].sources] == ["n"]
    assert (left.fields["one"].sources["n"].space, left.fields["one"].sources["n"].controller) == ("rest", None)
    assert left.items["it"].recipe.steps["s0"].source is None
    assert "fog" not in left.groups["near"].members
    assert "field A One" in edit.warning
    assert "a step of It" in edit.warning
    edit = planned(CHANGE.validate_python({"kind": "remove_item", "item": "line"}), shot)
    left = parse_shot(patched(shot.model_dump(mode="json"), edit.patch))
    assert "tail" not in left.items
    assert left.items["rider"].parent is None
    assert left.items["it"].recipe.steps["s1"].path is None
    assert "Tail, which is made from it and goes with it," in edit.warning


def test_hiding_from_a_frame_on_keeps_what_was_before():
    shot = after(empty(), {"kind": "add_built", "what": "sphere"})
    hidden = after(shot, {"kind": "show_shape", "item": "sphere", "shown": False, "from_frame": 20.0})
    seen = [hidden.moment(frame)(hidden.items["sphere"].shown) for frame in (0, 19, 20, 60)]
    assert seen == [1, 1, 0, 0]
    back = after(hidden, {"kind": "show_shape", "item": "sphere", "shown": True, "from_frame": 40.0})
    assert [back.moment(frame)(back.items["sphere"].shown) for frame in (0, 20, 40)] == [1, 0, 1]
    again = after(back, {"kind": "show_shape", "item": "sphere", "shown": False, "from_frame": 40.0})
    assert len(again.items["sphere"].shown.keys) == 3


@pytest.mark.parametrize(
    "change",
    [
        {"kind": "remove_item", "item": "gone"},
        {"kind": "add_step", "item": "gone", "step": "shade"},
        {"kind": "add_step", "item": "it", "step": "nothing"},
        {"kind": "add_built", "what": "sweep"},
        {"kind": "copy_item", "item": "gone"},
        {"kind": "drive_by_new_field", "item": "it", "step": "gone"},
        {"kind": "show_shape", "item": "fog", "shown": True},
    ],
)
def test_what_cannot_be_done_is_said(change):
    with pytest.raises(Refusal, match="Nothing was changed"):
        planned(CHANGE.validate_python(change), parse_shot(shot_of([])))


def test_references_are_found_from_how_things_are_declared():
    found = {
        (one.pointer, one.to, one.id) for one in references(parse_shot(shot_of([{"kind": "shade", "field": "one"}])))
    }
    assert ("/camera", "items", "eye") in found
    assert ("/items/it/parent", "items", "post") in found
    assert ("/items/eye/aim", "items", "post") in found
    assert ("/groups/near/members/other", "items", "other") in found
    assert ("/fields/one/sources/s/controller", "items", "fog") in found
    assert ("/items/it/recipe/steps/s0/field", "fields", "one") in found


def test_every_change_says_what_it_does():
    assert all(kind.__doc__ for kind in get_args(AnyChange))


@pytest.mark.parametrize("kind", [kind.kind_name() for kind in get_args(AnySource)])
def test_a_clause_of_every_kind_is_added_to_a_field_of_an_almost_empty_shot(kind):
    other = {"letter": "B", "name": "Other", "rank": 1, "sources": {"c": {"kind": "chance"}}}
    first = {"letter": "A", "name": "First", "rank": 0, "sources": {"c": {"kind": "chance"}}}
    shot = parse_shot({"name": "Any", "fields": {"first": first, "other": other}})
    made = after(shot, {"kind": "add_clause", "field": "first", "source": kind})
    (added,) = [one for key, one in made.fields["first"].sources.items() if key not in shot.fields["first"].sources]
    assert added.kind == kind
    assert added.rank == 1
    twice = after(made, {"kind": "add_clause", "field": "first", "source": kind})
    assert len(twice.fields["first"].sources) == 3
    # What was made for the first one does for the second.
    assert (len(twice.items), len(twice.groups)) == (len(made.items), len(made.groups))


def test_a_field_never_measures_from_one_that_measures_from_it():
    sources = {"s": {"kind": "another", "field": "first"}}
    fields = {
        "first": {"letter": "A", "name": "First", "rank": 0, "sources": {}},
        "second": {"letter": "B", "name": "Second", "rank": 1, "sources": sources},
    }
    shot = parse_shot({"name": "Any", "fields": fields})
    assert measurable(shot, "first") == []
    assert measurable(shot, "second") == ["first"]
    with pytest.raises(Refusal, match="no other field that A could measure from"):
        after(shot, {"kind": "add_clause", "field": "first", "source": "another"})


def test_an_item_joins_a_group_and_leaves_it():
    shot = parse_shot(shot_of([]))
    change = {"kind": "change_member", "group": "near", "item": "it"}
    joined = after(shot, change)
    assert [*joined.groups["near"].members] == ["other", "it"]
    assert after(joined, change).groups == shot.groups


def test_a_group_goes_with_the_clauses_that_measure_from_it_and_its_members_stay():
    document = shot_of([])
    document["fields"]["one"]["sources"]["n"] = {"kind": "near", "group": "near", "rank": 1}
    shot = parse_shot(document)
    edit = planned(CHANGE.validate_python({"kind": "remove_group", "group": "near"}), shot)
    left = parse_shot(patched(shot.model_dump(mode="json"), edit.patch))
    assert left.groups == {}
    assert left.items == shot.items
    assert "n" not in left.fields["one"].sources
    assert edit.warning.startswith("The group Near is used by field A One")
    with pytest.raises(Refusal, match="no longer in the shot"):
        after(left, {"kind": "remove_group", "group": "near"})


def test_steps_that_move_pieces_and_copies_are_offered_first_where_there_are_such():
    moving = {"shift", "jumble", "release"}
    assert {*next_steps(parse_shot(shot_of([])).items["it"].recipe)[-3:]} == moving
    for step in ({"kind": "fracture"}, {"kind": "scatter"}):
        assert {*next_steps(parse_shot(shot_of([step])).items["it"].recipe)[:3]} == moving
    off = parse_shot(shot_of([{"kind": "fracture", "on": False}])).items["it"].recipe
    assert {*next_steps(off)[-3:]} == moving


@pytest.mark.parametrize("name", sorted(SHOTS))
def test_another_rate_keeps_the_seconds_of_every_key(name):
    shot = parse_shot(SHOTS[name]())
    twice = after(
        shot, {"kind": "change_rate", "numerator": shot.rate.numerator * 2, "denominator": shot.rate.denominator}
    )
    for item in shot.items:
        for frame in np.linspace(shot.frames.first, shot.frames.last, 7):
            before, now = shot.placement(item, shot.moment(frame)), twice.placement(item, twice.moment(frame * 2))
            np.testing.assert_allclose(before, now, atol=1e-9)
    assert twice.frames.last + 1 == (shot.frames.last + 1) * 2
    back = after(twice, {"kind": "change_rate", "numerator": shot.rate.numerator, "denominator": shot.rate.denominator})
    assert back == shot


def test_a_retimed_recipe_shows_the_same_seconds_at_another_rate():
    shot = parse_shot(shot_of([]))
    keys = {"a": {"frame": 0, "value": 12}, "keys": {"frame": 12, "value": 0}}
    document = shot.model_dump(mode="json")
    document["items"]["it"]["recipe"]["retime"] = {"frame": {"keys": keys}}
    made = after(parse_shot(document), {"kind": "change_rate", "numerator": 48})
    keyed = made.items["it"].recipe.retime.frame.keys
    assert [(key.frame, key.value) for key in keyed.values()] == [(0, 24), (24, 0)]


def brought(**given: object) -> dict:
    return {"kind": "add_file", "name": "Rock", "file": {"asset": "a" * 64, "sort": "mesh"} | given}


@pytest.mark.parametrize("up", ["x", "y", "z"])
def test_a_file_stands_on_the_ground_in_the_middle_with_its_own_axis_up(up):
    """A box from (1, 2, 3) to (2, 4, 6) units, in centimetres: whichever axis is up, its underside goes to the ground."""
    shot = after(empty(), brought(up=up, scale=0.01, low=(1.0, 2.0, 3.0), high=(2.0, 4.0, 6.0), moves=True))
    (item,) = shot.items.values()
    assert (item.geometry.up, item.geometry.scale, item.geometry.motion.after) == (up, 0.01, "again")
    corners = np.array([[x, y, z] for x in (1, 2) for y in (2, 4) for z in (3, 6)]) * 0.01
    rise = {"x": 0, "y": 1, "z": 2}[up]
    assert item.place[1] == pytest.approx(-corners[:, rise].min())
    assert abs(item.place[0]) in (pytest.approx(0.015), pytest.approx(0.03))


def test_a_drawing_is_as_high_as_is_wanted_and_a_font_becomes_words():
    (drawing,) = after(empty(), brought(sort="drawing", height=2.0)).items.values()
    assert (drawing.geometry.height, drawing.place, drawing.name) == (2.0, (0.0, 1.0, 0.0), "Rock")
    (words,) = after(empty(), brought(sort="font")).items.values()
    assert (words.geometry.font, words.name) == ("a" * 64, "Text")


def test_one_more_shape_is_copied_until_there_is_none():
    shot = empty()
    for what in ("sphere", "box", "ring"):
        shot = after(shot, {"kind": "add_built", "what": what})
    shot = after(shot, {"kind": "add_step", "item": "box", "step": "scatter"})
    for _ in range(2):
        shot = after(shot, {"kind": "copy_one_more_shape", "item": "box", "step": "scatter"})
    copied = shot.items["box"].recipe.steps["scatter"].shapes_of.values()
    assert [one.shape for one in sorted(copied, key=lambda one: one.rank)] == ["sphere", "ring"]
    with pytest.raises(Refusal, match="no other shape that it could copy"):
        after(shot, {"kind": "copy_one_more_shape", "item": "box", "step": "scatter"})
