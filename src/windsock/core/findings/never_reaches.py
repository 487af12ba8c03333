"""A field that never comes to its own level on what it drives."""

from __future__ import annotations

from collections.abc import Iterator

from windsock.core.findings.finding import Finding, number, put
from windsock.core.findings.survey import Survey
from windsock.core.timing.parameter import KeyedNumber


def find(survey: Survey) -> Iterator[Finding]:
    """Fields whose level and band lie above all their values, where a step listens to one of their zones."""
    for field in survey.driven():
        heard = [one for one in survey.listeners if one.field == field and one.step.zone != "value"]
        strips = [survey.strip(field, one.item) for one in heard]
        if not strips or any((strip.inside + strip.band).max() > 0 for strip in strips):
            continue
        most, least = max(strip.most.max() for strip in strips), min(strip.least.min() for strip in strips)
        if most - least <= 1e-6:
            continue
        told, first = survey.shot.fields[field], heard[0]
        level = None if isinstance(told.level, KeyedNumber) else told.level
        where = "its level" if level is None else f"its level, {number(level)}"
        between = round(float(least + most) / 2, 3)
        mend = put(f"/fields/{field}/level", between, f"Put the level at {between:g}") if level is not None else None
        yield Finding(
            "never_reaches",
            f"{told.letter} {told.name} never comes to {where}: the most it is, at any frame, is {number(most)}. "
            f"So {first.says} sees nothing of it. Lower the level, or let it reach farther.",
            f"/fields/{field}",
            first.item,
            mend,
        )
