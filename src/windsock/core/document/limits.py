"""How large a document may be, whatever is in it."""

from __future__ import annotations

from windsock.core.refusals import TooMuch

BYTES = 4 * 2**20
"""Of the document as JSON without blanks."""

VALUES = 200_000
"""Numbers, words, lists and objects together, about."""

DEPTH = 40
"""Objects and lists within each other."""


def refuse_large(text: str) -> None:
    """Raise TooMuch for a document, as JSON, that is larger than is taken."""
    if len(text) > BYTES:
        raise TooMuch(
            f"The shot would be {len(text) / 2**20:.1f} MB as JSON; the limit is {BYTES // 2**20} MB. Nothing was changed. "
            "Have fewer keys, or part the shot in two."
        )
    values = text.count(",") + text.count("{") + text.count("[")
    if values > VALUES:
        raise TooMuch(
            f"The shot would hold about {values:,} values; the limit is {VALUES:,}. Nothing was changed. Have fewer keys, or "
            "part the shot in two."
        )


def extent_of(data: object, deepest: int, most: int) -> tuple[int, int]:
    """How many objects and lists are within each other, and how many values there are; neither counted far beyond a limit."""
    level: list[object] = [data]
    count = 0
    for depth in range(deepest + 1):
        count += len(level)
        level = [one for held in level for one in _within(held)]
        if not level or count > most:
            return depth, count + len(level)
    return deepest + 1, count


def _within(held: object) -> list[object]:
    if isinstance(held, dict):
        return list(held.values())  # pyright: ignore
    return held if isinstance(held, list) else []  # pyright: ignore
