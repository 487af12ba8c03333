"""Bringing things into the picture."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from apiflask import APIBlueprint
from pydantic import BaseModel, Field

from windsock.core.declarations import Id
from windsock.core.document.framing import in_picture, into_view
from windsock.core.document.patches import Operation, patched
from windsock.core.document.shot import parse_shot
from windsock.protocol.requests import BoundsRequest
from windsock.web.frames import ViewedShot
from windsock.web.service import service

framing = APIBlueprint("framing", __name__, url_prefix="/api")


class ViewWish(ViewedShot):
    """What is to be seen; everything that is shown where nothing is named."""

    items: Annotated[list[Id], Field(max_length=256)] = []
    band: Annotated[
        Id | None, Field(description="Where the band of this field is on them, instead of the whole of them")
    ] = None
    always: Annotated[bool, Field(description="Also where it is in the picture already")] = False


class ViewEdit(BaseModel):
    """The edit that brings it into the picture: nothing where it is there, or where the shot has no camera. middle, size:
    of the box about it, in world metres."""

    patch: list[Operation]
    middle: tuple[float, float, float]
    size: tuple[float, float, float]


@framing.post("/shots/<shot_id>/into-view")
@framing.input(ViewWish)
@framing.output(ViewEdit)
def bring_into_view(shot_id: str, json_data: ViewWish):
    """The edit of the camera that brings things into the picture, with a patch on top. Nothing is changed yet."""
    asked = BoundsRequest(**json_data.asking(), items=list(json_data.items), band=json_data.band)
    bounds = service().bounds(shot_id, json_data.revision, asked)
    middle, half = np.array(bounds.centre), np.maximum(np.array(bounds.size) / 2, 1e-4)
    _, document = service().document(shot_id, json_data.revision)
    shot = parse_shot(patched(document, json_data.patch) if json_data.patch else document)
    low, high = middle - half, middle + half
    there = not json_data.always and in_picture(shot, json_data.frame, low, high)
    patch = [] if there else into_view(shot, json_data.frame, low, high)
    return {"patch": patch, "middle": bounds.centre, "size": bounds.size}
