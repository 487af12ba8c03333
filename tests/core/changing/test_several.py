"""Several items changed by one edit: it fits, means what it says, and a dragged value goes where it should."""

from __future__ import annotations

import numpy as np
import pytest
from jsonpointer import set_pointer
from pydantic import TypeAdapter

from windsock.core.changing import Change, planned
from windsock.core.document.patches import MOST_OPERATIONS, patched
from windsock.core.document.relations import relations
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.refusals import Refusal
from windsock.demo.loading import SHOTS

CHANGE = TypeAdapter(Change)
KEYED = {"keys": {"k1": {"frame": 0, "value": [0, 0, 0]}, "k2": {"frame": 10, "value": [4, 0, 0]}}}


def box(rank: float, **given: object) -> dict:
    return {"kind": "shape", "name": f"Box {rank}", "rank": rank, "geometry": {"kind": "box"}} | given


def shot() -> Shot:
    """A turned arm that carries a box, a keyed box, and a light."""
    return parse_shot(
        {
            "name": "Several",
            "items": {
                "arm": {"kind": "controller", "name": "Arm", "rank": 0, "place": [1, 2, 3], "turn": [0, 90, 0]},
                "carried": box(1, parent="arm", place=[1, 0, 0]),
                "keyed": box(2, place=KEYED),
                "lamp": {"kind": "light", "name": "Lamp", "rank": 3, "place": [0, 5, 0]},
            },
        }
    )


def edit_of(change: dict, frame: float = 0.0):
    return planned(CHANGE.validate_python(change), shot(), None, frame)


def after(edit) -> Shot:
    return parse_shot(patched(shot().model_dump(mode="json"), edit.patch))


def world(of: Shot, item: str, frame: float = 0.0) -> np.ndarray:
    return of.placement(item, of.moment(frame))[:3, 3]


def test_items_move_by_the_same_way_in_the_world_whatever_carries_them():
    edit = edit_of({"kind": "move_items", "items": ["carried", "keyed", "lamp"], "by": (1.0, 0.5, 0.25)}, 5.0)
    moved = after(edit)
    for item in ("carried", "keyed", "lamp"):
        assert world(moved, item, 5) - world(shot(), item, 5) == pytest.approx([1, 0.5, 0.25], abs=1e-4)
    assert world(moved, "keyed", 0) == pytest.approx(world(shot(), "keyed", 0))  # a key at the frame, not all of them
    assert edit.says == "move Box 1 and 2 more"


def test_all_keys_move_where_the_whole_curve_is_meant():
    moved = after(edit_of({"kind": "move_items", "items": ["keyed"], "by": (0.0, 1.0, 0.0), "whole_curve": True}))
    assert [key.value for key in moved.items["keyed"].place.keys.values()] == [(0, 1, 0), (4, 1, 0)]


def test_what_is_carried_by_one_of_them_goes_along_once():
    moved = after(edit_of({"kind": "move_items", "items": ["carried", "arm"], "by": (1.0, 0.0, 0.0)}))
    assert world(moved, "carried") - world(shot(), "carried") == pytest.approx([1, 0, 0], abs=1e-6)


@pytest.mark.parametrize(
    ("setting", "by"), [("place", (0.3, -0.2, 0.1)), ("turn", (10.0, 0.0, 5.0)), ("scale", (2.0, 1.0, 0.5))]
)
def test_a_dragged_value_goes_into_the_edit_where_the_server_would_have_put_it(setting, by):
    items = ["carried", "keyed", "lamp"]
    wanted = {"kind": "move_items", "items": items, "setting": setting}
    blank, told = edit_of(wanted, 5.0), edit_of(wanted | {"by": by}, 5.0)
    assert len(blank.slots) == len(blank.patch) == (2 if setting == "scale" else 3)
    for slot in blank.slots:
        value = np.array(slot.times) @ by + slot.plus
        operation = blank.patch[slot.operation].plain()
        operation = set_pointer(operation, f"/value{slot.within}", value.round(5).tolist())
        assert operation == told.patch[slot.operation].plain()


def test_only_what_can_be_stretched_is():
    with pytest.raises(Refusal, match="None of these can be stretched"):
        edit_of({"kind": "move_items", "items": ["lamp"], "setting": "scale", "by": (2.0, 2.0, 2.0)})


def test_several_go_and_are_hidden_as_one_edit():
    gone = edit_of(
        {"kind": "do_several", "changes": [{"kind": "remove_item", "item": one} for one in ("arm", "carried")]}
    )
    assert set(after(gone).items) == {"keyed", "lamp"}
    assert "Box 1, which it carries" in gone.warning
    hide = [{"kind": "show_shape", "item": one, "shown": False} for one in ("carried", "keyed")]
    hidden = after(edit_of({"kind": "do_several", "changes": hide}))
    assert [hidden.items[one].shown for one in ("carried", "keyed")] == [0, 0]


def test_what_is_made_from_another_goes_with_it_once():
    document = shot().model_dump(mode="json")
    points = {"a": {"rank": 0, "place": [0, 0, 0]}, "b": {"rank": 1, "place": [1, 0, 0]}}
    document["items"]["path"] = {"kind": "path", "name": "Path", "rank": 9, "points": points}
    document["items"]["swept"] = box(10, geometry={"kind": "sweep", "path": "path"})
    removing = {"kind": "do_several", "changes": [{"kind": "remove_item", "item": one} for one in ("path", "swept")]}
    edit = planned(CHANGE.validate_python(removing), parse_shot(document))
    assert not {"path", "swept"} & set(
        parse_shot(patched(parse_shot(document).model_dump(mode="json"), edit.patch)).items
    )


def test_cameras_that_go_together_leave_the_shot_looking_through_another():
    camera = {"kind": "camera", "name": "Camera", "rank": 0}
    told = parse_shot({"name": "Three", "items": dict.fromkeys(("one", "two", "three"), camera), "camera": "one"})
    removing = [{"kind": "remove_item", "item": one} for one in ("one", "two")]
    edit = planned(CHANGE.validate_python({"kind": "do_several", "changes": removing}), told)
    left = parse_shot(patched(told.model_dump(mode="json"), edit.patch))
    assert (list(left.items), left.camera) == (["three"], "three")


def test_several_are_carried_where_they_stand():
    carrying = [{"kind": "carry_item", "item": one, "carrier": "lamp"} for one in ("arm", "carried")]
    made = after(edit_of({"kind": "do_several", "changes": carrying}))
    for item in ("arm", "carried"):
        assert made.items[item].parent == "lamp"
        assert world(made, item) == pytest.approx(world(shot(), item), abs=1e-4)


def test_so_many_that_an_edit_would_have_too_many_operations_are_told_by_whole_branches():
    many = {"name": "Many", "items": {f"box-{one}": box(one) for one in range(250)}}
    hide = [{"kind": "show_shape", "item": one, "shown": False} for one in many["items"]]
    edit = planned(CHANGE.validate_python({"kind": "do_several", "changes": hide}), parse_shot(many))
    assert len(edit.patch) <= MOST_OPERATIONS
    assert {
        one.shown for one in parse_shot(patched(parse_shot(many).model_dump(mode="json"), edit.patch)).items.values()
    } == {0}


def test_a_group_and_a_look_are_given_to_several():
    grouped = edit_of({"kind": "group_items", "items": ["keyed", "carried"]})
    assert list(after(grouped).groups[grouped.key].members) == ["keyed", "carried"]
    document = shot().model_dump(mode="json")
    document["items"]["keyed"]["look"]["base_colour"] = "#336699"
    look = planned(
        CHANGE.validate_python({"kind": "give_look", "of": "keyed", "to": ["keyed", "carried"]}), parse_shot(document)
    )
    assert (
        parse_shot(patched(parse_shot(document).model_dump(mode="json"), look.patch)).items["carried"].look.base_colour
        == "#336699"
    )
    with pytest.raises(Refusal, match="no other shape"):
        edit_of({"kind": "give_look", "of": "keyed", "to": ["keyed"]})


def test_scenery_is_what_only_stands_there():
    said = relations(parse_shot(SHOTS["the-sock-itself"]())).items
    assert not any(said[item].scenery for item in ("sock", "head", "hoop", "arm", "key-light", "camera"))
    assert all(said[item].scenery for item in ("mast", "quay", "stone-1", "sea"))
    assert not any(
        item.scenery for item in relations(parse_shot({"name": "One", "items": {"it": box(0)}})).items.values()
    )
