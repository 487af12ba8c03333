"""What a step is given: answers about the shot, each noted as it is read."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from functools import partial
from typing import TYPE_CHECKING, cast, overload

import numpy as np
from numpy.typing import NDArray

from windsock.core.evaluate.definitions import TICKING, VOXELS
from windsock.core.evaluate.measured import PosedMesh, band_of
from windsock.core.evaluate.moments import scene_at
from windsock.core.evaluate.movers import movers_of
from windsock.core.evaluate.reads import Question, Reads, Settings, behind
from windsock.core.evaluate.results import Latest, Outcome
from windsock.core.evaluate.scene import SceneAt
from windsock.core.fields.elements import Elements, FinishedShape, Subject, Values
from windsock.core.fields.zones import Band, zone_weight
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.course import Course
from windsock.core.geometry.mesh import Mesh, content_of
from windsock.core.geometry.movers import Mover
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.stance import Stance, stance_of
from windsock.core.geometry.touches import Span
from windsock.core.parts.copies import Model
from windsock.core.parts.part import Part
from windsock.core.steps import AnyStep
from windsock.core.steps.drive import Drive
from windsock.core.steps.given import Beat, DrivenSetting, Kept
from windsock.core.steps.march import MarchedStep
from windsock.core.steps.step import SolvedStep, WeightedStep
from windsock.core.timing.parameter import KeyedNumber, NumberParameter, VectorParameter, travelled

if TYPE_CHECKING:
    from windsock.core.evaluate.recipes import Recipes


class Place:
    """A step of a shape's recipe at a moment, with the part that it takes: answers what is asked of it.

    scene: in the recipe's own time. subject: the shape before its recipe that the part came from; None: as it is then. standing: what
    the places of the part depend on, where that is less than all of it does. beside: all parts that there are then, by name.
    """

    def __init__(
        self,
        recipes: Recipes,
        scene: SceneAt,
        item: str,
        step_id: str,
        part: Outcome[Part],
        subject: Subject | None = None,
        standing: str = "",
        beside: Mapping[str, Outcome[Part]] | None = None,
    ) -> None:
        self.recipes, self.scene, self.item, self.step_id, self.part = recipes, scene, item, step_id, part
        self.standing = standing or part.key
        self.beside = beside or {}
        self._subject = subject
        self._contents: dict[str, str] = {}

    @property
    def step(self) -> AnyStep:
        """The step as it is declared."""
        return self.scene.shape(self.item).recipe.steps[self.step_id]

    @property
    def subject(self) -> Subject:
        """The shape before its recipe that the part came from."""
        return self._subject or self.recipes.at_rest(self.scene, self.item).value

    @property
    def name(self) -> str:
        """A name for the step in its shape."""
        return f"{self.item}/{self.step_id}"

    def answer(self, question: Question) -> object:
        """The answer to a question of the step; raises KeyError where there is none."""
        if question[0] == "part":
            return self.part.key
        if question[0] == "beside":
            made = self.beside.get(cast(str, question[1]))
            return "" if made is None else made.key
        if question[0] == "content":
            kind = cast(str, question[1])
            if kind not in self._contents:
                self._contents[kind] = CONTENT[kind](self.part.value, len(self.subject.mesh.points))
            return self._contents[kind]
        return self.scene.answer(question)

    def settings(self, reads: Reads) -> AnyStep:
        """The step with its settings as they are now; which of them are looked at is noted."""

        def note(name: str) -> None:
            question: Question = ("step", self.item, self.step_id, name)
            reads.note(question, self.scene.answer(question))

        return cast("AnyStep", Settings(self.step, note, self.scene.at))

    def driving(self, reads: Reads) -> tuple[str | None, str | None]:
        """The field that drives the step, and the overall field on top."""
        question: Question = ("driving", self.item, self.step_id)
        field, overall = cast("list[str | None]", self.scene.answer(question))
        reads.note(question, [field, overall])
        return field, overall

    def given(self, reads: Reads) -> InputsNow:
        """What the step is given at this moment."""
        return InputsNow(self, reads)


def _rest_of(mesh: Mesh) -> str:
    return content_of(mesh.rest, mesh.faces, mesh.number)


CONTENT: dict[str, Callable[[Part, int], str]] = {
    "bodies": lambda part, _: part.bodies().rest_content,
    "places": lambda part, points: part.bodies().places_content(points),
    "mesh": lambda part, _: _rest_of(part.mesh),
}
"""What of a part counts for what is solved from it, as a hash of what is in its arrays. The number is that of the points of
its shape before the recipe."""


class InputsNow:
    """See `steps.step.StepInputs`. reads: where it is noted what the step looks at."""

    def __init__(self, place: Place, reads: Reads) -> None:
        self._place, self._reads, self._scene = place, reads, place.scene
        self._drive: list[Drive | None] = []

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

    @property
    def matrix(self) -> Matrix:
        return self.placement(self._place.item)

    @property
    def stance(self) -> Stance:
        return stance_of(self.matrix)

    @property
    def stretch(self) -> Stance:
        self._note("stretch", self._place.item)
        self._reads.leaves[("placement", self._place.item)] = None
        return Stance(stance_of(self._scene.placement(self._place.item)).stretch, np.eye(3), np.zeros(3))

    @property
    def subject(self) -> Subject:
        made = self._scene.shapes.at_rest(self._scene, self._place.item)
        self._reads.note_result(("subject", self._place.item), made.key, made.reads.leaves)
        return made.value

    @property
    def drive(self) -> Drive | None:
        if not self._drive:
            self._drive.append(self._driven())
        return self._drive[0]

    @property
    def solution(self) -> Solution:
        made = self._place.recipes.solution(self._place)
        self._reads.include(made.reads)
        return made.value

    def marched(self) -> tuple[Mapping[str, Values], Part]:
        state, part, reads = self._place.recipes.marched(self._place)
        self._reads.include(reads)
        return state, part

    def placement(self, item: str) -> Matrix:
        self._note("placement", item)
        return self._scene.placement(item)

    def placement_at_start(self, item: str) -> Matrix:
        self._note("start", "placement", item)
        return self._scene.first().placement(item)

    def camera(self) -> Matrix | None:
        self._note("camera")
        return self._scene.camera()

    def course(self, path: str) -> Course:
        self._note("course", path)
        return self._scene.course(path)

    def shape(self, shape: str) -> FinishedShape:
        made = self._scene.shapes.finished(self._scene, shape)
        self._reads.note_result(("finished", shape), made.key, made.reads.leaves)
        return made.value

    def group(self, group: str) -> list[FinishedShape]:
        item = self._place.item
        self._note("group", group, item)
        return [self.shape(shape) for shape in self._scene.shot.shapes_of(group) if shape != item]

    def travelled(self, setting: str) -> float:
        place = self._place
        self._note("gone", place.item, place.step_id, setting)
        return self._scene.travelled(cast(NumberParameter, getattr(place.step, setting)))

    def model(self, shape: str) -> Model:
        made = self._scene.shapes.modelled(self._scene, shape)
        self._reads.note_result(("model", shape), made.key, made.reads.leaves)
        return made.value

    def weigh(self, driven: DrivenSetting, places: Mesh, key: str) -> Values:
        values, band, level = self._measured(driven.field, self._posed(places, key, True))
        weight = zone_weight(driven.zone, values, level, band)
        return weight if driven.curve is None else driven.curve(weight)

    def weigh_step(self, places: Mesh, key: str) -> Values | None:
        field, overall = self._place.driving(self._reads)
        if field is None:
            return None
        step = cast(WeightedStep, self._place.settings(self._reads))
        weight = self.weigh(DrivenSetting(field=field, zone=step.zone, curve=step.curve), places, key)
        return weight if overall is None else weight * self._measured(overall, self._posed(places, key, True))[0]

    def beside(self, part: str) -> Part | None:
        made = self._place.beside.get(part)
        if made is None:
            self._note("beside", part)
            return None
        self._reads.note_result(("beside", part), made.key, made.reads.leaves)
        return made.value

    def once(self, name: str, make: Callable[..., Kept]) -> tuple[Kept, str]:
        place = self._place

        def made(reads: Reads) -> Kept:
            reads.note(("part",), place.part.key)
            return make(place.settings(reads), place.part.value, place.given(reads))

        found, _ = place.recipes.results.immediate(
            f"{name} of {place.name}", place.answer, made, latest=self._scene.latest
        )
        self._reads.include(found.reads)
        return found.value, found.key

    def measured(self) -> tuple[Mesh, str, bool]:
        """What the field that drives the step is measured on: a mesh, its key, and whether its points are middles."""
        part, key = self._place.part.value, self._place.standing
        # Where the points are the middles, it does not count whether the step wants middles.
        if part.points_are_middles or not self._place.settings(self._reads).at_middles:
            return part.mesh, key, part.points_are_middles
        return part.bodies().places, f"{key} middles", True

    def _driven(self) -> Drive | None:
        field, overall = self._place.driving(self._reads)
        if field is None:
            return None
        posed = self._posed(*self.measured())
        values, band, level = self._measured(field, posed)

        def at(field: str) -> Callable[[Elements], Values]:
            return partial(_field_at, self._place, self._reads, field)

        drive = Drive(posed.elements(), values, at(field), level, band)
        if overall is None:
            return drive
        on_top = self._measured(overall, posed)[0]
        return Drive(drive.elements, values, at(field), level, band, on_top, at(overall))

    def _posed(self, mesh: Mesh, key: str, middles: bool) -> PosedMesh:
        item = self._place.item
        return PosedMesh(mesh, key, self._scene.placement(item), self._place.subject, middles)

    def _measured(self, field: str, posed: PosedMesh) -> tuple[Values, Band, float]:
        """(n,) a field's values at the points of a mesh that the step has or makes, its band, and its level."""
        made = self._place.recipes.field_at(self._scene, field, posed.elements())
        read = Reads()
        read.include(made.reads)
        band = self._place.recipes.band_on(self._scene, field, posed, read)
        if ("elements", "posed") in read.answers:
            self._note("placement", self._place.item)
        self._reads.include(read.without("elements"))
        self._note("level", field)
        return made.value.values, band, self._scene.field_edge(field)[0]

    def _note(self, *question: object) -> None:
        self._reads.note(question, self._place.answer(question))


def _field_at(place: Place, reads: Reads, field: str, elements: Elements) -> Values:
    made = place.recipes.field_at(place.scene, field, elements)
    reads.include(made.reads)
    return made.value.values


class InputsToSolve:
    """See `steps.step.SolveInputs`. reads: where it is noted what the step looks at."""

    def __init__(self, place: Place, reads: Reads, frame: int | None = None) -> None:
        """frame: in place of the shot's first one, in what is asked about the start."""
        self._place, self._reads = place, reads
        self._shot, self._first = place.scene.shot, place.scene.first()
        self._start: Question = ("start",)
        if frame is not None and frame != self._shot.frames.first:
            self._first, self._start = self._first.at_frame(float(frame)), ("frame", float(frame))

    def at_frame(self, frame: int) -> InputsToSolve:
        return InputsToSolve(self._place, self._reads, frame)

    def at_second(self, seconds: float) -> InputsToSolve:
        first = self._shot.frames.first
        frame = first + (seconds - self._shot.moment(first).seconds) * self._shot.rate.fps
        # To so many digits, so that a second that a frame stands for gives that frame.
        made = InputsToSolve(self._place, self._reads)
        made._first, made._start = self._first.at_frame(round(frame, 6)), ("frame", round(frame, 6))
        return made

    def settings(self) -> SolvedStep:
        """The step as it is declared; which settings are looked at is noted."""
        place = self._place
        return cast(
            SolvedStep,
            Settings(place.step, lambda name: self._note("defined", "step", place.item, place.step_id, name), None),
        )

    def marched_settings(self) -> MarchedStep:
        """The same, for a step that is marched."""
        return cast(MarchedStep, self.settings())

    def begins(self) -> float:
        self._note("defined", "timing")
        return self._shot.moment(self._shot.frames.first).seconds

    def lasts(self) -> float:
        self._note("defined", "timing")
        return self._shot.moment(self._shot.frames.last).seconds

    def at_start(self) -> Subject:
        made = self._first.shapes.at_rest(self._first, self._place.item)
        leaves = behind(made.reads.leaves, self._start)
        self._reads.note_result((*self._start, "subject", self._place.item), made.key, leaves)
        return made.value

    def stance_at_start(self) -> Stance:
        return stance_of(self.placement_at_start(self._place.item))

    def placement_at_start(self, item: str) -> Matrix:
        self._note(*self._start, "placement", item)
        return self._first.placement(item)

    def course_at_start(self, path: str) -> Course:
        self._note(*self._start, "course", path)
        return self._first.course(path)

    def shape_at_start(self, shape: str) -> FinishedShape:
        made = self._first.shapes.finished(self._first, shape)
        self._reads.note_result((*self._start, "finished", shape), made.key, behind(made.reads.leaves, self._start))
        return made.value

    def model_at_start(self, shape: str) -> Model:
        made = self._first.shapes.modelled(self._first, shape)
        self._reads.note_result((*self._start, "model", shape), made.key, behind(made.reads.leaves, self._start))
        return made.value

    def bodies(self) -> Bodies:
        self._note("content", "bodies")
        return self._place.part.value.bodies().at_rest()

    def mesh(self) -> Mesh:
        self._note("content", "mesh")
        mesh = self._place.part.value.mesh
        return Mesh(mesh.rest, mesh.rest, np.zeros_like(mesh.rest), mesh.faces, mesh.number)

    def is_driven(self) -> bool:
        return self._driving()[0] is not None

    def weigh_at_start(self, elements: Callable[[Matrix, Subject], Elements]) -> Values:
        step, first = cast(WeightedStep, self.settings()), self._first
        asked = elements(self.placement_at_start(self._place.item), self.at_start())
        weight = np.full(len(asked), first.at(step.amount))
        field, overall = self._driving()
        if field is not None:
            values = self._at_start(field, asked)
            band_reads = Reads()
            band = band_of(first, field, asked, values, band_reads)
            self._reads.include(band_reads.without("elements"), self._start)
            self._note(*self._start, "level", field)
            zone = zone_weight(step.zone, values, first.field_edge(field)[0], band)
            weight = weight * (zone if step.curve is None else step.curve(zone))
        return weight if overall is None else weight * self._at_start(overall, asked)

    def excess_at_start(self, field: str, elements: Callable[[Matrix, Subject], Elements]) -> Values:
        asked = elements(self.placement_at_start(self._place.item), self.at_start())
        self._note(*self._start, "level", field)
        return self._at_start(field, asked) - self._first.field_edge(field)[0]

    def reached(self) -> Values:
        field, overall = self._driving()
        self._note("content", "places")
        place = self._place
        content = cast(str, place.answer(("content", "places")))
        made = place.recipes.reached(place.scene, field, overall, place.item, place.part.value.bodies(), content)
        self._reads.include(made.reads)
        return made.value.named["second"]

    def reached_at(self, places: Values) -> Values:
        field, overall = self._driving()
        if field is None:
            return np.full(len(places), np.inf)
        place = self._place
        made = place.recipes.reached_at(place.scene, field, overall, place.item, places)
        # The places are made from what was read to solve this.
        self._reads.include(made.reads.without("content"))
        return made.value.named["second"]

    def beats(self, every: int) -> Iterator[Beat]:
        field, overall = self._driving()
        if field is not None:
            place = self._place
            yield from place.recipes.beats(place.scene, field, overall, place.item, every, self._reads)

    def carried(self, seconds: Values) -> Values:
        item = self._place.item
        self._note("defined", "placement", item)
        self._note("defined", "timing")
        unique, back = np.unique(np.round(seconds, 6), return_inverse=True)
        if not self._first.definitions.changes(("placement", item)):
            return np.broadcast_to(self._first.placement(item), (len(seconds), 4, 4))
        frames = unique * self._shot.rate.fps
        matrices = np.array([self._shot.placement(item, self._shot.moment(float(frame))) for frame in frames])
        return matrices.reshape(-1, 4, 4)[back]

    def carried_at(self, seconds: float) -> Matrix:
        item = self._place.item
        self._note("defined", "placement", item)
        return self._place.scene.plan.placement(item, self._shot.moment(seconds * self._shot.rate.fps))

    def taken(self) -> Iterator[tuple[float, Part, Matrix]]:
        place, span, latest = self._place, self.span(), Latest()
        self._reads.leaves[("placement", place.item)] = None
        for tick in range(span.ticks() + 1):
            scene = scene_at(place.scene, span.second(tick), latest)
            made = place.recipes.parts(scene, place.item, until=place.step_id).get(place.step.part)
            if made is None:
                return
            self._reads.leaves.update(made.reads.leaves)
            yield span.second(tick), made.value, scene.placement(place.item)

    def movers(self, group: str) -> list[Mover]:
        return movers_of(self._place.recipes, self._place.scene, group, self._place.item, self._reads)

    def span(self) -> Span:
        self._note("defined", *TICKING)
        return Span(self.begins(), self.lasts(), self._place.scene.definitions.ticks)

    def over_time(self, parameter: NumberParameter, seconds: Values) -> Values:
        if not isinstance(parameter, KeyedNumber):
            return np.full(len(seconds), float(parameter))
        self._note("defined", "timing")
        unique, back = np.unique(np.round(seconds, 6), return_inverse=True)
        return np.array([self._shot.moment(float(one) * self._shot.rate.fps)(parameter) for one in unique])[back]

    def travelled_until(self, setting: str, seconds: Values) -> Values:
        place = self._place
        self._note("defined", "step", place.item, place.step_id, setting)
        self._note("defined", "timing")
        speed, fps, first = getattr(place.step, setting), self._shot.rate.fps, self._shot.frames.first
        begins = self._shot.moment(first).seconds
        return np.array([travelled(speed, first, first + (float(one) - begins) * fps) / fps for one in seconds])

    def is_draft(self) -> bool:
        self._note("defined", *VOXELS)
        return self._place.scene.definitions.draft

    @property
    def flag(self) -> NDArray[np.uint8]:
        return self._place.recipes.watch.flag

    def check(self, share: float) -> None:
        self._place.recipes.watch.check()
        self._place.recipes.watch.progress(cast(SolvedStep, self._place.step).works, share)

    def _driving(self) -> tuple[str | None, str | None]:
        place = self._place
        question: Question = ("defined", "driving", place.item, place.step_id)
        field, overall = cast("list[str | None]", place.answer(question))
        self._reads.note(question, [field, overall])
        return field, overall

    def _at_start(self, field: str, elements: Elements) -> Values:
        made = self._place.recipes.field_at(self._first, field, elements)
        self._reads.include(made.reads.without("elements"), self._start)
        return made.value.values

    def _note(self, *question: object) -> None:
        self._reads.note(question, self._place.answer(question))
