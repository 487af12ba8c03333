"""The plan of a shot: which node depends on which, what stands still, and what a history depends on as it is defined."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import replace
from graphlib import TopologicalSorter
from math import ceil
from typing import NamedTuple, cast

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import Declared, in_order
from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.definitions import Definitions
from windsock.core.evaluate.detail import Detail
from windsock.core.evaluate.nodes import (
    Node,
    crossed_node,
    field_node,
    front_node,
    march_node,
    memory_node,
    shape_node,
    solved_node,
    source_history_node,
    source_march_node,
    step_node,
)
from windsock.core.evaluate.still import StillShapes
from windsock.core.fields.marched import MarchedSource
from windsock.core.fields.source import HistorySource, SolvedSource
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.stance import stance_of
from windsock.core.steps.march import MarchedStep
from windsock.core.steps.step import SolvedStep
from windsock.core.timing.parameter import KeyedNumber, KeyedVector, Moment
from windsock.core.timing.ticks import DRAGGED_TICKS, TICKS

SECONDS_A_FIELD, SECONDS_A_LOOK = 1.0e-7, 2.5e-4
"""Measured on two cores, for each point of a source, and for a source on no points."""


MOST_PLACEMENTS = 20_000
"""Placements of moving items that are kept."""


class Weighed(NamedTuple):
    """What was said of a step that took faces, (m, 3), which rested at places, (n, 3), stretched so far, (3, 3)."""

    faces: NDArray[np.int32]
    rest: NDArray[np.float32]
    stretch: NDArray[np.float64]
    says: str


def in_metres(mesh: Mesh, matrix: Matrix) -> Mesh:
    """A mesh at rest with its points in metres of the world. matrix: (4, 4) from its space to that."""
    return replace(mesh, points=stance_of(matrix).level(mesh.rest).astype(np.float32))


class Plan:
    """What can be said of a shot without evaluating it. A shot has no circles: the document refuses them."""

    def __init__(self, shot: Shot, detail: Detail = "final") -> None:
        self.shot = shot
        self._moving: dict[str, bool] = {}
        self._order: list[Node] = []
        self.definitions = Definitions(shot, DRAGGED_TICKS if detail == "dragged" else TICKS, detail != "final")
        self._plain: dict[int, tuple[Declared, object]] = {}
        self._keyed: dict[str, KeyedNumber | KeyedVector] | None = None
        self._looks: dict[str, float] = {}
        self._same: dict[tuple[str, str], bool] = {}
        self._placements: dict[str, Matrix] = {}
        self._placements_then: dict[tuple[str, float], Matrix] = {}
        self.still = StillShapes()
        self._weighed: dict[tuple[str, str], Weighed] = {}

    def graph(self) -> dict[Node, set[Node]]:
        """Every node by name, with the names of the nodes it needs: shapes, fields on shapes, what is solved, steps."""
        needs: dict[Node, set[Node]] = {}
        for item_id, item in in_order(self.shot.items):
            if not isinstance(item, Shape):
                continue
            before = shape_node(item_id)
            needs[before] = set()
            for step_id, step in in_order(item.recipe.steps):
                if not step.on:
                    continue
                node = step_node(item_id, step_id)
                needs[node] = {before}
                for field_id in item.recipe.listened(step):
                    self._field(field_id, item_id, needs)
                    needs[node].add(field_node(field_id, item_id))
                for shape in (*step.shapes(), *self._members(step.groups(), item_id)):
                    needs[node].add(self._last_node(shape))
                if isinstance(step, MarchedStep):
                    needs[march_node(item_id, step_id)] = needs[node] | {shape_node(item_id)}
                    needs[node] = needs[node] | {march_node(item_id, step_id)}
                if isinstance(step, SolvedStep):
                    needs[solved_node(item_id, step_id)] = set(needs[node])
                    needs[node] = needs[node] | {solved_node(item_id, step_id)}
                before = node
        return needs

    def order(self) -> list[Node]:
        """The nodes, each after those it needs."""
        if not self._order:
            self._order = list(TopologicalSorter(self.graph()).static_order())
        return self._order

    def keyed(self) -> Mapping[str, KeyedNumber | KeyedVector]:
        """Every keyed parameter of the document, by JSON Pointer."""
        if self._keyed is None:
            self._keyed = dict(_keyed_in(self.shot, ""))
        return self._keyed

    def resolved(self, thing: Declared, at: Moment) -> object:
        """A thing of the document as plain data at a moment; what does not change is made once."""
        kept = self._plain.get(id(thing))
        if kept is not None and kept[0] is thing:
            return kept[1]
        plain = at.resolved(thing)
        if not _keyed(thing):
            self._plain[id(thing)] = (thing, plain)
        return plain

    def placement(self, item: str, at: Moment) -> Matrix:
        """(4, 4) matrix from an item's space to the world at a moment; of what stands still it is made once, and that at the
        moments that were asked for last is kept."""
        found = self._placements.get(item)
        if found is None:
            found = self._placements_then.get((item, at.frame))
        if found is not None:
            return found
        made = self.shot.placement(item, at)
        if not self.definitions.changes(("placement", item)):
            self._placements[item] = made
            return made
        if len(self._placements_then) >= MOST_PLACEMENTS:
            self._placements_then.clear()
        self._placements_then[item, at.frame] = made
        return made

    def looks(self, field_id: str) -> float:
        """How many sources are measured when a field is, those of the fields behind it counted each time."""
        if field_id not in self._looks:
            total = 0.0
            for source in self.shot.fields[field_id].sources.values():
                total += 1
                if not source.crossings():
                    total += sum(self.looks(other) for other in source.fields())
            self._looks[field_id] = total
        return self._looks[field_id]

    def looking(self, field_id: str, points: int) -> float:
        """About how many seconds it takes to measure a field at so many points."""
        return self.looks(field_id) * (points * SECONDS_A_FIELD + SECONDS_A_LOOK)

    def does_the_same(self, item: str, step_id: str, find: Callable[[], bool]) -> bool:
        """Whether a step makes the same of what enters it at every moment. find: finds that out, once."""
        if (item, step_id) not in self._same:
            self._same[item, step_id] = find()
        return self._same[item, step_id]

    def _field(self, field_id: str, item_id: str, needs: dict[Node, set[Node]]) -> None:
        node = field_node(field_id, item_id)
        if node in needs:
            return
        declared = self.shot.fields[field_id]
        needs[node] = {shape_node(item_id)}
        for other in declared.fields():
            self._field(other, item_id, needs)
            needs[node].add(field_node(other, item_id))
        for shape in self._members(declared.groups(), item_id):
            needs[node].add(self._last_node(shape))
        for shape, asked in declared.fronts_of():
            if shape is not None and shape != item_id:
                needs[node].add(self._last_node(shape))
                continue
            own = self.shot.items[item_id]
            steps = in_order(own.recipe.steps) if isinstance(own, Shape) else []
            sending = [key for key, step in steps if step.on and step.sends_front and asked in (None, key)]
            needs[node] |= {solved_node(item_id, key) for key in sending}
        if declared.memory is not None:
            needs[memory_node(field_id, item_id)] = {shape_node(item_id)}
            needs[node].add(memory_node(field_id, item_id))
        for source_id, source in declared.sources.items():
            if isinstance(source, MarchedSource):
                march = source_march_node(field_id, source_id, item_id)
                needs[march] = {shape_node(item_id)} | {field_node(other, item_id) for other in source.fields()}
                needs[node].add(march)
            if isinstance(source, HistorySource):
                history = source_history_node(field_id, source_id, item_id)
                shapes = {self._last_node(shape) for shape in self._members(source.groups(), item_id)}
                needs[history] = {shape_node(item_id)} | shapes
                needs[node].add(history)
            for other in source.crossings():
                crossed = crossed_node(other, item_id)
                needs[crossed] = {field_node(other, item_id)}
                needs[node].add(crossed)
                if isinstance(source, SolvedSource):
                    front = front_node(other, item_id)
                    needs[front] = {crossed}
                    needs[node].add(front)

    def _last_node(self, item_id: str) -> Node:
        """The node of a shape after its recipe."""
        shape = self.shot.items[item_id]
        assert isinstance(shape, Shape)
        steps = [step_id for step_id, step in in_order(shape.recipe.steps) if step.on]
        return step_node(item_id, steps[-1]) if steps else shape_node(item_id)

    def moves(self, item_id: str) -> bool:
        """Whether an item's place, turn, scale or geometry is keyed."""
        name = f"item {item_id}"
        if name not in self._moving:
            item = self.shot.items[item_id]
            settings = [getattr(item, "scale", None), getattr(item, "pivot", None), getattr(item, "points", None)]
            self._moving[name] = (
                self._carries_about(item_id) or any(_keyed(one) for one in settings) or self.reshapes(item_id)
            )
        return self._moving[name]

    def _carries_about(self, item_id: str) -> bool:
        """Whether what an item carries is moved by it, by what carries that, or by what it aims at."""
        item = self.shot.items[item_id]
        if _keyed(item.place) or _keyed(item.turn):
            return True
        if item.along is not None and item.parent is not None:
            path = self.shot.items[item.parent]
            along = [getattr(path, name, None) for name in ("points", "scale", "pivot")]
            if item.along.goes_on or _keyed(item.along) or any(_keyed(one) for one in along):
                return True
        return any(one is not None and self._carries_about(one) for one in (item.parent, item.aim))

    def _members(self, groups: Iterable[str], but: str) -> list[str]:
        """The shapes of groups, without the subject itself."""
        return [shape for group in groups for shape in self.shot.shapes_of(group) if shape != but]

    def reshapes(self, item_id: str) -> bool:
        """Whether a shape's geometry is keyed, or what it is made from."""
        item = self.shot.items[item_id]
        if not isinstance(item, Shape):
            return False
        paths = [self.shot.items[path] for path in item.geometry.paths()]
        return (
            item.geometry.plays()
            or _keyed(item.geometry)
            or any(_keyed(getattr(path, "points", None)) for path in paths)
        )

    def solving(self, item: str, step_id: str, mesh: Mesh, matrix: Matrix) -> float:
        """About how many seconds it takes to solve a step, without what it looks at as time goes on. mesh: the shape at rest; matrix:
        (4, 4) from its space to the world."""
        recipe = cast(Shape, self.shot.items[item]).recipe
        step, lasts = recipe.steps[step_id], self.ticks() / TICKS
        if not isinstance(step, SolvedStep):
            return 0.0
        level = in_metres(mesh, matrix)
        asked = step.asks(level, lasts)
        looking = sum(self.looking(field, int(asked)) for field in recipe.listened(step)) if asked else 0.0
        return step.solving(level, lasts) + looking

    def weighed(self, item: str, step_id: str, mesh: Mesh, matrix: Matrix) -> str:
        """In words, how large what a step works on is, and how long it takes where that is solved once. As for `solving`, but mesh: the
        part that it takes; of the same faces, resting in the same way, it is found once."""
        step = cast(Shape, self.shot.items[item]).recipe.steps[step_id]
        if not isinstance(step, SolvedStep):
            return step.weighed(mesh, matrix)
        stretch = np.round(stance_of(matrix).stretch, 9)
        kept = self._weighed.get((item, step_id))
        if (
            kept is not None
            and kept.faces is mesh.faces
            and kept.rest is mesh.rest
            and np.array_equal(kept.stretch, stretch)
        ):
            return kept.says
        says = step.weighed(mesh, matrix)
        if says:
            says = f"{says}, about {max(self.solving(item, step_id, mesh, matrix), 0.1):.1g} s once"
        self._weighed[item, step_id] = Weighed(mesh.faces, mesh.rest, stretch, says)
        return says

    def ticks(self) -> int:
        """Ticks of a history over the whole shot."""
        frames = self.shot.frames
        return ceil((frames.last - frames.first) / self.shot.rate.fps * TICKS)


def _keyed_in(thing: object, pointer: str) -> Iterator[tuple[str, KeyedNumber | KeyedVector]]:
    if isinstance(thing, (KeyedNumber, KeyedVector)):
        yield pointer, thing
    elif isinstance(thing, Declared):
        for name in type(thing).model_fields:
            yield from _keyed_in(getattr(thing, name), f"{pointer}/{name}")
    elif isinstance(thing, dict):
        for key, value in thing.items():  # pyright: ignore
            yield from _keyed_in(value, f"{pointer}/{key}")  # pyright: ignore[reportUnknownArgumentType]


def _keyed(thing: object) -> bool:
    return any(True for _ in _keyed_in(thing, ""))
