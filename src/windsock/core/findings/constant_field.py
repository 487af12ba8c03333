"""A field that has one value everywhere and at all times."""

from __future__ import annotations

from collections.abc import Iterator

from windsock.core.findings.finding import Finding, number
from windsock.core.findings.survey import Survey

SAME = 1e-6
"""Values that differ by no more are the same."""


def find(survey: Survey) -> Iterator[Finding]:
    """Fields that drive a step and never differ from one value, on any of their subjects."""
    for field in survey.driven():
        strips = [survey.strip(field, item) for item in survey.subjects(field)]
        least, most = min(strip.least.min() for strip in strips), max(strip.most.max() for strip in strips)
        if most - least > SAME:
            continue
        declared = survey.shot.fields[field]
        why = (
            "Add a clause that measures something."
            if not declared.sources
            else "Look at what its clauses measure from."
        )
        yield Finding(
            "constant_field",
            f"{declared.letter} {declared.name} is {number(most)} everywhere, at every frame: it tells no place from another. {why}",
            f"/fields/{field}",
            survey.subjects(field)[0],
        )
