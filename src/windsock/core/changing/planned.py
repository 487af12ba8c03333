"""An edit as it is put together, operation by operation, over a shot."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import cast

from pydantic import JsonValue

from windsock.core.declarations import Declared, HasRank
from windsock.core.document.items import AnyItem, Shape
from windsock.core.document.patches import Nothing, Operation, patched, value_at
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.refusals import Refusal

LETTERS = [chr(65 + place) for place in range(26)]


@dataclass(frozen=True)
class Bounds:
    """Where a shape stands, in world metres: the middle and the size of the box about it."""

    centre: tuple[float, float, float]
    size: tuple[float, float, float]

    @property
    def largest(self) -> float:
        return max(*self.size, 1e-3)

    @property
    def is_flat(self) -> bool:
        """Whether it lies there: not a quarter as high as it is wide or deep."""
        return self.size[1] < 0.25 * max(self.size[0], self.size[2])


@dataclass(frozen=True)
class Slot:
    """Where a value goes in an edit: `within` the value of the operation with this number, as a JSON Pointer, and what is
    added to each of its numbers. times: the rows of a matrix that the value is multiplied by before that, if any."""

    operation: int
    within: str
    plus: tuple[float, ...]
    times: tuple[tuple[float, ...], ...] = ()


@dataclass
class PlannedEdit:
    """Gathers operations; what they add counts for what comes after.

    at_frame: the one that is looked at. says: the edit in a few words. item_id, field_id: what it is about, if anything. key:
    the id of what it adds to a collection within one of these.
    warning: in words, what else goes with it; the person is asked before it is done, and agrees by a button with the words
    of `agree`. slots: where a value goes that is dragged.
    """

    shot: Shot
    at_frame: float = 0.0
    says: str = ""
    item_id: str = ""
    field_id: str = ""
    key: str = ""
    warning: str = ""
    agree: str = ""
    patch: list[Operation] = field(default_factory=list[Operation])
    slots: list[Slot] = field(default_factory=list["Slot"])

    @cached_property
    def plain(self) -> JsonValue:
        """The shot as JSON, before the edit."""
        return self.shot.model_dump(mode="json")

    def at(self, path: str) -> JsonValue:
        """What is at a JSON Pointer of the shot. Raises Refusal where nothing is (any more)."""
        found = value_at(self.plain, path)
        if isinstance(found, Nothing):
            raise Refusal("This value is no longer in the shot. Nothing was changed. Look at the shot as it is now.")
        return found

    def thing_at(self, path: str) -> Declared:
        """The thing at a JSON Pointer of the shot. Raises Refusal where none is (any more)."""
        thing: object = self.shot
        for name in path.strip("/").split("/"):
            found: object = thing
            thing = cast(dict[str, object], found).get(name) if isinstance(found, dict) else _setting(found, name)
        if not isinstance(thing, Declared):
            raise Refusal("This thing is no longer in the shot. Nothing was changed. Look at the shot as it is now.")
        return thing

    def gone(self, path: str) -> bool:
        """Whether what is at a JSON Pointer is taken away by the edit."""
        return any(one.op == "remove" and f"{path}/".startswith(f"{one.path}/") for one in self.patch)

    def put(self, path: str, value: JsonValue) -> None:
        """Replace the value at a JSON Pointer, unless that is taken away."""
        if not self.gone(path):
            self.patch.append(Operation(op="replace", path=path, value=value))

    def add_value(self, path: str, value: JsonValue) -> None:
        """Put a value where there is none, at a JSON Pointer."""
        self.patch.append(Operation(op="add", path=path, value=value))

    def add(self, where: str, stem: str, there: Iterable[str], value: JsonValue) -> str:
        """Add a value to a mapping at a JSON Pointer, under the first key that is free; the key."""
        number, taken = 1, set(there)
        while f"{stem}{number}" in taken:
            number += 1
        self.patch.append(Operation(op="add", path=f"{where}/{stem}{number}", value=value))
        return f"{stem}{number}"

    def remove(self, path: str) -> None:
        """Take away what is at a JSON Pointer, once."""
        if not self.gone(path):
            self.patch = [one for one in self.patch if not one.path.startswith(f"{path}/")]
            self.patch.append(Operation(op="remove", path=path))

    def item_of(self, item: str) -> AnyItem:
        """An item of the shot. Raises Refusal where it is not there (any more)."""
        if item not in self.shot.items:
            raise Refusal("The item is no longer in the shot. Nothing was changed. Choose another one.")
        return self.shot.items[item]

    def shape_of(self, item: str) -> Shape:
        """A shape of the shot. Raises Refusal where it is none (any more)."""
        found = self.shot.items.get(item)
        if not isinstance(found, Shape):
            raise Refusal("The shape is no longer in the shot. Nothing was changed. Choose another one.")
        return found

    def add_item(self, word: str, item: dict[str, JsonValue]) -> str:
        """Add an item named after a word; its id."""
        return self._add("/items", word, self.shot.items, item)

    def add_group(self, word: str, members: Iterable[str]) -> str:
        """Add a group; its id."""
        group: dict[str, JsonValue] = {"members": {member: {"rank": place} for place, member in enumerate(members)}}
        return self._add("/groups", word, self.shot.groups, group)

    def add_field(self, word: str, declared: dict[str, JsonValue]) -> str:
        """Add a field with the first free letter; its id. Its name is the word, or `Field A` for `Field`."""
        taken = {one.letter for one in self.shot.fields.values()} | {
            str(operation.value["letter"])
            for operation in self.patch
            if operation.path.startswith("/fields/") and isinstance(operation.value, dict)
        }
        letter = next(one for one in LETTERS + [f"A{one}" for one in LETTERS] if one not in taken)
        lettered: dict[str, JsonValue] = {"letter": letter}
        if word == "Field":
            lettered["name"] = f"Field {letter}"
        return self._add("/fields", word, self.shot.fields, lettered | declared)

    def add_part_to(self, item: str, word: str) -> str:
        """Add a part to a shape's recipe; its id."""
        return self._add(f"/items/{item}/recipe/parts", word, self.shape_of(item).recipe.parts, {})

    def add_step_to(self, item: str, kind: str, step: dict[str, JsonValue]) -> str:
        """Add a step after those of a shape's recipe; its id."""
        steps = self.shape_of(item).recipe.steps
        return self._add(f"/items/{item}/recipe/steps", kind, steps, {"kind": kind} | step, named=False)

    def add_finish(self, kind: str, step: dict[str, JsonValue]) -> str:
        """Add a step after those that finish the picture; its id."""
        return self._add("/finishing", kind, self.shot.finishing, {"kind": kind} | step, named=False)

    def add_layer(self, word: str, items: dict[str, JsonValue]) -> str:
        """Add a layer after the others; its id."""
        return self._add("/layers", word, self.shot.layers, {"items": items})

    def add_source(self, field: str, kind: str, source: dict[str, JsonValue]) -> str:
        """Add a clause after those of a field; its id."""
        sources = self.shot.fields[field].sources
        return self._add(f"/fields/{field}/sources", kind, sources, {"kind": kind} | source, named=False)

    def add_controller(self, place: tuple[float, float, float]) -> str:
        """Add a controller; its id."""
        return self.add_item("Controller", {"kind": "controller", "place": [*place]})

    def _add(
        self,
        where: str,
        word: str,
        there: Mapping[str, HasRank],
        thing: dict[str, JsonValue],
        named: bool = True,
    ) -> str:
        stem = re.sub(r"[^a-z0-9]+", "-", word.lower()).strip("-")[:24] or "thing"
        added = [operation.path for operation in self.patch if operation.op == "add"]
        number = 1
        while (key := stem if number == 1 else f"{stem}-{number}") in there or f"{where}/{key}" in added:
            number += 1
        name: dict[str, JsonValue] = {"name": word if number == 1 else f"{word} {number}"} if named else {}
        rank = max((thing.rank for thing in there.values()), default=-1) + 1
        rank += sum(path.rpartition("/")[0] == where for path in added)
        self.patch.append(Operation(op="add", path=f"{where}/{key}", value=name | {"rank": rank} | thing))
        return key

    def complete(self) -> None:
        """Spell out every default of what is put. Raises BadPatch or BadDocument where the edit does not fit the shot."""
        after = parse_shot(patched(self.plain, self.patch)).model_dump(mode="json")
        self.patch = [
            operation
            if operation.op == "remove"
            else operation.model_copy(update={"value": value_at(after, operation.path)})
            for operation in self.patch
        ]


def _setting(thing: object, name: str) -> object:
    """A declared setting of a thing; None where it has none of that name."""
    return getattr(thing, name) if isinstance(thing, Declared) and name in type(thing).model_fields else None
