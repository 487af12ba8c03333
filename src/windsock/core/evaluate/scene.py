"""A shot at a moment, as sources and steps may ask it."""

from __future__ import annotations

from typing import Protocol

from windsock.core.declarations import Declared, in_order
from windsock.core.document.items import Path, Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.fingerprint import fingerprint
from windsock.core.evaluate.plan import Plan
from windsock.core.fields.field import AnySource, measure
from windsock.core.fields.source import Elements, Finished, SolvedSource, Subject, Values, rest_elements
from windsock.core.fields.zones import Band
from windsock.core.geometry.gradient import point_gradients
from windsock.core.geometry.placement import Matrix
from windsock.core.timing.parameter import Moment, NumberParameter, travelled


class Past(Protocol):
    """What knows the history of a shot, and its shapes at any moment of it."""

    def crossed(self, scene: SceneAt, field: str, item: str) -> tuple[Values, str]: ...

    def arrivals(self, scene: SceneAt, source: SolvedSource, item: str) -> tuple[Values, str]: ...

    def arrivals_between(self, scene: SceneAt, source: SolvedSource, elements: Elements) -> Values: ...

    def remembered(self, scene: SceneAt, field: str, item: str) -> Values: ...

    def finished(self, scene: SceneAt, item: str) -> Finished: ...


class Still(dict[str, Values]):
    """Values of sources that are the same at every moment of one history. nbytes: about what they will take.

    subject: the shape of the history, where its geometry is the same at every moment.
    """

    def __init__(self, nbytes: int) -> None:
        super().__init__()
        self.nbytes = nbytes
        self.subject: Subject | None = None


class SceneAt:
    """Answers for one frame. `still` keeps, between the scenes of one history, what is the same at every moment."""

    def __init__(self, shot: Shot, frame: float, plan: Plan, past: Past, still: Still | None = None) -> None:
        self.shot = shot
        self.plan = plan
        self.at: Moment = shot.moment(frame)
        self._past = past
        self._still = still
        self._placements: dict[str, Matrix] = {}
        self._field_keys: dict[tuple[str, str], str] = {}
        self._earlier: dict[float, SceneAt] = {}
        self._values: dict[tuple[str, Elements], Values] = {}

    def placement(self, item: str) -> Matrix:
        """(4, 4) matrix from the item's space to the world."""
        if item not in self._placements:
            self._placements[item] = self.shot.placement(item, self.at)
        return self._placements[item]

    def path(self, item: str) -> Path:
        """A path of the shot."""
        path = self.shot.items[item]
        assert isinstance(path, Path)
        return path

    def camera(self) -> Matrix | None:
        """(4, 4) matrix from the space of the shot's camera to the world, None where it has none."""
        return None if self.shot.camera is None else self.placement(self.shot.camera)

    def group(self, group: str, but: str) -> list[Finished]:
        """The shapes of a group after their recipes, without the item `but`."""
        return [self._past.finished(self, shape) for shape in self.shot.shapes_of(group) if shape != but]

    def looped(self, rate: NumberParameter) -> tuple[float, int]:
        """See `Scene`."""
        first, last = self.shot.frames.first, self.shot.frames.last
        total = travelled(rate, first, last + 1) / self.shot.rate.fps
        if total <= 0:
            return 0.0, 0
        turns = max(1, round(total))
        return self.travelled(rate) / total * turns, turns

    @property
    def still(self) -> Still | None:
        """What is the same at every moment of the history that this scene belongs to."""
        return self._still

    def at_frame(self, frame: float) -> SceneAt:
        """The scene at another frame."""
        return SceneAt(self.shot, frame, self.plan, self._past, self._still)

    def of_recipe(self, item: str) -> SceneAt:
        """The scene that a shape's recipe is evaluated in: at another frame where it is retimed."""
        shape = self.shot.items[item]
        if not isinstance(shape, Shape) or shape.recipe.retime is None:
            return self
        return self.at_frame(self.at(shape.recipe.retime.frame))

    def earlier(self, seconds: float) -> SceneAt:
        """The scene so many seconds before."""
        if seconds == 0:
            return self
        if seconds not in self._earlier:
            frame = self.at.frame - seconds * self.shot.rate.fps
            self._earlier[seconds] = SceneAt(self.shot, frame, self.plan, self._past, self._still)
        return self._earlier[seconds]

    def field_values(self, field: str, elements: Elements) -> Values:
        """(n,) the values of a field of the shot at elements, with what it remembers; found once for the same elements."""
        if (field, elements) not in self._values:
            sentence = self.sentence_values(field, elements)
            self._values[field, elements] = self.with_memory(field, elements, sentence)
        return self._values[field, elements]

    def sentence_values(self, field: str, elements: Elements) -> Values:
        """(n,) the values of a field's sentence at elements, without what it remembers."""

        def source_values(source_id: str, source: AnySource) -> Values:
            if self._still is None or not (elements.whole or elements.family):
                return source.measure(elements, self)
            item = elements.subject.item
            if not self.plan.still(field, source_id, item, elements.resting):
                return source.measure(elements, self)
            name = f"{field} {source_id} {item} {elements.family}"
            if name not in self._still:
                self._still[name] = source.measure(elements, self)
            return self._still[name]

        return measure(self.shot.fields[field], elements, self, source_values)

    def with_memory(self, field: str, elements: Elements, values: Values) -> Values:
        """(n,) what a field is where its sentence has these values now: no less than what it remembers."""
        told = self.shot.fields[field]
        if told.memory is None:
            return values
        held = elements.carry(self._past.remembered(self, field, elements.subject.item))
        return told.memory.advanced(held, values, 0.0)

    def field_edge(self, field: str) -> tuple[float, float, str]:
        """See `Scene`."""
        told = self.shot.fields[field]
        return self.at(told.level), self.at(told.band), told.band_in

    def field_band(self, field: str, elements: Elements, values: Values) -> Band:
        """See `Scene`. In metres, it is as wide as the values' slope on the subject makes it."""
        _, band, counted = self.field_edge(field)
        if counted == "values":
            return band
        subject = elements.subject
        if elements.whole:
            return band * point_gradients(elements.posed, subject.mesh.faces, subject.mesh.number, values)
        resting = rest_elements(subject, self.placement(subject.item))
        slope = point_gradients(
            resting.posed, subject.mesh.faces, subject.mesh.number, self.field_values(field, resting)
        )
        return band * elements.carry(slope)

    def key(self, *parts: object) -> str:
        """A fingerprint of declarations as they are at this moment."""
        return fingerprint(
            *(self.plan.resolved(part, self.at) if isinstance(part, Declared) else part for part in parts)
        )

    def source_key(self, source: AnySource, subject: Subject, mesh_key: str, matrix: Matrix) -> str:
        """A fingerprint of one source's own values at the points of a mesh; how it is joined does not matter."""
        told = self.plan.measuring(source, self.at)
        stands = [self.placement(item).tolist() for item in source.items()]
        reads = source.reads(self, subject)
        return self.key("source", told, stands, reads, mesh_key, None if source.standing == "own" else matrix.tolist())

    def field_key(self, field: str, subject: Subject) -> str:
        """A fingerprint of the sentence of a field, of where the items stand that it measures from, and of its past."""
        name = (field, subject.item)
        if name not in self._field_keys:
            told = self.shot.fields[field]
            stands = [self.placement(item).tolist() for item in told.items()]
            reads = [source.reads(self, subject) for _, source in in_order(told.sources)]
            past = None if told.memory is None else [self.plan.definition(field, subject.item), self.at.seconds]
            sources = {name: self.plan.resolved(source, self.at) for name, source in told.sources.items()}
            self._field_keys[name] = self.key(sources, stands, reads, past, subject.item)
        return self._field_keys[name]

    def crossed(self, field: str, subject: Subject) -> tuple[Values, str]:
        """See `Scene`."""
        return self._past.crossed(self, field, subject.item)

    def arrivals(self, source: SolvedSource, subject: Subject) -> tuple[Values, str]:
        """See `Scene`."""
        return self._past.arrivals(self, source, subject.item)

    def arrivals_between(self, source: SolvedSource, elements: Elements) -> Values:
        """See `Scene`."""
        return self._past.arrivals_between(self, source, elements)

    def travelled(self, speed: NumberParameter) -> float:
        """The integral of a speed from the shot's first frame to this moment."""
        return travelled(speed, self.shot.frames.first, self.at.frame) / self.shot.rate.fps
