"""A rendered frame finished: exposed, through the shot's chain of finishing steps, and shown."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from windsock.core.document.items import Camera
from windsock.core.document.shot import Shot
from windsock.core.finishing.chain import on_light, on_shown
from windsock.core.finishing.finish import Glass, Seen
from windsock.picture.layers import Layers
from windsock.picture.scene import Floats
from windsock.picture.view import shown


@dataclass(frozen=True, eq=False)
class Finished:
    """A finished picture, (height, width, 3). light: linear, before the view transform. shown: what a display of sRGB gets, 0..1.
    seen: what its steps knew of it."""

    light: Floats
    shown: Floats
    seen: Seen

    def over_nothing(self, shot: Shot, opacity: Floats) -> Floats:
        """(height, width, 4) what a display gets of a picture with nothing behind all, and how opaque it is: as much as is covered, and
        where nothing is but light, as that is bright. Its colours are not multiplied by that."""
        covered = np.clip(np.maximum(opacity, self.light.max(axis=-1)), 0, 1)
        straight = (self.light / np.maximum(covered, 1e-4)[..., None]).astype(np.float32)
        made = on_shown(shot.finishing, shown(straight, shot.view), self.seen)
        return np.concatenate([made, covered[..., None]], axis=-1).astype(np.float32)


def finished(layers: Layers, shot: Shot, frame: float) -> Finished:
    """What was rendered of a frame, finished as the shot has it."""
    at = shot.moment(frame)
    camera = shot.items.get(shot.camera) if shot.camera else None
    exposed = np.float32(2.0 ** (at(camera.exposure) if isinstance(camera, Camera) else 0.0))
    seen = Seen(
        at,
        layers.emission * exposed,
        _covers(layers),
        layers.depths,
        layers.values,
        _glass(shot, frame),
        lambda item: far_off(shot, item, frame),
    )
    light = on_light(shot.finishing, (layers.light * exposed).astype(np.float32), seen).astype(np.float32)
    return Finished(light, on_shown(shot.finishing, shown(light, shot.view), seen), seen)


def far_off(shot: Shot, item: str, frame: float) -> float:
    """Metres along the shot's camera to an item; negative behind it."""
    if shot.camera is None:
        return 1.0
    at = shot.moment(frame)
    matrix = shot.placement(shot.camera, at)
    away = shot.placement(item, at)[:3, 3] - matrix[:3, 3]
    return -float(away @ matrix[:3, 2]) / max(float(np.linalg.norm(matrix[:3, 2])), 1e-12)


def _covers(layers: Layers) -> dict[tuple[str, str], Floats]:
    identity = layers.identity
    if identity is None:
        return {}
    parts: dict[tuple[str, str], list[int]] = {}
    for number, named in enumerate(identity.named):
        parts.setdefault((named.item, named.part), []).append(number)
    return {part: identity.covered(which) for part, which in parts.items()}


def _glass(shot: Shot, frame: float) -> Glass:
    camera = shot.items.get(shot.camera) if shot.camera else None
    if not isinstance(camera, Camera):
        return Glass(0.035, 0.024)
    return camera.glass(shot.moment(frame), shot.picture.height / shot.picture.width)
