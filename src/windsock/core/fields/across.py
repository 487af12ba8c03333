"""Across: position along a controller's axis. A sweep with a leading plane, straight or wavering, hard or soft."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import ItemId, Quantity
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.falloff import Fall, fall_place, fallen
from windsock.core.fields.source import Outline, PlacedSource, Scene
from windsock.core.kernels.affine import affine
from windsock.core.kernels.evolving import evolving_noise
from windsock.core.timing.parameter import Moment, NumberParameter

AXES = {"x": 0, "y": 1, "z": 2}

FULL = 2.2
"""The noise seldom comes near 1: times this, it is at its bound for about one place in fifty."""


class Across(PlacedSource):
    """1 behind the leading plane, falling to 0 at it over the last `soft` metres.

    The plane lies `at` metres along the controller's axis, whichever way the controller is turned; how it is stretched
    does not matter. A wavering edge is moved along the axis by a noise over the plane, so it never leaves islands ahead;
    an edge in steps takes whole slabs of `step` metres.
    """

    says = "High behind a plane that sweeps through"
    wish = "Where it is"

    offered = "Across a controller"

    kind: Literal["across"] = "across"
    controller: ItemId
    axis: Literal["x", "y", "z"] = "y"
    at: Annotated[NumberParameter, Quantity("Distance of the leading plane", unit="m", low=-1e5, high=1e5)] = 0.0
    soft: Annotated[NumberParameter, Quantity("Width of the fall from 1 to 0", unit="m", low=0, high=1e4)] = 0.3
    fall: Fall = "straight"
    edge: Literal["straight", "wavering", "steps"] = "straight"
    wave: Annotated[NumberParameter, Quantity("How far the edge wavers to either side", unit="m", low=0, high=1e4)] = (
        0.1
    )
    wave_size: Annotated[NumberParameter, Quantity("Size of the waves", unit="m", low=0.0001, high=1e4)] = 0.4
    evolution: Annotated[
        NumberParameter, Quantity("How fast the waves change", unit="/s", low=0, high=100, drag=0.01)
    ] = 0.0
    step: Annotated[NumberParameter, Quantity("Thickness of a slab", unit="m", low=0.0001, high=1e4)] = 0.2
    seed: Annotated[int, Quantity("Which of the waves", low=0, high=999_999, drag=0.1, whole=True)] = 1

    def items(self) -> tuple[str, ...]:
        return (self.controller,)

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        matrix = scene.placement(self.controller)
        directions = matrix[:3, :3] / np.linalg.norm(matrix[:3, :3], axis=0)
        axis = AXES[self.axis]
        # How far each place is to either side of the axis, counted in waves, and how far along it.
        rows = np.vstack([np.delete(directions, axis, axis=1).T / scene.at(self.wave_size), directions[:, axis]])
        to_own = np.eye(4)
        to_own[:3, :3], to_own[:3, 3] = rows, -rows @ matrix[:3, 3]
        over = affine(self.places(elements, scene), to_own)
        along = over[:, 2].copy()
        if self.edge == "wavering":
            over[:, 2] = 0.5
            wave = evolving_noise(over, 0.5 + scene.travelled("evolution"), self.seed)
            wave *= FULL
            along += scene.at(self.wave) * np.clip(wave, -1, 1, out=wave)
        elif self.edge == "steps":
            step = scene.at(self.step)
            along = np.floor(along / step) * step
        return fallen(along - scene.at(self.at), scene.at(self.soft), self.fall)

    def outline(self, level: float, at: Moment) -> Outline:
        distance = at(self.at) + fall_place(level, at(self.soft), self.fall)
        return {"form": "plane", "axis": self.axis, "distance": distance}
