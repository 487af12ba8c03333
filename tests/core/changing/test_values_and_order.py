"""Values and keys that are set, orders, carriers and choices: what each change means."""

from __future__ import annotations

import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from windsock.core.changing import Change, planned
from windsock.core.changing.planned import PlannedEdit
from windsock.core.declarations import in_order
from windsock.core.document.patches import patched
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.refusals import Refusal

CHANGE = TypeAdapter(Change)
RADIUS, PLACE = "/items/it/geometry/radius", "/items/it/place"
STRAIGHT = {"kind": "linear"}


def edit_of(shot: Shot, frame: float = 0.0, **change: object) -> PlannedEdit:
    return planned(CHANGE.validate_python(change), shot, None, frame)


def after(shot: Shot, frame: float = 0.0, **change: object) -> Shot:
    return parse_shot(patched(shot.model_dump(mode="json"), edit_of(shot, frame, **change).patch))


def ball(**settings: object) -> Shot:
    geometry = {"kind": "sphere", "radius": settings.pop("radius", 1.0)}
    return parse_shot(
        {"name": "Any", "items": {"it": {"kind": "shape", "name": "It", "rank": 0, "geometry": geometry} | settings}}
    )


def keyed(*keys: tuple[float, object]) -> dict:
    return {
        "keys": {
            f"k{place}": {"frame": frame, "value": value, "easing": STRAIGHT}
            for place, (frame, value) in enumerate(keys)
        }
    }


def test_a_value_is_put_or_keyed_at_the_frame_or_moves_the_whole_curve():
    assert after(ball(), at=RADIUS, kind="set_value", value=2.0).items["it"].geometry.radius == 2.0
    shot = ball(radius=keyed((0, 1.0), (10, 2.0)))

    def at(changed: Shot, frame: float) -> float:
        return changed.moment(frame)(changed.items["it"].geometry.radius)

    here = after(shot, 5, kind="set_value", at=RADIUS, value=4.0)
    assert [at(here, frame) for frame in (0, 5, 10)] == [1.0, 4.0, 2.0]
    on_a_key = after(shot, 10, kind="set_value", at=RADIUS, value=4.0)
    assert [at(on_a_key, frame) for frame in (0, 10)] == [1.0, 4.0]
    assert len(on_a_key.items["it"].geometry.radius.keys) == 2
    moved = after(shot, 5, kind="set_value", at=RADIUS, value=2.0, whole_curve=True)
    assert [at(moved, frame) for frame in (0, 5, 10)] == [1.5, 2.0, 2.5]


def test_a_vector_is_moved_as_a_whole_curve_component_by_component():
    shot = ball(place=keyed((0, [0, 0, 0]), (10, [2, 4, 6])))
    moved = after(shot, 5, kind="set_value", at=PLACE, value=(1.0, 2.0, 10.0), whole_curve=True)
    keys = moved.items["it"].place.keys.values()
    assert [key.value for key in keys] == [(0, 0, 7), (2, 4, 13)]


@settings(max_examples=40, deadline=None)
@given(st.floats(-20, 20), st.floats(2, 9), st.booleans())
def test_filling_the_slots_of_an_edit_is_the_same_as_asking_with_the_value(frame, value, whole):
    """A page that drags a value asks once, and fills in every further one itself."""
    shot = ball(radius=keyed((0, 1.0), (10, 2.5)))
    asked = edit_of(shot, frame, kind="set_value", at=RADIUS, value=value, whole_curve=whole)
    begun = edit_of(shot, frame, kind="set_value", at=RADIUS, whole_curve=whole)
    assert [one.path for one in begun.patch] == [one.path for one in asked.patch]
    for slot in begun.slots:
        operation, told = begun.patch[slot.operation], asked.patch[slot.operation].value
        told = told["value"] if slot.within == "/value" else told
        assert told == pytest.approx(value + slot.plus[0], abs=1e-12)
        assert operation.op in ("add", "replace")
    assert {slot.operation for slot in begun.slots} == set(range(len(begun.patch)))


def test_a_key_holds_what_is_there_and_the_last_one_leaves_a_constant():
    shot = ball(radius=keyed((0, 1.0), (10, 2.0)))
    made = after(shot, 4, kind="set_key", at=RADIUS)
    key = next(key for key in made.items["it"].geometry.radius.keys.values() if key.frame == 4)
    assert key.value == pytest.approx(1.4)
    first = after(ball(), 7, kind="set_key", at=RADIUS)
    (one,) = first.items["it"].geometry.radius.keys.values()
    assert (one.frame, one.value) == (7, 1.0)
    less = after(shot, kind="remove_key", at=RADIUS, key="k0")
    assert [key.value for key in less.items["it"].geometry.radius.keys.values()] == [2.0]
    assert after(less, kind="remove_key", at=RADIUS, key="k1").items["it"].geometry.radius == 2.0


@pytest.mark.parametrize(
    "change",
    [
        {"kind": "set_value", "at": "/items/it/name", "value": 1.0},
        {"kind": "set_value", "at": "/items/gone/place", "value": (0.0, 0.0, 0.0)},
        {"kind": "set_value", "at": RADIUS, "value": -5.0},
        {"kind": "set_key", "at": "/items/it/geometry"},
        {"kind": "set_value", "at": PLACE, "value": 1.0, "whole_curve": True},
        {"kind": "choose", "of": "/items/it/model_fields", "setting": "backs", "value": "shown"},
        {"kind": "add_file", "name": "X", "file": {"asset": "a" * 64, "sort": "mesh", "scale": 0.0}},
        {"kind": "add_file", "name": "X", "file": {"asset": "a" * 64, "sort": "drawing", "height": -1.0}},
        {"kind": "remove_key", "at": RADIUS, "key": "k9"},
        {"kind": "place_beside", "collection": "/items/it", "id": "a", "beside": "b"},
        {"kind": "move_in_order", "collection": "/items", "id": "gone", "by": 1},
        {"kind": "carry_item", "item": "it", "carrier": "it"},
        {"kind": "choose", "of": "/items/it/look", "setting": "backs", "value": "sideways"},
    ],
)
def test_what_cannot_be_done_is_refused_in_words(change):
    with pytest.raises(Refusal, match="Nothing was changed"):
        edit_of(ball(), **change)


@pytest.mark.parametrize("ranks", [[0, 1, 2, 3, 4], [0, 0, 0, 0, 0], [1e9, 1e9, -1e9, 5, 5]])
def test_orders_are_those_of_a_list_from_which_one_is_taken_and_put_in_again(ranks):
    chance = random.Random(str(ranks))
    items = {
        name: {"kind": "controller", "name": name, "rank": rank} for name, rank in zip("abcde", ranks, strict=True)
    }
    shot = parse_shot({"name": "Any", "items": items})
    for _ in range(60):
        order = [key for key, _ in in_order(shot.items)]
        one, other = chance.sample(order, 2)
        behind = chance.random() < 0.5
        if chance.random() < 0.5:
            shot = after(shot, kind="place_beside", collection="/items", id=one, beside=other, after=behind)
            order.remove(one)
            order.insert(order.index(other) + behind, one)
        else:
            by = chance.choice([1, -1])
            shot = after(shot, kind="move_in_order", collection="/items", id=one, by=by)
            place = order.index(one)
            order.insert(max(place + by, 0), order.pop(place))
        assert [key for key, _ in in_order(shot.items)] == order


def carried(**settings: object) -> Shot:
    boat = {
        "kind": "controller",
        "name": "Boat",
        "rank": 0,
        "place": keyed((0, [0, 0, 0]), (10, [5, 1, 0])),
        "turn": [10, 40, 5],
    }
    arm = {
        "kind": "controller",
        "name": "Arm",
        "rank": 1,
        "place": [0, 2, 1],
        "turn": [0, 0, 70],
        "scale": [2, 1, 1],
        "parent": "boat",
    }
    hand = {
        "kind": "controller",
        "name": "Hand",
        "rank": 2,
        "place": [1, 0.5, 0],
        "turn": [20, -30, 15],
        "parent": "arm",
    } | settings
    return parse_shot({"name": "Any", "items": {"boat": boat, "arm": arm, "hand": hand}})


@pytest.mark.parametrize("carrier", ["boat", None])
def test_what_another_carries_stays_where_it_is(carrier):
    shot = carried()
    made = after(shot, 6, kind="carry_item", item="hand", carrier=carrier)
    assert made.items["hand"].parent == carrier
    before, now = (one.placement("hand", one.moment(6)) for one in (shot, made))
    np.testing.assert_allclose(now, before, atol=1e-4)


def test_what_was_carried_stays_where_it_is_when_its_carrier_goes_but_for_what_is_keyed():
    shot = carried()
    made = after(shot, 6, kind="remove_item", item="arm")
    before, now = (one.placement("hand", one.moment(6)) for one in (shot, made))
    np.testing.assert_allclose(now, before, atol=1e-4)
    place = keyed((0, [1, 0, 0]), (5, [0, 0, 0]))
    made = after(carried(place=place), 6, kind="remove_item", item="arm")
    assert (
        made.items["hand"].model_dump(mode="json")["place"]
        == carried(place=place).items["hand"].model_dump(mode="json")["place"]
    )


def test_nothing_is_carried_in_a_circle():
    with pytest.raises(Refusal, match="Boat cannot be carried by that"):
        edit_of(carried(), kind="carry_item", item="boat", carrier="hand")


def test_what_follows_from_a_choice_is_chosen_too():
    field = {"letter": "A", "name": "A", "rank": 0, "sources": {"s": {"kind": "surface"}}}
    shot = parse_shot({"name": "Any", "fields": {"a": field}})
    made = (
        after(shot, kind="choose", of="/fields/a/sources/s", setting="reading", value="axis").fields["a"].sources["s"]
    )
    assert (made.reading, made.low, made.high) == (
        "axis",
        90,
        0,
    )  # degrees: 0 where the surface faces away, 1 where towards


def test_a_field_remembers_and_forgets():
    field = {"letter": "A", "name": "A", "rank": 0, "sources": {}}
    shot = parse_shot({"name": "Any", "fields": {"a": field}})
    held = after(shot, kind="remember", field="a")
    assert held.fields["a"].memory.kind == "hold"
    assert after(held, kind="remember", field="a", memory="fade").fields["a"].memory.kind == "fade"
    assert after(held, kind="remember", field="a", memory="none").fields["a"].memory is None


def test_what_may_be_none_begins_with_one_of_its_own():
    steps = {"wire": {"kind": "wire", "rank": 0}}
    shot = ball(recipe={"steps": steps})
    pointer = "/items/it/recipe/steps/wire"
    made = after(shot, kind="choose", of=pointer, setting="look", value="own")
    assert made.items["it"].recipe.steps["wire"].look.emission == 2.0
    assert after(made, kind="choose", of=pointer, setting="look", value=None) == shot
    assert after(shot, kind="choose", of="/items/it", setting="mark", value="own").items["it"].mark is not None


def line(closed: bool = False) -> Shot:
    points = {
        "a": {"rank": 0, "place": [0, 0, 0]},
        "b": {"rank": 1, "place": keyed((0, [1, 0, 0]), (10, [3, 0, 0]))},
        "c": {"rank": 2, "place": [3, 2, 0]},
    }
    path = {"kind": "path", "name": "Line", "rank": 0, "points": points, "closed": closed}
    return parse_shot({"name": "Any", "items": {"line": path}})


@pytest.mark.parametrize(
    ("closed", "key", "where"),
    [(False, "a", (1.0, 0, 0)), (False, "b", (2.5, 1, 0)), (False, "c", (4.0, 4, 0)), (True, "c", (1.5, 1, 0))],
)
def test_a_point_is_put_half_way_to_the_next_or_as_far_again_beyond_the_last(closed, key, where):
    """At frame 5 the second point is at 2 m."""
    edit = edit_of(line(closed), 5, kind="add_between", of="/items/line", setting="points", after=key)
    made = parse_shot(patched(line(closed).model_dump(mode="json"), edit.patch)).items["line"].points
    assert made[edit.key].place == pytest.approx(where)
    order = [one for one, _ in in_order(made)]
    assert order[order.index(key) + 1] == edit.key


def test_a_profile_gets_a_point_like_the_one_before():
    shot = after(parse_shot({"name": "Any"}), kind="add_built", what="revolve")
    (item,) = shot.items
    of = f"/items/{item}/geometry"
    first, second, *_, last = [key for key, _ in in_order(shot.items[item].geometry.profile)]
    for key in (first, last):
        edit = edit_of(shot, kind="add_between", of=of, setting="profile", after=key)
        after_it = parse_shot(patched(shot.model_dump(mode="json"), edit.patch)).items[item].geometry.profile
        made, before = after_it[edit.key], after_it[key]
        assert made.joint == before.joint
        high = (before.height + after_it[second].height) / 2 if key == first else before.height + 0.1
        assert made.height == pytest.approx(high)
    with pytest.raises(Refusal, match="No point can be put there"):
        edit_of(shot, kind="add_between", of=of, setting="profile", after="gone")
