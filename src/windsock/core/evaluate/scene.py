"""A shot at one frame: its answers to what evaluations ask."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol, cast

from xxhash import xxh3_128_hexdigest

from windsock.core.declarations import in_order
from windsock.core.document.items import Path, Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.definitions import DEFINED, JOINING, Definitions
from windsock.core.evaluate.keeping import Arrays
from windsock.core.evaluate.plan import Plan
from windsock.core.evaluate.reads import Question, Reads, Settings
from windsock.core.evaluate.results import Latest, Outcome
from windsock.core.fields.elements import Elements, FinishedShape, Subject, Values
from windsock.core.geometry.course import Course
from windsock.core.geometry.eating import Front
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.stance import stance_of
from windsock.core.parts.copies import Model
from windsock.core.parts.part import Part
from windsock.core.timing.parameter import Moment, NumberParameter, travelled
from windsock.core.timing.ticks import State


@dataclass(frozen=True, eq=False)
class PointValues:
    """(n,) values at the points of a mesh: of a field, of a source, or areas."""

    values: Values

    @property
    def nbytes(self) -> int:
        return self.values.nbytes


class Shapes(Protocol):
    """What knows the shapes and fields of a shot at any moment of it, and what was."""

    def at_rest(self, scene: SceneAt, item: str) -> Outcome[Subject]:
        """A shape before its recipe."""
        ...

    def finished(self, scene: SceneAt, item: str) -> Outcome[FinishedShape]:
        """A shape as its recipe leaves its body, in the world."""
        ...

    def modelled(self, scene: SceneAt, item: str) -> Outcome[Model]:
        """A shape as its recipe leaves its body, as a model of copies."""
        ...

    def field_at(self, scene: SceneAt, field: str, elements: Elements) -> Outcome[PointValues]:
        """The values of a field at elements."""
        ...

    def crossed(self, scene: SceneAt, field: str, item: str) -> Outcome[Arrays]:
        """When a field first comes to each point of a shape at rest."""
        ...

    def arrivals(self, scene: SceneAt, field: str, source: str, item: str) -> Outcome[Arrays]:
        """How far the front of a source has to go to each point of a shape at rest."""
        ...

    def arrivals_between(self, scene: SceneAt, field: str, source: str, elements: Elements) -> Outcome[Arrays]:
        """How far it has to go to each piece or copy."""
        ...

    def source_state(self, scene: SceneAt, field: str, source: str, item: str) -> tuple[State, Reads]:
        """The state of a marched source at each point of a shape at rest."""
        ...

    def source_history(self, scene: SceneAt, field: str, source: str, item: str) -> tuple[Solution, Reads]:
        """What a source has solved for a shape at rest and all moments."""
        ...

    def front(self, scene: SceneAt, item: str, step_id: str, subject: str) -> Outcome[Front] | None:
        """Where the front is that a step lets through a shape, None where the part is not there that it takes."""
        ...

    def remembered(self, scene: SceneAt, field: str, item: str) -> tuple[Values, Reads]:
        """What a field remembers at each point of a shape at rest."""
        ...

    def does_the_same(self, scene: SceneAt, item: str, step_id: str) -> bool:
        """Whether a step makes the same of what enters it at every moment."""
        ...


class SceneAt:
    """A shot at one frame. latest: where results are kept that belong to one history; None: with all others."""

    def __init__(self, shot: Shot, frame: float, plan: Plan, shapes: Shapes, latest: Latest | None = None) -> None:
        self.shot = shot
        self.plan = plan
        self.at: Moment = shot.moment(frame)
        self.shapes = shapes
        self.latest = latest
        self.measured: dict[tuple[str, Elements], object] = {}
        """What was measured at elements that do not say which they are."""
        self.subjects: dict[str, Outcome[Subject]] = {}
        self.parts: dict[str, dict[str, Outcome[Part]]] = {}
        """Shapes before and after their recipes, by item, as far as they were asked for."""
        self.settled: dict[tuple[str, str], Settings] = {}
        """Sources with their settings as they are now, by field and source, as far as they were measured."""
        self._placements: dict[str, Matrix] = {}
        self._courses: dict[str, Course] = {}
        self._travelled: dict[int, float] = {}
        self._others: dict[float, SceneAt] = {}
        self._first: SceneAt | None = None
        self._answers: dict[Question, object] = {}

    @property
    def definitions(self) -> Definitions:
        """What the document says over the whole shot."""
        return self.plan.definitions

    def placement(self, item: str) -> Matrix:
        """(4, 4) matrix from the item's space to the world."""
        if item not in self._placements:
            self._placements[item] = self.plan.placement(item, self.at)
        return self._placements[item]

    def camera(self) -> Matrix | None:
        """(4, 4) matrix from the space of the shot's camera to the world, None where it has none."""
        return None if self.shot.camera is None else self.placement(self.shot.camera)

    def course(self, path: str) -> Course:
        """The curve of a path, in its own space; raises KeyError where it is no path."""
        if path not in self._courses:
            found = self.shot.items[path]
            if not isinstance(found, Path):
                raise KeyError(path)
            self._courses[path] = found.course(self.at)
        return self._courses[path]

    def shape(self, item: str) -> Shape:
        """A shape of the shot; raises KeyError where it is none."""
        found = self.shot.items[item]
        if not isinstance(found, Shape):
            raise KeyError(item)
        return found

    def at_frame(self, frame: float) -> SceneAt:
        """The scene at another frame."""
        if frame == self.at.frame:
            return self
        if frame not in self._others:
            self._others[frame] = self.beside(frame, self.latest)
        return self._others[frame]

    def beside(self, frame: float, latest: Latest | None) -> SceneAt:
        """A new scene at another frame, with results of its own history; all have the first frame in common."""
        made = SceneAt(self.shot, frame, self.plan, self.shapes, latest)
        made._first = self.first() if frame != self.shot.frames.first else None
        return made

    def first(self) -> SceneAt:
        """The scene at the shot's first frame."""
        if self.at.frame == self.shot.frames.first:
            return self
        if self._first is None:
            self._first = SceneAt(self.shot, self.shot.frames.first, self.plan, self.shapes)
        return self._first

    def forget(self) -> None:
        """Let go of all that was found for this frame and those beside it, once nobody asks any more: much of it holds on to the
        scene in turn, and would stay in memory until garbage is looked for."""
        beside = [*self._others.values(), *([] if self._first is None else [self._first])]
        self._others, self._first = {}, None
        self.measured, self.subjects, self.parts, self.settled = {}, {}, {}, {}
        for other in beside:
            other.forget()

    def earlier(self, seconds: float) -> SceneAt:
        """The scene so many seconds before."""
        return self if seconds == 0 else self.at_frame(self.at.frame - seconds * self.shot.rate.fps)

    def of_recipe(self, item: str) -> SceneAt:
        """The scene that a shape's recipe is evaluated in: at another frame where it is retimed."""
        retime = self.shape(item).recipe.retime
        return self if retime is None else self.at_frame(self.at(retime.frame))

    def field_edge(self, field: str) -> tuple[float, float, str]:
        """A field's level and band, and what the band is counted in."""
        declared = self.shot.fields[field]
        return self.at(declared.level), self.at(declared.band), declared.band_in

    def travelled(self, speed: NumberParameter) -> float:
        """The integral of a speed from the shot's first frame to this moment."""
        name = id(speed)  # of the shot's own declaration, which stays as long as the scene does
        if name not in self._travelled:
            self._travelled[name] = travelled(speed, self.shot.frames.first, self.at.frame) / self.shot.rate.fps
        return self._travelled[name]

    def looped(self, rate: NumberParameter) -> tuple[float, int]:
        """See `fields.source.Scene`."""
        first, last = self.shot.frames.first, self.shot.frames.last
        total = travelled(rate, first, last + 1) / self.shot.rate.fps
        if total <= 0:
            return 0.0, 0
        turns = max(1, round(total))
        return self.travelled(rate) / total * turns, turns

    def answer(self, question: Question) -> object:
        """The answer to a question now, as plain data; raises KeyError where what it asks after is not there."""
        if question not in self._answers:
            name, *of = question
            if name == "then":
                return self.earlier(cast(float, of[0])).answer(tuple(of[1:]))
            if name == "start":
                return self.first().answer(tuple(of))
            if name == "frame":
                return self.first().at_frame(cast(float, of[0])).answer(tuple(of[1:]))
            if name == "defined":
                return self.definitions.of(tuple(of))
            # What is the same throughout is answered by what the document says, once for all frames.
            still = name in DEFINED and not self.definitions.changes(question)
            answered = self.definitions.of(question) if still else ANSWERS[str(name)](self, *cast(list[str], of))
            self._answers[question] = answered
        return self._answers[question]


def _source(scene: SceneAt, field: str, source: str) -> object:
    plain = cast(dict[str, object], scene.plan.resolved(scene.shot.fields[field].sources[source], scene.at))
    return {name: value for name, value in plain.items() if name not in JOINING}


def _sentence(scene: SceneAt, field: str) -> object:
    declared = scene.shot.fields[field]
    joined: list[object] = []
    for key, one in in_order(declared.sources):
        plain = cast(dict[str, object], scene.plan.resolved(one, scene.at))
        joined.append([key, {name: plain[name] for name in sorted(JOINING)}])
    return [joined, None if declared.memory is None else scene.plan.resolved(declared.memory, scene.at)]


def _setting(scene: SceneAt, field: str, source: str, name: str) -> NumberParameter:
    return cast(NumberParameter, getattr(scene.shot.fields[field].sources[source], name))


def _camera(scene: SceneAt) -> object:
    camera = scene.camera()
    return None if camera is None else camera.tolist()


def _step(scene: SceneAt, item: str, step: str, name: str) -> object:
    return scene.at.resolved(getattr(scene.shape(item).recipe.steps[step], name))


def _driving(scene: SceneAt, item: str, step: str) -> object:
    recipe = scene.shape(item).recipe
    return list(recipe.driving(recipe.steps[step]))


def _second(scene: SceneAt) -> object:
    return scene.at.seconds


def _level(scene: SceneAt, field: str) -> object:
    return scene.at(scene.shot.fields[field].level)


def _band(scene: SceneAt, field: str) -> object:
    return list(scene.field_edge(field)[1:])


def _travelled(scene: SceneAt, field: str, source: str, name: str) -> object:
    return scene.travelled(_setting(scene, field, source, name))


def _gone(scene: SceneAt, item: str, step: str, name: str) -> object:
    return scene.travelled(cast(NumberParameter, getattr(scene.shape(item).recipe.steps[step], name)))


def _looped(scene: SceneAt, field: str, source: str, name: str) -> object:
    return list(scene.looped(_setting(scene, field, source, name)))


def _placement(scene: SceneAt, item: str) -> object:
    return scene.placement(item).tolist()


def _stretch(scene: SceneAt, item: str) -> object:
    return stance_of(scene.placement(item)).stretch.tolist()


def _course(scene: SceneAt, path: str) -> object:
    course = scene.course(path)
    return [xxh3_128_hexdigest(course.places.tobytes()), course.closed]


def _group(scene: SceneAt, group: str, but: str) -> object:
    return [shape for shape in scene.shot.shapes_of(group) if shape != but]


def _geometry(scene: SceneAt, item: str) -> object:
    return scene.at.resolved([scene.shape(item).geometry, scene.shape(item).fineness])


def _look(scene: SceneAt, item: str) -> object:
    return scene.at.resolved(scene.shape(item).look)


def _subject(scene: SceneAt, item: str) -> object:
    return scene.shapes.at_rest(scene, item).key


def _finished(scene: SceneAt, item: str) -> object:
    return scene.shapes.finished(scene, item).key


def _model(scene: SceneAt, item: str) -> object:
    return scene.shapes.modelled(scene, item).key


def _front(scene: SceneAt, item: str, step: str, subject: str) -> object:
    made = scene.shapes.front(scene, item, step, subject)
    return "" if made is None else made.key


def _steps(scene: SceneAt, item: str) -> object:
    return scene.definitions.of(("steps", item))


def _same(scene: SceneAt, item: str, step: str) -> object:
    return scene.shapes.does_the_same(scene, item, step)


ANSWERS: dict[str, Callable[..., object]] = {
    "second": _second,
    "source": _source,
    "sentence": _sentence,
    "level": _level,
    "band": _band,
    "travelled": _travelled,
    "gone": _gone,
    "looped": _looped,
    "placement": _placement,
    "stretch": _stretch,
    "camera": _camera,
    "course": _course,
    "group": _group,
    "geometry": _geometry,
    "look": _look,
    "step": _step,
    "driving": _driving,
    "subject": _subject,
    "finished": _finished,
    "model": _model,
    "front": _front,
    "steps": _steps,
    "same": _same,
}
"""By the name of a question: what a scene answers to it."""
