"""Edits of a document: JSON Patches (RFC 6902) of add, replace and remove, and their inverses."""

from __future__ import annotations

import copy
from collections.abc import Iterator
from typing import Annotated, Literal

import jsonpatch
from jsonpointer import JsonPointer, JsonPointerException
from pydantic import BaseModel, ConfigDict, Field, JsonValue

from windsock.core.refusals import Refusal

MOST_OPERATIONS = 200


class Operation(BaseModel):
    """One change: a value put at a JSON Pointer, or taken from there. Places in arrays are not addressed."""

    model_config = ConfigDict(extra="forbid")

    op: Literal["add", "replace", "remove"]
    path: Annotated[str, Field(max_length=400, pattern=r"^(/([^/~]|~[01])+)+$")]
    value: JsonValue = None

    def plain(self) -> dict[str, JsonValue]:
        """The operation as RFC 6902 writes it."""
        listed: dict[str, JsonValue] = {"op": self.op, "path": self.path}
        return listed if self.op == "remove" else listed | {"value": self.value}


Patch = Annotated[list[Operation], Field(min_length=1, max_length=MOST_OPERATIONS)]


class BadPatch(Refusal):
    """A patch that does not fit the document."""


def patched(document: JsonValue, patch: list[Operation]) -> JsonValue:
    """A new document with the patch applied; the old one is unharmed. Raises BadPatch."""
    try:
        return jsonpatch.apply_patch(document, [operation.plain() for operation in patch])
    except (jsonpatch.JsonPatchException, JsonPointerException, TypeError, RecursionError):
        raise BadPatch(
            "This change concerns a thing that is no longer in the shot. Nothing was changed. Look at the shot as it is now."
        ) from None


def inverse(document: JsonValue, patch: list[Operation]) -> list[Operation]:
    """The patch that takes the patched document back to this one. Raises BadPatch."""
    undo: list[Operation] = []
    state = copy.deepcopy(document)
    for operation in patch:
        held = value_at(state, operation.path)
        if operation.op == "add" and held is NOTHING:
            undo.append(Operation(op="remove", path=operation.path))
        elif held is NOTHING:
            raise BadPatch("This change concerns a thing that is no longer in the shot. Nothing was changed.")
        else:
            back = "add" if operation.op == "remove" else "replace"
            undo.append(Operation(op=back, path=operation.path, value=copy.deepcopy(held)))  # pyright: ignore[reportArgumentType]
        state = patched(state, [operation])
    return undo[::-1]


def difference(before: JsonValue, after: JsonValue) -> list[Operation]:
    """An edit that takes one document to the other: by single values where they are few enough, else by whole branches."""
    for depth in (64, 4, 3, 2, 1):
        found = list(_differences(before, after, "", depth))
        if len(found) <= MOST_OPERATIONS:
            return found
    return found


def _differences(before: JsonValue, after: JsonValue, path: str, depth: int) -> Iterator[Operation]:
    if before == after and type(before) is type(after):
        return
    if not isinstance(before, dict) or not isinstance(after, dict) or depth == 0:
        yield Operation(op="replace", path=path, value=copy.deepcopy(after))
        return
    for key in [*before, *(key for key in after if key not in before)]:
        pointer = f"{path}/{key.replace('~', '~0').replace('/', '~1')}"
        if key not in after:
            yield Operation(op="remove", path=pointer)
        elif key not in before:
            yield Operation(op="add", path=pointer, value=copy.deepcopy(after[key]))
        else:
            yield from _differences(before[key], after[key], pointer, depth - 1)


class Nothing:
    """Stands for: there is no value."""


NOTHING = Nothing()


def value_at(document: JsonValue, path: str) -> JsonValue | Nothing:
    """The value at a JSON Pointer, or NOTHING. Raises BadPatch where the pointer leads into an array."""
    holder = document
    parts = JsonPointer(path).parts
    for part in parts:
        if isinstance(holder, list):
            raise BadPatch("A change must name a whole list, not a place in it. Nothing was changed.")
        if not isinstance(holder, dict) or part not in holder:
            return NOTHING
        holder = holder[part]
    return holder


def touches(one: str, other: str) -> bool:
    """Whether two pointers concern the same value: equal, or one within the other."""
    return one == other or one.startswith(other + "/") or other.startswith(one + "/")
