"""Items carried by others."""

from __future__ import annotations

from typing import Literal

import numpy as np

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id
from windsock.core.document.relations import carriers_of
from windsock.core.geometry.placement import turn_of
from windsock.core.refusals import Refusal
from windsock.core.timing.parameter import KeyedVector

DIGITS = 5


class CarryItem(ChangeBase):
    """Have an item be carried by another one, or by none. Without keys of its own it stays where it is at the frame."""

    kind: Literal["carry_item"] = "carry_item"
    item: Id
    carrier: Id | None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        name = edit.item_of(self.item).name
        if self.carrier is not None and self.carrier not in carriers_of(edit.shot, self.item):
            raise Refusal(f"{name} cannot be carried by that. Nothing was changed. Choose another item.")
        carry(edit, self.item, self.carrier)
        edit.says = f"{name} carried by {edit.shot.items[self.carrier].name if self.carrier else 'nothing'}"


def carry(edit: PlannedEdit, item: str, carrier: str | None) -> None:
    """Give an item another carrier, and where it has no keys the place and turn with which it stays where it is."""
    thing, moment = edit.shot.items[item], edit.shot.moment(edit.at_frame)
    edit.put(f"/items/{item}/parent", carrier)
    if thing.along is not None:
        edit.put(f"/items/{item}/along", None)
    if isinstance(thing.place, KeyedVector) or isinstance(thing.turn, KeyedVector):
        return
    world = edit.shot.standing(item, moment)
    within = world if carrier is None else np.linalg.inv(edit.shot.carrying(carrier, moment)) @ world
    edit.put(f"/items/{item}/place", [round(float(number), DIGITS) + 0.0 for number in within[:3, 3]])
    if thing.aim is None:  # else it turns by what it aims at
        edit.put(f"/items/{item}/turn", [round(float(angle), DIGITS) + 0.0 for angle in turn_of(within)])
