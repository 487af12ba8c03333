"""Shapes, and what their recipes make of them: at a moment, and as what is marched or solved needs them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Self, TypeVar, cast

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import in_order
from windsock.core.evaluate.cache import HasBytes
from windsock.core.evaluate.fingerprint import fingerprint
from windsock.core.evaluate.history import History
from windsock.core.evaluate.inputs import InputsToSolve, Place
from windsock.core.evaluate.marching import March, state_at
from windsock.core.evaluate.measured import on_points_now
from windsock.core.evaluate.moments import scene_at, span
from windsock.core.evaluate.nodes import march_node, shape_node, solved_node, source_history_node, step_node
from windsock.core.evaluate.reads import Question, Reads
from windsock.core.evaluate.results import Outcome, Results
from windsock.core.evaluate.scene import SceneAt
from windsock.core.evaluate.source_inputs import SourceToSolve
from windsock.core.evaluate.watch import Watch
from windsock.core.fields.elements import FinishedShape, Subject
from windsock.core.fields.source import HistorySource
from windsock.core.geometry.course import Course
from windsock.core.geometry.eating import Front
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import moved, turned_normals
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.stance import stance_of
from windsock.core.kernels.surface_distance import Surface
from windsock.core.parts.copies import Model
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.shapes.fineness import finely
from windsock.core.shapes.geometry import Assets
from windsock.core.steps.march import MarchedStep, Tick
from windsock.core.steps.step import SolvedStep
from windsock.core.timing.parameter import Moment
from windsock.core.timing.ticks import State

Value = TypeVar("Value", bound=HasBytes)
OnStep = Callable[[Place, Outcome[Part], bool], None]
"""Told of a step of a recipe, of the part after it, and whether that was there."""


class Recipes(History):
    """Evaluates the shapes of any shot."""

    def __init__(self, assets: Assets, results: Results, watch: Watch) -> None:
        super().__init__(results, watch)
        self._assets = assets
        self.results = results

    def at_rest(self, scene: SceneAt, item: str) -> Outcome[Subject]:
        """A shape before any step."""

        def built(reads: Reads) -> Mesh:
            reads.note(("geometry", item), scene.answer(("geometry", item)))
            shape = scene.shape(item)

            def course(path: str) -> Course:
                reads.note(("course", path), scene.answer(("course", path)))
                return scene.course(path)

            moment = _NotedMoment.of(scene.at, lambda: reads.note(("second",), scene.at.seconds))
            mesh = scene.at.settled(shape.geometry).make(moment, self._assets, course)
            return finely(mesh, scene.at.settled(shape.fineness))

        if item not in scene.subjects:
            node = shape_node(item)
            made, _ = self.results.immediate(node, scene.answer, built, node=node)
            scene.subjects[item] = Outcome(Subject(item, made.value, made.key), made.key, made.reads)
        return scene.subjects[item]

    def remaining(self, place: Place) -> Outcome[Part]:
        """What a step leaves of the part that it takes: the part after it, or what is left beside one that it makes."""
        if not place.step.changes_both():
            return self.after(place)[0]

        def made(reads: Reads) -> Part:
            reads.note_result(("part",), place.part.key, place.part.reads.leaves)
            return type(place.step).remains(place.settings(reads), place.part.value, place.given(reads))  # pyright: ignore

        name = f"remains {step_node(place.item, place.step_id)}"
        return self.results.immediate(name, place.answer, made, latest=place.scene.latest)[0]

    def finished(self, scene: SceneAt, item: str) -> Outcome[FinishedShape]:
        """A shape as its recipe leaves its body, in the world: what others measure their distance to."""
        body = self.body(scene, item)

        def made(reads: Reads) -> FinishedShape:
            reads.note_result(("body", item), body.key, body.reads.leaves)
            reads.note(("placement", item), scene.answer(("placement", item)))
            mesh = body.value.mesh
            return FinishedShape(Surface(moved(mesh.points, scene.placement(item)), mesh.faces))

        return self._of_body(f"finished {item}", scene, item, body, made)

    def modelled(self, scene: SceneAt, item: str) -> Outcome[Model]:
        """A shape as its recipe leaves its body, in its own space stretched as it is: what copies are made of."""
        body = self.body(scene, item)

        def made(reads: Reads) -> Model:
            reads.note_result(("body", item), body.key, body.reads.leaves)
            reads.note(("stretch", item), scene.answer(("stretch", item)))
            reads.leaves[("placement", item)] = None
            square = np.eye(4)
            square[:3, :3] = stance_of(scene.placement(item)).stretch
            mesh, part = body.value.mesh, body.value
            points = moved(mesh.points, square).astype(np.float32)
            normals = turned_normals(mesh.normals.astype(np.float64), square).astype(np.float32)
            return Model(replace(mesh, points=points, normals=normals, descent=()), part.look, part.backs)

        return self._of_body(f"model {item}", scene, item, body, made)

    def _of_body(
        self, name: str, scene: SceneAt, item: str, body: Outcome[Part], make: Callable[[Reads], Value]
    ) -> Outcome[Value]:
        def answer(question: Question) -> object:
            return body.key if question == ("body", item) else scene.answer(question)

        return self.results.immediate(name, answer, make, latest=scene.latest)[0]

    def body(self, scene: SceneAt, item: str) -> Outcome[Part]:
        """The body of a shape after its recipe, in its own time."""
        return self.parts(scene.of_recipe(item), item)["body"]

    def parts(
        self, scene: SceneAt, item: str, on_step: OnStep | None = None, until: str | None = None
    ) -> dict[str, Outcome[Part]]:
        """The parts of a shape after its steps, by name. scene: in the recipe's own time. on_step: told of each step; until: the step
        before which it ends."""
        if on_step is None and until is None and item in scene.parts:
            return scene.parts[item]
        found = {"body": self.untouched(scene, item)}
        # What only the look of changes stands where it stood: a field that was measured there is not measured again.
        standing = {"body": found["body"].key}
        for step_id, step in in_order(scene.shape(item).recipe.steps):
            if step_id == until:
                return found
            if step.on and step.part in found:
                self.watch.check()
                place = Place(self, scene, item, step_id, found[step.part], None, standing[step.part], dict(found))
                after, reused = self.after(place)
                made = step.made() or step.part
                found[made] = after
                standing[made] = place.standing if made == step.part and step.leaves == "places" else after.key
                if step.changes_both():
                    found[step.part] = self.remaining(place)
                    standing[step.part] = found[step.part].key
                if on_step is not None:
                    on_step(place, after, reused)
        scene.parts[item] = found
        return found

    def untouched(self, scene: SceneAt, item: str) -> Outcome[Part]:
        """The body of a shape before its steps."""
        subject = self.at_rest(scene, item)

        def made(reads: Reads) -> Part:
            reads.note_result(("subject", item), subject.key, subject.reads.leaves)
            reads.note(("look", item), scene.answer(("look", item)))
            retimed = scene.shape(item).recipe.retime is not None
            reads.leaves.update({("retimed" if retimed else "retime", item): None, ("steps", item): None})
            look = scene.at.settled(scene.shape(item).look)
            return MeshPart(subject.value.mesh, look, look.backs)

        return self.results.immediate(f"body {item}", scene.answer, made, latest=scene.latest)[0]

    def after(self, place: Place) -> tuple[Outcome[Part], bool]:
        """The part after a step, and whether it was there."""

        def made(reads: Reads) -> Part:
            reads.note_result(("part",), place.part.key, place.part.reads.leaves)
            return type(place.step).apply(place.settings(reads), place.part.value, place.given(reads))  # pyright: ignore

        node = step_node(place.item, place.step_id)
        return self.results.immediate(node, place.answer, made, node=node, latest=place.scene.latest)

    def solution(self, place: Place) -> Outcome[Solution]:
        """What a step has solved for all moments."""
        node = solved_node(place.item, place.step_id)
        step = cast(SolvedStep, place.step)

        def solved(reads: Reads) -> Mapping[str, NDArray[np.generic]]:
            given = InputsToSolve(place, reads)
            return type(step).solve(given.settings(), given).arrays()  # pyright: ignore

        made = self.results.solved(node, place.answer, solved, node=node)
        return Outcome(type(step).solution.of(made.value.named), made.key, made.reads)

    def front(self, scene: SceneAt, item: str, step_id: str, subject: str) -> Outcome[Front] | None:
        """Where the front is that a step lets through a shape, None for one that lets none through by now, and where the part is not there
        that it takes. subject: what asks; its own fronts are in its recipe's time as the scene is."""
        if not scene.shape(item).recipe.steps[step_id].sends_front:
            return None
        now = scene if item == subject else scene.of_recipe(item)
        before = self.parts(now, item, until=step_id)
        step = cast(SolvedStep, scene.shape(item).recipe.steps[step_id])
        if step.part not in before:
            return None
        reads = Reads()
        place = Place(self, now, item, step_id, before[step.part], beside=before)
        made = type(step).front(cast(SolvedStep, place.settings(reads)), place.given(reads))
        reads.leaves.update(place.part.reads.leaves)
        return Outcome(made, fingerprint("front", self.solution(place).key, made.come), reads)

    def source_history(self, scene: SceneAt, field: str, source: str, item: str) -> tuple[Solution, Reads]:
        """What a source has solved for a shape at rest and all moments, and what that was made from."""
        declared = cast(HistorySource, scene.shot.fields[field].sources[source])
        node = source_history_node(field, source, item)

        def solved(reads: Reads) -> Mapping[str, NDArray[np.generic]]:
            settings = self._settings(scene, field, source, reads, HistorySource)
            given = SourceToSolve(self, scene, item, type(declared).works, reads)
            return type(declared).solve(settings, given).arrays()

        made = self.results.solved(node, scene.answer, solved, node=node)
        return type(declared).solution.of(made.value.named), made.reads

    def marched(self, place: Place) -> tuple[State, Part, Reads]:
        """The state of a marched step, the part that it belongs to, and what both were made from."""
        march = self.march(place)
        seconds = march.within(place.scene.at.seconds)
        state, reads = state_at(march, seconds, self.results, self.watch)
        # What enters the step now depends on no more than what entered it at all ticks.
        entering = self.entering(scene_at(place.scene, seconds, place.scene.latest), place.item, place.step_id, Reads())
        reads.note(("second",), place.scene.at.seconds)
        subject = self.at_rest(place.scene, place.item).value
        if entering.value.mesh.descent or len(entering.value.mesh.points) == len(subject.mesh.points):
            return state, entering.value, reads
        which = on_points_now(place.scene, subject, np.arange(len(entering.value.mesh.points)), reads)
        mesh = entering.value.mesh.taken(which)
        return {name: array[which] for name, array in state.items()}, replace(entering.value, mesh=mesh), reads

    def march(self, place: Place) -> March:
        """The march of a marched step."""
        item, step_id, scene = place.item, place.step_id, place.scene
        step, timing = cast(MarchedStep, place.step), Reads()
        start, end = span(scene.shot)
        start -= type(step).pre_roll(InputsToSolve(place, timing).marched_settings())
        name = march_node(item, step_id)
        latest = self._latest(scene, name, item)
        ticks: dict[float, Tick] = {}
        looked_at = Reads()

        def tick(second: float, reads: Reads) -> Tick:
            if second not in ticks:
                while len(ticks) > 1:
                    del ticks[next(iter(ticks))]
                ticks[second] = self._tick(scene_at(scene, second, latest), item, step_id, looked_at, reads)
            return ticks[second]

        def begin(reads: Reads) -> State:
            reads.include(timing)
            state = type(step).begin(InputsToSolve(place, reads).marched_settings(), tick(start, reads))
            reads.leaves.update(looked_at.leaves)
            return state

        def advance(state: State, before: float, now: float, reads: Reads) -> State:
            settings = InputsToSolve(place, reads).marched_settings()
            state = type(step).advance(settings, state, tick(before, reads), tick(now, reads))
            reads.leaves.update(looked_at.leaves)
            return state

        return March(name, "Swinging through time", start, end, begin, advance, scene.answer, scene.definitions.ticks)

    def _tick(self, scene: SceneAt, item: str, step_id: str, looked_at: Reads, reads: Reads) -> Tick:
        """A tick of a marched step. looked_at: where it is noted what the step looks at, now and later."""
        place = self.place_of_entering(scene, item, step_id, reads)
        mesh = place.part.value.mesh
        step, given = cast(MarchedStep, place.step), place.given(looked_at)
        weight = type(step).weight(cast(MarchedStep, place.settings(looked_at)), len(mesh.points), given)
        reads.leaves[("placement", item)] = None
        return Tick(scene.at, mesh, moved(mesh.points, scene.placement(item)), weight, given)

    def entering(self, scene: SceneAt, item: str, step_id: str, reads: Reads) -> Outcome[Part]:
        """The part that enters a step as far as it has the same points at every moment: after those steps before it that
        leave these as they are, or do the same throughout. What a cut that changes took away before is there too."""
        part, changed, broken = self.untouched(scene, item), False, False
        first = self.at_rest(scene.first(), item)
        reads.leaves.update(first.reads.leaves)
        if len(first.value.mesh.points) != len(part.value.mesh.points):
            return self.untouched(scene.first(), item)
        steps = scene.shape(item).recipe.steps
        target = steps[step_id].part
        for one, step in in_order(steps):
            if one == step_id or (step.on and step.made() == target):
                break
            if not step.on or step.part != "body" or (step.made() is not None and not step.changes_both()):
                continue
            place = Place(self, scene, item, one, part)
            settings = place.settings(reads)
            by_pieces, leaves = settings.at_middles, settings.leaves
            breaks = isinstance(step, SolvedStep) and not by_pieces
            passed = leaves == "nothing" and (changed or not self._same_of(scene, item, one, part, reads))
            if passed or (breaks and changed) or (broken and by_pieces):
                changed, broken = True, broken or breaks
            elif leaves != "places":
                after = self.remaining(place)
                # After a step that is passed over the frame has other points: none may be made of these here.
                if changed and len(after.value.mesh.descent) != len(part.value.mesh.descent):
                    broken = broken or breaks
                else:
                    part = after
        reads.leaves.update(part.reads.leaves)
        return part

    def place_of_entering(self, scene: SceneAt, item: str, step_id: str, reads: Reads) -> Place:
        """A step with the part that enters it as far as that has the same points at every moment."""
        entering = self.entering(scene, item, step_id, reads)
        now, first = self.at_rest(scene, item).value, self.at_rest(scene.first(), item).value
        # A shape whose number of points changes is taken as it was at the first frame.
        subject = now if len(now.mesh.points) == len(first.mesh.points) else first
        return Place(self, scene, item, step_id, entering, subject)

    def does_the_same(self, scene: SceneAt, item: str, step_id: str) -> bool:
        """See `Shapes`."""
        return self._does_the_same(scene, item, step_id, lambda: self.entering(scene, item, step_id, Reads()))

    def _same_of(self, scene: SceneAt, item: str, step_id: str, part: Outcome[Part], reads: Reads) -> bool:
        """Whether a step makes the same of a part at every moment; that it does is noted, since what comes after goes by it."""
        same = self._does_the_same(scene, item, step_id, lambda: part)
        reads.note(("same", item, step_id), same)
        return same

    def _does_the_same(self, scene: SceneAt, item: str, step_id: str, entering: Callable[[], Outcome[Part]]) -> bool:
        changes = scene.definitions.changes

        def find() -> bool:
            part = entering()
            if any(changes(leaf) for leaf in part.reads.leaves):
                return False
            made, _ = self.after(Place(self, scene, item, step_id, part))
            return not any(changes(leaf) for leaf in made.reads.leaves)

        # What it reads at one moment is the same at all where nothing of that changes, so any moment tells.
        return scene.plan.does_the_same(item, step_id, find)


class _NotedMoment(Moment):
    """A moment; that it is looked at is noted."""

    @classmethod
    def of(cls, moment: Moment, note: Callable[[], None]) -> Self:
        """The moment, with what is told when it is looked at."""
        made = cls(moment.frame, moment.seconds)
        made.__dict__["note"] = note
        return made

    def __getattribute__(self, name: str) -> object:
        if name in ("seconds", "frame"):
            object.__getattribute__(self, "__dict__")["note"]()
        return object.__getattribute__(self, name)
