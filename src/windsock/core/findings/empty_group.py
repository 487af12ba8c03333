"""A group without shapes that a field measures from."""

from __future__ import annotations

from collections.abc import Iterator

from windsock.core.declarations import in_order
from windsock.core.findings.finding import Finding
from windsock.core.findings.survey import Survey


def find(survey: Survey) -> Iterator[Finding]:
    """Fields with a clause whose group has no shape in it, or only the subject itself."""
    for field_id, field in in_order(survey.shot.fields):
        for source_id, source in in_order(field.sources):
            for group in source.groups():
                shapes = survey.shot.shapes_of(group)
                name = survey.shot.groups[group].name
                subjects = survey.subjects(field_id)
                if not shapes:
                    says = f"{name} has no shapes in it, so what {field.letter} {field.name} measures near it is 0."
                elif subjects and all(set(shapes) <= {subject} for subject in subjects):
                    says = f"{name} has only {survey.shot.items[shapes[0]].name} in it, which is not measured from itself: {field.letter} is 0 there."
                else:
                    continue
                yield Finding(
                    "empty_group",
                    f"{says} Let a shape join the group.",
                    f"/fields/{field_id}/sources/{source_id}",
                    next(iter(subjects), None),
                )
