"""The past of fields: when a field first came to a place, where its fronts are, what it remembers.

All of it is found on the points of the subject at rest, or on pieces and copies where they rest, at fixed ticks over the whole
shot, and answers for any moment.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from math import ceil
from typing import cast

import numpy as np
from numpy.typing import NDArray

from windsock.core.document.shot import Shot
from windsock.core.evaluate.keeping import Arrays
from windsock.core.evaluate.measured import band_of
from windsock.core.evaluate.moments import resting, scene_at, span, subject_at
from windsock.core.evaluate.nodes import Node, crossed_node, front_node
from windsock.core.evaluate.over_time import FieldsOverTime, Rows, first_over
from windsock.core.evaluate.reads import Answer, Question, Reads
from windsock.core.evaluate.results import Latest, Outcome
from windsock.core.evaluate.scene import SceneAt
from windsock.core.fields.about import elements_about
from windsock.core.fields.elements import Elements, Values, resting_bodies
from windsock.core.fields.source import FrontProblem, SolvedSource
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.mesh import carried_content, content_of
from windsock.core.kernels.stepping import travel_between
from windsock.core.refusals import Cancelled
from windsock.core.steps.given import Beat
from windsock.core.timing.parameter import NumberParameter, travelled_through
from windsock.core.timing.ticks import TICKS

CONTENT: Question = ("content", "places")
"""Asks after a hash of where pieces or copies rest."""


@dataclass(frozen=True)
class Coming:
    """Something that comes to the level of a field.

    name: of its values. measure: gives, at a scene, the values of some of what it is asked for. answer: answers what it reads.
    """

    name: str
    field: str
    count: int
    measure: Callable[[SceneAt, NDArray[np.int64], Reads], Values]
    answer: Answer


class History(FieldsOverTime):
    """Answers what was, for any shot."""

    def crossed(self, scene: SceneAt, field: str, item: str) -> Outcome[Arrays]:
        """`second`: (m,) at which the field first was at its level or over it, coming from below or there at the start, at
        each point of a shape at rest."""

        def measure(now: SceneAt, which: NDArray[np.int64], reads: Reads) -> Values:
            values = self.values_now(now, field, resting(now, item, reads), reads)
            return values if len(which) == len(values) else values[which]

        def find(reads: Reads) -> dict[str, Values]:
            points = len(resting(scene.first(), item, reads))
            coming = Coming(f"values of {field} on {item}", field, points, measure, scene.answer)
            return {"second": self._first_over(scene, coming, reads)}

        node = crossed_node(field, item)
        return self._results.solved(node, scene.answer, find, node=node)

    def reached(
        self, scene: SceneAt, field: str | None, overall: str | None, item: str, bodies: Bodies, content: str
    ) -> Outcome[Arrays]:
        """`second`: (k,) at which a field, times the overall one, first comes to the middle of each body at rest.

        Without a field all are reached at the start. content: see `Bodies.places_content`.
        """
        start, _ = span(scene.shot)
        if field is None:
            reads = Reads()
            reads.note(("defined", "timing"), scene.answer(("defined", "timing")))
            return Outcome(Arrays({"second": np.full(len(bodies), start)}), "", reads)

        def measure(now: SceneAt, which: NDArray[np.int64], reads: Reads) -> Values:
            reads.note(CONTENT, content)
            places = bodies.places if len(which) == len(bodies) else bodies.places.chosen(which)
            subject = subject_at(now, item, reads)
            elements = resting_bodies(places, subject, now.placement(item), f"{content} {len(which)}")
            return self.product_now(now, field, overall, elements, reads)

        answer = _with_content(scene, content)

        def find(reads: Reads) -> dict[str, Values]:
            coming = Coming(f"values of {field} and {overall} on {item}", field, len(bodies), measure, answer)
            return {"second": self._first_over(scene, coming, reads)}

        name = f"reached {item} {field} {overall}"
        return self._results.solved(name, answer, find)

    def reached_at(self, scene: SceneAt, field: str, overall: str | None, item: str, places: Values) -> Outcome[Arrays]:
        """`second`: (k,) at which a field, times the overall one, first comes to places, (k, 3), in and about a shape as it rests."""
        content = content_of(places)

        def measure(now: SceneAt, which: NDArray[np.int64], reads: Reads) -> Values:
            reads.note(CONTENT, content)
            subject = subject_at(now, item, reads)
            reads.note(("placement", item), now.answer(("placement", item)))
            elements = elements_about(places[which], now.placement(item), subject)
            return self.product_now(now, field, overall, elements, reads)

        answer = _with_content(scene, content)

        def find(reads: Reads) -> dict[str, Values]:
            coming = Coming(f"values of {field} and {overall} in {item}", field, len(places), measure, answer)
            return {"second": self._first_over(scene, coming, reads)}

        return self._results.solved(f"reached in {item} {field} {overall}", answer, find)

    def beats(
        self, scene: SceneAt, field: str, overall: str | None, item: str, every: int, reads: Reads
    ) -> Iterator[Beat]:
        """A field, times the overall one, on the points of a shape at rest, at so many moments in each second."""
        reads.note(("defined", "timing"), scene.answer(("defined", "timing")))
        start, end = span(scene.shot)
        latest = Latest()
        count = ceil((end - start) * every)
        values, read = self._over_beats(scene, field, overall, item, every), Reads()
        elements, normals = None, np.zeros((0, 3))
        for beat in range(count):
            self.watch.check()
            now = scene_at(scene, start + beat / every, latest)
            if elements is None or any(map(scene.definitions.changes, read.leaves)):
                elements = resting(now, item, read)
                normals = elements.facing()
                read.note(("placement", item), now.answer(("placement", item)))
                reads.include(read)
            reads.note(("level", field), now.answer(("level", field)))
            if values is None:
                own = self.values_now(now, field, elements, reads)
                driving = own if overall is None else own * self.values_now(now, overall, elements, reads)
            else:
                reads.include(values.reads)
                rows = values.value.named["values"]
                own = driving = rows[min(beat, len(rows) - 1)].astype(np.float64)
            band = band_of(now, field, elements, own, reads)
            yield Beat(beat, start + beat / every, elements.posed, normals, driving, now.field_edge(field)[0], band)
            if beat % 12 == 0:
                self.watch.progress("Finding what is shed", beat / count)

    def _over_beats(
        self, scene: SceneAt, field: str, overall: str | None, item: str, every: int
    ) -> Outcome[Arrays] | None:
        """What drives a step at all beats, where it says all of a beat; None where the field itself is needed."""
        if overall is not None and scene.field_edge(field)[2] != "values":
            return None

        def measure(now: SceneAt, reads: Reads) -> Values:
            return self.product_now(now, field, overall, resting(now, item, reads), reads)

        count = len(resting(scene.first(), item, Reads()))
        return self.over_time(
            f"values of {field} and {overall} on {item} at rest", scene, count, every, measure, scene.answer
        )

    def arrivals(self, scene: SceneAt, field: str, source: str, item: str) -> Outcome[Arrays]:
        """`travel`: (m,) metres of travel that a source's front needs to come to each point of a shape at rest."""

        def find(reads: Reads) -> dict[str, Values]:
            return {"travel": self._front(scene, field, source, item, reads)}

        name = front_name(field, source, item)
        return self._results.solved(name, scene.answer, find, node=_front_node(scene, field, source, item))

    def arrivals_between(self, scene: SceneAt, field: str, source: str, elements: Elements) -> Outcome[Arrays]:
        """`travel`: (n,) metres of travel that a source's front needs to come to each piece or copy."""
        item = elements.subject.item
        content = content_of(elements.rest) + carried_content(elements.base.carry, len(elements.subject.mesh.points))
        first, answer = scene.first(), _with_content(scene, content)
        start, end = span(scene.shot)

        def find(reads: Reads) -> dict[str, Values]:
            settings = self._settings(scene, field, source, reads, SolvedSource)
            reads.note(CONTENT, content)

            def measure(now: SceneAt, which: NDArray[np.int64], reads: Reads) -> Values:
                reads.note(CONTENT, content)
                return self.values_now(now, settings.seeds, there(now, reads), reads)[which]

            def there(now: SceneAt, reads: Reads) -> Elements:
                subject_at(now, item, reads)
                reads.note(("placement", item), now.answer(("placement", item)))
                return elements.base.at_rest(now.placement(item))

            seeds = settings.seeds
            coming = Coming(f"values of {seeds} between {item}", seeds, len(elements.rest), measure, answer)
            seconds, changing = self._first_over_changing(scene, coming, reads)
            entered = self._entered(scene, settings, seconds, changing, start, end)
            resting_there = there(first, reads)
            pace = self._pace(first, settings, resting_there, reads)
            return {"travel": travel_between(resting_there.posed, entered, pace)}

        name, node = f"{front_name(field, source, item)} between", _front_node(scene, field, source, item)
        return self._results.solved(name, answer, find, node=node)

    def _first_over(self, scene: SceneAt, coming: Coming, reads: Reads) -> Values:
        return self._first_over_changing(scene, coming, reads)[0]

    def _first_over_changing(self, scene: SceneAt, coming: Coming, reads: Reads) -> tuple[Values, bool]:
        """(count,) the first second at which something comes to its level, infinite where it never does within the shot; and
        whether anything that it was made from changes over the shot. Between two ticks it is taken to go straight."""
        level: Question = ("level", coming.field)
        everything = np.arange(coming.count)
        rows = self.over_time(
            coming.name,
            scene,
            coming.count,
            TICKS,
            lambda now, own: coming.measure(now, everything, own),
            coming.answer,
        )
        reads.note(("defined", "timing"), scene.answer(("defined", "timing")))
        reads.note(level, scene.answer(level))
        if rows is None:
            return self._walked(scene, coming, reads)
        reads.include(rows.reads)
        values = cast(Rows, rows.value.named["values"])
        changing = len(values) > 1 or scene.definitions.changes(level)
        start, end = span(scene.shot)
        ticks = ceil((end - start) * TICKS) + 1 if changing else 1
        seconds = first_over(
            np.broadcast_to(values, (ticks, coming.count)),
            self.levels(scene, coming.field, TICKS, ticks),
            start,
            TICKS,
        )
        return seconds, changing

    def _walked(self, scene: SceneAt, coming: Coming, reads: Reads) -> tuple[Values, bool]:
        """The same where all values would take too many bytes. What was found need not be looked at again: what is left is
        narrowed down from time to time."""
        start, end = span(scene.shot)
        latest = Latest()
        ticks = ceil((end - start) * TICKS)
        which = np.arange(coming.count)

        def over(now: SceneAt) -> Values:
            return coming.measure(now, which, reads) - now.field_edge(coming.field)[0]

        before = over(scene_at(scene, start, latest))
        found = np.where(before >= 0, start, np.inf)
        changing = any(scene.definitions.changes(question) for question in reads.leaves)
        for tick in range(1, ticks + 1 if changing else 1):
            left = found[which] == np.inf
            if not left.any():
                break
            if left.sum() < 0.7 * len(which):
                which, before = which[left], before[left]
            self.watch.check()
            now = over(scene_at(scene, min(start + tick / TICKS, end), latest))
            come = (now >= 0) & (found[which] == np.inf)
            share = before[come] / (before[come] - now[come])
            found[which[come]] = start + (tick - 1 + share) / TICKS
            before = now
            if tick % 24 == 0:
                self.watch.progress("Finding when the field comes to each point", tick / (ticks + 1))
        return found, changing

    def _front(self, scene: SceneAt, field: str, source: str, item: str, reads: Reads) -> Values:
        settings = self._settings(scene, field, source, reads, SolvedSource)
        start, end = span(scene.shot)
        first = scene.first()
        elements = resting(first, item, reads)
        reads.note(("start", "placement", item), scene.answer(("start", "placement", item)))
        reads.note(("level", settings.seeds), first.answer(("level", settings.seeds)))
        excess = self.values_now(first, settings.seeds, elements, reads) - first.field_edge(settings.seeds)[0]
        entered = np.where(excess >= 0, 0.0, np.inf)
        crossed = self.crossed(scene, settings.seeds, item)
        reads.include(crossed.reads)
        changing = any(scene.definitions.changes(question) for question in reads.leaves if question[0] != "start")
        if changing:
            entered = self._entered(scene, settings, crossed.value.named["second"], True, start, end)
        pace = self._pace(first, settings, elements, reads)
        problem = FrontProblem(elements.subject.mesh, elements.posed, entered, excess, pace)
        self.watch.progress("Sending the front over the surface", 0.0)
        travel = settings.solve(problem, self.watch.flag)
        if travel is None:
            self.watch.check()
            raise Cancelled
        return travel

    def _entered(
        self, scene: SceneAt, settings: SolvedSource, seconds: Values, changing: bool, start: float, end: float
    ) -> Values:
        """(m,) how far the front could have come when each second is reached."""
        return _travel_at(scene.shot, settings.speed, seconds, start, end) if changing else seconds - start

    def _pace(self, first: SceneAt, settings: SolvedSource, elements: Elements, reads: Reads) -> Values:
        """(n,) the factor of the front's speed at elements, as it is at the start."""
        if settings.pace is None:
            return np.ones(len(elements))
        made = self.field_at(first, settings.pace, elements)
        reads.include(made.reads.without("elements"), ("start",))
        return made.value.values


def front_name(field: str, source: str, item: str) -> str:
    """The name of the front of a source on a shape."""
    return f"front of {field}/{source} on {item}"


def _front_node(scene: SceneAt, field: str, source: str, item: str) -> Node:
    return front_node(cast(SolvedSource, scene.shot.fields[field].sources[source]).seeds, item)


def _with_content(scene: SceneAt, content: str) -> Answer:
    def answer(question: Question) -> object:
        return content if question == CONTENT else scene.answer(question)

    return answer


def _travel_at(shot: Shot, speed: NumberParameter, seconds: Values, start: float, end: float) -> Values:
    """(m,) how far a front could have come when each second is reached; a point between two ticks lies between theirs."""
    ticks = start + np.arange(ceil((end - start) * TICKS) + 1) / TICKS
    come = travelled_through(speed, ticks * shot.rate.fps) / shot.rate.fps
    return np.where(seconds == np.inf, np.inf, np.interp(np.minimum(seconds, end + 1), ticks, come))
