"""Vignette: darker towards the corners."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import Quantity
from windsock.core.finishing.finish import FinishBase, Floats, Seen, Worked
from windsock.core.timing.parameter import NumberParameter


class Vignette(FinishBase):
    """Darken the picture towards its corners, from a distance from its middle on."""

    says = "Darker towards the corners"
    wish = "Light and lens"

    kind: Literal["vignette"] = "vignette"
    stops: Annotated[NumberParameter, Quantity("Stops darker in the corners", low=-10, high=10, drag=0.01)] = 0.8
    start: Annotated[
        NumberParameter, Quantity("Where it starts, from the middle to the corner", unit="%", low=0, high=100, drag=0.2)
    ] = 20.0
    roundness: Annotated[
        NumberParameter, Quantity("1: round; 0: as wide as the picture", low=0, high=1, drag=0.005)
    ] = 0.0

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        del mask
        height, width = light.shape[:2]
        start, roundness = min(seen.at(self.start) / 100, 0.999), seen.at(self.roundness)
        x, y = (((np.arange(count) + 0.5) / count * 2 - 1).astype(np.float32) for count in (width, height))
        aspect = (width / height) ** roundness
        corner = np.hypot(aspect, 1.0)
        away = np.sqrt(np.square(x * np.float32(aspect / corner))[None, :] + np.square(y / np.float32(corner))[:, None])
        share = np.clip((away - np.float32(start)) / np.float32(1 - start), 0, 1)
        share *= share * (3 - 2 * share)
        return light * np.exp2(np.float32(-seen.at(self.stops)) * share)[..., None]
