"""Depth of field after the fact: what is not at the focus is laid out as discs."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import ItemId, Quantity
from windsock.core.finishing.finish import FinishBase, Floats, Seen, Worked
from windsock.core.kernels.blurring import disc_blurred
from windsock.core.timing.parameter import NumberParameter

SHARP = 0.7
"""Pixels of a disc's radius up to which what it is of counts as sharp."""

FINER = 1.5
"""Discs of radii that differ by less than this factor are laid out alike."""

WIDEST = 0.08
"""The largest radius of a disc, as a share of the picture's height."""


class DepthOfField(FinishBase):
    """Blur what is nearer or farther than what is sharp, as wide as a lens would: its circle of confusion. Layers of like
    distance are blurred and laid over each other from far to near (after Scofield 1992), so what is behind an edge is only
    guessed; the camera's own f-number shows it exactly, and takes a rendering."""

    says = "What is nearer or farther goes out of focus, without another rendering"
    wish = "Light and lens"

    kind: Literal["depth_of_field"] = "depth_of_field"
    f_number: Annotated[NumberParameter, Quantity("F-number of the lens", low=0.1, high=64, drag=0.02)] = 2.0
    focus: Annotated[NumberParameter, Quantity("How far off is sharp", unit="m", low=0.01, high=10_000, drag=0.02)] = (
        5.0
    )
    focus_on: Annotated[ItemId | None, Field(description="The item that is kept sharp, in place of a distance")] = None

    def released(self, setting: str) -> dict[str, JsonValue]:
        return {setting: None} if setting == "focus_on" else super().released(setting)

    def needs_depth(self) -> bool:
        return True

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        del mask
        if seen.depths is None:
            return light
        height = light.shape[0]
        sharp = seen.at(self.focus) if self.focus_on is None else max(seen.far_off(self.focus_on), 0.01)
        depth = np.median(seen.depths, axis=0)
        across = confusion(depth, sharp, seen.at(self.f_number), seen.glass.focal) / seen.glass.height * height
        radius = np.clip(across / 2, SHARP, WIDEST * height)
        # Numbers of layers: 0 is sharp, above are farther ones, below nearer ones.
        layer = np.log(radius / SHARP) / np.log(FINER) * np.where(depth > sharp, 1, -1)
        made = np.zeros((*light.shape[:2], 4), dtype=np.float32)
        held = np.concatenate([light, np.ones_like(light[..., :1])], axis=-1)
        for number in range(int(np.ceil(layer.max())), int(np.floor(layer.min())) - 1, -1):
            share = np.maximum(1 - np.abs(layer - number), 0).astype(np.float32)
            if not share.any():
                continue
            laid = held * share[..., None]
            if number:
                laid = disc_blurred(laid, SHARP * FINER ** abs(number))
            made = made * (1 - laid[..., 3:]) + laid
        return made[..., :3] / np.maximum(made[..., 3:], 1e-6)


def confusion(depth: Floats, sharp: float, f_number: float, focal: float) -> NDArray[np.float64]:
    """The diameter, in metres on the sensor, of the disc that a point is shown as (the thin lens). depth, sharp: metres along the
    lens, infinite for the sky; focal: of the lens, in metres."""
    sharp = max(sharp, focal * 1.001)
    part = 1 - sharp / np.maximum(depth.astype(np.float64), 1e-6)
    return np.abs(part) * focal**2 / (f_number * (sharp - focal))
