"""Clauses added to fields, and the groups that clauses measure from."""

from __future__ import annotations

from typing import Literal, get_args

from pydantic import JsonValue

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id, in_order
from windsock.core.document.items import Controller, Group
from windsock.core.document.references import referring
from windsock.core.document.relations import measurable
from windsock.core.fields import AnySource
from windsock.core.fields.field import Field
from windsock.core.refusals import Refusal


class AddClause(ChangeBase):
    """Add a clause after the others of a field. It measures from the first controller, group or other field of the shot that
    it may, or from a new controller or group where there is none."""

    kind: Literal["add_clause"] = "add_clause"
    field: Id
    source: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        field = field_of(edit, self.field)
        kind = next((one for one in get_args(AnySource) if one.kind_name() == self.source), None)
        if kind is None:
            raise Refusal(f"No clause is “{self.source}”. Nothing was changed. Choose one of those in the list.")
        given = kind.added(len(field.sources))
        for setting, (to, optional) in referring(kind).items():
            if not optional:
                given[setting] = _measured_from(edit, self.field, to)
        edit.add_source(self.field, self.source, given)
        edit.says = f"{field.letter} with {self.source}"


class RemoveClause(ChangeBase):
    """Take a clause out of a field."""

    kind: Literal["remove_clause"] = "remove_clause"
    field: Id
    source: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        field = field_of(edit, self.field)
        if self.source not in field.sources:
            raise Refusal("The clause is no longer in the field. Nothing was changed. Choose another one.")
        edit.remove(f"/fields/{self.field}/sources/{self.source}")
        edit.says = f"{field.letter} without {field.sources[self.source].named()}"


class Remember(ChangeBase):
    """Have a field remember the most it was, for good or fading, or not at all."""

    kind: Literal["remember"] = "remember"
    field: Id
    memory: Literal["hold", "fade", "none"] = "hold"

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        before = field_of(edit, self.field).memory
        plain: dict[str, JsonValue] = {} if before is None else before.model_dump(mode="json")
        edit.put(f"/fields/{self.field}/memory", None if self.memory == "none" else plain | {"kind": self.memory})
        edit.says = "no memory" if self.memory == "none" else f"memory: {self.memory}"


class MeasureFromNewGroup(ChangeBase):
    """Have a clause measure from a new group."""

    kind: Literal["measure_from_new_group"] = "measure_from_new_group"
    field: Id
    source: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        if self.source not in field_of(edit, self.field).sources:
            raise Refusal("The clause is no longer in the field. Nothing was changed. Choose another one.")
        edit.put(f"/fields/{self.field}/sources/{self.source}/group", edit.add_group("Group", []))
        edit.says = "a new group"


class ReadNewGroup(ChangeBase):
    """Have a step read the shapes of a new group."""

    kind: Literal["read_new_group"] = "read_new_group"
    item: Id
    step: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        step = edit.shape_of(self.item).recipe.steps.get(self.step)
        if step is None or "group" not in type(step).model_fields:
            raise Refusal("No such step reads a group. Nothing was changed. Choose another one.")
        edit.put(f"/items/{self.item}/recipe/steps/{self.step}/group", edit.add_group("Group", []))
        edit.says = "a new group"


class ChangeMember(ChangeBase):
    """Take an item into a group, or out of it where it is in it."""

    kind: Literal["change_member"] = "change_member"
    group: Id
    item: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        group, item = _group_of(edit, self.group), edit.item_of(self.item)
        path = f"/groups/{self.group}/members/{self.item}"
        if self.item in group.members:
            edit.remove(path)
        else:
            rank = max((one.rank for one in group.members.values()), default=-1) + 1
            edit.add_value(path, {"rank": rank})
        edit.says = f"{item.name} {'leaves' if self.item in group.members else 'joins'} {group.name}"


def field_of(edit: PlannedEdit, field: str) -> Field:
    """A field of the shot. Raises Refusal where it is not there (any more)."""
    if field not in edit.shot.fields:
        raise Refusal("The field is no longer in the shot. Nothing was changed. Choose another one.")
    return edit.shot.fields[field]


def _measured_from(edit: PlannedEdit, field: str, to: str) -> JsonValue:
    """What a new clause of a field measures from."""
    if to == "items":
        controllers = [key for key, item in in_order(edit.shot.items) if isinstance(item, Controller)]
        return controllers[0] if controllers else edit.add_controller((1.5, 1.0, 0.0))
    if to == "groups":
        groups = [key for key, _ in in_order(edit.shot.groups)]
        return groups[0] if groups else edit.add_group("Group", [])
    fields = measurable(edit.shot, field)
    if not fields:
        letter = edit.shot.fields[field].letter
        raise Refusal(
            f"There is no other field that {letter} could measure from. Nothing was changed. Add a field first."
        )
    return fields[0]


def _group_of(edit: PlannedEdit, group: str) -> Group:
    if group not in edit.shot.groups:
        raise Refusal("The group is no longer in the shot. Nothing was changed. Choose another one.")
    return edit.shot.groups[group]
