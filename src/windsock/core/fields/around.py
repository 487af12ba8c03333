"""Around: distance from a controller's centre, in the controller's own (stretched, turned) space."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Id, Quantity
from windsock.core.fields.source import Elements, Scene, SourceBase, Values
from windsock.core.geometry.placement import moved
from windsock.core.timing.parameter import Moment, NumberParameter


class Around(SourceBase):
    """1 near the controller, falling to 0 at the reach over the last `soft` metres before it."""

    kind: Literal["around"] = "around"
    controller: Id
    reach: Annotated[NumberParameter, Quantity("Distance at which the value is 0", unit="m", low=0, high=1e4)] = 2.0
    soft: Annotated[NumberParameter, Quantity("Width of the fall from 1 to 0", unit="m", low=0, high=1e4)] = 1.0
    fall: Literal["straight", "smooth"] = "straight"

    def items(self) -> tuple[str, ...]:
        return (self.controller,)

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        own = moved(elements.posed, np.linalg.inv(scene.placement(self.controller)))
        distance = np.sqrt(np.einsum("ij,ij->i", own, own))
        reach, soft = scene.at(self.reach), scene.at(self.soft)
        if soft <= 0:
            return (distance <= reach).astype(np.float64)
        value = np.clip((reach - distance) / soft, 0, 1)
        return value if self.fall == "straight" else value * value * (3 - 2 * value)

    def reach_at(self, level: float, at: Moment) -> float:
        """The distance, in the controller's space, at which this source alone has the value `level` (0..1)."""
        reach, soft = at(self.reach), at(self.soft)
        share = level if self.fall == "straight" else _smoothstep_inverse(level)
        return max(0.0, reach - soft * share)


def _smoothstep_inverse(value: float) -> float:
    return float(0.5 - np.sin(np.arcsin(np.clip(1 - 2 * value, -1, 1)) / 3))
