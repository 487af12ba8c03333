"""Document -> frame. Asked for (document, frame) it answers with what is drawn and what every step made and cost."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from threading import Lock
from time import perf_counter

import numpy as np

from windsock.core.declarations import in_order
from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.asking import Asked
from windsock.core.evaluate.bounds import refuse_too_much
from windsock.core.evaluate.detail import Detail, drafted
from windsock.core.evaluate.drawn import DrawItem, drawn
from windsock.core.evaluate.history import History
from windsock.core.evaluate.keeping import Cost, Keeper
from windsock.core.evaluate.measured import Laid, Measured
from windsock.core.evaluate.plan import Plan, shape_node, solved_node, step_node
from windsock.core.evaluate.reading import read
from windsock.core.evaluate.reports import ShapeReport, StepReport, made_of
from windsock.core.evaluate.scene import SceneAt
from windsock.core.evaluate.watch import Watch
from windsock.core.fields.source import Elements, Finished, Subject, Values
from windsock.core.fields.zones import Band
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.stance import stance_of
from windsock.core.kernels.surface_distance import Surface
from windsock.core.shapes import Assets, build, made_from, plays
from windsock.core.shapes.fineness import finely
from windsock.core.steps import SolvedStep
from windsock.core.steps.copies import Model
from windsock.core.steps.follow_through import FollowThrough
from windsock.core.steps.moving import whole
from windsock.core.steps.part import Part
from windsock.core.steps.step import Here, Kept
from windsock.core.timing.parameter import Moment

SHOWN = 0.5
"""From this value of `shown` on a shape is drawn. What is hidden is still measured from, as part of a group."""


@dataclass(frozen=True, eq=False)
class Frame:
    """A shot at a moment."""

    moment: Moment
    draw: list[DrawItem]
    shapes: list[ShapeReport]
    steps: list[StepReport]
    placements: dict[str, Matrix]
    plan: Plan
    costs: list[Cost] = field(default_factory=list[Cost])


@dataclass(frozen=True)
class Heat:
    """Which field is to be seen as colour, and on which shape."""

    field: str
    item: str


class Plans:
    """The plans of the shots that were asked for last."""

    def __init__(self) -> None:
        self._plans: OrderedDict[int, Plan] = OrderedDict()
        self._lock = Lock()

    def of(self, shot: Shot) -> Plan:
        """The plan of a shot; made once as long as the same shot is asked for."""
        with self._lock:
            kept = self._plans.get(id(shot))
            if kept is None or kept.shot is not shot:
                kept = self._plans[id(shot)] = Plan(shot)
            self._plans.move_to_end(id(shot))
            while len(self._plans) > 16:
                self._plans.popitem(last=False)
            return kept


class Evaluator(Measured):
    """Evaluates frames; keeps results between them under the hash of what they depend on."""

    def __init__(self, assets: Assets, keeper: Keeper, watch: Watch | None = None, plans: Plans | None = None) -> None:
        """watch: where the work is cancelled and tells how far it is."""
        super().__init__(keeper)
        self._assets = assets
        self.watch = watch or Watch()
        self._plans = plans or Plans()
        self._history = History(keeper, self.at_rest, self.finished, self.watch)

    def scene(self, shot: Shot, frame: float) -> SceneAt:
        """A shot at a frame."""
        return SceneAt(shot, frame, self._plans.of(shot), self._history)

    def frame(self, shot: Shot, frame: float, detail: Detail = "final", heat: Heat | None = None) -> Frame:
        """Evaluate one frame."""
        self.refuse_too_much(shot)
        scene = self.scene(shot, frame)
        result = Frame(scene.at, [], [], [], {}, scene.plan)
        for item_id, item in in_order(shot.items):
            result.placements[item_id] = scene.placement(item_id)
            if isinstance(item, Shape):
                self._shape(scene, item_id, item, detail, heat, result)
        result.costs.extend(self._keeper.costs(scene.plan.order()))
        return result

    def refuse_too_much(self, shot: Shot) -> None:
        """Raise TooMuch, before any work, for what would not fit."""
        refuse_too_much(shot, self._assets)

    def to_find(self, shot: Shot, frame: float) -> float:
        """About how many seconds it takes to find what a frame needs of the past and is not kept yet."""
        self.refuse_too_much(shot)
        return self._history.to_find(self.scene(shot, frame))

    def at_rest(self, scene: SceneAt, item_id: str) -> Subject:
        """A shape before any step."""
        shape = scene.shot.items[item_id]
        assert isinstance(shape, Shape)
        moment = scene.at.seconds if plays(shape.geometry) else None
        key = scene.key(
            "shape", shape.geometry, shape.fineness, moment, *(scene.path(path) for path in made_from(shape.geometry))
        )

        def built() -> Mesh:
            mesh = build(shape.geometry, scene.at, self._assets, lambda path: scene.path(path).course(scene.at))
            return finely(mesh, shape.fineness)

        mesh, _ = self._keeper.result(shape_node(item_id), key, built)
        return Subject(item_id, mesh, key)

    def solved(self, node: str, key: str, make: Callable[[], Mapping[str, Values]]) -> Mapping[str, Values]:
        """What is solved once from the whole shot, kept in memory and beneath it."""
        return self._keeper.solution(node, key, make)

    def entering(self, scene: SceneAt, item: str, step_id: str) -> Elements:
        """The points of a shape at rest, where steps before this one have moved them to."""
        return self._history.entering(scene, item, step_id)

    def _shape(
        self, scene: SceneAt, item_id: str, shape: Shape, detail: Detail, heat: Heat | None, result: Frame
    ) -> None:
        self.watch.check()
        started = perf_counter()
        now, scene = scene, scene.of_recipe(item_id)
        subject = self.at_rest(scene, item_id)
        mesh, key = subject.mesh, subject.key
        matrix, stands = scene.placement(item_id), result.placements[item_id]
        spent = (perf_counter() - started) * 1000
        edge = self.median_edge(scene, mesh, key, matrix)
        result.shapes.append(ShapeReport(item_id, len(mesh.faces), len(mesh.points), edge, spent, mesh.measured()))
        if now.at(shape.shown) < SHOWN:
            return
        parts = self._recipe(scene, subject, shape, matrix, result.steps)
        for name, (part, key) in parts.items():
            shown = part.seen()
            shown = drafted(shown) if detail == "draft" else shown
            key = scene.key("seen", detail, key) if shown is not part else key
            seen = None
            if heat is not None and heat.item == item_id and heat.field in scene.shot.fields:
                laid = Laid(shown.mesh, key, matrix, subject, shown.copies is not None)
                seen = self.field_on(scene, heat.field, laid).astype(np.float32)
            result.draw.extend(drawn(subject, name, key, shown, stands, seen))

    def _recipe(
        self, scene: SceneAt, subject: Subject, shape: Shape, matrix: Matrix, reports: list[StepReport]
    ) -> dict[str, tuple[Part, str]]:
        """The parts after the steps, by name, and what each depends on. reports: gets one for each step."""
        body = Part(subject.mesh, shape.look, shape.look.backs)
        parts = {"body": (body, scene.key("body", subject.key, shape.look))}
        for step_id, step in in_order(shape.recipe.steps):
            if step.on and step.part in parts:
                self.watch.check()
                part, key = parts[step.part]
                after, key, report = self._step(scene, subject, shape, step_id, part, key, matrix)
                parts[step.made() or step.part] = (after, key)
                reports.append(report)
        return parts

    def finished(self, scene: SceneAt, item_id: str) -> Finished:
        """A shape as its recipe leaves it, in the world: what others measure their distance to."""
        matrix = scene.placement(item_id)
        part, part_key = self._body(scene, item_id)
        key = scene.key("finished", part_key, matrix.tolist())
        kept, _ = self._keeper.cache.get_or_make(
            key, lambda: Finished(Surface(moved(part.mesh.points, matrix), part.mesh.faces), key)
        )
        return kept

    def modelled(self, scene: SceneAt, item_id: str) -> Model:
        """A shape as its recipe leaves its body, in its own space stretched as it is: what copies are made of."""
        part, key = self._body(scene, item_id)
        stretch = stance_of(scene.placement(item_id)).stretch
        model_key = scene.key("model", key, stretch.tolist())

        def made() -> Model:
            square = np.eye(4)
            square[:3, :3] = stretch
            points = moved(part.mesh.points, square).astype(np.float32)
            normals = turned_normals(part.mesh.normals.astype(np.float64), square).astype(np.float32)
            return Model(replace(part.mesh, points=points, normals=normals, descent=()), part.look, part.backs)

        return self._keeper.cache.get_or_make(model_key, made)[0]

    def _step(
        self, scene: SceneAt, subject: Subject, shape: Shape, step_id: str, part: Part, key: str, matrix: Matrix
    ) -> tuple[Part, str, StepReport]:
        started = perf_counter()
        step = shape.recipe.steps[step_id]
        drive, reading, drive_key = None, None, None
        field_id, overall = shape.recipe.driving(step)
        if field_id is not None:
            at_bodies = part.pieces if (step.by_bodies and part.copies is None) else None
            if step.by_bodies and part.copies is None and at_bodies is None:
                at_bodies = whole(part.mesh)
            measured = part.mesh if at_bodies is None else at_bodies.places
            measured_key = key if at_bodies is None else scene.key("bodies", key)
            alone = part.copies is not None or at_bodies is not None
            drive = self.drive(scene, field_id, overall, Laid(measured, measured_key, matrix, subject, alone))
            areas = self.areas(scene, measured, measured_key, matrix)
            reading = read(field_id, drive.values, areas, drive.level, drive.band)
        listened = [
            [scene.field_key(field, subject), *scene.field_edge(field)] for field in shape.recipe.listened(step)
        ]
        if listened:
            drive_key = [listened, matrix.tolist()]
        node = step_node(subject.item, step_id)
        if isinstance(step, FollowThrough):
            march, shift = self._history.marched(scene, subject.item, step_id)
            after_key = scene.key("march", march.key, march.within(scene.at.seconds), key, matrix.tolist())
            after, reused = self._keeper.result(
                node, after_key, lambda: step.finish(part, lambda: part.mesh.from_rest(shift), matrix)
            )
        else:
            made_for = [key]

            def keep(name: str, make: Callable[[], Kept]) -> Kept:
                return self._keeper.cache.get_or_make(scene.key("kept", step.kind, name, *made_for), make)[0]

            def measured_at(field: str, places: Mesh, places_key: str) -> tuple[Values, Band]:
                laid = Laid(places, places_key, matrix, subject, alone=True)
                return self.field_on(scene, field, laid), self.band_on(scene, field, laid)

            asked = Asked(
                scene,
                subject.item,
                step,
                field_id,
                overall,
                self._history,
                self.at_rest,
                self.modelled,
                measured_at,
                keep,
            )
            here = Here(scene.at, matrix, subject, asked, key, self._broken_so_far)
            solved_key = None
            if isinstance(step, SolvedStep):
                problem = step.problem(part, here)
                solved_key = scene.key("solved", step.kind, problem.key)
                made_for.append(solved_key)
                missing = self._keeper.stored(solved_key) is None
                solved = self._keeper.solution(solved_node(subject.item, step_id), solved_key, problem.solve)
                here = replace(here, solved=solved, solved_key=solved_key)
                if missing:
                    self._history.found(scene, subject.item, step_id)
            stands = [matrix.tolist() if step.worldly else stance_of(matrix).stretch.tolist()]
            stands += [scene.key(scene.shot.items[item], scene.placement(item).tolist()) for item in step.items()]
            stands += [scene.key(scene.shot.items[one], self._body(scene, one)[1]) for one in step.shapes()]
            moment = scene.at.seconds if step.timed else None
            after_key = scene.key("step", scene.at.resolved(step), key, drive_key, solved_key, stands, moment)
            after, reused = self._keeper.result(node, after_key, lambda: step.apply(part, drive, here))
        spent = (perf_counter() - started) * 1000
        report = StepReport(subject.item, step_id, part.faces(), after.faces(), spent, reused, reading, made_of(after))
        return after, after_key, report

    def _body(self, scene: SceneAt, item_id: str) -> tuple[Part, str]:
        """The body of a shape after its recipe, in its own time, and what it depends on."""
        shape, then = scene.shot.items[item_id], scene.of_recipe(item_id)
        assert isinstance(shape, Shape)
        return self._recipe(then, self.at_rest(then, item_id), shape, then.placement(item_id), [])["body"]

    def _broken_so_far(self, share: float) -> None:
        self.watch.check()
        self.watch.progress("Breaking the shape into pieces", share)
