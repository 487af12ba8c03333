"""What every source of a field shares: its place in the sentence, and what it measures from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Annotated, Protocol

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.declarations import Declared, Id, Quantity, Rank
from windsock.core.fields.joining import Word
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix, moved
from windsock.core.timing.curve import Curve
from windsock.core.timing.parameter import Moment, NumberParameter

Values = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Subject:
    """The shape that elements belong to. mesh: as its shape makes it, before any step; key: what it depends on."""

    item: str
    mesh: Mesh
    key: str


@dataclass(frozen=True, eq=False)
class Elements:
    """The places that a field is measured at.

    posed: (n, 3) in world metres. rest: (n, 3) in the subject's own space, as its shape made them. carry: takes values
    (m, ...) at the m points of the subject's rest mesh to these elements, (n, ...). whole: they are just those points.
    resting: they are posed where the subject rests, moved by no step.
    """

    posed: NDArray[np.float64]
    rest: NDArray[np.float64]
    subject: Subject
    carry: Callable[[Values], Values]
    whole: bool = False
    resting: bool = False

    def at_rest(self, matrix: Matrix) -> Elements:
        """The same elements, posed as the resting shape stands under a (4, 4) matrix."""
        return replace(self, posed=moved(self.rest, matrix))


def rest_elements(subject: Subject, matrix: Matrix) -> Elements:
    """The points of a subject at rest, under a (4, 4) matrix."""
    return whole_elements(subject, moved(subject.mesh.points, matrix), True)


def whole_elements(subject: Subject, places: Values, resting: bool) -> Elements:
    """The rest points of a subject, standing at (m, 3) places in the world."""
    return Elements(places, subject.mesh.points.astype(np.float64), subject, _unchanged, whole=True, resting=resting)


def _unchanged(values: Values) -> Values:
    return values


class Scene(Protocol):
    """What sources may ask of the shot at the moment they are measured."""

    @property
    def at(self) -> Moment: ...

    def placement(self, item: str) -> Matrix:
        """(4, 4) matrix from the item's space to the world."""
        ...

    def earlier(self, seconds: float) -> Scene:
        """The scene so many seconds before."""
        ...

    def field_values(self, field: str, elements: Elements) -> Values:
        """(n,) the values of another field of the shot."""
        ...

    def field_edge(self, field: str) -> tuple[float, float]:
        """Level and band of another field."""
        ...

    def field_key(self, field: str, subject: Subject) -> str:
        """What the values of another field depend on at this moment."""
        ...

    def crossed(self, field: str, subject: Subject) -> tuple[Values, str]:
        """(m,) the second at which another field first crossed its level upward at each point of a subject's rest mesh,
        infinite where it does not within the shot; and the key of this answer."""
        ...

    def arrivals(self, source: SolvedSource, subject: Subject) -> tuple[Values, str]:
        """(m,) what a solved source's front needs to come to each point of a rest mesh, and the key of this answer."""
        ...

    def travelled(self, speed: NumberParameter) -> float:
        """The integral of a speed from the shot's first frame to this moment."""
        ...


class SourceBase(Declared):
    """One clause of a field. `word` joins it to the clauses before it; the first clause replaces 0."""

    rank: Rank = 0.0
    word: Word = "or"
    amount: Annotated[NumberParameter, Quantity("How much of this clause counts", low=0, high=1, drag=0.005)] = 1.0
    inverted: Annotated[bool, Field(description="not: 1 - value")] = False
    curve: Annotated[Curve | None, Field(description="What becomes of the value, before not")] = None

    def items(self) -> tuple[str, ...]:
        """The ids of the items that this source measures from."""
        return ()

    def fields(self) -> tuple[str, ...]:
        """The ids of the fields that this source measures from."""
        return ()

    @property
    def posed(self) -> bool:
        """Whether the values depend on where the subject stands in the world."""
        return True

    @property
    def timed(self) -> bool:
        """Whether the values change over time though no parameter and no item does."""
        return False

    def reads(self, scene: Scene, subject: Subject) -> list[object]:
        """Plain data that the values depend on beside the declaration, the elements and where its items stand."""
        del scene, subject
        return []


class SolvedSource(SourceBase):
    """A source whose history is solved once for a subject; then any moment is a lookup."""

    seeds: Id

    def solve(self, problem: FrontProblem, cancelled: NDArray[np.uint8]) -> Values | None:
        """(m,) what the front needs to come to each point of the rest mesh; None where cancelled."""
        raise NotImplementedError


@dataclass(frozen=True, eq=False)
class FrontProblem:
    """What a front is solved from, on the rest mesh of a subject in world metres.

    points: (m, 3) as they stand at the start. entered: (m,) travel at which the seeds touch each point, infinite where
    they do not. excess: (m,) how far the seed field is over its level at the start. pace: (m,) factor of the speed, 0..1.
    """

    mesh: Mesh
    points: Values
    entered: Values
    excess: Values
    pace: Values
