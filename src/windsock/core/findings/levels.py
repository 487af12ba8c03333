"""Levels that lie off all values of their field."""

from __future__ import annotations

from windsock.core.evaluate.coverage import Strip
from windsock.core.findings.finding import Mend, put
from windsock.core.findings.survey import Survey
from windsock.core.timing.parameter import KeyedNumber


def value_range(strips: list[Strip]) -> tuple[float, float]:
    """The least and the most that a field is, on all its subjects and at all frames."""
    return min(float(strip.least.min()) for strip in strips), max(float(strip.most.max()) for strip in strips)


def level_between(survey: Survey, field: str, least: float, most: float) -> Mend | None:
    """An edit that puts the level in the middle of the values; None where it is keyed."""
    if isinstance(survey.shot.fields[field].level, KeyedNumber):
        return None
    between = round((least + most) / 2, 3)
    return put(f"/fields/{field}/level", between, f"Put the level at {between:g}")
