"""A step that changes nothing over the whole range."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from windsock.core.declarations import in_order
from windsock.core.findings import constant_field, covers_from_start, never_reaches
from windsock.core.findings.finding import Finding, number, put
from windsock.core.findings.survey import Listener, Survey
from windsock.core.steps.march import MarchedStep
from windsock.core.timing.parameter import KeyedNumber

ROUNDING = 1e-9
"""A share of a subject that is no more than the error of a sum."""


def find(survey: Survey) -> Iterator[Finding]:
    """Steps that are on but do nothing, but for those whose field a finding of its own tells of."""
    explained = {one.place for kind in (constant_field, never_reaches, covers_from_start) for one in kind.find(survey)}
    for one in survey.listeners:
        amount = one.step.amount.numbers() if isinstance(one.step.amount, KeyedNumber) else [one.step.amount]
        if max(amount) <= 0:
            mend = put(f"{one.pointer}/amount", 1.0, "Let it count in full") if one.step.amount == 0 else None
            yield Finding("idle_step", f"{one.says} counts for nothing: its amount is 0.", one.pointer, one.item, mend)
        elif f"/fields/{one.field}" not in explained and (why := _why_idle(survey, one)):
            yield Finding("idle_step", f"{one.says} changes nothing over the whole shot: {why}", one.pointer, one.item)


def _why_idle(survey: Survey, one: Listener) -> str:
    moved_before = any(step.on for _, step in in_order(one.shape.recipe.steps)[: one.place - 1])
    follows = isinstance(one.step, MarchedStep) and one.step.follows_itself
    if follows and not moved_before and not survey.plan.moves(one.item):
        return f"{one.shape.name} never moves, so there is nothing to follow. Key its place or its turn."
    overall = one.shape.recipe.overall
    if overall is not None and survey.strip(overall, one.item).most.max() <= 0:
        return (
            f"every step counts by {survey.shot.fields[overall].letter}, and that is 0 on {one.shape.name} throughout."
        )
    if one.field is None:
        return ""
    field, strip = survey.shot.fields[one.field], survey.strip(one.field, one.item)
    curve = getattr(one.step, "curve", None)
    if curve is not None and max(point.y for point in curve.points.values()) <= 0:
        return "its curve is 0 throughout."
    outside = 1 - strip.inside - strip.band
    reached = {
        "value": strip.most,
        "inside": strip.inside + strip.band,
        "outside": outside + strip.band,
        "band": strip.band,
    }[one.step.zone]
    if np.max(reached) > ROUNDING:
        return ""
    if one.step.zone == "band" and field.band == 0:
        return f"it listens to the band of {field.letter}, which is 0 wide."
    spans = f"its values go from {number(strip.least.min())} to {number(strip.most.max())}"
    words = {"value": "the value", "inside": "the inside", "outside": "the outside", "band": "the band"}
    return f"it listens to {words[one.step.zone]} of {field.letter}, and there is none on {one.shape.name}: {spans}."
