"""Changes of recipes: steps, and the fields that drive them."""

from __future__ import annotations

from typing import Literal, get_args

from pydantic import JsonValue

from windsock.core.changing.adding import NewName
from windsock.core.changing.change import ChangeBase
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id, in_order
from windsock.core.document.items import Controller, Path, Shape
from windsock.core.document.references import references
from windsock.core.document.relations import needed_for, scenery
from windsock.core.document.shot import Shot
from windsock.core.refusals import Refusal
from windsock.core.steps import AnyStep


class AddStep(ChangeBase):
    """Add a step after the others, in the shape's own size. It takes the part that such a step is most likely for; one that
    would do all at once gets a front of its own."""

    kind: Literal["add_step"] = "add_step"
    item: Id
    step: Id

    def measured(self, shot: Shot) -> str | None:
        del shot
        return self.item

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        recipe = edit.shape_of(self.item).recipe
        kind = next((one for one in get_args(AnyStep) if one.kind_name() == self.step), None)
        if kind is None:
            raise Refusal(f"There is no step “{self.step}”. Nothing was changed. Choose one of those in the list.")
        given: dict[str, JsonValue] = kind.sized(bounds.largest)
        standing = scenery(edit.shot)
        others = [key for key, item in in_order(edit.shot.items) if isinstance(item, Shape) and key != self.item]
        paths = [key for key, item in in_order(edit.shot.items) if isinstance(item, Path)]
        # Rather one that is more than scenery, and none that is itself made from this one.
        free = [key for key in others if self.item not in needed_for(edit.shot, key)]
        given |= kind.referring(sorted(free, key=lambda key: key in standing), paths)
        plain = kind(rank=0)
        made = plain.made()
        if made is not None:
            given["makes"] = edit.add_part_to(self.item, made.capitalize())
        if plain.at_middles:
            parts = [one.made() for _, one in in_order(recipe.steps)]
            given["part"] = next((part for part in reversed(parts) if part is not None), "body")
        if plain.wants_front:
            given["field"] = edit.field_id = add_front(edit, bounds)
        edit.add_step_to(self.item, self.step, given)
        edit.says = f"add {plain.named()}"


class DriveByNewField(ChangeBase):
    """Have a step be driven by a new field: about the first controller of the shot, or 0 everywhere where there is none."""

    kind: Literal["drive_by_new_field"] = "drive_by_new_field"
    item: Id
    step: Id
    name: NewName = "Field"

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        if self.step not in edit.shape_of(self.item).recipe.steps:
            raise Refusal("The step is no longer in the recipe. Nothing was changed. Choose another one.")
        controllers = [key for key, item in in_order(edit.shot.items) if isinstance(item, Controller)]
        sources: JsonValue = (
            {"around": {"kind": "around", "rank": 0, "controller": controllers[0]}} if controllers else {}
        )
        edit.field_id = edit.add_field(self.name, {"sources": sources})
        edit.put(f"/items/{self.item}/recipe/steps/{self.step}/field", edit.field_id)
        edit.says = "a new field"


class MakeApart(ChangeBase):
    """Let a step make a part of its own, named by a word, or change the one that it takes."""

    kind: Literal["make_apart"] = "make_apart"
    item: Id
    step: Id
    word: Id | None = None

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        path = f"/items/{self.item}/recipe/steps/{self.step}/makes"
        made = edit.add_part_to(self.item, self.word.capitalize()) if self.word else None
        edit.put(path, made)
        edit.says = f"{self.word} of their own" if self.word else "in place of what they are of"


class CopyOneMoreShape(ChangeBase):
    """Have a step copy one more shape: the first of the shot that it does not copy yet."""

    kind: Literal["copy_one_more_shape"] = "copy_one_more_shape"
    item: Id
    step: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        step = edit.shape_of(self.item).recipe.steps.get(self.step)
        if step is None:
            raise Refusal("The step is no longer in the recipe. Nothing was changed. Choose another one.")
        shapes = [key for key, item in in_order(edit.shot.items) if isinstance(item, Shape) and key != self.item]
        made = step.copying(shapes)
        if made is None:
            raise Refusal("There is no other shape that it could copy. Nothing was changed. Add a shape first.")
        setting, entry = made
        edit.key = edit.add(
            f"/items/{self.item}/recipe/steps/{self.step}/{setting}", "shape", getattr(step, setting), entry
        )
        edit.says = "a shape to copy"


def add_front(edit: PlannedEdit, bounds: Bounds) -> str:
    """Add a field about a controller that no field measures from yet, or a new one beside the shape; its id."""
    size, (x, y, z) = bounds.largest, bounds.centre
    used = {one.id for one in references(edit.shot) if one.to == "items" and one.owner.startswith("/fields/")}
    free = [key for key, item in in_order(edit.shot.items) if isinstance(item, Controller) and key not in used]
    controller = free[0] if free else edit.add_controller((x + size * 0.6, y, z))
    reach = rounded(size * 0.6)
    around: JsonValue = {
        "kind": "around",
        "rank": 0,
        "controller": controller,
        "reach": reach,
        "soft": rounded(reach * 0.6),
    }
    noise: JsonValue = {
        "kind": "noise",
        "rank": 1,
        "word": "roughened by",
        "size": rounded(size * 0.15),
        "octaves": 4,
        "contrast": 50,
    }
    return edit.add_field("Front", {"sources": {"around": around, "noise": noise}})


def rounded(length: float) -> float:
    """A length of two digits."""
    return float(f"{length:.2g}")
