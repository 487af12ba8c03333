"""Pictures of all that is round about."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True, eq=False)
class Panorama:
    """The light from all round, as a picture twice as wide as high. light: (height, width, 3) linear Rec. 709, rows from straight up
    to straight down, columns from behind (+Z) round by -X; its middle is ahead, towards -Z."""

    light: NDArray[np.float16]

    @property
    def nbytes(self) -> int:
        return self.light.nbytes
