"""Document -> frame. Asked for (document, frame) it answers with what is drawn and what every step made and cost."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, field
from threading import Lock
from time import perf_counter

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import in_order
from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.bounds import refuse_too_much
from windsock.core.evaluate.detail import Detail, drafted
from windsock.core.evaluate.drawn import DrawItem, drawn
from windsock.core.evaluate.estimates import seconds_to_find
from windsock.core.evaluate.inputs import Place
from windsock.core.evaluate.keeping import Cost, Keeper
from windsock.core.evaluate.measured import PosedMesh
from windsock.core.evaluate.plan import Plan
from windsock.core.evaluate.reading import Reading, read
from windsock.core.evaluate.reads import Question, Reads
from windsock.core.evaluate.recipes import OnStep, Recipes
from windsock.core.evaluate.reports import ShapeReport, StepReport, step_report
from windsock.core.evaluate.results import Outcome, Results
from windsock.core.evaluate.scene import SceneAt
from windsock.core.evaluate.still import ShapeShown
from windsock.core.evaluate.watch import Watch
from windsock.core.geometry.panorama import Panorama
from windsock.core.geometry.placement import Matrix
from windsock.core.parts.part import Part
from windsock.core.shapes.geometry import Assets
from windsock.core.timing.parameter import KeyedNumber, Moment

SHOWN = 0.5
"""From this value of `shown` on a shape is drawn. What is hidden is still measured from, as part of a group."""


@dataclass(frozen=True, eq=False)
class Frame:
    """A shot at a moment. looked_at: the shapes of which it is told what drives their steps; None: all."""

    moment: Moment
    draw: list[DrawItem]
    shapes: list[ShapeReport]
    steps: list[StepReport]
    placements: dict[str, Matrix]
    plan: Plan
    looked_at: frozenset[str] | None = None
    costs: list[Cost] = field(default_factory=list[Cost])


@dataclass(frozen=True)
class Heat:
    """Which field is to be seen as colour, and on which shape."""

    field: str
    item: str


class Plans:
    """The plans of the shots that were asked for last."""

    def __init__(self) -> None:
        self._plans: OrderedDict[tuple[int, Detail], Plan] = OrderedDict()
        self._lock = Lock()

    def of(self, shot: Shot, detail: Detail) -> Plan:
        """The plan of a shot; made once as long as the same shot is asked for in the same detail."""
        name = id(shot), detail
        with self._lock:
            kept = self._plans.get(name)
            if kept is None or kept.shot is not shot:
                kept = self._plans[name] = Plan(shot, detail)
            self._plans.move_to_end(name)
            while len(self._plans) > 16:
                self._plans.popitem(last=False)
            return kept


class Evaluator(Recipes):
    """Evaluates frames; keeps results between them under what they were made from."""

    def __init__(self, assets: Assets, keeper: Keeper, watch: Watch | None = None, plans: Plans | None = None) -> None:
        """watch: where the work is cancelled and tells how far it is."""
        super().__init__(assets, Results(keeper), watch or Watch())
        self._plans = plans or Plans()

    def scene(self, shot: Shot, frame: float, detail: Detail = "final") -> SceneAt:
        """A shot at a frame."""
        return SceneAt(shot, frame, self._plans.of(shot, detail), self)

    def frame(
        self,
        shot: Shot,
        frame: float,
        detail: Detail = "final",
        heat: Heat | None = None,
        looked_at: frozenset[str] | None = None,
    ) -> Frame:
        """Evaluate one frame. looked_at: the shapes of which is told what drives their steps; None: all."""
        self.refuse_too_much(shot)
        scene = self.scene(shot, frame, detail)
        result = Frame(scene.at, [], [], [], {}, scene.plan, looked_at)
        try:
            for item_id, item in in_order(shot.items):
                result.placements[item_id] = scene.placement(item_id)
                if isinstance(item, Shape):
                    self._shape(scene, item_id, item, detail, heat, result)
        finally:
            scene.forget()
        result.costs.extend(self.results.keeper.costs(scene.plan.order()))
        return result

    def panorama(self, asset: str) -> Panorama:
        """An imported picture of all that is round about. Raises MissingAsset, and Refusal for another file."""
        return self._assets.panorama(asset)

    def refuse_too_much(self, shot: Shot) -> None:
        """Raise TooMuch, before any work, for what would not fit."""
        refuse_too_much(shot, self._assets)

    def to_find(self, shot: Shot, frame: float) -> float:
        """About how many seconds it takes to find what a frame needs of the past and is not kept yet."""
        self.refuse_too_much(shot)
        return seconds_to_find(self, self.scene(shot, frame))

    def _shape(
        self, now: SceneAt, item_id: str, shape: Shape, detail: Detail, heat: Heat | None, result: Frame
    ) -> None:
        """Put a shape into a frame; one that is the same throughout the shot as it was put into an earlier one."""
        self.watch.check()
        cache, heated = self.results.keeper.cache, heat is not None and heat.item == item_id
        looked_at = result.looked_at is None or item_id in result.looked_at
        name = f"{item_id} {detail} {looked_at}"
        shown = None if heated else now.plan.still.get(name, cache)
        if shown is None:
            shown, leaves = self._evaluated(now, item_id, shape, detail, heat if heated else None, looked_at)
            changes = isinstance(shape.shown, KeyedNumber) or any(map(now.definitions.changes, leaves))
            if not heated and not changes:
                now.plan.still.keep(name, shown, cache)
        result.shapes.append(shown.shape)
        result.steps.extend(shown.steps)
        result.draw.extend(shown.draw)

    def _evaluated(
        self, now: SceneAt, item_id: str, shape: Shape, detail: Detail, heat: Heat | None, looked_at: bool
    ) -> tuple[ShapeShown, dict[Question, None]]:
        """What a frame has of a shape, and what that was made from."""
        started = perf_counter()
        scene = now.of_recipe(item_id)
        rest = self.at_rest(scene, item_id)
        spent = (perf_counter() - started) * 1000
        subject, matrix, placed = rest.value, scene.placement(item_id), now.placement(item_id)
        mesh = subject.mesh
        edge = self.median_edge(mesh, subject.key, matrix)
        told = ShapeReport(item_id, len(mesh.faces), len(mesh.points), edge, spent, mesh.measured())
        leaves = {("placement", item_id): None, ("retime", item_id): None, **rest.reads.leaves}
        steps, draw = list[StepReport](), list[DrawItem]()
        if now.at(shape.shown) >= SHOWN:
            for name, part in self.parts(scene, item_id, self._reporting(steps, leaves, looked_at)).items():
                leaves |= part.reads.leaves
                seen, key = part.value.seen(), part.key
                seen = seen if detail == "final" else drafted(seen)
                key = key if seen is part.value else f"{key} seen {detail}"
                posed = PosedMesh(seen.mesh, key, matrix, subject, seen.points_are_middles)
                draw.extend(drawn(subject, name, key, seen, placed, self._heat(scene, heat, posed)))
        return ShapeShown(told, tuple(steps), tuple(draw)), leaves

    def _heat(self, scene: SceneAt, heat: Heat | None, posed: PosedMesh) -> NDArray[np.float32] | None:
        """(n,) the field that is to be seen as colour."""
        if heat is None or heat.field not in scene.shot.fields:
            return None
        return self.field_on(scene, heat.field, posed).astype(np.float32)

    def _reporting(self, steps: list[StepReport], leaves: dict[Question, None], looked_at: bool) -> OnStep:
        """What adds a report of each step, with the milliseconds since the one before, and what that was made from.
        looked_at: with what drives it."""
        clock = [perf_counter()]

        def report(place: Place, after: Outcome[Part], reused: bool) -> None:
            reading = self._reading(place, leaves) if looked_at else None
            before, clock[0] = clock[0], perf_counter()
            steps.append(step_report(place, after.value, reused, reading, (clock[0] - before) * 1000))

        return report

    def _reading(self, place: Place, leaves: dict[Question, None]) -> Reading | None:
        """The field that drives a step, as the step gets it."""

        def made(reads: Reads) -> Reading:
            reads.note_result(("part",), place.part.key, place.part.reads.leaves)
            given = place.given(reads)
            drive, (mesh, key, _) = given.drive, given.measured()
            assert drive is not None
            areas = self.areas(mesh, key, given.matrix)
            return read(str(place.driving(reads)[0]), drive.values, areas, drive.level, drive.band)

        if place.driving(Reads())[0] is None:
            return None
        found, _ = self.results.immediate(f"reading of {place.name}", place.answer, made)
        leaves |= found.reads.leaves
        return found.value
