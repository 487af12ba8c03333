"""Pictures that faces show, as a file brings them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.pictures import Wrap, looked_up

Reals = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Picture:
    """A picture that is laid on faces by their u,v and multiplies their colour.

    pixels: (height, width, 3 or 4) sRGB, from the top, the fourth how opaque they are. content: the same as the bytes of
    a PNG or JPEG file. wrap: what is seen beyond its edge, along u and v. alpha: what its opacity does: nothing (none),
    cut at a half, or blended.
    """

    pixels: NDArray[np.uint8]
    content: NDArray[np.uint8]
    kind: Literal["image/png", "image/jpeg"]
    wrap: tuple[Wrap, Wrap] = ("repeat", "repeat")
    alpha: Literal["none", "cut", "blend"] = "none"

    @property
    def nbytes(self) -> int:
        return self.pixels.nbytes + self.content.nbytes


@dataclass(frozen=True, eq=False)
class Pictures:
    """Pictures, and which of them each face of the shape as it was made shows. shown: (m,), -1 for none."""

    images: tuple[Picture, ...]
    shown: NDArray[np.int32]

    @property
    def nbytes(self) -> int:
        return self.shown.nbytes + sum(image.nbytes for image in self.images)

    def on(self, origins: NDArray[np.int32]) -> NDArray[np.int32]:
        """(k,) the picture of faces by which faces of the shape as it was made they are parts of; -1 for none."""
        return np.append(self.shown, np.int32(-1))[origins]

    def of(self, faces: NDArray[np.integer]) -> Pictures:
        """The same for a shape that is made of some of the faces."""
        return replace(self, shown=np.append(self.shown, np.int32(-1))[faces])


def seen_at_points(
    pictures: Pictures, origins: NDArray[np.int32], faces: NDArray[np.int32], uv: NDArray[np.float32]
) -> Reals:
    """(n, 3) the linear colour of the picture at each point, white where there is none. uv: (n, 2)."""
    colour = np.ones((len(uv), 3))
    which = np.full(len(uv), -1, dtype=np.int32)
    which[faces.ravel()] = np.repeat(pictures.on(origins), 3)
    for number, image in enumerate(pictures.images):
        here = which == number
        if here.any():
            colour[here] = looked_up(image.pixels, uv[here], image.wrap)
    return colour
