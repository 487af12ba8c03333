"""Points put between others, and places marked as the same."""

from __future__ import annotations

from typing import Annotated, Literal, cast

from pydantic import JsonValue, StringConstraints

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.order import Pointer
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id
from windsock.core.refusals import Refusal
from windsock.core.steps.morphing import MOST_MARKS, MorphingStep
from windsock.core.timing.parameter import Vector


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


class AddMark(ChangeBase):
    """Mark two places as the same, for a step that takes one shape to another: one on the shape itself, one on the other, as each
    rests, in metres of its own space."""

    kind: Literal["add_mark"] = "add_mark"
    of: Pointer
    here: Vector
    there: Vector

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        step = edit.thing_at(self.of)
        if not isinstance(step, MorphingStep):
            raise Refusal("This step takes no marks. Nothing was changed. Choose one that turns a shape into another.")
        if len(step.marks) >= MOST_MARKS:
            raise Refusal(f"A step has at most {MOST_MARKS} marks. Nothing was changed. Take one away first.")
        rank = max((mark.rank for mark in step.marks.values()), default=-1) + 1
        mark: dict[str, JsonValue] = {"rank": rank, "here": [*self.here], "there": [*self.there]}
        edit.key = edit.add(f"{self.of}/marks", "m", step.marks, mark)
        edit.says = f"mark {len(step.marks) + 1}"
