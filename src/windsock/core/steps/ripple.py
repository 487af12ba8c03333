"""Ripple: waves on the surface, set off by what touches it, by the wave equation.

What presses the surface in is found once for the shot (geometry/touches.py); the waves are marched from tick to tick over the faces of
the shape at rest (kernels/rippling.py).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import GroupId, Quantity, about
from windsock.core.fields.elements import Values
from windsock.core.geometry.mesh import Floats, Mesh, one_of_each, places_of
from windsock.core.geometry.outward import outward
from windsock.core.geometry.placement import turned_normals
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.touches import at_rest, touched_by_tick
from windsock.core.kernels.deforming import shifted
from windsock.core.kernels.rippling import MOST_STEPS, Membrane, membrane, rippled
from windsock.core.parts.part import Part
from windsock.core.refusals import TooMuch
from windsock.core.steps.deforming import placed
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.steps.march import MarchedStep, Tick
from windsock.core.steps.step import Leaves, SolvedStep
from windsock.core.timing.parameter import NumberParameter
from windsock.core.timing.ticks import TICKS, State

MOST_TOUCHES = 12_000_000
"""Points that are touched, counted at each tick, at most."""

SECONDS_A_TICK, SECONDS_A_POINT = 6e-4, 3e-9
"""Measured on two cores, for each tick of the shot, and for each point in one."""


@dataclass(frozen=True, eq=False)
class Presses(Solution):
    """What presses on n points, tick by tick. starts: (t + 1,) where the points of each tick begin; point, depth: (k,) which, and how
    deep. clock: (2,) second of the first tick, and ticks in a second; points: (1,) n."""

    starts: NDArray[np.int64]
    point: NDArray[np.int32]
    depth: NDArray[np.float32]
    clock: Values
    points: NDArray[np.int64]

    def at(self, seconds: float) -> Values:
        """(n,) metres that points are pressed in at a second; between two ticks it goes straight."""
        place = np.clip((seconds - float(self.clock[0])) * float(self.clock[1]), 0, len(self.starts) - 2)
        before = int(np.floor(place + 1e-6))
        share = max(float(place) - before, 0.0)
        made = self._of(before)
        return made if share < 1e-6 else made + (self._of(before + 1) - made) * share

    def _of(self, tick: int) -> Values:
        made = np.zeros(int(self.points[0]))
        begin, end = self.starts[tick : tick + 2]
        made[self.point[begin:end]] = self.depth[begin:end]
        return made


@dataclass(frozen=True, eq=False)
class Water:
    """A part as a membrane: which place each point is at, and a point of each place."""

    on: Membrane
    place: NDArray[np.int64]
    first: NDArray[np.int64]

    @property
    def nbytes(self) -> int:
        return self.on.nbytes + self.place.nbytes + self.first.nbytes


class Ripple(SolvedStep, MarchedStep):
    """Raise points by waves that run over the surface from where a group's shapes, their pieces and copies too, press it in or come out.

    They run at a speed, and lose a share of their own each second. Open edges throw them back or swallow them. The surface follows a shape
    as far as it is pressed, by a strength. A shape that is there from the start sets off nothing until it moves. Waves shorter than a
    few faces are not seen. The field's weight is how much of a wave is seen at a point.
    """

    says = "Waves that run from what touches it"
    wish = "Let it move"

    follows_itself: ClassVar[bool] = False

    kind: Literal["ripple"] = "ripple"
    solution: ClassVar[type[Solution]] = Presses
    works: ClassVar[str] = "Finding what presses the surface in"
    group: Annotated[GroupId | None, Field(description="The shapes that set off waves")] = None
    speed: Annotated[NumberParameter, Quantity("How fast waves run", unit="m/s", low=0, high=1000, drag=0.01)] = 1.0
    strength: Annotated[
        NumberParameter, Quantity("How far the surface follows what presses it in", low=-10, high=10, drag=0.005)
    ] = 0.5
    damping: Annotated[NumberParameter, Quantity("How soon waves die", unit="/s", low=0, high=100, drag=0.01)] = 0.8
    walls: Annotated[Literal["throw back", "swallow"], Field(description="What open edges do with waves")] = (
        "throw back"
    )
    margin: Annotated[float, Quantity("How near touches", unit="m", low=0, high=1e4, drag=0.001)] = 0.005

    @property
    def leaves(self) -> Leaves:
        return "points"

    def groups(self) -> tuple[str, ...]:
        return () if self.group is None else (self.group,)

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"speed": about(size, 0.3)}

    def solving(self, mesh: Mesh, lasts: float) -> float:
        return lasts * TICKS * (SECONDS_A_TICK + len(mesh.points) * SECONDS_A_POINT)

    def doubts(self, solution: Solution) -> str:
        if self.group is None:
            return "no shapes set off waves yet; choose a group"
        return (
            ""
            if len(cast(Presses, solution).point)
            else "nothing of the group touches it within the shot; move it closer"
        )

    def solve(self, given: SolveInputs) -> Presses:
        """What presses on the points of the part at rest, tick by tick. Raises TooMuch for more than can be kept."""
        mesh, span = given.mesh(), given.span()
        movers = given.movers(self.group) if self.group is not None else []
        count = np.zeros(span.ticks() + 1, dtype=np.int64)
        which: list[NDArray[np.int32]] = [np.zeros(0, dtype=np.int32)]
        depths: list[Floats] = [np.zeros(0, dtype=np.float32)]
        resting = at_rest(mesh, given.carried_at)
        for tick, points, depth in touched_by_tick(resting, movers, span, max(self.margin, 1e-9), given.check):
            count[tick] = len(points)
            if count.sum() > MOST_TOUCHES:
                raise TooMuch(
                    f"More than {MOST_TOUCHES:,} touches would be kept over the shot. Nothing was changed. Take a surface with "
                    "larger faces, smaller shapes that touch it, or a shorter shot."
                )
            which.append(points.astype(np.int32))
            depths.append(depth.astype(np.float32))
        starts = np.concatenate([[0], np.cumsum(count)])
        clock = np.array([span.start, float(span.every)])
        return Presses(starts, np.concatenate(which), np.concatenate(depths), clock, np.array([len(mesh.points)]))

    def begin(self, tick: Tick) -> State:
        """Calm."""
        return {"height": np.zeros(len(tick.mesh.points)), "rate": np.zeros(len(tick.mesh.points))}

    def advance(self, state: State, before: Tick, now: Tick) -> State:
        """The surface follows what has come in or gone out, and its waves run on; settings are those at `before`."""
        water, _ = now.given.once("water", Ripple._water)
        presses, first, at = cast(Presses, now.given.solution), water.first, before.at
        height, rate = state["height"][first], state["rate"][first]
        if len(presses.point) and int(presses.points[0]) == len(now.mesh.points):
            come = presses.at(now.at.seconds) - presses.at(before.at.seconds)
            height = height - at(self.strength) * come[first]
        seconds = now.at.seconds - before.at.seconds
        if height.any() or rate.any():
            swallow = self.walls == "swallow"
            height, rate = rippled(water.on, height, rate, at(self.speed), at(self.damping), swallow, seconds)
        return {"height": height[water.place], "rate": rate[water.place]}

    def _water(self, part: Part, given: StepInputs) -> Water:
        """The part at rest as a membrane, which stays as long as only time goes on."""
        mesh = part.mesh
        place, count = places_of(mesh.number)
        first = one_of_each(place, count)
        # At its highest speed a wave may need so many steps in a tick and no more.
        finest = 2 * _highest(self.speed) / (TICKS * MOST_STEPS)
        return Water(membrane(given.stretch.level(mesh.rest)[first], place[mesh.faces], finest), place, first)

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part in waves. Copies stay as they are."""
        if part.points_are_middles or self.group is None or len(part.mesh.points) == 0:
            return part
        weight = self.weight(len(part.mesh.points), given)
        state, entering = given.marched()
        height, changes = state["height"], len(entering.mesh.descent)
        if not height.any() or not weight.any():
            return part
        mesh, matrix = part.mesh, given.matrix
        place, count = places_of(mesh.number)
        ways = outward(turned_normals(mesh.normals, matrix), place, count)
        return placed(part, shifted(mesh.points, matrix, ways * (mesh.carried(height, changes) * weight)[:, None]))


def _highest(speed: NumberParameter) -> float:
    return float(speed) if isinstance(speed, (int, float)) else float(max(speed.numbers()))
