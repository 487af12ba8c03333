"""A noise that stands still in the world while its subject moves through it."""

from __future__ import annotations

from collections.abc import Iterator

from windsock.core.declarations import in_order
from windsock.core.document.items import Shape
from windsock.core.findings.finding import Finding, Mend, changed
from windsock.core.findings.survey import Survey
from windsock.core.steps.march import MarchedStep


def find(survey: Survey) -> Iterator[Finding]:
    """Noises in the world, or in the space of a controller that stands still, on subjects that move."""
    for field in survey.driven():
        declared = survey.shot.fields[field]
        movers = [item for item in survey.subjects(field) if _moves(survey, item)]
        for source_id, source in in_order(declared.sources):
            carriers = source.pattern_moves_with()
            if not movers or carriers is None or any(survey.plan.moves(one) for one in carriers):
                continue
            name = survey.shot.items[movers[0]].name
            pointer = f"/fields/{field}/sources/{source_id}"
            yield Finding(
                "swimming_noise",
                f"The noise of {declared.letter} {declared.name} stands still while {name} moves through it: the pattern swims over "
                "the surface.",
                pointer,
                movers[0],
                Mend("Fix it to the shape", changed(pointer, source, source.stuck())),
            )


def _moves(survey: Survey, item: str) -> bool:
    shape = survey.shot.items[item]
    swings = isinstance(shape, Shape) and any(
        isinstance(step, MarchedStep) and step.follows_itself and step.on for step in shape.recipe.steps.values()
    )
    return swings or survey.plan.moves(item)
