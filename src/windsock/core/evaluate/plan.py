"""The plan of a shot: which node depends on which, what stands still, and what a history depends on as it is defined."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from graphlib import TopologicalSorter
from math import ceil
from typing import cast

from pydantic import JsonValue

from windsock.core.declarations import Declared, in_order
from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.fingerprint import fingerprint
from windsock.core.fields.field import AnySource
from windsock.core.fields.spread import Spread
from windsock.core.shapes import made_from, plays
from windsock.core.steps import AnyStep, SolvedStep
from windsock.core.steps.follow_through import FollowThrough
from windsock.core.steps.march import TICKS
from windsock.core.timing.parameter import KeyedNumber, KeyedVector, Moment

SECONDS_A_FIELD, SECONDS_A_LOOK = 1.0e-7, 2.5e-4
"""Measured on two cores, for each point of a source, and for a source on no points."""

JOINING = {"rank", "word", "amount", "inverted", "curve"}
"""What of a source says how it is joined, not what it measures."""


class Plan:
    """What can be said of a shot without evaluating it. A shot has no circles: the document refuses them."""

    def __init__(self, shot: Shot) -> None:
        self.shot = shot
        self._moving: dict[str, bool] = {}
        self._definitions: dict[str, str] = {}
        self._order: list[str] = []
        self._plain: dict[int, tuple[Declared, object]] = {}
        self._keyed: dict[str, KeyedNumber | KeyedVector] | None = None
        self._looks: dict[str, float] = {}

    def graph(self) -> dict[str, set[str]]:
        """Every node by name, with the names of the nodes it needs: shapes, fields on shapes, what is solved, steps."""
        needs: dict[str, set[str]] = {}
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
                for shape in step.shapes():
                    needs[node].add(self._last_node(shape))
                if isinstance(step, FollowThrough):
                    needs[march_node(item_id, step_id)] = needs[node] | {shape_node(item_id)}
                    needs[node] = needs[node] | {march_node(item_id, step_id)}
                if isinstance(step, SolvedStep):
                    needs[solved_node(item_id, step_id)] = set(needs[node])
                    needs[node] = needs[node] | {solved_node(item_id, step_id)}
                before = node
        return needs

    def order(self) -> list[str]:
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

    def measuring(self, source: AnySource, at: Moment) -> dict[str, object]:
        """What of a source says what it measures at a moment; how it is joined does not matter."""
        plain = cast(dict[str, object], self.resolved(source, at))
        return {name: value for name, value in plain.items() if name not in JOINING}

    def looks(self, field_id: str) -> float:
        """How many sources are measured when a field is, those of the fields behind it counted each time."""
        if field_id not in self._looks:
            total = 0.0
            for source in self.shot.fields[field_id].sources.values():
                looked_up = isinstance(source, Spread) or getattr(source, "zone", "") == "age"
                total += 1 if looked_up else 1 + sum(self.looks(other) for other in source.fields())
            self._looks[field_id] = total
        return self._looks[field_id]

    def looking(self, field_id: str, points: int) -> float:
        """About how many seconds it takes to measure a field at so many points."""
        return self.looks(field_id) * (points * SECONDS_A_FIELD + SECONDS_A_LOOK)

    def _field(self, field_id: str, item_id: str, needs: dict[str, set[str]]) -> None:
        node = field_node(field_id, item_id)
        if node in needs:
            return
        told = self.shot.fields[field_id]
        needs[node] = {shape_node(item_id)}
        for other in told.fields():
            self._field(other, item_id, needs)
            needs[node].add(field_node(other, item_id))
        for shape in self._members(told.groups(), item_id):
            needs[node].add(self._last_node(shape))
        if told.memory is not None:
            needs[memory_node(field_id, item_id)] = {shape_node(item_id)}
            needs[node].add(memory_node(field_id, item_id))
        for source in told.sources.values():
            for other in source.fields():
                if isinstance(source, Spread) or getattr(source, "zone", "") == "age":
                    crossed = crossed_node(other, item_id)
                    needs[crossed] = {field_node(other, item_id)}
                    needs[node].add(crossed)
            if isinstance(source, Spread):
                front = front_node(source.seeds, item_id)
                needs[front] = {crossed_node(source.seeds, item_id)}
                needs[node].add(front)

    def _last_node(self, item_id: str) -> str:
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
            told = [getattr(item, "scale", None), getattr(item, "pivot", None), getattr(item, "points", None)]
            self._moving[name] = (
                self._carries_about(item_id) or any(_keyed(one) for one in told) or self.reshapes(item_id)
            )
        return self._moving[name]

    def _carries_about(self, item_id: str) -> bool:
        """Whether what an item carries is moved by it, by what carries that, or by what it aims at."""
        item = self.shot.items[item_id]
        if _keyed(item.place) or _keyed(item.turn):
            return True
        return any(one is not None and self._carries_about(one) for one in (item.parent, item.aim))

    def alters(self, item_id: str) -> bool:
        """Whether a shape, after its recipe, may be other from moment to moment."""
        item = self.shot.items[item_id]
        if self.moves(item_id) or not isinstance(item, Shape):
            return self.moves(item_id)
        steps = [step for step in item.recipe.steps.values() if step.on]
        fields = {field for step in steps for field in item.recipe.listened(step)}
        return any(self._step_alters(step) for step in steps) or any(self.changes(field, item_id) for field in fields)

    def _step_alters(self, step: AnyStep) -> bool:
        """Whether what a step does may be other from moment to moment, apart from the fields that it listens to."""
        reads = any(self.moves(item) for item in step.items()) or any(self.alters(shape) for shape in step.shapes())
        return isinstance(step, FollowThrough) or step.timed or reads or _keyed(step)

    def _members(self, groups: Iterable[str], but: str) -> list[str]:
        """The shapes of groups, without the subject itself."""
        return [shape for group in groups for shape in self.shot.shapes_of(group) if shape != but]

    def reshapes(self, item_id: str) -> bool:
        """Whether a shape's geometry is keyed, or what it is made from."""
        item = self.shot.items[item_id]
        if not isinstance(item, Shape):
            return False
        paths = [self.shot.items[path] for path in made_from(item.geometry)]
        return (
            plays(item.geometry)
            or _keyed(item.geometry)
            or any(_keyed(getattr(path, "points", None)) for path in paths)
        )

    def still(self, field_id: str, source_id: str, item_id: str, resting: bool) -> bool:
        """Whether a source has the same values at the rest points of a shape at every moment.

        resting: the points are measured where the shape rests; otherwise earlier steps may move them.
        """
        source = self.shot.fields[field_id].sources[source_id]
        name = f"source {field_id} {source_id} {item_id} {resting}"
        if name not in self._moving:
            there = source.standing == "own" or (not self.moves(item_id) and (source.standing == "rest" or resting))
            changes = source.timed or _keyed(source) or any(self.moves(item) for item in source.items())
            changes = changes or any(self.changes(other, item_id) for other in source.fields())
            changes = changes or any(self.alters(item) for item in self._members(source.groups(), item_id))
            self._moving[name] = changes or not there
        return not self._moving[name]

    def changes(self, field_id: str, item_id: str) -> bool:
        """Whether a field's values or its level change over time at the rest points of a shape."""
        told = self.shot.fields[field_id]
        if told.memory is not None or isinstance(told.level, KeyedNumber):
            return True
        return not all(self.still(field_id, source, item_id, True) for source in told.sources)

    def definition(self, field_id: str, item_id: str) -> str:
        """A hash of all that the history of a field on a shape depends on, as it is defined over the whole shot."""
        name = f"{field_id} {item_id}"
        if name not in self._definitions:
            told = self.shot.fields[field_id]
            parts: list[JsonValue] = [
                told.model_dump(mode="json", exclude={"letter", "name", "rank", "band", "band_in"})
            ]
            parts += [self.band(other) for other in told.fields()]
            parts += [self.definition(other, item_id) for other in told.fields()]
            parts += [self.standing(item) for item in told.items()]
            parts += [self.whole_definition(item) for item in self._members(told.groups(), item_id)]
            parts += [self._camera() if any(source.kind == "surface" for source in told.sources.values()) else None]
            self._definitions[name] = fingerprint("definition", parts, self.standing(item_id), self.timing())
        return self._definitions[name]

    def whole_definition(self, item_id: str) -> str:
        """A hash of all that a shape after its recipe depends on, as it is defined over the whole shot."""
        shape = self.shot.items[item_id]
        assert isinstance(shape, Shape)
        used = sorted({field for step in shape.recipe.steps.values() for field in shape.recipe.listened(step)})
        parts: list[JsonValue] = [self.definition(field_id, item_id) for field_id in used]
        parts += [self.band(field_id) for field_id in used]
        for _, step in in_order(shape.recipe.steps):
            parts += [self.standing(item) for item in step.items()]
            parts += [self.whole_definition(other) for other in step.shapes()]
        return fingerprint("shape", parts, self.standing(item_id), shape.recipe.model_dump(mode="json"), self.timing())

    def _camera(self) -> JsonValue:
        return None if self.shot.camera is None else self.standing(self.shot.camera)

    def band(self, field_id: str) -> JsonValue:
        """The width of a field's band, as it is defined over the whole shot."""
        return self.shot.fields[field_id].model_dump(mode="json", include={"band", "band_in"})

    def ticks(self) -> int:
        """Ticks of a history over the whole shot."""
        frames = self.shot.frames
        return ceil((frames.last - frames.first) / self.shot.rate.fps * TICKS)

    def standing(self, item_id: str) -> JsonValue:
        """How an item stands and is made, as defined over the whole shot."""
        kept = {"place", "turn", "scale", "pivot", "geometry", "fineness", "points", "closed"}
        item = self.shot.items[item_id]
        told: JsonValue = item.model_dump(mode="json", include=kept)
        paths = made_from(item.geometry) if isinstance(item, Shape) else []
        return [told, self._leaning(item_id), *(self.standing(path) for path in paths)]

    def _leaning(self, item_id: str) -> JsonValue:
        """How what carries an item, and what it aims at, stand over the whole shot."""
        item = self.shot.items[item_id]
        behind = [one for one in (item.parent, item.aim) if one is not None]
        told: list[JsonValue] = [item.parent is not None]
        for one in behind:
            told.append(self.shot.items[one].model_dump(mode="json", include={"place", "turn"}))
            told.append(self._leaning(one))
        return told

    def timing(self) -> JsonValue:
        """What turns frames into seconds."""
        return [self.shot.frames.model_dump(mode="json"), self.shot.rate.model_dump(mode="json")]

    def past_of(self, item_id: str, step_id: str) -> str:
        """A hash of all that what a step solves from the past of its fields depends on, as defined over the whole shot."""
        shape = self.shot.items[item_id]
        assert isinstance(shape, Shape)
        parts: list[JsonValue] = []
        for one, step in in_order(shape.recipe.steps):
            parts.append(step.model_dump(mode="json", exclude={"rank"}))
            if one == step_id:
                break
        fields = shape.recipe.listened(shape.recipe.steps[step_id])
        parts += [self.definition(field, item_id) for field in fields]
        return fingerprint("past of", parts, self.standing(item_id), self.timing())

    def recipe_definition(self, item_id: str, step_id: str) -> str:
        """A hash of all that a marched step's history depends on: the steps up to it that move points, and their fields."""
        shape = self.shot.items[item_id]
        assert isinstance(shape, Shape)
        parts: list[JsonValue] = []
        for one, step in in_order(shape.recipe.steps):
            if isinstance(step, FollowThrough) and step.on:
                parts.append(step.model_dump(mode="json", exclude={"rank"}))
                for field_id in shape.recipe.listened(step):
                    parts += [self.definition(field_id, item_id), self.band(field_id)]
            if one == step_id:
                break
        return fingerprint("march", parts, self.standing(item_id), self.timing())


def shape_node(item_id: str) -> str:
    return f"shape {item_id}"


def step_node(item_id: str, step_id: str) -> str:
    return f"step {item_id}/{step_id}"


def march_node(item_id: str, step_id: str) -> str:
    return f"march {item_id}/{step_id}"


def solved_node(item_id: str, step_id: str) -> str:
    return f"solved {item_id}/{step_id}"


def field_node(field_id: str, item_id: str) -> str:
    return f"field {field_id} {item_id}"


def crossed_node(field_id: str, item_id: str) -> str:
    return f"crossed {field_id} {item_id}"


def front_node(field_id: str, item_id: str) -> str:
    return f"front {field_id} {item_id}"


def memory_node(field_id: str, item_id: str) -> str:
    return f"memory {field_id} {item_id}"


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
