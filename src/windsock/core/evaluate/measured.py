"""Fields on elements: measured, and kept with what they were measured from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache, cached_property
from typing import TypeVar, cast, overload

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import in_order
from windsock.core.evaluate.nodes import Node, field_node
from windsock.core.evaluate.reads import Answer, Question, Reads, Settings, behind
from windsock.core.evaluate.results import Outcome, Results
from windsock.core.evaluate.scene import PointValues, SceneAt
from windsock.core.fields import AnySource
from windsock.core.fields.elements import Elements, FinishedShape, Subject, Values, rest_elements
from windsock.core.fields.field import explain, measure
from windsock.core.fields.zones import Band
from windsock.core.geometry.eating import Front
from windsock.core.geometry.gradient import point_gradients
from windsock.core.geometry.mesh import Mesh, median_edge
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.stance import Stance, stance_of
from windsock.core.geometry.strain import strain_of
from windsock.core.kernels.areas import point_areas
from windsock.core.kernels.nearest import nearest_points
from windsock.core.timing.parameter import NumberParameter, VectorParameter
from windsock.core.timing.ticks import State

Number = TypeVar("Number", bound=np.generic)


@dataclass(frozen=True, eq=False)
class PosedMesh:
    """A mesh at whose points fields are measured. key: what it depends on, nothing where that is not known; matrix: (4, 4) from
    the subject's space to the world; middles: the points are the middles of things, which have chances of their own."""

    mesh: Mesh
    key: str
    matrix: Matrix
    subject: Subject
    middles: bool = False

    def elements(self) -> Elements:
        """The points as elements."""
        return self._elements

    @cached_property
    def _elements(self) -> Elements:
        mesh, matrix, key, subject = self.mesh, self.matrix, self.key, self.subject

        def facing() -> Values:
            return turned_normals(mesh.normals.astype(np.float64), matrix)

        number = mesh.number if self.middles else None
        rest = mesh.rest.astype(np.float64)
        which: dict[Question, object] = {("elements", "rest"): [key, subject.key, self.middles]} if key else {}
        where = which | {("elements", "posed"): [key, subject.key, self.middles, matrix.tolist()]} if key else {}
        posed = moved(mesh.points, matrix)
        # It keeps what it finds, and holds on to nothing that holds on to it.
        straining = None if self.middles else cache(lambda: strain_of(mesh, matrix))
        return Elements(posed, rest, subject, mesh.from_rest, facing, False, False, number, "", which, where, straining)


class SourceScene:
    """A scene as one source sees it (see `fields.source.Scene`): what it asks is noted.

    reads: where it is noted; behind: what the questions are put behind, where the scene is that of an earlier moment.
    """

    def __init__(self, scene: SceneAt, reads: Reads, field: str, source: str, behind: Question = ()) -> None:
        self._scene, self._reads, self._behind = scene, reads, behind
        self._field, self._source = field, source

    @overload
    def at(self, parameter: NumberParameter) -> float: ...
    @overload
    def at(self, parameter: VectorParameter) -> tuple[float, float, float]: ...
    def at(self, parameter: NumberParameter | VectorParameter) -> float | tuple[float, float, float]:
        return self._scene.at(parameter)

    @property
    def seconds(self) -> float:
        self._note("second")
        return self._scene.at.seconds

    def camera(self) -> Matrix | None:
        self._note("camera")
        return self._scene.camera()

    def group(self, group: str, but: str) -> list[FinishedShape]:
        self._note("group", group, but)
        found: list[FinishedShape] = []
        for shape in self._scene.shot.shapes_of(group):
            if shape != but:
                made = self._scene.shapes.finished(self._scene, shape)
                self._reads.note_result((*self._behind, "finished", shape), made.key, made.reads.leaves)
                found.append(made.value)
        return found

    def travelled(self, setting: str) -> float:
        self._note("travelled", self._field, self._source, setting)
        return self._scene.travelled(self._own(setting))

    def looped(self, setting: str) -> tuple[float, int]:
        self._note("looped", self._field, self._source, setting)
        return self._scene.looped(self._own(setting))

    def _own(self, setting: str) -> NumberParameter:
        return cast(NumberParameter, getattr(self._scene.shot.fields[self._field].sources[self._source], setting))

    def placement(self, item: str) -> Matrix:
        self._note("placement", item)
        return self._scene.placement(item)

    def earlier(self, seconds: float) -> SourceScene:
        if seconds == 0:
            return self
        behind = (*self._behind, "then", seconds)
        return SourceScene(self._scene.earlier(seconds), self._reads, self._field, self._source, behind)

    def field_values(self, field: str, elements: Elements) -> Values:
        made = self._scene.shapes.field_at(self._scene, field, elements.base)
        self._reads.include(made.reads, self._behind)
        return made.value.values

    def field_edge(self, field: str) -> tuple[float, float, str]:
        self._note("level", field)
        self._note("band", field)
        return self._scene.field_edge(field)

    def field_band(self, field: str, elements: Elements, values: Values) -> Band:
        return band_of(self._scene, field, elements, values, self._reads, self._behind)

    def crossed(self, field: str, subject: Subject) -> Values:
        made = self._scene.shapes.crossed(self._scene, field, subject.item)
        self._reads.include(made.reads)
        return on_points_now(self._scene, subject, made.value.named["second"], self._reads)

    def marched(self, subject: Subject) -> State:
        state, read = self._scene.shapes.source_state(self._scene, self._field, self._source, subject.item)
        self._reads.include(read)
        self._note("second")
        return {name: on_points_now(self._scene, subject, array, self._reads) for name, array in state.items()}

    def history(self, subject: Subject) -> Solution:
        solution, read = self._scene.shapes.source_history(self._scene, self._field, self._source, subject.item)
        self._reads.include(read)
        return solution

    def at_points_now(self, subject: Subject, values: Values) -> Values:
        return on_points_now(self._scene, subject, values, self._reads)

    def fronts(self, item: str, step: str | None, subject: str) -> list[Front]:
        self._note("steps", item)
        found: list[Front] = []
        for step_id, one in in_order(self._scene.shape(item).recipe.steps):
            if one.on and one.sends_front and step in (None, step_id):
                made = self._scene.shapes.front(self._scene, item, step_id, subject)
                if made is not None:
                    asked = (*self._behind, "front", item, step_id, subject)
                    self._reads.note_result(asked, made.key, made.reads.leaves)
                    found.append(made.value)
        return found

    def arrivals(self, subject: Subject) -> Values:
        made = self._scene.shapes.arrivals(self._scene, self._field, self._source, subject.item)
        self._reads.include(made.reads)
        return on_points_now(self._scene, subject, made.value.named["travel"], self._reads)

    def arrivals_between(self, elements: Elements) -> Values:
        made = self._scene.shapes.arrivals_between(self._scene, self._field, self._source, elements)
        self._reads.include(made.reads.without("content"))
        return made.value.named["travel"]

    def _note(self, *question: object) -> None:
        self._reads.note((*self._behind, *question), self._scene.answer(question))


def source_of(scene: SceneAt, field: str, key: str, source: AnySource, elements: Elements, reads: Reads) -> Values:
    """(n,) what one source measures at elements."""
    asked = ("source", field, key)
    reads.note(asked, scene.answer(asked))
    if (field, key) not in scene.settled:
        scene.settled[field, key] = Settings(source, _unnoted, scene.at)
    settings = scene.settled[field, key]
    seen = SourceScene(scene, reads, field, key)
    return type(source).measure(cast(AnySource, settings), elements.base.watched(reads.note), seen)  # pyright: ignore


def with_memory(scene: SceneAt, field: str, elements: Elements, values: Values, reads: Reads) -> Values:
    """(n,) what a field is where its sentence has these values now: no less than what it remembers."""
    memory = scene.shot.fields[field].memory
    if memory is None:
        return values
    seen = elements.base.watched(reads.note)
    held, read = scene.shapes.remembered(scene, field, seen.subject.item)
    reads.include(read)
    reads.note(("second",), scene.at.seconds)
    held = on_points_now(scene, seen.subject, held, reads)
    return memory.advanced(seen.carry(held), values, 0.0)


def on_points_now(scene: SceneAt, subject: Subject, values: NDArray[Number], reads: Reads) -> NDArray[Number]:
    """(n, ...) what the past knows at the points that a shape had at the shot's first frame, at those that it has now: at the
    nearest of those where they are not as many."""
    if len(values) == len(subject.mesh.points):
        return values
    made = scene.shapes.at_rest(scene.first(), subject.item)
    leaves = behind(made.reads.leaves, ("start",))
    reads.note_result(("start", "subject", subject.item), made.key, leaves)
    near = nearest_points(subject.mesh.points.astype(np.float64), made.value.mesh.points)
    return values[near]


def band_of(
    scene: SceneAt, field: str, elements: Elements, values: Values, reads: Reads, behind: Question = ()
) -> Band:
    """The width of a field's band in values, where it has these (n,) values at elements. In metres it is as wide as the
    values' slope on the subject makes it."""
    reads.note((*behind, "band", field), scene.answer(("band", field)))
    _, band, counted = scene.field_edge(field)
    if counted == "values":
        return band
    seen = elements.base.watched(reads.note)
    subject = seen.subject
    if seen.are_rest_points:
        return band * point_gradients(seen.posed, subject.mesh.faces, subject.mesh.number, values)
    reads.note((*behind, "placement", subject.item), scene.answer(("placement", subject.item)))
    resting = rest_elements(subject, scene.placement(subject.item))
    there = scene.shapes.field_at(scene, field, resting)
    reads.include(there.reads.without("elements"), behind)
    slope = point_gradients(resting.posed, subject.mesh.faces, subject.mesh.number, there.value.values)
    return band * seen.carry(slope)


def explained(scene: SceneAt, field: str, elements: Elements) -> list[tuple[str, float, float]]:
    """For one element: each source's id, its own value and the field's result up to and including it."""

    def source_values(key: str, source: AnySource) -> Values:
        return source_of(scene, field, key, source, elements, Reads())

    return explain(scene.shot.fields[field], scene.at, source_values)


def _unnoted(name: str) -> None:
    del name


class FieldMeasurements:
    """Measures fields at meshes and keeps what it finds."""

    def __init__(self, results: Results) -> None:
        self._results = results

    def field_values(self, scene: SceneAt, field: str, elements: Elements) -> Values:
        """(n,) the values of a field at any elements; each source's are kept where the elements say which they are."""
        return self.field_at(scene, field, elements).value.values

    def field_at(self, scene: SceneAt, field: str, elements: Elements) -> Outcome[PointValues]:
        """The values of a field at elements, with what it remembers, and what they are made from.

        They are kept where the elements say which they are; otherwise while the scene is.
        """

        def measured(reads: Reads) -> PointValues:
            values = self._sentence(scene, field, elements, reads)
            return PointValues(with_memory(scene, field, elements, values, reads))

        node = field_node(field, elements.subject.item)
        return self._kept(node, scene, elements, measured, node)

    def sentence_at(self, scene: SceneAt, field: str, elements: Elements) -> Outcome[PointValues]:
        """The same without what it remembers."""

        def measured(reads: Reads) -> PointValues:
            return PointValues(self._sentence(scene, field, elements, reads))

        return self._kept(f"sentence {field} {elements.subject.item}", scene, elements, measured)

    def _sentence(self, scene: SceneAt, field: str, elements: Elements, reads: Reads) -> Values:
        reads.note(("sentence", field), scene.answer(("sentence", field)))

        def values(key: str, source: AnySource) -> Values:
            def measured(own: Reads) -> PointValues:
                return PointValues(source_of(scene, field, key, source, elements, own))

            name = f"source {field} {key} {elements.subject.item}"
            made = self._kept(name, scene, elements, measured)
            reads.include(made.reads)
            return made.value.values

        return measure(scene.shot.fields[field], len(elements), scene.at, values)

    def _kept(
        self,
        name: str,
        scene: SceneAt,
        elements: Elements,
        make: Callable[[Reads], PointValues],
        node: Node | None = None,
    ) -> Outcome[PointValues]:
        if elements.rest_reads:

            def made(reads: Reads) -> PointValues:
                # However little is looked at, there are as many values as elements.
                for question, answer in elements.rest_reads.items():
                    reads.note(question, answer)
                return make(reads)

            answer = _answers_at(scene, elements)
            return self._results.immediate(name, answer, made, node=node, latest=scene.latest)[0]
        if (name, elements) not in scene.measured:
            reads = Reads()
            scene.measured[name, elements] = Outcome(make(reads), "", reads)
        return cast(Outcome[PointValues], scene.measured[name, elements])

    def field_on(self, scene: SceneAt, field: str, posed: PosedMesh) -> Values:
        """(n,) the values of a field at the points of a mesh."""
        return self.field_values(scene, field, posed.elements())

    def band_on(self, scene: SceneAt, field: str, posed: PosedMesh, reads: Reads | None = None) -> Band:
        """The width of a field's band in values: one number, or (n,) at the points of a mesh where it is in metres."""
        reads = Reads() if reads is None else reads
        _, band, counted = scene.field_edge(field)
        reads.note(("band", field), scene.answer(("band", field)))
        if counted == "values":
            return band
        elements = posed.elements()
        made = self.field_at(scene, field, elements)
        name = f"slope {field} {posed.subject.item} {posed.middles}"

        def slope(own: Reads) -> PointValues:
            own.include(made.reads)
            for question, answer in elements.posed_reads.items():
                own.note(question, answer)
            if posed.middles:
                # Middles of pieces and copies have no slope of their own: that of the surface they came from counts.
                wide = band_of(scene, field, elements, made.value.values, own)
                return PointValues(np.asarray(wide / max(band, 1e-12)))
            mesh = posed.mesh
            return PointValues(point_gradients(elements.posed, mesh.faces, mesh.number, made.value.values))

        kept, _ = self._results.immediate(name, _answers_at(scene, elements), slope, latest=scene.latest)
        reads.include(kept.reads)
        return band * kept.value.values

    def areas(self, mesh: Mesh, key: str, matrix: Matrix) -> Values:
        """(n,) the area in the world that each point of a mesh stands for; middles of pieces and copies stand for one each.

        key: what the mesh depends on. matrix: (4, 4) from the mesh's space to the world.
        """
        if len(mesh.faces) == 0:
            return np.ones(len(mesh.points))
        stance = stance_of(matrix)
        made = self._of_mesh("areas", key, stance, lambda: point_areas(_level(mesh, stance), mesh.faces))
        return made.values

    def median_edge(self, mesh: Mesh, key: str, matrix: Matrix) -> float:
        """The median length of a mesh's edges in metres of the world. matrix: (4, 4) from the mesh's space to that."""
        stance = stance_of(matrix)

        def made() -> Values:
            return np.array([median_edge(_level(mesh, stance), mesh.faces)])

        return float(self._of_mesh("median edge", key, stance, made).values[0])

    def _of_mesh(self, name: str, key: str, stance: Stance, make: Callable[[], Values]) -> PointValues:
        def made(reads: Reads) -> PointValues:
            reads.note(("mesh",), key)
            reads.note(("stretch",), stance.stretch.tolist())
            return PointValues(make())

        said: dict[Question, object] = {("mesh",): key, ("stretch",): stance.stretch.tolist()}
        return self._results.immediate(name, said.__getitem__, made)[0].value


def _level(mesh: Mesh, stance: Stance) -> np.ndarray:
    return mesh.points if stance.plain else stance.level(mesh.points).astype(np.float32)


def _answers_at(scene: SceneAt, elements: Elements) -> Answer:
    """Answers questions of what is measured at elements."""

    def answer(question: Question) -> object:
        return elements.posed_reads[question] if question[0] == "elements" else scene.answer(question)

    return answer
