"""Grain: the texture of film."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from xxhash import xxh32_intdigest

from windsock.core.declarations import Quantity
from windsock.core.finishing.finish import FinishBase, Floats, Seen, Worked
from windsock.core.kernels.blurring import blurred
from windsock.core.kernels.opencv import normal_noise
from windsock.core.timing.parameter import NumberParameter


class Grain(FinishBase):
    """Lay grain over the picture, a new one for each frame or always the same. It goes with the root of the light, as the
    noise of a count of particles does (Poisson), so that dark and bright places keep their look."""

    says = "The texture of film"
    wish = "Light and lens"

    kind: Literal["grain"] = "grain"
    strength: Annotated[NumberParameter, Quantity("How strong it is", low=0, high=1, drag=0.001)] = 0.04
    size: Annotated[
        NumberParameter, Quantity("Of a grain, of the picture's height", unit="%", low=0, high=5, drag=0.005)
    ] = 0.12
    coloured: Annotated[NumberParameter, Quantity("0: grey; 1: each colour by itself", low=0, high=1, drag=0.005)] = 0.4
    seed: Annotated[int, Quantity("Another grain for each number", low=0, high=1_000_000, drag=0.1, whole=True)] = 1
    moves: Annotated[bool, Field(description="Whether each frame has its own")] = True

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        del mask
        frame = round(seen.at.frame * 1024) if self.moves else "still"
        noise = normal_noise(light.shape[:2], xxh32_intdigest(f"{self.seed} {frame}".encode()))
        wide = seen.at(self.size) / 100 * light.shape[0] / 2
        if wide > 0.5:
            noise = blurred(noise, wide)
            noise /= np.float32(max(float(noise.std()), 1e-6))
        coloured = np.float32(seen.at(self.coloured))
        strength = np.float32(seen.at(self.strength))
        grey = noise[..., 3:] * (strength * np.sqrt(1 - coloured**2))
        mixed = noise[..., :3] * (strength * coloured)
        mixed += grey
        lit = np.maximum(light, 0)
        mixed *= np.sqrt(lit, out=lit)
        mixed += light
        return np.maximum(mixed, 0, out=mixed)
