"""Document -> frame. Asked for (document, frame) it answers with what is drawn and what every step made and cost."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from time import perf_counter
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import Declared, in_order
from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.fingerprint import fingerprint
from windsock.core.evaluate.reading import Reading, read_coverage, read_histogram
from windsock.core.fields.around import Around
from windsock.core.fields.field import measure
from windsock.core.fields.noise import Noise
from windsock.core.fields.source import Elements, Values
from windsock.core.geometry.mesh import Mesh, median_edge, point_areas
from windsock.core.geometry.placement import Matrix
from windsock.core.refusals import TooMuch
from windsock.core.shapes import Assets, Imported, build
from windsock.core.steps import Step
from windsock.core.steps.part import Drive, Part, elements_of
from windsock.core.timing.parameter import KeyedNumber, KeyedVector, Moment

FACE_LIMIT = 3_000_000
"""Faces that one shape may have, and all shapes of a shot together."""

Detail = Literal["draft", "final"]


@dataclass(frozen=True, eq=False)
class PointValues:
    """(n,) values at the points of a mesh: of a field, of a source, or areas."""

    values: Values

    @property
    def nbytes(self) -> int:
        return self.values.nbytes


@dataclass(frozen=True)
class StepReport:
    """What a step made and cost. `reused` says that the result was kept from before."""

    item: str
    step: str
    faces_in: int
    faces_out: int
    milliseconds: float
    reused: bool
    reading: Reading | None


@dataclass(frozen=True)
class ShapeReport:
    """What a shape is before its recipe."""

    item: str
    faces: int
    points: int
    median_edge: float
    milliseconds: float


@dataclass(frozen=True, eq=False)
class DrawItem:
    """A finished part to draw. heat: (n,) values of the field that was asked for, or None."""

    item: str
    part: str
    key: str
    matrix: Matrix
    body: Part
    heat: NDArray[np.float32] | None = None


@dataclass(frozen=True, eq=False)
class Frame:
    """A shot at a moment."""

    moment: Moment
    draw: list[DrawItem]
    shapes: list[ShapeReport]
    steps: list[StepReport]
    placements: dict[str, Matrix]


@dataclass(frozen=True)
class Heat:
    """Which field is to be seen as colour, and on which shape."""

    field: str
    item: str


class SceneAt:
    """A shot at a moment, as sources and steps may ask it."""

    def __init__(self, shot: Shot, frame: float) -> None:
        self.shot = shot
        self.at = shot.moment(frame)
        self._placements: dict[str, Matrix] = {}

    def placement(self, item: str) -> Matrix:
        if item not in self._placements:
            self._placements[item] = self.shot.placement(item, self.at)
        return self._placements[item]

    def key(self, *parts: object) -> str:
        """A fingerprint of declarations as they are at this moment."""
        return fingerprint(*(self.at.resolved(part) if isinstance(part, Declared) else part for part in parts))

    def source_key(self, source: Around | Noise, mesh_key: str, matrix: Matrix) -> str:
        """A fingerprint of one source's own values at the points of a mesh; how it is joined does not matter."""
        told = self.at.resolved(source.model_copy(update={"rank": 0, "word": "or", "amount": 1.0, "inverted": False}))
        stands = [self.placement(item).tolist() for item in source.items()]
        return self.key("source", told, stands, mesh_key, matrix.tolist() if source.posed else None)

    def field_key(self, field_id: str) -> str:
        """A fingerprint of the sentence of a field and of where the items stand that it measures from."""
        told = self.shot.fields[field_id]
        stands = [self.placement(item).tolist() for item in told.items()]
        return self.key(self.at.resolved(told.sources), stands)


class Evaluator:
    """Evaluates frames; keeps results between them under the hash of what they depend on."""

    def __init__(self, assets: Assets, cache: Cache, check: Callable[[], None] = lambda: None) -> None:
        """check is called between nodes and raises Cancelled when the work is no longer wanted."""
        self._assets = assets
        self._cache = cache
        self.check = check

    def frame(self, shot: Shot, frame: float, detail: Detail = "final", heat: Heat | None = None) -> Frame:
        """Evaluate one frame. Draft and final are the same here: no step yet has cells or copies to take fewer of."""
        scene = SceneAt(shot, frame)
        self.refuse_too_much(shot)
        result = Frame(scene.at, [], [], [], {})
        for item_id, item in in_order(shot.items):
            result.placements[item_id] = scene.placement(item_id)
            if isinstance(item, Shape):
                self._shape(scene, item_id, item, heat, result)
        return result

    def rest(self, scene: SceneAt, item_id: str) -> tuple[Mesh, str]:
        """The mesh of a shape before any step, and its key."""
        shape = scene.shot.items[item_id]
        assert isinstance(shape, Shape)
        key = scene.key("shape", shape.geometry)
        mesh, _ = self._cache.get_or_make(key, lambda: build(shape.geometry, scene.at, self._assets))
        return mesh, key

    def field_on(self, scene: SceneAt, field_id: str, mesh: Mesh, mesh_key: str, matrix: Matrix) -> Values:
        """(n,) the values of a field at the points of a mesh."""
        told = scene.shot.fields[field_id]
        key = scene.key("field", scene.field_key(field_id), mesh_key, matrix.tolist())

        def measured() -> PointValues:
            elements = elements_of(mesh, matrix)

            def source_values(source: Around | Noise) -> Values:
                source_key = scene.source_key(source, mesh_key, matrix)
                kept, _ = self._cache.get_or_make(source_key, lambda: PointValues(source.measure(elements, scene)))
                return kept.values

            return PointValues(measure(told, elements, scene, source_values))

        found, _ = self._cache.get_or_make(key, measured)
        return found.values

    def areas(self, scene: SceneAt, mesh: Mesh, mesh_key: str) -> Values:
        """(n,) the area that each point of a mesh stands for."""
        key = scene.key("areas", mesh_key)
        found, _ = self._cache.get_or_make(key, lambda: PointValues(point_areas(mesh.points, mesh.faces)))
        return found.values

    def refuse_too_much(self, shot: Shot) -> None:
        """Raise TooMuch, before any work, for shapes of more faces than are allowed."""
        total = 0
        for item in shot.items.values():
            if isinstance(item, Shape) and not isinstance(item.geometry, Imported):
                faces = item.geometry.face_count()
                total += faces
                if faces > FACE_LIMIT or total > FACE_LIMIT:
                    of = item.name if faces > FACE_LIMIT else "This shot, all its shapes together,"
                    raise TooMuch(
                        f"{of} would have {max(faces, total):,} faces; the limit is {FACE_LIMIT:,}. "
                        "Nothing was changed. Take fewer divisions, or fewer segments or rings."
                    )

    def _median_edge(self, scene: SceneAt, mesh: Mesh, mesh_key: str) -> float:
        key = scene.key("median edge", mesh_key)
        made, _ = self._cache.get_or_make(key, lambda: PointValues(np.array([median_edge(mesh.points, mesh.faces)])))
        return float(made.values[0])

    def _shape(self, scene: SceneAt, item_id: str, shape: Shape, heat: Heat | None, result: Frame) -> None:
        self.check()
        started = perf_counter()
        mesh, key = self.rest(scene, item_id)
        matrix = result.placements[item_id]
        spent = (perf_counter() - started) * 1000
        edge = self._median_edge(scene, mesh, key)
        result.shapes.append(ShapeReport(item_id, len(mesh.faces), len(mesh.points), edge, spent))
        part = Part(mesh, shape.look, shape.look.backs)
        for step_id, step in in_order(shape.recipe.steps):
            if step.on:
                self.check()
                part, key, report = self._step(scene, item_id, step_id, step, part, key, matrix)
                result.steps.append(report)
        seen = None
        if heat is not None and heat.item == item_id and heat.field in scene.shot.fields:
            seen = self.field_on(scene, heat.field, part.mesh, key, matrix).astype(np.float32)
        result.draw.append(DrawItem(item_id, "body", key, matrix, part, seen))

    def _step(
        self, scene: SceneAt, item_id: str, step_id: str, step: Step, part: Part, key: str, matrix: Matrix
    ) -> tuple[Part, str, StepReport]:
        started = perf_counter()
        drive, reading, field_key = None, None, None
        if step.field is not None:
            drive = self._drive(scene, step.field, part.mesh, key, matrix)
            areas = self.areas(scene, part.mesh, key)
            coverage = read_coverage(drive.values, areas, drive.level, drive.band)
            reading = Reading(step.field, coverage, read_histogram(drive.values, areas))
            field_key = [scene.field_key(step.field), drive.level, drive.band, matrix.tolist()]
        told = scene.at.resolved(step)
        after_key = scene.key("step", told, key, field_key)
        after, reused = self._cache.get_or_make(after_key, lambda: step.apply(part, drive, matrix, scene.at))
        spent = (perf_counter() - started) * 1000
        report = StepReport(item_id, step_id, len(part.mesh.faces), len(after.mesh.faces), spent, reused, reading)
        return after, after_key, report

    def _drive(self, scene: SceneAt, field_id: str, mesh: Mesh, mesh_key: str, matrix: Matrix) -> Drive:
        told = scene.shot.fields[field_id]

        def at_elements(elements: Elements) -> Values:
            return measure(told, elements, scene)

        values = self.field_on(scene, field_id, mesh, mesh_key, matrix)
        return Drive(values, at_elements, scene.at(told.level), scene.at(told.band))


def keyed_values(shot: Shot, at: Moment) -> dict[str, float | tuple[float, float, float]]:
    """What every keyed parameter of the document is at a moment, by JSON Pointer."""
    found: dict[str, float | tuple[float, float, float]] = {}

    def walk(thing: object, pointer: str) -> None:
        if isinstance(thing, (KeyedNumber, KeyedVector)):
            found[pointer] = at(thing)
        elif isinstance(thing, Declared):
            for name in type(thing).model_fields:
                walk(getattr(thing, name), f"{pointer}/{name}")
        elif isinstance(thing, dict):
            for key, value in thing.items():  # pyright: ignore
                walk(value, f"{pointer}/{key}")  # pyright: ignore[reportUnknownArgumentType]

    walk(shot, "")
    return found
