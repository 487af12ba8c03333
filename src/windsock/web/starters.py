"""Starters: ready recipes that can be laid on any shape."""

from __future__ import annotations

from apiflask import APIBlueprint
from pydantic import BaseModel

from windsock.core.declarations import Id
from windsock.core.document.items import Shape
from windsock.core.document.patches import Operation
from windsock.core.document.shot import parse_shot
from windsock.core.refusals import Refusal
from windsock.demo.starters import STARTERS, laid
from windsock.protocol.requests import BoundsRequest
from windsock.store.editing import NotFound
from windsock.web.frames import ViewedShot
from windsock.web.guard import browser
from windsock.web.service import service

starters = APIBlueprint("starters", __name__, url_prefix="/api")


class StarterOut(BaseModel):
    """A starter, what it makes of a shape, what someone wishes for who chooses it, and what to change first once it is laid."""

    id: str
    name: str
    says: str
    wish: str
    first: str


class StartersOut(BaseModel):
    """All starters."""

    starters: list[StarterOut]


class LayWish(ViewedShot):
    """The shape to lay a starter on, as it stands at the frame."""

    item: Id


class StarterEdit(BaseModel):
    """The edit that lays it, and the field that it is about."""

    patch: list[Operation]
    field: str


@starters.get("/starters")
@starters.output(StartersOut)
def all_starters():
    """The starters there are."""
    return {"starters": [{"id": key, **vars(one)} for key, one in STARTERS.items()]}


@starters.post("/shots/<shot_id>/starters/<starter>")
@starters.input(LayWish)
@starters.output(StarterEdit)
def lay_starter(shot_id: str, starter: str, json_data: LayWish):
    """The edit that lays a starter on a shape, in the shape's own size. Nothing is changed yet."""
    if starter not in STARTERS:
        raise NotFound("There is no starter of this name. Nothing was changed. Choose one of those in the list.")
    _, document = service().document(shot_id, json_data.revision)
    shot = parse_shot(document)
    if not isinstance(shot.items.get(json_data.item), Shape):
        raise Refusal("The shape is no longer in the shot. Nothing was changed. Choose another one.")
    asked = BoundsRequest(frame=json_data.frame, items=[json_data.item], browser=browser())
    bounds = service().bounds(shot_id, json_data.revision, asked)
    laying = laid(starter, shot, json_data.item, bounds)
    return {"patch": laying.patch, "field": laying.field_id}
