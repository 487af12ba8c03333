"""What is told of shapes and steps beside what is drawn."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from windsock.core.evaluate.reading import Reading
from windsock.core.parts.part import Part

if TYPE_CHECKING:
    from windsock.core.evaluate.inputs import Place


@dataclass(frozen=True)
class StepReport:
    """What a step made. `reused` says that the result was kept from before; `milliseconds` is what this asking took.
    made: in words, what is there beside faces; told: what follows from its settings."""

    item: str
    step: str
    faces_in: int
    faces_out: int
    milliseconds: float
    reused: bool
    reading: Reading | None
    made: str = ""
    told: str = ""


@dataclass(frozen=True)
class ShapeReport:
    """What a shape is before its recipe. attributes: the numbers that its points carry, by name."""

    item: str
    faces: int
    points: int
    median_edge: float
    milliseconds: float
    attributes: list[str]


def step_report(place: Place, after: Part, reused: bool, reading: Reading | None, milliseconds: float) -> StepReport:
    """What a step made of the part that it took."""
    before = place.part.value
    shot = place.scene.shot
    told = place.step.told(place.scene.at, shot.rate.fps, shot.lasts)
    matrix = place.scene.placement(place.item)
    weighed = place.scene.plan.weighed(place.item, place.step_id, before.mesh, matrix)
    return StepReport(
        place.item,
        place.step_id,
        before.faces(),
        after.faces(),
        milliseconds,
        reused,
        reading,
        after.described(),
        "; ".join(one for one in (told, weighed) if one),
    )
