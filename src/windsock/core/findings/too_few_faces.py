"""A bend, a twist or a wave on faces too long to show it smoothly."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, inf

import numpy as np

from windsock.core.evaluate.frame import SHOWN
from windsock.core.findings.coarse_faces import copied_parts, finer, halving
from windsock.core.findings.finding import Finding, number
from windsock.core.findings.survey import Survey

MOMENTS = 25
"""At so many moments, spread over the shot, a step is asked how long faces may be."""


def find(survey: Survey) -> Iterator[Finding]:
    """Steps that deform faces longer than they may be."""
    frames = survey.shot.frames
    for one in survey.listeners:
        moments = [survey.shot.moment(float(frame)) for frame in np.linspace(frames.first, frames.last, MOMENTS)]
        never_seen = all(at(one.shape.shown) < SHOWN for at in moments)  # such as a cage that others ride in
        if never_seen or one.step.part in copied_parts(one.shape.recipe):
            continue
        faces, long = survey.faces(one)
        most = min((one.step.longest_faces(at, long) for at in moments), default=inf)
        if most <= 0 or faces <= most:
            continue
        factor, pointer = ceil(faces / most), f"/items/{one.item}/geometry"
        mend, setting = finer(one.shape.geometry, factor, pointer) or halving(one, factor)
        would = f"{setting} would do." if mend else "Take finer faces, or split them before it."
        says = (
            f"{one.says} shows corners: the faces there are up to {number(faces)} m long, where {number(most)} m would look "
            f"smooth. {would}"
        )
        yield Finding("too_few_faces", says, one.pointer, one.item, mend)
