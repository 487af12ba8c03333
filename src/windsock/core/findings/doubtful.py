"""A step whose solution will hardly look as it is meant."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import JsonValue

from windsock.core.changing.planned import PlannedEdit
from windsock.core.document.shot import Shot
from windsock.core.findings.finding import Finding, Mend
from windsock.core.findings.survey import Survey
from windsock.core.steps.step import SolvedStep


def find(survey: Survey) -> Iterator[Finding]:
    """Steps that say so themselves of what they have solved."""
    for one in survey.listeners:
        if isinstance(one.step, SolvedStep) and type(one.step).doubts is not SolvedStep.doubts:
            solution = survey.solution(one)
            doubts = "" if solution is None else one.step.doubts(solution)
            if doubts:
                mend = _showing(one.step, survey.shot)
                yield Finding("doubtful", f"{one.says}: {doubts}.", one.pointer, one.item, mend)


def _showing(step: SolvedStep, shot: Shot) -> Mend | None:
    """An edit that adds a field that shows where it is amiss; None where there is one, or none can."""
    sources = step.doubts_seen()
    if not sources or any(list(field.sources.values()) == list(sources.values()) for field in shot.fields.values()):
        return None
    edit = PlannedEdit(shot)
    plain: dict[str, JsonValue] = {name: source.model_dump(mode="json") for name, source in sources.items()}
    edit.add_field("Folds and tears", {"sources": plain})
    edit.complete()
    return Mend("Add a field that shows where", edit.patch)
