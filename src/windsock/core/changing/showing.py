"""Shapes shown and hidden."""

from __future__ import annotations

from typing import Literal

from pydantic import JsonValue

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.keys import key_on
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id
from windsock.core.timing.parameter import Finite, KeyedNumber


class ShowShape(ChangeBase):
    """Show or hide a shape at all frames, or from a frame on until the next key."""

    kind: Literal["show_shape"] = "show_shape"
    item: Id
    shown: bool
    from_frame: Finite | None = None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        shape, path, value = edit.shape_of(self.item), f"/items/{self.item}/shown", float(self.shown)
        edit.says = f"{'show' if self.shown else 'hide'} {shape.name}"
        if self.from_frame is None:
            edit.put(path, value)
            return
        edit.says += f" at {self.from_frame:g}"
        key: JsonValue = {"frame": self.from_frame, "value": value, "easing": {"kind": "hold"}}
        if not isinstance(shape.shown, KeyedNumber):
            begins = min(float(edit.shot.frames.first), self.from_frame - 1)
            first: JsonValue = {"frame": begins, "value": shape.shown, "easing": {"kind": "hold"}}
            edit.put(path, {"keys": {"k1": first, "k2": key}})
            return
        keys = shape.shown.keys
        there = key_on(shape.shown, self.from_frame)
        if there is not None:
            edit.put(f"{path}/keys/{there}", key)
        else:
            edit.add(f"{path}/keys", "k", list(keys), key)
