"""Points put between others."""

from __future__ import annotations

from typing import Annotated, Literal, cast

from pydantic import StringConstraints

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.order import Pointer
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id
from windsock.core.refusals import Refusal


class AddBetween(ChangeBase):
    """Put one more point into an ordered collection of a thing: after one of its points, half way to the next."""

    kind: Literal["add_between"] = "add_between"
    of: Pointer
    setting: Annotated[str, StringConstraints(pattern=r"^[a-z_]{1,40}$")]
    after: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        thing, where = edit.thing_at(self.of), f"{self.of}/{self.setting}"
        made = thing.between(self.setting, self.after, edit.shot.moment(edit.at_frame).settled)
        if made is None:
            raise Refusal("No point can be put there. Nothing was changed. Choose another one.")
        there = cast(dict[str, object], getattr(thing, self.setting))
        edit.key = edit.add(where, "p", there, dict(made))
        edit.says = "one more point"
