"""Settings brought to where a shot closes on itself."""

from __future__ import annotations

from typing import Literal

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id
from windsock.core.refusals import Refusal


class CloseStep(ChangeBase):
    """Bring a setting of a step to the nearest value at which the step is at the end of the shot as it was at its start."""

    kind: Literal["close_step"] = "close_step"
    item: Id
    step: Id
    setting: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        step = edit.shape_of(self.item).recipe.steps.get(self.step)
        if step is None:
            raise Refusal("The step is no longer in the recipe. Nothing was changed. Choose another one.")
        value = step.closing(self.setting, edit.shot.lasts)
        edit.put(f"/items/{self.item}/recipe/steps/{self.step}/{self.setting}", value)
        edit.says = f"{self.setting} so that the shot closes"
