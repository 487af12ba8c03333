"""What was rendered of a frame: pictures as arrays in linear light, from the top."""

from __future__ import annotations

from dataclasses import dataclass

from windsock.picture.scene import Floats


@dataclass(frozen=True, eq=False)
class Identity:
    """What covers each pixel. named: the item and the part of each surface; covered: (surfaces, height, width), together the
    opacity."""

    named: list[tuple[str, str]]
    covered: Floats


@dataclass(eq=False)
class Layers:
    """light: (height, width, 3), all that is seen. opacity: (height, width). emission, albedo, normal (of the world, facing the
    camera): (height, width, 3). sky: what is seen of the sky. position: (height,
    width, 3) world metres, and depth: (height, width) metres along the lens, at the middles of the pixels, 0 for nothing.
    identity: for mattes. The last three only where they were asked for."""

    light: Floats
    opacity: Floats
    emission: Floats
    albedo: Floats
    normal: Floats
    sky: Floats
    position: Floats | None = None
    depth: Floats | None = None
    identity: Identity | None = None
