"""Chance: a stable random number for each point, piece or copy, by seed."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from windsock.core.declarations import Quantity
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.joining import Word
from windsock.core.fields.source import Scene, SourceBase
from windsock.core.kernels.chance import chance


class Chance(SourceBase):
    """A number in 0..1, every one as likely, that belongs to the element and does not change."""

    says = "Another number for each point, piece or copy"
    wish = "By chance"

    joins: ClassVar[Word] = "times"
    kind: Literal["chance"] = "chance"
    seed: Annotated[int, Quantity("Which of the chances", low=0, high=999_999, drag=0.1, whole=True)] = 1

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        del scene
        if elements.number is not None:
            return chance(elements.number, self.seed)
        return elements.carry(chance(elements.subject.mesh.number, self.seed))
