"""A field that is inside everywhere, from the first frame to the last."""

from __future__ import annotations

from collections.abc import Iterator

from windsock.core.findings.finding import Finding, number, put
from windsock.core.findings.survey import Survey
from windsock.core.timing.parameter import KeyedNumber

ALL = 1 - 1e-6


def find(survey: Survey) -> Iterator[Finding]:
    """Fields whose level and band lie below all their values, where a step listens to one of their zones."""
    for field in survey.driven():
        heard = [one for one in survey.listeners if one.field == field and one.step.zone != "value"]
        strips = [survey.strip(field, one.item) for one in heard]
        if not strips or any(strip.inside.min() < ALL for strip in strips):
            continue
        most, least = max(strip.most.max() for strip in strips), min(strip.least.min() for strip in strips)
        if most - least <= 1e-6:
            continue
        told, first = survey.shot.fields[field], heard[0]
        level = None if isinstance(told.level, KeyedNumber) else told.level
        between = round(float(least + most) / 2, 3)
        yield Finding(
            "covers_from_start",
            f"{told.letter} {told.name} is inside everywhere from the first frame on: the least it is, at any frame, is "
            f"{number(least)}. Nothing changes over the shot. Raise the level, or let it begin farther away.",
            f"/fields/{field}",
            first.item,
            put(f"/fields/{field}/level", between, f"Put the level at {between:g}") if level is not None else None,
        )
