"""Follow through: the shape lags behind its own motion and springs past it.

Every point is a damped spring (kernels/springs.py) that is drawn to where it would be without this step. It is stepped
exactly, from tick to tick, with the drawing place going straight in between.
"""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.fields.zones import Zone
from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.geometry.placement import moved
from windsock.core.kernels.springs import spring_factors, spring_step
from windsock.core.parts.part import Part
from windsock.core.steps.march import MarchedStep, Tick
from windsock.core.steps.step import Leaves, StepInputs
from windsock.core.timing.parameter import NumberParameter
from windsock.core.timing.ticks import State


class FollowThrough(MarchedStep):
    """Swing behind the shape's own motion. The field's weight is how loose a point is: at 0 it is rigid.

    `swings` is how often a point with weight 1 swings in a second, `damping` how soon it comes to rest: at 0 it never
    does, at 1 it does not swing past.
    """

    says = "Lags behind the shape’s own motion and springs past it"
    wish = "Let it move"

    undriven = (
        "No field drives this, so every point is equally loose. "
        "Choose a field in place of “everywhere” to hold a part of it."
    )

    kind: Literal["follow_through"] = "follow_through"
    zone: Zone = "value"
    swings: Annotated[NumberParameter, Quantity("Swings in a second", unit="/s", low=0.05, high=30, drag=0.02)] = 1.5
    damping: Annotated[NumberParameter, Quantity("How soon it comes to rest", low=0, high=3, drag=0.005)] = 0.25
    settled: Annotated[
        float, Quantity("Time before the first frame in which it settles", unit="s", low=0, high=60, drag=0.02)
    ] = 1.0

    @property
    def leaves(self) -> Leaves:
        return "points"

    def pre_roll(self) -> float:
        return self.settled

    def begin(self, tick: Tick) -> State:
        """At rest where it is drawn to."""
        return {"place": tick.places, "velocity": np.zeros_like(tick.places)}

    def advance(self, state: State, before: Tick, now: Tick) -> State:
        """One exact step; settings and weights are those at `before`."""
        seconds = now.at.seconds - before.at.seconds
        swings, damping = before.at(self.swings), before.at(self.damping)
        factors = spring_factors(before.weight, swings, damping, seconds)
        place, velocity = spring_step(
            state["place"], state["velocity"], before.places, now.places, seconds, factors, before.weight
        )
        return {"place": place, "velocity": velocity}

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part with its points moved, and the middles of its pieces with them; normals turn as the surface about them
        does."""
        state, entering = given.marched()
        shift = state["place"] - moved(entering.mesh.points, given.matrix)
        back, changes = np.linalg.inv(given.matrix), len(entering.mesh.descent)

        def swung(mesh: Mesh) -> Floats:
            shifted = moved(mesh.points, given.matrix) + mesh.carried(shift, changes)
            return moved(shifted, back).astype(np.float32)

        return part.deformed(swung, bool(shift.any()))
