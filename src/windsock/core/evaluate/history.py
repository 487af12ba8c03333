"""The past of fields and steps: when a field first came to a place, where its fronts are, what it remembers, what swings.

All of it is found on the points of the subject at rest, at fixed ticks over the whole shot, and answers for any moment.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from itertools import pairwise
from math import ceil

import numpy as np
from numpy.typing import NDArray
from xxhash import xxh3_128_hexdigest

from windsock.core.declarations import in_order
from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.bounds import SECONDS_A_FRONT, SECONDS_A_TICK
from windsock.core.evaluate.fingerprint import fingerprint
from windsock.core.evaluate.keeping import Keeper
from windsock.core.evaluate.marching import March, state_at, ticks_to_walk
from windsock.core.evaluate.plan import SECONDS_A_LOOK, Plan, crossed_node, front_node, march_node, memory_node
from windsock.core.evaluate.scene import SceneAt, Still
from windsock.core.evaluate.watch import Watch
from windsock.core.fields.another import AnotherField
from windsock.core.fields.memory import Memory
from windsock.core.fields.source import (
    Elements,
    Finished,
    FrontProblem,
    SolvedSource,
    Subject,
    Values,
    rest_elements,
    resting_bodies,
    whole_elements,
)
from windsock.core.fields.spread import Spread
from windsock.core.fields.zones import zone_weight
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.placement import moved
from windsock.core.kernels.stepping import travel_between
from windsock.core.refusals import Cancelled
from windsock.core.steps.follow_through import FollowThrough
from windsock.core.steps.march import TICKS, State, Tick
from windsock.core.steps.step import Beat
from windsock.core.timing.parameter import travelled

AtRest = Callable[[SceneAt, str], Subject]
"""Gives a shape as it is before its recipe, at the moment of a scene."""

AfterRecipe = Callable[[SceneAt, str], Finished]
"""Gives a shape as its recipe leaves it."""


Over = Callable[[SceneAt, NDArray[np.int64]], Values]
"""Gives, at a scene, how far something is over its level for some of what it is asked for."""


class History:
    """Answers what was, for any shot; results are kept by the keeper."""

    def __init__(self, keeper: Keeper, at_rest: AtRest, finished: AfterRecipe, watch: Watch) -> None:
        self._keeper = keeper
        self._at_rest = at_rest
        self._finished = finished
        self._watch = watch

    def crossed(self, scene: SceneAt, field: str, item: str) -> tuple[Values, str]:
        """(m,) the second at which the field first was at its level or over it, coming from below or there at the start."""
        key = self._crossed_key(scene.plan, field, item)
        node = crossed_node(field, item)
        kept = self._keeper.solution(
            node, key, lambda: {"second": self._crossings(scene.shot, scene.plan, field, item)}
        )
        return kept["second"], key

    def reached(
        self, scene: SceneAt, field: str | None, overall: str | None, item: str, bodies: Bodies
    ) -> tuple[Values, str]:
        """(k,) the second at which a field, times the overall one, first comes to the middle of each body at rest.

        Without a field all are reached at the start.
        """
        shot, plan = scene.shot, scene.plan
        start, _ = self._span(shot)
        if field is None:
            return np.full(len(bodies), start), f"all at {start}"
        used = [one for one in (field, overall) if one is not None]
        family = xxh3_128_hexdigest(np.ascontiguousarray(bodies.places.rest).data)
        key = fingerprint("reached", [plan.definition(one, item) for one in used], family)

        def over(scene: SceneAt, which: NDArray[np.int64]) -> Values:
            places = bodies.places if len(which) == len(bodies) else bodies.places.chosen(which)
            elements = resting_bodies(
                places, self._subject(scene, item), scene.placement(item), f"{family} {len(which)}"
            )
            values = scene.field_values(field, elements)
            values = values if overall is None else values * scene.field_values(overall, elements)
            return values - scene.field_edge(field)[0]

        changing = any(plan.changes(one, item) for one in used)
        kept = self._keeper.solution(
            f"reached {item}", key, lambda: {"second": self._first_over(shot, plan, changing, len(bodies), over)}
        )
        return kept["second"], key

    def beats(self, scene: SceneAt, field: str, overall: str | None, item: str, every: int) -> Iterator[Beat]:
        """A field, times the overall one, on the points of a shape at rest, at so many moments in each second."""
        shot, plan = scene.shot, scene.plan
        start, end = self._span(shot)
        still = Still(0)
        count = ceil((end - start) * every)
        for beat in range(count):
            self._watch.check()
            now = self._scene(shot, plan, start + beat / every, still)
            elements = self._resting(now, item)
            values = now.field_values(field, elements)
            if overall is not None:
                values = values * now.field_values(overall, elements)
            band = now.field_band(field, elements, values)
            yield beat, start + beat / every, elements.posed, elements.facing(), values, now.field_edge(field)[0], band
            if beat % 12 == 0:
                self._watch.progress("Finding what is shed", beat / count)

    def arrivals(self, scene: SceneAt, source: SolvedSource, item: str) -> tuple[Values, str]:
        """(m,) metres of travel that a source's front needs to come to each point."""
        assert isinstance(source, Spread)
        plan = scene.plan
        key = self._front_key(plan, source, item)
        node = front_node(source.seeds, item)
        kept = self._keeper.solution(node, key, lambda: {"travel": self._front(scene.shot, plan, source, item)})
        return kept["travel"], key

    def arrivals_between(self, scene: SceneAt, source: SolvedSource, elements: Elements) -> Values:
        """(n,) metres of travel that a source's front needs to come to each piece or copy."""
        assert isinstance(source, Spread)
        shot, plan, item = scene.shot, scene.plan, elements.subject.item
        start, end = self._span(shot)
        family = xxh3_128_hexdigest(np.ascontiguousarray(elements.rest).data)
        first = self._scene(shot, plan, start)
        matrix = first.placement(item)
        key = fingerprint("between", self._front_key(plan, source, item), family, matrix.tolist())

        def found() -> dict[str, Values]:
            resting = replace(elements.at_rest(matrix), resting=True, family=family)

            def over(scene: SceneAt, which: NDArray[np.int64]) -> Values:
                placed = replace(resting.at_rest(scene.placement(item)), resting=True)
                return (scene.field_values(source.seeds, placed) - scene.field_edge(source.seeds)[0])[which]

            changing = plan.changes(source.seeds, item)
            seconds = self._first_over(shot, plan, changing, len(elements.rest), over)
            entered = _travel_at(shot, source, seconds, start, end) if changing else seconds - start
            pace = np.ones(len(seconds)) if source.pace is None else first.field_values(source.pace, resting)
            return {"travel": travel_between(resting.posed, entered, pace)}

        return self._keeper.solution(front_node(source.seeds, item), key, found)["travel"]

    def remembered(self, scene: SceneAt, field: str, item: str) -> Values:
        """(m,) what a field remembers at a moment."""
        march = self._memory(scene.shot, scene.plan, field, item)
        return state_at(march, scene.at.seconds, self._keeper, self._watch)["held"]

    def finished(self, scene: SceneAt, item: str) -> Finished:
        """A shape as its recipe leaves it at the moment of the scene."""
        return self._finished(scene, item)

    def marched(self, scene: SceneAt, item: str, step_id: str) -> tuple[March, Values]:
        """A marched step's march, and (m, 3) how far it has moved each rest point of its shape, in world metres."""
        shot, plan = scene.shot, scene.plan
        march = self._march(shot, plan, item, step_id)
        seconds = march.within(scene.at.seconds)
        state = state_at(march, seconds, self._keeper, self._watch)
        step = _marched_step(shot, item, step_id)
        return march, step.places(state) - self._places(self._scene(shot, plan, seconds), item, step_id)[0]

    def to_find(self, scene: SceneAt) -> float:
        """About how many seconds it takes to find what this moment needs of the past and is not kept yet."""
        total = 0.0
        for item_id, item in in_order(scene.shot.items):
            if not isinstance(item, Shape):
                continue
            seen: set[str] = set()
            points = len(self._at_rest(scene, item_id).mesh.points)
            for step_id, step in in_order(item.recipe.steps):
                if not step.on:
                    continue
                listened = item.recipe.listened(step)
                looking = sum(scene.plan.looking(field_id, points) for field_id in listened)
                for field_id in listened:
                    total += self._field_to_find(scene, field_id, item_id, points, seen)
                if isinstance(step, FollowThrough):
                    march = self._march(scene.shot, scene.plan, item_id, step_id)
                    ticks = ticks_to_walk(march, scene.at.seconds, self._keeper)
                    total += ticks * (points * SECONDS_A_TICK + SECONDS_A_LOOK + looking)
                solving = step.solving(self._at_rest(scene, item_id).mesh, scene.plan.ticks() / TICKS)
                solving += scene.plan.ticks() / TICKS * step.beats * looking
                if solving and self._keeper.stored(self._found_key(scene, item_id, step_id)) is None:
                    total += solving
        return total

    def found(self, scene: SceneAt, item: str, step_id: str) -> None:
        """Remember that what a step solves is kept."""
        self._keeper.keep(self._found_key(scene, item, step_id), {"found": np.ones(1)})

    def _found_key(self, scene: SceneAt, item: str, step_id: str) -> str:
        return fingerprint("found", scene.plan.past_of(item, step_id))

    def _field_to_find(self, scene: SceneAt, field: str, item: str, points: int, seen: set[str]) -> float:
        if field in seen:
            return 0.0
        seen.add(field)
        told, plan = scene.shot.fields[field], scene.plan
        ticks = plan.ticks()
        total = sum(self._field_to_find(scene, other, item, points, seen) for other in told.fields())
        if told.memory is not None:
            march = self._memory(scene.shot, plan, field, item)
            total += ticks_to_walk(march, scene.at.seconds, self._keeper) * plan.looking(field, points)
        for source in told.sources.values():
            if isinstance(source, Spread) and self._keeper.stored(self._front_key(plan, source, item)) is None:
                total += points * SECONDS_A_FRONT
                total += ticks * plan.looking(source.seeds, points) if plan.changes(source.seeds, item) else 0.0
            if isinstance(source, AnotherField) and source.zone == "age":
                crossed = self._keeper.stored(self._crossed_key(plan, source.field, item))
                total += ticks * plan.looking(source.field, points) if crossed is None else 0.0
        return total

    def _crossed_key(self, plan: Plan, field: str, item: str) -> str:
        return fingerprint("crossed", plan.definition(field, item))

    def _front_key(self, plan: Plan, source: Spread, item: str) -> str:
        entering = source.model_dump(mode="json", include={"speed"}) if plan.changes(source.seeds, item) else None
        return fingerprint("front", [plan.definition(field, item) for field in source.fields()], entering)

    def _scene(self, shot: Shot, plan: Plan, seconds: float, still: Still | None = None) -> SceneAt:
        return SceneAt(shot, seconds * shot.rate.fps, plan, self, still)

    def _still(self, key: str, shot: Shot, plan: Plan, item: str) -> Still:
        """What stands still in one history, kept from one request to the next."""
        points = len(self._at_rest(self._scene(shot, plan, self._span(shot)[0]), item).mesh.points)
        still, _ = self._keeper.cache.get_or_make(f"still {key}", lambda: Still(points * 16))
        return still

    def _span(self, shot: Shot) -> tuple[float, float]:
        return shot.moment(shot.frames.first).seconds, shot.moment(shot.frames.last).seconds

    def _resting(self, scene: SceneAt, item: str) -> Elements:
        return rest_elements(self._subject(scene, item), scene.placement(item))

    def _subject(self, scene: SceneAt, item: str) -> Subject:
        still = scene.still
        if still is None or scene.plan.reshapes(item):
            return self._at_rest(scene, item)
        if still.subject is None or still.subject.item != item:
            still.subject = self._at_rest(scene, item)
        return still.subject

    def _crossings(self, shot: Shot, plan: Plan, field: str, item: str) -> Values:
        def over(scene: SceneAt, which: NDArray[np.int64]) -> Values:
            values = scene.field_values(field, self._resting(scene, item)) - scene.field_edge(field)[0]
            return values if len(which) == len(values) else values[which]

        points = len(self._at_rest(self._scene(shot, plan, self._span(shot)[0]), item).mesh.points)
        return self._first_over(shot, plan, plan.changes(field, item), points, over)

    def _first_over(self, shot: Shot, plan: Plan, changing: bool, count: int, over: Over) -> Values:
        """(count,) the first second at which something is 0 or more, infinite where it never is within the shot.

        Between two ticks it is taken to go straight. What was found need not be looked at again: what is left is narrowed
        down from time to time.
        """
        start, end = self._span(shot)
        still = Still(0)
        ticks = ceil((end - start) * TICKS) if changing else 0
        found = np.full(count, np.inf)
        which = np.arange(count)
        before: Values = np.zeros(0)
        for tick in range(ticks + 1):
            self._watch.check()
            scene = self._scene(shot, plan, min(start + tick / TICKS, end), still)
            now = over(scene, which)
            if tick == 0:
                found = np.where(now >= 0, start, np.inf)
            else:
                come = (now >= 0) & (found[which] == np.inf)
                share = before[come] / (before[come] - now[come])
                found[which[come]] = start + (tick - 1 + share) / TICKS
            left = found[which] == np.inf
            if not left.any():
                break
            if left.sum() < 0.7 * len(which):
                which, now = which[left], now[left]
            before = now
            if tick % 24 == 0:
                self._watch.progress("Finding when the field comes to each point", tick / (ticks + 1))
        return found

    def _front(self, shot: Shot, plan: Plan, source: Spread, item: str) -> Values:
        start, end = self._span(shot)
        scene = self._scene(shot, plan, start)
        elements = self._resting(scene, item)
        excess = scene.field_values(source.seeds, elements) - scene.field_edge(source.seeds)[0]
        entered = np.where(excess >= 0, 0.0, np.inf)
        if plan.changes(source.seeds, item):
            seconds, _ = self.crossed(scene, source.seeds, item)
            entered = _travel_at(shot, source, seconds, start, end)
        pace = np.ones(len(excess))
        if source.pace is not None:
            pace = scene.field_values(source.pace, elements)
        problem = FrontProblem(elements.subject.mesh, elements.posed, entered, excess, pace)
        self._watch.progress("Sending the front over the surface", 0.0)
        travel = source.solve(problem, self._watch.flag)
        if travel is None:
            self._watch.check()
            raise Cancelled
        return travel

    def _memory(self, shot: Shot, plan: Plan, field: str, item: str) -> March:
        memory = shot.fields[field].memory
        assert isinstance(memory, Memory)
        start, end = self._span(shot)
        key = fingerprint("memory", plan.definition(field, item))
        still = self._still(key, shot, plan, item)

        def values(second: float) -> Values:
            scene = self._scene(shot, plan, second, still)
            elements = self._resting(scene, item)
            return scene.sentence_values(field, elements)

        def advance(state: State, before: float, now: float) -> State:
            return {"held": memory.advanced(state["held"], values(now), now - before)}

        return March(
            memory_node(field, item), "Remembering the field", key, start, end, lambda: {"held": values(start)}, advance
        )

    def _march(self, shot: Shot, plan: Plan, item: str, step_id: str) -> March:
        step = _marched_step(shot, item, step_id)
        start, end = self._span(shot)
        start -= step.pre_roll(shot.moment(shot.frames.first))
        key = plan.recipe_definition(item, step_id)
        still = self._still(key, shot, plan, item)
        last: dict[float, Tick] = {}

        def tick(second: float) -> Tick:
            if second not in last:
                while len(last) > 1:
                    del last[next(iter(last))]
                last[second] = self._tick(shot, plan, item, step_id, second, still)
            return last[second]

        def advance(state: State, before: float, now: float) -> State:
            return step.advance(state, tick(before), tick(now))

        return March(
            march_node(item, step_id),
            "Swinging through time",
            key,
            start,
            end,
            lambda: step.begin(tick(start)),
            advance,
        )

    def _tick(self, shot: Shot, plan: Plan, item: str, step_id: str, second: float, still: Still) -> Tick:
        step = _marched_step(shot, item, step_id)
        scene = self._scene(shot, plan, second, still)
        places, resting = self._places(scene, item, step_id)
        weight = np.full(len(places), scene.at(step.amount))
        shape = shot.items[item]
        assert isinstance(shape, Shape)
        field, overall = shape.recipe.driving(step)
        elements = whole_elements(self._subject(scene, item), places, resting)
        if field is not None:
            values = scene.field_values(field, elements)
            band = scene.field_band(field, elements, values)
            zone = zone_weight(step.zone, values, scene.field_edge(field)[0], band)
            weight = weight * (zone if step.curve is None else step.curve(zone))
        if overall is not None:
            weight = weight * scene.field_values(overall, elements)
        return Tick(second, scene.at, places, weight)

    def entering(self, scene: SceneAt, item: str, step_id: str) -> Elements:
        """The rest points of a shape where they stand as they enter a step."""
        return whole_elements(self._subject(scene, item), *self._places(scene, item, step_id))

    def _places(self, scene: SceneAt, item: str, step_id: str) -> tuple[Values, bool]:
        """(m, 3) where the rest points stand in the world as they enter a step, and whether they still rest."""
        shape = scene.shot.items[item]
        assert isinstance(shape, Shape)
        earlier = None
        for one, step in in_order(shape.recipe.steps):
            if one == step_id:
                break
            if isinstance(step, FollowThrough) and step.on:
                earlier = one
        if earlier is not None:
            march = self._march(scene.shot, scene.plan, item, earlier)
            state = state_at(march, scene.at.seconds, self._keeper, self._watch)
            return _marched_step(scene.shot, item, earlier).places(state), False
        return moved(self._subject(scene, item).mesh.points, scene.placement(item)), True


def _marched_step(shot: Shot, item: str, step_id: str) -> FollowThrough:
    shape = shot.items[item]
    assert isinstance(shape, Shape)
    step = shape.recipe.steps[step_id]
    assert isinstance(step, FollowThrough)
    return step


def _travel_at(shot: Shot, source: Spread, seconds: Values, start: float, end: float) -> Values:
    """(m,) how far the front could have come when each second is reached; a point between two ticks lies between theirs."""
    ticks = start + np.arange(ceil((end - start) * TICKS) + 1) / TICKS
    fps = shot.rate.fps
    parts = [travelled(source.speed, low * fps, high * fps) / fps for low, high in pairwise(ticks)]
    come = np.concatenate([[0.0], np.cumsum(parts)])
    return np.where(seconds == np.inf, np.inf, np.interp(np.minimum(seconds, end + 1), ticks, come))
