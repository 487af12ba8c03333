"""Things taken out of a shot, with what cannot do without them."""

from __future__ import annotations

from typing import Literal

from windsock.core.changing.carrying import carry
from windsock.core.changing.change import ChangeBase
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id
from windsock.core.document.items import Camera
from windsock.core.document.references import Reference, references_to
from windsock.core.document.shot import Shot
from windsock.core.refusals import Refusal


class RemoveItem(ChangeBase):
    """Remove an item. What refers to it lets go of it; what cannot do without it goes too."""

    kind: Literal["remove_item"] = "remove_item"
    item: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        name = edit.item_of(self.item).name
        remove_item(edit, self.item)
        _say_removed(edit, name, references_to(edit.shot, "items", self.item))


class RemoveGroup(ChangeBase):
    """Remove a group; its members stay. Clauses that measure from it go too."""

    kind: Literal["remove_group"] = "remove_group"
    group: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        group = edit.shot.groups.get(self.group)
        if group is None:
            raise Refusal("The group is no longer in the shot. Nothing was changed. Choose another one.")
        found = references_to(edit.shot, "groups", self.group)
        for one in found:
            _release(edit, one, self.group)
        edit.remove(f"/groups/{self.group}")
        _say_removed(edit, f"the group {group.name}", found)


class RemoveStep(ChangeBase):
    """Remove a step, and the steps that work on the part that it makes where no other step makes that."""

    kind: Literal["remove_step"] = "remove_step"
    item: Id
    step: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        steps = edit.shape_of(self.item).recipe.steps
        step = steps.get(self.step)
        if step is None:
            return
        others = remove_step(edit, self.item, self.step)
        edit.says = f"no {step.named()}"
        if others:
            names = " and ".join(steps[one].named() for one in others)
            edit.warning = f"{names} works on what {step.named()} makes and goes with it."
            edit.agree = "Remove them"


def _say_removed(edit: PlannedEdit, name: str, found: list[Reference]) -> None:
    """Say what is removed, and warn where something refers to it."""
    edit.says = f"remove {name}"
    users = list(dict.fromkeys(user_of(edit.shot, one) for one in found))
    if users:
        told = f"{name} is used by {' and '.join(users)}. Removing it takes those clauses away too."
        edit.warning, edit.agree = told[0].upper() + told[1:], "Remove it"


def remove_item(edit: PlannedEdit, item: str) -> None:
    """Take an item out of the shot."""
    for one in references_to(edit.shot, "items", item):
        _release(edit, one, item)
    edit.remove(f"/items/{item}")


def remove_step(edit: PlannedEdit, item: str, step: str) -> list[str]:
    """Take a step out of a recipe; the ids of the others that go with it."""
    recipe, path = edit.shape_of(item).recipe, f"/items/{item}/recipe"
    made = recipe.steps[step].made()
    elsewhere = any(one.made() == made for key, one in recipe.steps.items() if key != step)
    others: list[str] = []
    if made is not None and not elsewhere:
        others = [key for key, one in recipe.steps.items() if one.part == made and key != step]
        others += [further for key in others for further in remove_step(edit, item, key)]
    edit.remove(f"{path}/steps/{step}")
    if made is not None and not elsewhere:
        edit.remove(f"{path}/parts/{made}")
        for key, finish in edit.shot.finishing.items():
            if (finish.item, finish.part) == (item, made):
                edit.put(f"/finishing/{key}/part", None)
                edit.put(f"/finishing/{key}/on", False)
    return list(dict.fromkeys(others))


def _release(edit: PlannedEdit, one: Reference, item: str) -> None:
    """Have what refers to an item do without it, or take it away."""
    if isinstance(one.declared, Shot):
        cameras = [key for key, other in edit.shot.items.items() if isinstance(other, Camera) and key != item]
        edit.put("/camera", next(iter(cameras), None))
    elif one.member:
        edit.remove(one.pointer)
    elif one.setting == "parent":
        carry(edit, one.owner.rpartition("/")[2], None)
    elif one.optional:
        for setting, value in one.declared.released(one.setting).items():
            edit.put(f"{one.owner}/{setting}", value)
    elif one.owner.endswith("/geometry"):
        remove_item(edit, one.owner.split("/")[2])
    else:
        edit.remove(one.owner)


def user_of(shot: Shot, one: Reference) -> str:
    """In words, what refers to a thing."""
    match one.owner.strip("/").split("/"):
        case ["fields", field, *_]:
            return f"field {shot.fields[field].letter} {shot.fields[field].name}"
        case ["groups", group, *_]:
            return shot.groups[group].name
        case ["items", item, "recipe", *_]:
            return f"a step of {shot.items[item].name}"
        case ["items", item, "geometry"]:
            return f"{shot.items[item].name}, which is made from it and goes with it,"
        case ["items", item]:
            words = {"parent": "which it carries", "focus_on": "which keeps it sharp"}
            return f"{shot.items[item].name}, {words.get(one.setting, 'which aims at it')},"
        case ["layers", layer, *_]:
            return f"the layer {shot.layers[layer].name}"
        case ["finishing", step]:
            return f"the finishing step {shot.finishing[step].named()}"
        case _:
            return "the shot, as its camera"
