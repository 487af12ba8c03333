"""A band that is narrower than the faces it crosses."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, log2

from windsock.core.declarations import in_order
from windsock.core.document.items import Recipe
from windsock.core.document.patches import Operation
from windsock.core.findings.finding import Finding, Mend, number
from windsock.core.findings.survey import Listener, Survey
from windsock.core.geometry.mesh import FACE_LIMIT
from windsock.core.shapes import AnyGeometry, Box, Extrude, Imported, Plane, Ring, Sphere, Sweep, Text, Tube
from windsock.core.steps.cut_away import CutAway
from windsock.core.steps.fracture import Fracture
from windsock.core.steps.refine import Refine
from windsock.core.steps.scatter import Scatter
from windsock.core.steps.shed import Shed


def find(survey: Survey) -> Iterator[Finding]:
    """Bands that a step lays on points, on shapes whose faces are longer than the band is wide."""
    done: set[tuple[str, str]] = set()
    for one in survey.listeners:
        exact = isinstance(one.step, CutAway) and one.step.edge == "exact"
        if (
            one.field is None
            or exact
            or isinstance(one.step, (Refine, Scatter, Fracture))
            or one.step.at_middles
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
        mend, setting = finer(one.shape.geometry, factor, pointer) if factor else (None, "")
        if factor and mend is None:
            mend, setting = refining(one, factor)
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


def copied_parts(recipe: Recipe) -> set[str]:
    """The parts of a recipe that are copies: fields are measured at their middles, whatever faces there are."""
    return {step.makes for step in recipe.steps.values() if isinstance(step, (Scatter, Shed))}


def refining(one: Listener, factor: int) -> tuple[Mend | None, str]:
    """A Refine before the step, driven by the same field, after which faces are at most 1 / factor as long."""
    times = ceil(log2(factor))
    if times > MOST_TIMES:
        return None, ""
    steps = in_order(one.shape.recipe.steps)
    before = steps[one.place - 2][1].rank if one.place > 1 else one.step.rank - 2
    step = Refine(rank=(before + one.step.rank) / 2, field=one.field, zone=one.step.zone, times=times)
    key = next(name for name in (f"refine-{number}" for number in range(1, 100)) if name not in one.shape.recipe.steps)
    path = f"/items/{one.item}/recipe/steps/{key}"
    patch = [Operation(op="add", path=path, value=step.model_dump(mode="json"))]
    told = f"Refine {times} times before it" if times > 1 else "Refine once before it"
    return Mend(told, patch), told


MOST_TIMES = 4


def finer(geometry: AnyGeometry, factor: int, pointer: str) -> tuple[Mend | None, str]:
    """An edit after which a built shape's edges are at most 1 / factor as long, and its settings in words; None where the
    shape is imported or would have too many faces."""
    if isinstance(geometry, Imported):
        return None, ""
    if isinstance(geometry, Sphere):
        if geometry.build == "icosahedron":
            values: dict[str, float] = {"subdivisions": geometry.subdivisions + ceil(log2(factor))}
        else:
            values = {"segments": geometry.segments * factor, "rings": geometry.rings * factor}
    elif isinstance(geometry, Box):
        values = {"divisions": geometry.divisions * factor}
    elif isinstance(geometry, Plane):
        values = {"columns": geometry.columns * factor, "rows": geometry.rows * factor}
    elif isinstance(geometry, Ring):
        values = {"segments": geometry.segments * factor, "sides": geometry.sides * factor}
    elif isinstance(geometry, Tube):
        values = {name: getattr(geometry, name) * factor for name in ("segments", "rows", "rim_rows")}
    elif isinstance(geometry, (Text, Extrude)):
        if not isinstance(geometry.face_size, (int, float)):
            return None, ""
        values = {"face_size": round(geometry.face_size / factor, 5)}
    elif isinstance(geometry, Sweep):
        if not isinstance(geometry.spacing, (int, float)):
            return None, ""
        values = {"sides": geometry.sides * factor, "spacing": round(geometry.spacing / factor, 5)}
    else:
        values = {"segments": geometry.segments * factor, "ring_height": round(geometry.ring_height / factor, 5)}
    try:
        made = type(geometry).model_validate(geometry.model_dump() | values)
    except ValueError:
        return None, ""
    if made.face_count() > FACE_LIMIT // 4:
        return None, ""
    told = " and ".join(SETTINGS[name].format(value) for name, value in values.items())
    patch = [Operation(op="replace", path=f"{pointer}/{name}", value=value) for name, value in values.items()]
    return Mend(f"Take {told}", patch), told[0].upper() + told[1:]


SETTINGS = {
    "subdivisions": "{:g} splits",
    "segments": "{:g} segments",
    "rings": "{:g} rings",
    "divisions": "{:g} cells along each edge",
    "columns": "{:g} columns",
    "rows": "{:g} rows",
    "sides": "{:g} sides",
    "rim_rows": "{:g} rows across the wall",
    "face_size": "faces of {:g} m",
    "spacing": "sections {:g} m apart",
    "ring_height": "rings {:g} m apart",
}
