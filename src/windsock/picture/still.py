"""One finished frame of a shot: evaluated where the shutter is open, rendered, and finished."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from windsock.core.document.items import Camera
from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator
from windsock.core.refusals import TooMuch
from windsock.picture.finishing import finished
from windsock.picture.layers import Layers
from windsock.picture.quality import Quality, shutter_share
from windsock.picture.renderer import Renderer
from windsock.picture.scene import MOST_PIXELS, Floats, Scene
from windsock.picture.staging import staged

Told = Callable[[str, float], None]
"""Takes words for what is done and how much of it is, 0..1. Raises Cancelled when it is to stop."""

OPENED = 1 / 360
"""The least part of a frame that a shutter is open for."""


@dataclass(frozen=True, eq=False)
class Still:
    """A rendered frame. light: (height, width, 3) linear, finished."""

    layers: Layers
    light: Floats
    exposure: float


class Studio:
    """Makes finished pictures of a shot."""

    def __init__(self, evaluator: Evaluator, renderer: Renderer, quality: Quality) -> None:
        self._evaluator = evaluator
        self._renderer = renderer
        self.quality = quality

    def still(self, shot: Shot, frame: float, width: int, height: int, told: Told) -> Still:
        """A frame at a size in pixels. Raises Refusal for what cannot be rendered."""
        if width * height > MOST_PIXELS:
            raise TooMuch(
                f"{width:,} by {height:,} are more pixels than are rendered at once. Nothing was written. Take at most "
                f"{int(MOST_PIXELS**0.5):,} by {int(MOST_PIXELS**0.5):,}."
            )
        opened = _opened(shot, frame)

        def scene(number: int) -> Scene | None:
            """The moment of a pass: half before the frame and half after it, in no order that could be seen."""
            if opened < OPENED:
                return self._staged(shot, frame, width, height) if number == 0 else None
            return self._staged(shot, frame + opened * (shutter_share(number) - 0.5), width, height)

        layers = self._renderer.layers(scene, self.quality, told)
        camera = shot.items.get(shot.camera) if shot.camera else None
        exposure = shot.moment(frame)(camera.exposure) if isinstance(camera, Camera) else 0.0
        return Still(layers, finished(layers, exposure), exposure)

    def _staged(self, shot: Shot, frame: float, width: int, height: int) -> Scene:
        return staged(shot, self._evaluator.frame(shot, frame, looked_at=frozenset()), width, height)


def _opened(shot: Shot, frame: float) -> float:
    """For how much of a frame the shutter is open."""
    camera = shot.items.get(shot.camera) if shot.camera else None
    return shot.moment(frame)(camera.shutter) / 360 if isinstance(camera, Camera) else 0.0
