"""The skies that ship, as the page draws them: a gradient with layers of cloud."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.colour import linear_from_hex

Reals = NDArray[np.float64]


@dataclass(frozen=True)
class Sky:
    """Linear colours of the ground, the horizon and the zenith, what far things fade into, and how much cloud there is."""

    ground: tuple[float, float, float]
    horizon: tuple[float, float, float]
    zenith: tuple[float, float, float]
    haze: str
    cloud: float

    @property
    def faded(self) -> Reals:
        """(3,) linear, the colour of what is far."""
        return np.array(linear_from_hex(self.haze))


SKIES = {
    "day": Sky((0.3, 0.33, 0.34), (0.62, 0.67, 0.69), (0.27, 0.41, 0.55), "#cfd6d8", 0.12),
    "dusk": Sky((0.05, 0.06, 0.08), (0.5, 0.24, 0.16), (0.035, 0.055, 0.12), "#8a6a62", 0.3),
    "night": Sky((0.01, 0.012, 0.017), (0.05, 0.066, 0.09), (0.008, 0.013, 0.028), "#3d4a57", 0.2),
    "storm": Sky((0.08, 0.09, 0.1), (0.3, 0.33, 0.34), (0.06, 0.075, 0.095), "#7d8587", 0.75),
}
"""The same numbers as in the page's `sky.ts`; a test holds both against each other."""

HAZE = (30.0, 130.0)
"""Metres before the camera from which things fade, and at which they are gone."""


def sky_towards(kind: str, towards: Reals) -> Reals:
    """(n, 3) the linear light of a sky from unit directions, (n, 3), +Y up."""
    sky = SKIES[kind]
    height = towards[:, 1]
    ground, horizon, zenith = (np.array(one) for one in (sky.ground, sky.horizon, sky.zenith))
    seen = _mixed(horizon, zenith, np.clip(height, 0, 1) ** 0.6)
    cover = sky.cloud * _smooth(0.0, 0.1, height) * _clouds(towards[:, 0], np.maximum(height, 0), towards[:, 2])
    seen = _mixed(seen, (zenith + (horizon - zenith) * 0.25) * 0.8, cover)
    return _mixed(seen, ground, _smooth(0.0, -0.08, height))


@cache
def sky_map(kind: str, height: int = 256) -> NDArray[np.float32]:
    """(height, 2 height, 3) the whole sky: rows from +Y down, columns from -Z round by +X."""
    width = 2 * height
    down = (np.arange(height) + 0.5) / height * np.pi
    round_ = (np.arange(width) + 0.5) / width * 2 * np.pi
    ring = np.sin(down)[:, None]
    towards = np.stack(
        [ring * np.sin(round_), np.broadcast_to(np.cos(down)[:, None], (height, width)), -ring * np.cos(round_)],
        axis=-1,
    )
    return sky_towards(kind, towards.reshape(-1, 3)).reshape(height, width, 3).astype(np.float32)


def _mixed(one: Reals, other: Reals, share: Reals) -> Reals:
    return one + (other - one) * share[:, None]


def _smooth(low: float, high: float, value: Reals) -> Reals:
    part = np.clip((value - low) / (high - low), 0, 1)
    return part * part * (3 - 2 * part)


def _clouds(x: Reals, y: Reals, z: Reals) -> Reals:
    """Layers of cloud on a level ceiling, seen from below: they crowd together toward the horizon."""
    u, v = x / (y + 0.12) * 0.55, z / (y + 0.12) * 1.1
    total, share = np.zeros_like(u), 0.5
    for _ in range(5):
        total += share * _smoothed(u, v)
        u, v = 1.6 * u - 1.2 * v + 7.3, 1.2 * u + 1.6 * v + 7.3
        share *= 0.5
    return _smooth(0.35, 0.75, total)


def _smoothed(u: Reals, v: Reals) -> Reals:
    left, low = np.floor(u), np.floor(v)
    across, up = (part * part * (3 - 2 * part) for part in (u - left, v - low))

    def chance(x: Reals, y: Reals) -> Reals:
        raised = np.sin(x * 127.1 + y * 311.7) * 43758.5453
        return raised - np.floor(raised)

    near = chance(left, low) + (chance(left + 1, low) - chance(left, low)) * across
    far = chance(left, low + 1) + (chance(left + 1, low + 1) - chance(left, low + 1)) * across
    return near + (far - near) * up
