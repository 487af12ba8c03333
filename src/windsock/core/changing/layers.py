"""Changes of the layers that are pictured apart."""

from __future__ import annotations

from typing import Literal

from pydantic import JsonValue

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id
from windsock.core.document.layers import PictureLayer, Role
from windsock.core.refusals import Refusal

SAID = {"shown": "is shown", "matte": "is a matte", "held_out": "is held out", "glow_only": "only glows"}


class AddLayer(ChangeBase):
    """Add a layer with items shown in it, and have pictures show it."""

    kind: Literal["add_layer"] = "add_layer"
    items: list[Id]

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        members: dict[str, JsonValue] = {
            item: {"rank": place} for place, item in enumerate(dict.fromkeys(self.items)) if edit.item_of(item)
        }
        edit.key = edit.add_layer("Layer", members)
        edit.put("/pictured", edit.key)
        edit.says = "add a layer"


class RemoveLayer(ChangeBase):
    """Remove a layer; its items stay. Pictures that showed it show everything."""

    kind: Literal["remove_layer"] = "remove_layer"
    layer: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        layer = _layer_of(edit, self.layer)
        if edit.shot.pictured == self.layer:
            edit.put("/pictured", None)
        edit.remove(f"/layers/{self.layer}")
        edit.says = f"remove {layer.name}"


class PictureInLayer(ChangeBase):
    """Have an item be seen in a layer in one way or another; None: it is not in it."""

    kind: Literal["picture_in_layer"] = "picture_in_layer"
    layer: Id
    item: Id
    role: Role | None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        layer, item = _layer_of(edit, self.layer), edit.item_of(self.item)
        path = f"/layers/{self.layer}/items/{self.item}"
        if self.role is None:
            if self.item in layer.items:
                edit.remove(path)
            edit.says = f"{item.name} leaves {layer.name}"
            return
        if self.item in layer.items:
            edit.put(f"{path}/role", self.role)
        else:
            rank = max((one.rank for one in layer.items.values()), default=-1) + 1
            edit.add_value(path, {"rank": rank, "role": self.role})
        edit.says = f"{item.name} {SAID[self.role]} in {layer.name}"


def _layer_of(edit: PlannedEdit, layer: str) -> PictureLayer:
    if layer not in edit.shot.layers:
        raise Refusal("The layer is no longer in the shot. Nothing was changed. Choose another one.")
    return edit.shot.layers[layer]
