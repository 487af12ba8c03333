"""What fields and sources carry from tick to tick: what a field remembers, and the state of a marched source."""

from __future__ import annotations

from typing import TypeVar, cast

from windsock.core.evaluate.marching import March, state_at
from windsock.core.evaluate.measured import FieldMeasurements, SourceScene
from windsock.core.evaluate.moments import resting, scene_at, span
from windsock.core.evaluate.nodes import memory_node, source_march_node
from windsock.core.evaluate.reads import Question, Reads, Settings
from windsock.core.evaluate.results import Latest, Results
from windsock.core.evaluate.scene import SceneAt
from windsock.core.evaluate.watch import Watch
from windsock.core.fields.elements import Values
from windsock.core.fields.marched import MarchedSource, SourceTick
from windsock.core.fields.source import SourceBase
from windsock.core.timing.ticks import State

Kind = TypeVar("Kind", bound=SourceBase)


class FieldMarches(FieldMeasurements):
    """Takes fields and sources through time."""

    def __init__(self, results: Results, watch: Watch) -> None:
        super().__init__(results)
        self.watch = watch

    def remembered(self, scene: SceneAt, field: str, item: str) -> tuple[Values, Reads]:
        """(m,) what a field remembers at a moment at each point of a shape at rest, and what that was made from."""
        state, reads = state_at(self.memory(scene, field, item), scene.at.seconds, self._results, self.watch)
        return state["held"], reads

    def memory(self, scene: SceneAt, field: str, item: str) -> March:
        """The march of what a field remembers."""
        start, end = span(scene.shot)
        name = memory_node(field, item)
        latest = self._latest(scene, name, item)
        memory = scene.shot.fields[field].memory
        assert memory is not None

        def values(second: float, reads: Reads) -> Values:
            now = scene_at(scene, second, latest)
            made = self.sentence_at(now, field, resting(now, item, reads))
            reads.leaves.update(made.reads.leaves)
            if ("elements", "posed") in made.reads.leaves:
                reads.note(("placement", item), now.answer(("placement", item)))
            return made.value.values

        def begin(reads: Reads) -> State:
            return {"held": values(start, reads)}

        def advance(state: State, before: float, now: float, reads: Reads) -> State:
            return {"held": memory.advanced(state["held"], values(now, reads), now - before)}

        return March(name, "Remembering the field", start, end, begin, advance, scene.answer, scene.definitions.ticks)

    def source_state(self, scene: SceneAt, field: str, source: str, item: str) -> tuple[State, Reads]:
        """The state of a marched source at a moment, at each point of a shape at rest, and what that was made from."""
        march = self.source_march(scene, field, source, item)
        return state_at(march, scene.at.seconds, self._results, self.watch)

    def source_march(self, scene: SceneAt, field: str, source: str, item: str) -> March:
        """The march of a source."""
        declared = cast(MarchedSource, scene.shot.fields[field].sources[source])
        start, end = span(scene.shot)
        timing = Reads()
        start -= type(declared).pre_roll(self._settings(scene, field, source, timing, MarchedSource))
        name = source_march_node(field, source, item)
        latest = self._latest(scene, name, item)
        looked_at = Reads()

        def tick(second: float, reads: Reads) -> SourceTick:
            now = scene_at(scene, second, latest)
            elements = resting(now, item, reads).watched(looked_at.note)
            return SourceTick(elements, SourceScene(now, looked_at, field, source))

        def settings(reads: Reads) -> MarchedSource:
            return self._settings(scene, field, source, reads, MarchedSource)

        def all_of(state: State, reads: Reads) -> State:
            reads.leaves.update(looked_at.leaves)
            if ("elements", "posed") in looked_at.leaves:
                reads.leaves[("placement", item)] = None
            return state

        def begin(reads: Reads) -> State:
            reads.include(timing)
            return all_of(type(declared).begin(settings(reads), tick(start, reads)), reads)

        def advance(state: State, before: float, now: float, reads: Reads) -> State:
            made = type(declared).advance(settings(reads), state, tick(before, reads), tick(now, reads))
            return all_of(made, reads)

        return March(
            name, "Taking the field through time", start, end, begin, advance, scene.answer, scene.definitions.ticks
        )

    def _latest(self, scene: SceneAt, name: str, item: str) -> Latest:
        """The last results of one history, kept from one request to the next; each says itself what it was made from."""
        points = len(scene.shapes.at_rest(scene.first(), item).value.mesh.points)
        latest, _ = self._results.keeper.cache.get_or_make(f"latest of {name}", lambda: Latest(points * 16))
        return latest

    def _settings(self, scene: SceneAt, field: str, source: str, reads: Reads, kind: type[Kind]) -> Kind:
        """A source, whose settings are noted as they are looked at, as they are defined over the whole shot."""

        def note(name: str) -> None:
            question: Question = ("defined", "setting", field, source, name)
            reads.note(question, scene.answer(question))

        del kind
        return cast(Kind, Settings(scene.shot.fields[field].sources[source], note, None))
