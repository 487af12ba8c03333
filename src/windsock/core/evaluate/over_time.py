"""Values of fields over the whole shot, found once: when they come to a level is read from them for any level."""

from __future__ import annotations

from collections.abc import Callable
from math import ceil
from typing import cast

import numpy as np
from numpy.typing import NDArray

from windsock.core.evaluate.field_marches import FieldMarches
from windsock.core.evaluate.keeping import Arrays
from windsock.core.evaluate.moments import scene_at, span
from windsock.core.evaluate.reads import Answer, Question, Reads
from windsock.core.evaluate.results import Latest, Outcome
from windsock.core.evaluate.scene import SceneAt
from windsock.core.fields.elements import Elements, Values

ROWS_BYTES = 96 * 2**20
"""Bytes that the values of one field on one shape may take."""

Rows = NDArray[np.float32]
Measure = Callable[[SceneAt, Reads], Values]
"""(n,) values at a scene; what they are made from is noted."""


class FieldsOverTime(FieldMarches):
    """Measures fields at fixed moments over the whole shot."""

    def over_time(
        self, name: str, scene: SceneAt, count: int, every: int, measure: Measure, answer: Answer
    ) -> Outcome[Arrays] | None:
        """`values`: (t, count) in single precision at `every` moments in each second of the shot, its end included; only the
        first row where nothing changes. None where they would take more than ROWS_BYTES. name: of what is measured; answer:
        answers what it reads."""
        start, end = span(scene.shot)
        rows = ceil((end - start) * every) + 1
        if rows * count * 4 > ROWS_BYTES:
            return None

        def find(reads: Reads) -> dict[str, Rows]:
            reads.note(("defined", "timing"), scene.answer(("defined", "timing")))
            latest = Latest()
            first = measure(scene_at(scene, start, latest), reads)
            if not any(map(scene.definitions.changes, reads.leaves)):
                return {"values": first[None].astype(np.float32)}
            values = np.empty((rows, count), dtype=np.float32)
            values[0] = first
            for row in range(1, rows):
                self.watch.check()
                values[row] = measure(scene_at(scene, min(start + row / every, end), latest), reads)
                if row % 24 == 0:
                    self.watch.progress("Following the field through the shot", row / rows)
            return {"values": values}

        return self._results.solved(f"{name} {every} times a second", answer, find, stored=False)

    def levels(self, scene: SceneAt, field: str, every: int, rows: int) -> Values:
        """(rows,) the level of a field at the same moments."""
        level, shot = scene.shot.fields[field].level, scene.shot
        start, end = span(shot)
        return np.array([shot.moment(min(start + row / every, end) * shot.rate.fps)(level) for row in range(rows)])

    def values_now(self, now: SceneAt, field: str, elements: Elements, reads: Reads) -> Values:
        """(n,) a field's values; where the elements stand counts as far as it was looked at."""
        made = self.field_at(now, field, elements)
        reads.leaves.update(made.reads.leaves)
        if ("elements", "posed") in made.reads.leaves:
            place: Question = ("placement", elements.subject.item)
            reads.note(place, now.answer(place))
        return made.value.values

    def product_now(self, now: SceneAt, field: str, overall: str | None, elements: Elements, reads: Reads) -> Values:
        """(n,) the values of a field, times the overall one."""
        values = self.values_now(now, field, elements, reads)
        return values if overall is None else values * self.values_now(now, overall, elements, reads)


def first_over(values: Rows, levels: Values, start: float, every: int) -> Values:
    """(n,) the first second at which (t, n) values, `every` times a second from `start` on, are at (t,) levels or over them;
    infinite where they never are. Between two moments they are taken to go straight."""
    # Rounded as the values are, so that one that lies at the level is at it.
    rounded: Rows = levels.astype(np.float32)
    over = values >= rounded[:, None]
    row, each = over.argmax(axis=0), np.arange(len(values[0]))
    before = np.maximum(row - 1, 0)
    short = values[before, each].astype(np.float64) - rounded[before]
    past = values[row, each].astype(np.float64) - rounded[row]
    share = np.divide(short, short - past, out=np.ones(len(row)), where=row > 0)
    found = start + (row - 1 + share) / every
    return cast(Values, np.where(over[row, each], found, np.inf))
