"""Settings chosen from lists, with what follows from them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.order import Pointer
from windsock.core.changing.planned import Bounds, PlannedEdit


class Choose(ChangeBase):
    """Choose what one setting of a thing is, with the other settings that follow from it."""

    kind: Literal["choose"] = "choose"
    of: Pointer
    setting: Annotated[str, StringConstraints(pattern=r"^[a-z_]{1,40}$")]
    value: Annotated[str, Field(max_length=80)] | bool | None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        for setting, value in edit.thing_at(self.of).chosen(self.setting, self.value).items():
            edit.put(f"{self.of}/{setting}", value)
        edit.says = f"{self.setting.replace('_', ' ')} {self.value}"
