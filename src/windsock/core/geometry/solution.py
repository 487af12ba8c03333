"""What is solved once for all moments, as named arrays that can be kept."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields
from typing import Self

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True, eq=False)
class Solution:
    """The base of what is solved: its members are arrays."""

    @property
    def nbytes(self) -> int:
        return sum(array.nbytes for array in self.arrays().values())

    def arrays(self) -> Mapping[str, NDArray[np.generic]]:
        """The arrays by name."""
        return {one.name: np.asarray(getattr(self, one.name)) for one in fields(self)}

    @classmethod
    def of(cls, arrays: Mapping[str, NDArray[np.generic]]) -> Self:
        """The solution that has these arrays."""
        return cls(**arrays)
