"""A field that never comes to its own level on what it drives."""

from __future__ import annotations

from collections.abc import Iterator

from windsock.core.findings.constant_field import SAME
from windsock.core.findings.finding import Finding, number
from windsock.core.findings.levels import level_between, value_range
from windsock.core.findings.survey import Survey
from windsock.core.timing.parameter import KeyedNumber


def find(survey: Survey) -> Iterator[Finding]:
    """Fields whose level and band lie above all their values, where a step listens to one of their zones."""
    for field in survey.driven():
        heard, strips = survey.heard(field)
        if not strips or any((strip.inside + strip.band).max() > 0 for strip in strips):
            continue
        least, most = value_range(strips)
        if most - least <= SAME:
            continue
        declared, first = survey.shot.fields[field], heard[0]
        where = "its level" if isinstance(declared.level, KeyedNumber) else f"its level, {number(declared.level)}"
        yield Finding(
            "never_reaches",
            f"{declared.letter} {declared.name} never comes to {where}: the most it is, at any frame, is {number(most)}. "
            f"So {first.says} sees nothing of it. Lower the level, or let it reach farther.",
            f"/fields/{field}",
            first.item,
            level_between(survey, field, least, most),
        )
