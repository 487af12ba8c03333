"""Movement that was made elsewhere, laid on an item."""

from __future__ import annotations

import hashlib
import secrets
from typing import Annotated

from apiflask import APIBlueprint
from flask import request
from pydantic import BaseModel, Field, StringConstraints

from windsock.core.declarations import Id
from windsock.core.document.items import ScaledItem
from windsock.core.document.patches import Operation
from windsock.core.document.shot import parse_shot
from windsock.core.geometry.movement import Setting
from windsock.core.refusals import Refusal
from windsock.formats.limits import FILE_LIMIT
from windsock.protocol.replies import FittedMovement, MovingThing
from windsock.protocol.requests import MovementRequest
from windsock.web.guard import browser
from windsock.web.problems import problem
from windsock.web.service import service

movement = APIBlueprint("movement", __name__, url_prefix="/api/shots")


class MovementWish(BaseModel):
    """Which movement of a file an item is to follow, and how nearly."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=120), Field(description="Of the file")]
    revision: Annotated[int, Field(ge=0)]
    item: Id
    thing: Annotated[int, Field(ge=0, le=1000, description="Which of the things that move in it")] = 0
    turns: Annotated[bool, Field(description="How it is turned follows as well, where that moves")] = True
    stretches: Annotated[bool, Field(description="How it is stretched follows as well, where that moves")] = True
    begins: Annotated[float | None, Field(ge=-100_000, le=100_000, description="Frame of the first moment")] = None
    unit: Annotated[float, Field(gt=0, le=1000, description="Metres in a unit of the file")] = 1.0
    within: Annotated[float, Field(ge=1e-6, le=1000, description="Metres that keys may be off")] = 0.001
    within_turn: Annotated[float, Field(ge=1e-4, le=90, description="Degrees that keys may be off")] = 0.1


class LaidKeys(BaseModel):
    """Keys of one setting: how many, and how far they are off at most, in metres, degrees or factors."""

    setting: Setting
    count: int
    off: float


class LaidMovement(BaseModel):
    """What moves in a file, and the edit that lays one of its movements on an item."""

    things: list[MovingThing]
    moves: list[Setting]
    begins: float
    keys: list[LaidKeys]
    patch: list[Operation]


@movement.post("/<shot_id>/movement")
@movement.input(MovementWish, location="query")
@movement.output(LaidMovement)
def bring_movement(shot_id: str, query_data: MovementWish):
    """The edit that gives an item the movement in a file, sent as the body, by few keys. Nothing is changed yet, and the file
    is not kept."""
    if (request.content_length or 0) > FILE_LIMIT:
        return problem(
            413,
            f"The file is larger than {FILE_LIMIT // 2**20} MB. Nothing was changed. Write fewer moments or things.",
        )
    content = request.get_data(cache=False)
    _, document = service().document(shot_id, query_data.revision)
    shot = parse_shot(document)
    item = shot.items.get(query_data.item)
    if item is None:
        raise Refusal("The item is not here any more. Nothing was changed. Choose another one.")
    kind = "".join(filter(str.isalnum, query_data.name.rsplit(".", 1)[-1].lower()))[:8] or "none"
    takes: list[Setting] = ["place"]
    if query_data.turns:
        takes.append("turn")
    if query_data.stretches and isinstance(item, ScaledItem):
        takes.append("scale")
    asked = MovementRequest(
        asset=f"movement-{secrets.token_hex(16)}",
        digest=f"{kind} {hashlib.sha256(content).hexdigest()}",
        thing=query_data.thing,
        takes=takes,
        begins=query_data.begins,
        first_frame=shot.frames.first,
        fps=shot.rate.fps,
        unit=query_data.unit,
        within=query_data.within,
        within_turn=query_data.within_turn,
        browser=browser(),
    )
    service().assets.lay_out(asked.asset, kind, content)
    try:
        reply, _ = service().ask(asked)
    finally:
        service().assets.clear(asked.asset)
    found = FittedMovement.model_validate(reply.data)
    return {
        "things": found.things,
        "moves": found.moves,
        "begins": found.begins,
        "keys": [LaidKeys(setting=setting, count=one.count, off=one.off) for setting, one in found.keyed.items()],
        "patch": [
            Operation(op="replace", path=f"/items/{query_data.item}/{setting}", value=one.value)
            for setting, one in found.keyed.items()
        ],
    }
