"""What a step may ask of the shot, answered for one shape at one moment."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from pydantic import JsonValue

from windsock.core.declarations import Id
from windsock.core.evaluate.fingerprint import fingerprint
from windsock.core.evaluate.history import History
from windsock.core.evaluate.scene import SceneAt
from windsock.core.fields.source import Elements, Subject, Values
from windsock.core.fields.zones import Band, zone_weight
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.course import Course
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix
from windsock.core.steps import AnyStep
from windsock.core.steps.copies import Model
from windsock.core.steps.step import Beat, Driven, Kept, WeightedStep
from windsock.core.timing.parameter import KeyedNumber, NumberParameter


class Keep(Protocol):
    """Gives what was made under a name for the same part and solution before, or makes it."""

    def __call__(self, name: str, make: Callable[[], Kept]) -> Kept: ...


@dataclass(frozen=True, eq=False)
class Asked:
    """Answers for a step of a shape at a scene. field, overall: what drives the step. See `Asking` for the answers.

    at_rest: gives the shape before its recipe at any scene. modelled: gives a shape after its recipe, as a model.
    measured: gives a field's values and its band at middles of copies. keep: keeps what the step makes.
    """

    scene: SceneAt
    item: str
    step: AnyStep
    field: Id | None
    overall: Id | None
    history: History
    at_rest: Callable[[SceneAt, str], Subject]
    modelled: Callable[[SceneAt, str], Model]
    measured: Callable[[str, Mesh, str], tuple[Values, Band]]
    keep: Keep

    def placement(self, item: str) -> Matrix:
        return self.scene.placement(item)

    def placement_at_start(self, item: str) -> Matrix:
        return self._first().placement(item)

    def begins(self) -> float:
        shot = self.scene.shot
        return shot.moment(shot.frames.first).seconds

    def lasts(self) -> float:
        shot = self.scene.shot
        return shot.moment(shot.frames.last).seconds

    def course(self, path: str) -> Course:
        return self.scene.path(path).course(self.scene.at)

    def course_at_start(self, path: str) -> Course:
        first = self._first()
        return first.path(path).course(first.at)

    def model(self, shape: str) -> Model:
        return self.modelled(self.scene, shape)

    def weigh(self, driven: Driven, places: Mesh, key: str) -> Values:
        values, band = self.measured(driven.field, places, key)
        weight = zone_weight(driven.zone, values, self.scene.field_edge(driven.field)[0], band)
        return weight if driven.curve is None else driven.curve(weight)

    def weigh_step(self, places: Mesh, key: str) -> Values | None:
        driven = self._driven()
        if driven is None:
            return None
        weight = self.weigh(driven, places, key)
        return weight if self.overall is None else weight * self.measured(self.overall, places, key)[0]

    def kept(self, name: str, make: Callable[[], Kept]) -> Kept:
        return self.keep(name, make)

    def _driven(self) -> Driven | None:
        if self.field is None:
            return None
        curve = self.step.curve if isinstance(self.step, WeightedStep) else None
        return Driven(field=self.field, zone=self.step.zone, curve=curve)

    def at_start(self) -> Subject:
        return self.at_rest(self._first(), self.item)

    def weigh_at_start(self, elements: Callable[[Matrix, Subject], Elements]) -> Values:
        first = self._first()
        asked = elements(first.placement(self.item), self.at_rest(first, self.item))
        weight = np.full(len(asked.posed), first.at(self.step.amount))
        driven = self._driven()
        if driven is not None:
            values = first.field_values(driven.field, asked)
            band = first.field_band(driven.field, asked, values)
            zone = zone_weight(driven.zone, values, first.field_edge(driven.field)[0], band)
            weight = weight * (zone if driven.curve is None else driven.curve(zone))
        if self.overall is not None:
            weight = weight * first.field_values(self.overall, asked)
        return weight

    def start_key(self) -> str | None:
        if self.field is None and self.overall is None:
            return None
        plan = self.scene.plan
        used = [field for field in (self.field, self.overall) if field is not None]
        bands: list[JsonValue] = [plan.band(field) for field in used]
        return fingerprint("start", [plan.definition(field, self.item) for field in used], bands)

    def reached(self, bodies: Bodies) -> tuple[Values, str]:
        return self.history.reached(self.scene, self.field, self.overall, self.item, bodies)

    def beats(self, every: int) -> Iterator[Beat]:
        if self.field is not None:
            yield from self.history.beats(self.scene, self.field, self.overall, self.item, every)

    def beats_key(self) -> str:
        plan = self.scene.plan
        used = [one for one in (self.field, self.overall) if one is not None]
        bands: list[JsonValue] = [plan.band(field) for field in used]
        return fingerprint("beats", [plan.definition(field, self.item) for field in used], bands)

    def carried_key(self) -> str:
        return fingerprint("carried", self.scene.plan.standing(self.item), self.scene.plan.timing())

    def carried(self, seconds: Values) -> Values:
        plan, shot = self.scene.plan, self.scene.shot
        if not plan.moves(self.item):
            return np.broadcast_to(self.scene.placement(self.item), (len(seconds), 4, 4))
        unique, back = np.unique(np.round(seconds, 6), return_inverse=True)
        frames = unique * shot.rate.fps
        stands = np.array([shot.placement(self.item, shot.moment(float(frame))) for frame in frames])
        return stands.reshape(-1, 4, 4)[back]

    def told(self, parameter: NumberParameter, seconds: Values) -> Values:
        if not isinstance(parameter, KeyedNumber):
            return np.full(len(seconds), float(parameter))
        shot = self.scene.shot
        unique, back = np.unique(np.round(seconds, 6), return_inverse=True)
        return np.array([shot.moment(float(one) * shot.rate.fps)(parameter) for one in unique])[back]

    def _first(self) -> SceneAt:
        return self._frame(self.scene.shot.frames.first)

    def _frame(self, frame: float) -> SceneAt:
        return self.scene.at_frame(frame)
