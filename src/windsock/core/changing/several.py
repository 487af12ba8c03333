"""What is done to several items at once, as one edit."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.changing.carrying import CarryItem
from windsock.core.changing.change import ChangeBase
from windsock.core.changing.keys import move_parameter
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.changing.removing import RemoveItem
from windsock.core.changing.showing import ShowShape
from windsock.core.declarations import Id
from windsock.core.document.items import Camera, ScaledItem, Shape
from windsock.core.document.patches import MOST_OPERATIONS, difference, patched
from windsock.core.document.shot import parse_shot
from windsock.core.refusals import Refusal
from windsock.core.timing.parameter import Vector

Items = Annotated[list[Id], Field(min_length=1, max_length=400)]
MOST_GROUPED = 256


class DoSeveral(ChangeBase):
    """Several changes as one edit, each of the shot as it was before all of them."""

    kind: Literal["do_several"] = "do_several"
    changes: Annotated[
        list[Annotated[CarryItem | RemoveItem | ShowShape, Field(discriminator="kind")]],
        Field(min_length=1, max_length=400),
    ]

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        said: list[str] = []
        warnings: list[str] = []
        for change in self.changes:
            if edit.gone(f"/items/{change.item}"):
                continue  # it goes with one before
            edit.warning = ""
            change.plan(edit, bounds)
            said.append(edit.says)
            warnings += [edit.warning] if edit.warning else []
        _look_through_what_is_left(edit)
        edit.says = said[0] if len(said) == 1 else f"{said[0]} and {len(said) - 1} more"
        edit.warning = " ".join(warnings)
        if warnings and len(said) > 1:
            edit.agree = "Remove them"
        if len(edit.patch) > MOST_OPERATIONS:
            after = parse_shot(patched(edit.plain, edit.patch)).model_dump(mode="json")
            edit.patch = difference(edit.plain, after)


def _look_through_what_is_left(edit: PlannedEdit) -> None:
    """Where cameras go, the shot does not look through one that goes as well."""
    if any(one.path == "/camera" for one in edit.patch):
        edit.patch = [one for one in edit.patch if one.path != "/camera"]
        left = [
            key for key, one in edit.shot.items.items() if isinstance(one, Camera) and not edit.gone(f"/items/{key}")
        ]
        edit.put("/camera", next(iter(left), None))


class MoveItems(ChangeBase):
    """Move, turn or stretch items, all by as much. What one of them carries goes with it and is left out.

    by: metres along the axes of the world, degrees about X, Y and Z, or factors along each item's own axes. Keyed items get a
    key at the frame, or all their keys are moved alike. A shape or controller alone can be stretched.
    """

    kind: Literal["move_items"] = "move_items"
    items: Items
    setting: Literal["place", "turn", "scale"] = "place"
    by: Vector | None = None
    whole_curve: bool = False

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        at_rest: Vector = (1.0, 1.0, 1.0) if self.setting == "scale" else (0.0, 0.0, 0.0)
        moved = [item for item in dict.fromkeys(self.items) if not self._goes_along(edit, item)]
        if self.setting == "scale":
            moved = [item for item in moved if isinstance(edit.item_of(item), ScaledItem)]
        for item in moved:
            at, linear = f"/items/{item}/{self.setting}", self._linear(edit, item)
            move_parameter(edit, at, self.by or at_rest, linear, self.whole_curve)
        names = [edit.item_of(item).name for item in moved]
        if not names:
            raise Refusal("None of these can be stretched. Nothing was changed. Choose shapes or controllers.")
        words = {"place": "move", "turn": "turn", "scale": "stretch"}[self.setting]
        edit.says = f"{words} {names[0]}" + (f" and {len(names) - 1} more" if len(names) > 1 else "")

    def _goes_along(self, edit: PlannedEdit, item: str) -> bool:
        """Whether it is carried by another of the items."""
        carrier = edit.item_of(item).parent
        while carrier is not None:
            if carrier in self.items:
                return True
            carrier = edit.item_of(carrier).parent
        return False

    def _linear(self, edit: PlannedEdit, item: str) -> NDArray[np.float64] | None:
        """(3, 3) what makes of `by` what is added to the item's own numbers; None where it is a factor of each."""
        if self.setting == "scale":
            return None
        thing = edit.shot.items[item]
        if self.setting == "turn" or thing.parent is None:
            return np.eye(3)
        return edit.shot.space_of(item, edit.shot.moment(edit.at_frame))[:3, :3].T  # a rotation


class GroupItems(ChangeBase):
    """Make a group of items, to measure from together."""

    kind: Literal["group_items"] = "group_items"
    items: Annotated[list[Id], Field(min_length=1, max_length=MOST_GROUPED)]

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        items = list(dict.fromkeys(self.items))
        names = [edit.item_of(item).name for item in items]
        edit.key = edit.add_group("Group", items)
        edit.says = f"group of {names[0]}" + (f" and {len(names) - 1} more" if len(names) > 1 else "")


class GiveLook(ChangeBase):
    """Give shapes the look of another one."""

    kind: Literal["give_look"] = "give_look"
    of: Id
    to: Items

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        source = edit.shape_of(self.of)
        to = [item for item in dict.fromkeys(self.to) if item != self.of and isinstance(edit.item_of(item), Shape)]
        if not to:
            raise Refusal("There is no other shape to give this look to. Nothing was changed. Choose more shapes.")
        for item in to:
            edit.put(f"/items/{item}/look", source.look.model_dump(mode="json"))
        edit.says = f"look of {source.name} for {len(to)} more"
