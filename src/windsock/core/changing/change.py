"""What every change declares that a person can ask for."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.document.shot import Shot


class ChangeBase(BaseModel):
    """Something that is to be done to a shot; it says itself what edit that is."""

    model_config = ConfigDict(extra="forbid", strict=True, frozen=True, allow_inf_nan=False)

    def measured(self, shot: Shot) -> str | None:
        """The shape whose size it needs to know; None where it needs none."""
        del shot
        return None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        """Gather the edit. bounds: of the item that is measured. Raises Refusal where it cannot be done."""
        raise NotImplementedError
