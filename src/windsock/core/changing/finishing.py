"""Changes of how the picture is finished."""

from __future__ import annotations

from typing import Literal, get_args

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id
from windsock.core.finishing import AnyFinish
from windsock.core.refusals import Refusal


class AddFinish(ChangeBase):
    """Add a step after the others that finish the picture."""

    kind: Literal["add_finish"] = "add_finish"
    step: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        kind = next((one for one in get_args(AnyFinish) if one.kind_name() == self.step), None)
        if kind is None:
            raise Refusal(
                f"No picture is finished by “{self.step}”. Nothing was changed. Choose one of those in the list."
            )
        edit.key = edit.add_finish(self.step, {})
        edit.says = f"add {kind.named()}"
