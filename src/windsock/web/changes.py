"""What can be done to a shot: the edit that each change is."""

from __future__ import annotations

import json
from typing import Annotated

from apiflask import APIBlueprint
from pydantic import BaseModel, PlainValidator, TypeAdapter, ValidationError

from windsock.core.changing import AnyChange, Bounds, Change, planned
from windsock.core.changing.offers import Offers, offers
from windsock.core.document.patches import Operation, patched
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.refusals import Refusal
from windsock.protocol.requests import BoundsRequest
from windsock.web.frames import ViewedShot
from windsock.web.service import service

changes = APIBlueprint("changes", __name__, url_prefix="/api")


CHANGE: TypeAdapter[AnyChange] = TypeAdapter(Change)


def _from_json(value: object) -> AnyChange:
    """A change as JSON has it, where a list stands for a tuple. Raises ValueError in words."""
    try:
        return CHANGE.validate_json(json.dumps(value))
    except ValidationError as error:
        fault = error.errors()[0]
        place = ", ".join(str(step) for step in fault["loc"][1:])
        raise ValueError(f"{place}: {fault['msg']}" if place else fault["msg"]) from None


class ChangeWish(ViewedShot):
    """A change, of a shape as it stands at the frame where that counts."""

    change: Annotated[Change, PlainValidator(_from_json, json_schema_input_type=Change)]


class SlotOut(BaseModel):
    """Where a value goes while it is dragged: `within` the value of the operation with this number, as a JSON Pointer, and
    what is added to each of its numbers; the rows of a matrix that the value is multiplied by before that, if any."""

    operation: int
    within: str
    plus: list[float]
    times: list[list[float]]


class PlannedOut(BaseModel):
    """The edit that a change is, in a few words; the item and the field that it is about, and the id of
    what it adds within these, if any; in words what else goes
    with it, which is to be asked for, and what its button says; and where a dragged value goes in it."""

    patch: list[Operation]
    says: str
    item: str
    field: str
    key: str
    warning: str
    agree: str
    slots: list[SlotOut]


@changes.get("/offers")
@changes.output(Offers)
def list_offers():
    """What can be added to a shot, to a recipe and to a field."""
    return offers()


@changes.post("/shots/<shot_id>/changes")
@changes.input(ChangeWish)
@changes.output(PlannedOut)
def plan_change(shot_id: str, json_data: ChangeWish):
    """The edit that a change is, with a patch on top. Nothing is changed yet."""
    _, document = service().document(shot_id, json_data.revision)
    shot = parse_shot(patched(document, json_data.patch) if json_data.patch else document)
    edit = planned(json_data.change, shot, _bounds(shot_id, shot, json_data), json_data.frame)
    return {
        "patch": edit.patch,
        "says": edit.says,
        "item": edit.item_id,
        "field": edit.field_id,
        "key": edit.key,
        "warning": edit.warning,
        "agree": edit.agree,
        "slots": [vars(slot) for slot in edit.slots],
    }


def _bounds(shot_id: str, shot: Shot, wish: ChangeWish) -> Bounds | None:
    """Where the shape stands that the change measures; None where it needs none, or nothing of it is seen."""
    item = wish.change.measured(shot)
    if item is None:
        return None
    asked = BoundsRequest(**wish.asking(), items=[item])
    try:
        return service().bounds(shot_id, wish.revision, asked)
    except Refusal:
        return None
