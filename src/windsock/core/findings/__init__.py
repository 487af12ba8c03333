"""Findings: what is amiss in a shot, one file a kind. `find_all` looks for every kind."""

from __future__ import annotations

from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator
from windsock.core.findings import (
    coarse_faces,
    constant_field,
    covers_from_start,
    doubtful,
    empty_group,
    idle_step,
    joining_skin,
    keys_outside,
    leaking_curve,
    never_reaches,
    swimming_noise,
    too_few_faces,
)
from windsock.core.findings.finding import Finder, Finding
from windsock.core.findings.survey import Survey

FINDERS: tuple[Finder, ...] = (
    idle_step.find,
    constant_field.find,
    never_reaches.find,
    covers_from_start.find,
    coarse_faces.find,
    too_few_faces.find,
    doubtful.find,
    joining_skin.find,
    leaking_curve.find,
    empty_group.find,
    swimming_noise.find,
    keys_outside.find,
)


def find_all(evaluator: Evaluator, shot: Shot) -> list[Finding]:
    """Everything that is found amiss, the gravest kinds first."""
    survey = Survey(evaluator, shot)
    return [finding for finder in FINDERS for finding in finder(survey)]
