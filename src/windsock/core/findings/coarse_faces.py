"""A band that is narrower than the faces it crosses."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, log2
from typing import get_args

from windsock.core.declarations import in_order
from windsock.core.document.items import Recipe
from windsock.core.document.patches import Operation
from windsock.core.findings.finding import Finding, Mend, changed, number
from windsock.core.findings.survey import Listener, Survey
from windsock.core.shapes.geometry import GeometryBase
from windsock.core.steps import AnyStep


def find(survey: Survey) -> Iterator[Finding]:
    """Bands that a step lays on points, on shapes whose faces are longer than the band is wide."""
    done: set[tuple[str, str]] = set()
    for one in survey.listeners:
        if (
            one.field is None
            or not one.step.follows_faces
            or one.step.part in copied_parts(one.shape.recipe)
            or one.step.zone == "value"
            or (one.field, one.item) in done
        ):
            continue
        done.add((one.field, one.item))
        width, edge = survey.edge(one.field, one.item)
        edge /= 2 ** survey.halvings(one)
        if edge == 0 or width >= edge or (width == 0 and one.step.zone == "band"):
            continue
        field, factor = survey.shot.fields[one.field], ceil(edge / width) if width > 0 else 0
        pointer = f"/items/{one.item}/geometry"
        mend, setting = (finer(one.shape.geometry, factor, pointer) or halving(one, factor)) if factor else NO_MEND
        if width <= 0:
            what = f"The band of {field.letter} {field.name} has no width on {one.shape.name}, so its edge follows the faces"
        else:
            what = (
                f"The band of {field.letter} {field.name} is {number(width)} m wide on {one.shape.name}, where the faces "
                f"are {number(edge)} m long: its edge shows their steps"
            )
        would = (
            f" {setting} would do." if mend else f" Widen the band to {number(edge)} m or more, or take finer faces."
        )
        yield Finding("coarse_faces", f"{what}.{would}", pointer, one.item, mend)


def copied_parts(recipe: Recipe) -> set[str | None]:
    """The parts of a recipe that are copies: fields are measured at their middles, whatever faces there are."""
    return {step.made() for step in recipe.steps.values() if step.makes_copies}


def finer(geometry: GeometryBase, factor: int, pointer: str) -> tuple[Mend, str] | None:
    """An edit after which a built shape's edges are at most 1 / factor as long, and its settings in words; None where no
    setting does that."""
    found = geometry.finer(factor)
    if found is None:
        return None
    made, says = found
    return Mend(f"Take {says}", changed(pointer, geometry, made)), says[0].upper() + says[1:]


def halving(one: Listener, factor: int) -> tuple[Mend | None, str]:
    """A step before the listener, driven by the same field, after which faces are at most 1 / factor as long."""
    times = ceil(log2(factor))
    steps = in_order(one.shape.recipe.steps)
    before = steps[one.place - 2][1].rank if one.place > 1 else one.step.rank - 2
    made = (kind.halving((before + one.step.rank) / 2, one.field, one.step.zone, times) for kind in get_args(AnyStep))
    step = next((step for step in made if step is not None), None)
    if times > MOST_TIMES or step is None:
        return NO_MEND
    key = next(name for name in (f"finer-{number}" for number in range(1, 100)) if name not in one.shape.recipe.steps)
    path = f"/items/{one.item}/recipe/steps/{key}"
    patch = [Operation(op="add", path=path, value=step.model_dump(mode="json"))]
    name = step.named()
    says = f"{name} {times} times before it" if times > 1 else f"{name} once before it"
    return Mend(says, patch), says


NO_MEND: tuple[Mend | None, str] = (None, "")
MOST_TIMES = 4
