"""Things of an ordered collection brought to another place."""

from __future__ import annotations

from typing import Annotated, Literal, cast

from pydantic import Field

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.declarations import Id
from windsock.core.refusals import Refusal

Pointer = Annotated[str, Field(max_length=400, pattern=r"^(/([^/~]|~[01])+)+$")]
"""JSON Pointer of something in the shot."""

SPOKEN = {"sources": "clauses"}
"""Collections that people know under another name."""


class PlaceBeside(ChangeBase):
    """Lay a thing of an ordered collection before or after another one of it."""

    kind: Literal["place_beside"] = "place_beside"
    collection: Pointer
    id: Id
    beside: Id
    after: bool = False

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        order = ordered(edit, self.collection)
        _refuse_missing(order, self.id, self.beside)
        rest = [key for key in order if key != self.id]
        place = rest.index(self.beside) + self.after if self.beside != self.id else list(order).index(self.id)
        lay(edit, self.collection, order, [*rest[:place], self.id, *rest[place:]])


class MoveInOrder(ChangeBase):
    """Bring a thing of an ordered collection one place on or back; at an end it stays."""

    kind: Literal["move_in_order"] = "move_in_order"
    collection: Pointer
    id: Id
    by: Literal[1, -1]

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        order = ordered(edit, self.collection)
        _refuse_missing(order, self.id)
        wanted = [key for key in order if key != self.id]
        wanted.insert(max(list(order).index(self.id) + self.by, 0), self.id)
        lay(edit, self.collection, order, wanted)


def ordered(edit: PlannedEdit, collection: str) -> dict[str, float]:
    """The ids of an ordered collection of the shot, in order, with their ranks. Raises Refusal where it is none."""
    things = edit.at(collection)
    ranks: dict[str, float] = {}
    for key, thing in things.items() if isinstance(things, dict) else ():
        if not isinstance(thing, dict) or "rank" not in thing:
            raise Refusal("These things have no order. Nothing was changed. Choose others.")
        ranks[key] = cast(float, thing["rank"])
    return dict(sorted(ranks.items(), key=lambda entry: (entry[1], entry[0])))


def lay(edit: PlannedEdit, collection: str, order: dict[str, float], wanted: list[str]) -> None:
    """Give a collection another order: the one that moved gets a rank between its neighbours where there is room, else all
    are numbered anew."""
    edit.says = f"order of {SPOKEN.get(collection.rpartition('/')[2], collection.rpartition('/')[2])}"
    if wanted == list(order):
        return
    moved = next(key for key in order if [one for one in order if one != key] == [one for one in wanted if one != key])
    place = wanted.index(moved)
    before = order[wanted[place - 1]] if place else None
    after = order[wanted[place + 1]] if place + 1 < len(wanted) else None
    rank = _between(before, after)
    if rank is not None:
        edit.put(f"{collection}/{moved}/rank", rank)
        return
    for place, key in enumerate(wanted):
        if order[key] != place:
            edit.put(f"{collection}/{key}/rank", place)


def _between(before: float | None, after: float | None) -> float | None:
    """A rank between two; None where there is none."""
    if before is None or after is None:
        return (after or 0.0) - 1 if before is None else before + 1
    middle = (before + after) / 2
    return middle if before < middle < after else None


def _refuse_missing(order: dict[str, float], *keys: str) -> None:
    if any(key not in order for key in keys):
        raise Refusal(
            "What was to be moved is no longer in the shot. Nothing was changed. Look at the shot as it is now."
        )
