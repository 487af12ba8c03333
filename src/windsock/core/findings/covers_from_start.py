"""A field that is inside everywhere, from the first frame to the last."""

from __future__ import annotations

from collections.abc import Iterator

from windsock.core.findings.constant_field import SAME
from windsock.core.findings.finding import Finding, number
from windsock.core.findings.levels import level_between, value_range
from windsock.core.findings.survey import Survey

ALL = 1 - 1e-6


def find(survey: Survey) -> Iterator[Finding]:
    """Fields whose level and band lie below all their values, where a step listens to one of their zones."""
    for field in survey.driven():
        heard, strips = survey.heard(field)
        if not strips or any(strip.inside.min() < ALL for strip in strips):
            continue
        least, most = value_range(strips)
        if most - least <= SAME:
            continue
        declared = survey.shot.fields[field]
        yield Finding(
            "covers_from_start",
            f"{declared.letter} {declared.name} is inside everywhere from the first frame on: the least it is, at any frame, is "
            f"{number(least)}. Nothing changes over the shot. Raise the level, or let it begin farther away.",
            f"/fields/{field}",
            heard[0].item,
            level_between(survey, field, least, most),
        )
