"""Contact: where, how deep and how long ago the shapes of a group touched the subject."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from pydantic import Field

from windsock.core.declarations import GroupId, Quantity
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.falloff import smoothstep
from windsock.core.fields.source import HistoryInputs, HistorySource, Scene
from windsock.core.geometry.mesh import Mesh, places_of
from windsock.core.geometry.placement import Matrix, moved
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.touches import Touches, at_rest, touches_of
from windsock.core.kernels.widening import widened
from windsock.core.timing.parameter import NumberParameter

SECONDS_A_TICK, SECONDS_A_POINT = 6e-4, 3e-9
"""Measured on two cores, for each tick of the shot, and for each point in one."""


class Contact(HistorySource):
    """What the group's shapes, their pieces and copies too, have done to the subject where they touched it, until now.

    depth: how deep they went in at most, along the surface's normal, 1 at `full` and over it. touched: 1 where they were. first,
    last: the time since the first or the last touch, 1 after `over`, 0 before any; how deep and whether are forgotten again after
    it `recovers`. What comes as near as the margin touches. It counts on the subject as it rests, where it stands, and stays with
    its points. It falls to 0 over `spreads` about what was touched. The subject itself does not count.
    """

    says = "Where other shapes have touched it"
    wish = "Over time"

    offered = "Contact with shapes"
    solution: ClassVar[type[Solution]] = Touches
    works: ClassVar[str] = "Finding what touches the surface"

    kind: Literal["contact"] = "contact"
    group: GroupId
    reading: Annotated[
        Literal["depth", "touched", "first", "last"], Field(description="What of the touches counts")
    ] = "touched"
    full: Annotated[NumberParameter, Quantity("How deep a touch has the value 1", unit="m", low=0, high=1e4)] = 0.05
    over: Annotated[
        NumberParameter, Quantity("Seconds after which the time is 1", unit="s", low=0.001, high=1e4, drag=0.01)
    ] = 1.0
    recovers: Annotated[
        NumberParameter,
        Quantity("Seconds after which a touch is gone, 0 for never", unit="s", low=0, high=1e4, drag=0.01),
    ] = 0.0
    spreads: Annotated[
        NumberParameter, Quantity("Way over which it falls to 0 about what was touched", unit="m", low=0, high=1e4)
    ] = 0.0
    margin: Annotated[float, Quantity("How near touches", unit="m", low=0, high=1e4, drag=0.001)] = 0.005

    def groups(self) -> tuple[str, ...]:
        return (self.group,)

    def solving(self, points: int, lasts: float) -> float:
        return lasts * 120 * (SECONDS_A_TICK + points * SECONDS_A_POINT)

    def solve(self, given: HistoryInputs) -> Touches:
        """All touches at the points of the subject at rest. Raises TooMuch for more than can be kept."""
        resting = at_rest(given.subject().mesh, given.carried_at)
        return touches_of(resting, given.movers(self.group), given.span(), max(self.margin, 1e-9), given.check)

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        subject, at = elements.subject, scene.at
        touches = cast(Touches, scene.history(subject))
        values = scene.at_points_now(subject, self._values(touches, scene))
        spreads = at(self.spreads)
        if spreads > 0 and values.any():
            values = _about(values, subject.mesh, scene.placement(subject.item), spreads)
        return np.clip(elements.carry(values), 0, 1)

    def _values(self, touches: Touches, scene: Scene) -> Values:
        """(m,) values at the points of the subject at rest."""
        at, seconds = scene.at, scene.seconds
        recovers = at(self.recovers)
        if self.reading == "depth":
            deep, full = touches.deepest(seconds, recovers), at(self.full)
            return np.minimum(deep / full, 1.0) if full > 0 else (deep > 0).astype(np.float64)
        first, last = touches.times(seconds)
        there = np.isfinite(first)
        if self.reading == "touched":
            gone = np.where(there, seconds - last, np.inf)
            if recovers <= 0:
                return there.astype(np.float64)
            return 1 - smoothstep(np.clip(np.minimum(gone, 1e12) / recovers, 0, 1))
        since = seconds - (first if self.reading == "first" else last)
        return np.where(there, np.clip(np.where(there, since, 0.0) / max(at(self.over), 1e-9), 0, 1), 0.0)


def _about(values: Values, mesh: Mesh, matrix: Matrix, spreads: float) -> Values:
    """(n,) values that fall from point to point along the faces by 1 over so many metres of the world, and no faster."""
    place, count = places_of(mesh.number)
    held = np.zeros(count)
    np.maximum.at(held, place, values)
    return widened(held, moved(mesh.points, matrix), mesh.faces, place, spreads)[place]
