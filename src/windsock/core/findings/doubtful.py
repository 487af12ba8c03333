"""A step whose solution will hardly look as it is meant."""

from __future__ import annotations

from collections.abc import Iterator

from windsock.core.findings.finding import Finding
from windsock.core.findings.survey import Survey
from windsock.core.steps.step import SolvedStep


def find(survey: Survey) -> Iterator[Finding]:
    """Steps that say so themselves of what they have solved."""
    for one in survey.listeners:
        if isinstance(one.step, SolvedStep) and type(one.step).doubts is not SolvedStep.doubts:
            solution = survey.solution(one)
            doubts = "" if solution is None else one.step.doubts(solution)
            if doubts:
                yield Finding("doubtful", f"{one.says}: {doubts}.", one.pointer, one.item)
