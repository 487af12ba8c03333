"""A curve whose floor is above zero under a zone: what should be an edge leaks over the whole subject."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from windsock.core.declarations import in_order
from windsock.core.findings.finding import Finding, number, put
from windsock.core.findings.survey import Survey
from windsock.core.timing.curve import Curve


def find(survey: Survey) -> Iterator[Finding]:
    """Curves of steps that listen to the inside or the band, and of clauses of fields that drive such steps."""
    zoned = [one for one in survey.listeners if one.field is not None and one.step.zone in ("band", "inside")]
    for one in zoned:
        curve: Curve | None = getattr(one.step, "curve", None)
        if curve is not None and floor(curve) > 0 and one.field is not None:
            zone = "the band" if one.step.zone == "band" else "the inside"
            letter = survey.shot.fields[one.field].letter
            yield Finding(
                "leaking_curve",
                f"{one.says} listens to {zone} of {letter} through a curve that is {number(floor(curve))} where the zone "
                f"is 0: outside the zone it still counts that much, over all of {one.shape.name}.",
                one.pointer,
                one.item,
                put(f"{one.pointer}/curve", _grounded(curve), "Let the curve begin at 0"),
            )
    for field in dict.fromkeys(one.field for one in zoned if one.field is not None):
        declared = survey.shot.fields[field]
        for place, (source_id, source) in enumerate(in_order(declared.sources), 1):
            if source.curve is None or source.inverted or floor(source.curve) <= 0:
                continue
            pointer = f"/fields/{field}/sources/{source_id}"
            yield Finding(
                "leaking_curve",
                f"Clause {place} of {declared.letter} {declared.name} goes through a curve that is {number(floor(source.curve))} "
                "where it measures 0: beyond its reach it still adds that much.",
                pointer,
                survey.subjects(field)[0],
                put(f"{pointer}/curve", _grounded(source.curve), "Let the curve begin at 0"),
            )


def floor(curve: Curve) -> float:
    """What the curve makes of 0."""
    return float(curve(np.zeros(1))[0])


def _grounded(curve: Curve) -> object:
    """The same curve with its lowest point at 0."""
    grounded = curve.model_dump(mode="json")
    lowest = min(grounded["points"].values(), key=lambda point: point["x"])
    lowest["y"] = 0.0
    return grounded
