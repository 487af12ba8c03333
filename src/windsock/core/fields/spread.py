"""Spread: a front that starts where a seed field is inside and travels over the surface, in metres per second."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.declarations import FieldId, Quantity
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.source import FrontProblem, Scene, SolvedSource
from windsock.core.geometry.mesh import content_of
from windsock.core.kernels.arrival import Surface, arrival_times, starts_about, surface_of
from windsock.core.timing.parameter import NumberParameter


class PreparedSurfaces:
    """The surfaces that fronts were sent over last, by what is in their arrays: other seeds take the same one."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: OrderedDict[str, Surface] = OrderedDict()
        self._lock = Lock()

    def of(self, points: Values, faces: NDArray[np.int64]) -> Surface:
        """See `surface_of`."""
        key = content_of(points, faces)
        with self._lock:
            found = self._kept.pop(key, None)
        found = found or surface_of(points, faces)
        with self._lock:
            self._kept[key] = found
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return found


PREPARED = PreparedSurfaces(2)


class Spread(SolvedSource):
    """1 behind the front, falling to 0 at its leading edge over `soft` metres.

    The map of arrivals is solved once, in metres of travel at full pace, on the subject as it rests: a front has come as
    far as the integral of its speed, so a keyed speed warps time exactly. `pace` names a field that slows the front from
    place to place (0 stops it); it is read once, at the shot's start. Seeds that move enter when they touch. `through`
    pieces it goes from one to the nearest others, by way of their middles at rest; points, which are in no pieces, get the
    front over the surface.
    """

    says = "A front that travels over the surface"
    wish = "Over time"

    offered = "A spread from another field"

    kind: Literal["spread"] = "spread"
    seeds: FieldId
    speed: Annotated[
        NumberParameter, Quantity("How fast the front travels", unit="m/s", low=0, high=1e4, drag=0.005)
    ] = 1.0
    soft: Annotated[NumberParameter, Quantity("Width of the front's edge", unit="m", low=0, high=1e4)] = 0.2
    pace: FieldId | None = None
    through: Annotated[
        Literal["surface", "pieces"], Field(description="Over the surface, or from piece to piece and copy to copy")
    ] = "surface"

    def briefly(self, name: Callable[[str], str]) -> str:
        return f"spread from {name(self.seeds)}"

    def fields(self) -> tuple[str, ...]:
        return (self.seeds, self.pace) if self.pace else (self.seeds,)

    def crossings(self) -> tuple[str, ...]:
        return (self.seeds,)

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1: a lookup in the map."""
        come, soft = scene.travelled("speed"), scene.at(self.soft)
        if self.through == "pieces" and elements.number is not None:
            return front_values(np.minimum(scene.arrivals_between(elements), 1e12), come, soft)
        return front_values(elements.carry(np.minimum(scene.arrivals(elements.subject), 1e12)), come, soft)

    def solve(self, problem: FrontProblem, cancelled: NDArray[np.uint8]) -> Values | None:
        """(m,) metres of travel, at full pace, that the front needs to come to each point; infinite where it never does."""
        number, first, place = np.unique(problem.mesh.number, return_index=True, return_inverse=True)
        surface = PREPARED.of(problem.points[first], place[problem.mesh.faces])
        slowness = np.full(len(number), np.inf)
        np.divide(1.0, problem.pace[first], out=slowness, where=problem.pace[first] > 0)
        starts = np.minimum(problem.entered[first], starts_about(surface, problem.excess[first], slowness, 0.0))
        starts[(slowness == np.inf) & (problem.entered[first] == np.inf)] = np.inf
        travel = arrival_times(surface, starts, slowness, cancelled)
        return None if travel is None else travel[place]


def front_values(travel: Values, come: float, soft: float) -> Values:
    """(n,) 0 ahead of a front that has come so many metres, 1 `soft` metres behind its edge. travel: (n,) metres."""
    if soft <= 0:
        return (travel <= come).astype(np.float64)
    with np.errstate(over="ignore"):  # an edge as thin as can be told is 0 or 1 everywhere
        return np.clip((come - travel) / soft, 0, 1)
