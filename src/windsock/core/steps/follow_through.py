"""Follow through: the shape lags behind its own motion and springs past it.

Every point is a damped spring (kernels/springs.py) that is drawn to where it would be without this step. It is stepped
exactly, from tick to tick, with the drawing place going straight in between. That it hangs back further, and that it does not
stretch, is laid on each moment's places and does not change how it swings.
"""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.fields.elements import Values
from windsock.core.fields.zones import Zone
from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.geometry.placement import moved
from windsock.core.kernels.springs import spring_factors, spring_step
from windsock.core.parts.part import Part
from windsock.core.steps.given import StepInputs
from windsock.core.steps.march import MarchedStep, Tick
from windsock.core.steps.step import Leaves
from windsock.core.timing.parameter import NumberParameter
from windsock.core.timing.ticks import State


class FollowThrough(MarchedStep):
    """Swing behind the shape's own motion. The field's weight is how loose a point is: at 0 it is rigid.

    `swings` is how often a point with weight 1 swings in a second, `damping` how soon it comes to rest: at 0 it never
    does, at 1 it does not swing past. `drag` takes it back along its own motion by so many seconds of it. Where it does not
    stretch, every point is as far as it would be stiffly from the middle of what is held: of what is least loose, or of all
    where all is as loose.
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
    drag: Annotated[
        NumberParameter, Quantity("How far it hangs back along its motion", unit="s", low=0, high=5, drag=0.002)
    ] = 0.0
    stretch: Annotated[
        NumberParameter, Quantity("How much of its stretching is left, 0 keeps its lengths", low=0, high=1, drag=0.005)
    ] = 1.0
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
        return {"place": tick.places, "velocity": np.zeros_like(tick.places), **self._looseness(tick)}

    def advance(self, state: State, before: Tick, now: Tick) -> State:
        """One exact step; settings and weights are those at `before`."""
        seconds = now.at.seconds - before.at.seconds
        swings, damping = before.at(self.swings), before.at(self.damping)
        factors = spring_factors(before.weight, swings, damping, seconds)
        place, velocity = spring_step(
            state["place"], state["velocity"], before.places, now.places, seconds, factors, before.weight
        )
        return {"place": place, "velocity": velocity, **self._looseness(now)}

    def _looseness(self, tick: Tick) -> State:
        """What the places of a moment are laid by, beside where the springs have them."""
        return {"loose": tick.weight} if self.drag != 0 or self.stretch != 1 else {}

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part with its points moved, and the middles of its pieces with them; normals turn as the surface about them
        does."""
        state, entering = given.marched()
        stiff, places = moved(entering.mesh.points, given.matrix), state["place"]
        if "loose" in state:
            loose = state["loose"]
            places = places - state["velocity"] * (given.at(self.drag) * loose)[:, None]
            places = _unstretched(stiff, places, loose, 1 - given.at(self.stretch))
        shift = places - stiff
        back, changes = np.linalg.inv(given.matrix), len(entering.mesh.descent)

        def swung(mesh: Mesh) -> Floats:
            shifted = moved(mesh.points, given.matrix) + mesh.carried(shift, changes)
            return moved(shifted, back).astype(np.float32)

        return part.deformed(swung, bool(shift.any()))


HELD, RIGIDLY = 40.0, 0.02
"""How much less a point counts for the middle of what is held, from the least loose to the loosest: to the power of e; looseness
up to which a point is not pulled in full, so that one which is not loose at all stays where it is."""


def _unstretched(stiff: Values, places: Values, loose: Values, share: float) -> Values:
    """(n, 3) places brought, by a share, as far from the middle of what is held as they are stiffly."""
    if share <= 0 or len(stiff) == 0:
        return places
    least, most = float(loose.min()), float(loose.max())
    held = np.exp(-HELD * (loose - least) / max(most - least, 1e-9))
    held /= held.sum()
    out, away = stiff - held @ stiff, places - held @ places
    far = np.linalg.norm(away, axis=1)
    factor = np.where(far > 1e-12, np.linalg.norm(out, axis=1) / np.maximum(far, 1e-12), 1.0)
    return places + away * ((factor - 1) * share * np.minimum(loose / RIGIDLY, 1))[:, None]
