"""A finding: something amiss in a shot, in words, with the place it concerns and, where that is safe, what mends it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from windsock.core.declarations import Declared
from windsock.core.document.patches import Operation
from windsock.core.findings.survey import Survey


@dataclass(frozen=True)
class Mend:
    """An edit that takes the cause away, and what its button says."""

    says: str
    patch: list[Operation]


@dataclass(frozen=True)
class Finding:
    """kind: which file found it. place: JSON Pointer of the thing it concerns. item: the shape on which it shows, if any."""

    kind: str
    says: str
    place: str
    item: str | None = None
    mend: Mend | None = None


Finder = Callable[[Survey], Iterable[Finding]]


def put(path: str, value: object, says: str) -> Mend:
    """A mend that sets one value."""
    return Mend(says, [Operation(op="replace", path=path, value=value)])  # pyright: ignore[reportArgumentType]


def changed(pointer: str, before: Declared, after: Declared) -> list[Operation]:
    """An edit that makes one thing of a document, at a JSON Pointer, another one of its kind."""
    was, now = before.model_dump(mode="json"), after.model_dump(mode="json")
    return [
        Operation(op="replace", path=f"{pointer}/{name}", value=now[name]) for name in now if now[name] != was[name]
    ]


def listed(names: list[str]) -> str:
    """Names as people list them: `A`, `A and B`, `A, B and 3 more`."""
    if len(names) > 3:
        return f"{', '.join(names[:2])} and {len(names) - 2} more"
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)


def number(value: float) -> str:
    """A number short enough to read: three digits."""
    return f"{value:.3g}"
