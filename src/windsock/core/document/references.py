"""What refers to what in a shot: found from how its things are declared."""

from __future__ import annotations

import types
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from typing import TYPE_CHECKING, Annotated, Union, cast, get_args, get_origin, get_type_hints

from windsock.core.declarations import Declared, Refers

if TYPE_CHECKING:
    from windsock.core.document.shot import Shot


@dataclass(frozen=True)
class Reference:
    """A setting that names another thing.

    to: the collection that the thing is in, and id: its id there. owner: JSON Pointer of the thing that has the setting, and
    declared: that thing. optional: whether it can do without. member: whether it is one id of several in a mapping.
    """

    to: str
    id: str
    owner: str
    declared: Declared
    setting: str
    optional: bool
    member: bool

    @property
    def pointer(self) -> str:
        """JSON Pointer of what names it."""
        own = f"{self.owner}/{self.setting}"
        return f"{own}/{self.id}" if self.member else own


def references(shot: Shot) -> Iterator[Reference]:
    """All references of a shot, in the order of its document."""
    return _in(shot, "")


def references_to(shot: Shot, to: str, key: str) -> list[Reference]:
    """Those to one thing. to: `items`, `fields` or `groups`."""
    return [one for one in references(shot) if one.to == to and one.id == key]


def _in(thing: Declared, pointer: str) -> Iterator[Reference]:
    declared = referring(type(thing))
    for name in type(thing).model_fields:
        value = getattr(thing, name)
        if name in declared:
            to, optional = declared[name]
            if isinstance(value, dict):
                for key in cast(dict[str, object], value):
                    yield Reference(to, key, pointer, thing, name, True, True)
            elif isinstance(value, str):
                yield Reference(to, value, pointer, thing, name, optional, False)
        if isinstance(value, Declared):
            yield from _in(value, f"{pointer}/{name}")
        elif isinstance(value, dict):
            for key, one in cast(dict[str, object], value).items():
                if isinstance(one, Declared):
                    yield from _in(one, f"{pointer}/{name}/{key}")


@cache
def referring(kind: type[Declared]) -> dict[str, tuple[str, bool]]:
    """The settings of a kind that are ids of other things: of which collection, and whether they may be none."""
    found: dict[str, tuple[str, bool]] = {}
    for name, hint in get_type_hints(kind, include_extras=True).items():
        to = _refers(hint)
        if to is not None:
            found[name] = (to, types.NoneType in _branches(hint))
    return found


def _branches(hint: object) -> list[object]:
    """What a type may be, without what is said about it."""
    if get_origin(hint) is Annotated:
        return _branches(get_args(hint)[0])
    if get_origin(hint) in (Union, types.UnionType):
        return [branch for one in get_args(hint) for branch in _branches(one)]
    return [hint]


def _refers(hint: object) -> str | None:
    """The collection that an id is of, where a type is one, or is a mapping by such."""
    origin, args = get_origin(hint), get_args(hint)
    if origin is Annotated:
        said = next((one.to for one in args[1:] if isinstance(one, Refers)), None)
        return said or _refers(args[0])
    if origin in (Union, types.UnionType):
        return next((to for to in map(_refers, args) if to is not None), None)
    return _refers(args[0]) if origin is dict else None
