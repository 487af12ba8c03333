"""What every source of a field shares: its place in the sentence, and what it measures from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Protocol

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.declarations import Declared, Quantity, Rank
from windsock.core.fields.joining import Word
from windsock.core.geometry.placement import Matrix
from windsock.core.timing.parameter import Moment, NumberParameter

Values = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Elements:
    """The places that a field is measured at.

    posed: (n, 3) in world metres. rest: (n, 3) in the subject's own space, as its shape made them.
    """

    posed: NDArray[np.float64]
    rest: NDArray[np.float64]


class Scene(Protocol):
    """What sources may ask of the shot at the moment they are measured."""

    @property
    def at(self) -> Moment: ...

    def placement(self, item: str) -> Matrix:
        """(4, 4) matrix from the item's space to the world."""
        ...


class SourceBase(Declared):
    """One clause of a field. `word` joins it to the clauses before it; the first clause replaces 0."""

    rank: Rank = 0.0
    word: Word = "or"
    amount: Annotated[NumberParameter, Quantity("How much of this clause counts", low=0, high=1, drag=0.005)] = 1.0
    inverted: Annotated[bool, Field(description="not: 1 - value")] = False

    def items(self) -> tuple[str, ...]:
        """The ids of the items that this source measures from."""
        return ()

    @property
    def posed(self) -> bool:
        """Whether the values depend on where the subject stands in the world."""
        return True
