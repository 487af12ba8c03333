"""What every source of a field shares: its place in the sentence, and what it measures from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Annotated, Literal, Protocol

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.declarations import Declared, Id, Quantity, Rank
from windsock.core.fields.joining import Word
from windsock.core.fields.zones import Band
from windsock.core.geometry.mesh import Mesh, smooth_normals
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.kernels.surface_distance import Surface
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
    (m, ...) at the m points of the subject's rest mesh to these elements, (n, ...). facing: gives (n, 3) normals of
    length 1 in the world, as posed. whole: they are just those points. resting: they are posed where the subject rests,
    moved by no step. number: (n,) the numbers of pieces or copies, None for points, which have those of the subject.
    family: a name for just these elements at rest, or nothing.
    """

    posed: NDArray[np.float64]
    rest: NDArray[np.float64]
    subject: Subject
    carry: Callable[[Values], Values]
    facing: Callable[[], Values]
    whole: bool = False
    resting: bool = False
    number: NDArray[np.int64] | None = None
    family: str = ""

    def at_rest(self, matrix: Matrix) -> Elements:
        """The same elements, posed as the resting shape stands under a (4, 4) matrix."""

        def facing() -> Values:
            return turned_normals(self.carry(self.subject.mesh.normals.astype(np.float64)), matrix)

        return replace(self, posed=moved(self.rest, matrix), facing=facing)


def rest_elements(subject: Subject, matrix: Matrix) -> Elements:
    """The points of a subject at rest, under a (4, 4) matrix."""
    return whole_elements(subject, moved(subject.mesh.points, matrix), True).at_rest(matrix)


def whole_elements(subject: Subject, places: Values, resting: bool) -> Elements:
    """The rest points of a subject, standing at (m, 3) places in the world."""
    mesh = subject.mesh

    def facing() -> Values:
        return smooth_normals(places.astype(np.float32), mesh.faces, mesh.number).astype(np.float64)

    rest = mesh.points.astype(np.float64)
    return Elements(places, rest, subject, _unchanged, facing, whole=True, resting=resting)


def resting_bodies(places: Mesh, subject: Subject, matrix: Matrix, family: str) -> Elements:
    """The middles of pieces or copies, standing where they were made, under a (4, 4) matrix."""

    def facing() -> Values:
        return turned_normals(places.from_rest(subject.mesh.normals.astype(np.float64)), matrix)

    rest = places.rest.astype(np.float64)
    posed = moved(places.rest, matrix)
    return Elements(posed, rest, subject, places.from_rest, facing, resting=True, number=places.number, family=family)


def _unchanged(values: Values) -> Values:
    return values


@dataclass(frozen=True, eq=False)
class Finished:
    """A shape after its recipe, in world metres; key: what it depends on."""

    surface: Surface
    key: str

    @property
    def nbytes(self) -> int:
        return self.surface.nbytes


class Scene(Protocol):
    """What sources may ask of the shot at the moment they are measured."""

    @property
    def at(self) -> Moment: ...

    def camera(self) -> Matrix | None:
        """(4, 4) matrix from the space of the shot's camera to the world, None where it has none."""
        ...

    def group(self, group: str, but: str) -> list[Finished]:
        """The shapes of a group after their recipes, without the item `but`."""
        ...

    def looped(self, rate: NumberParameter) -> tuple[float, int]:
        """How far something that goes on at a rate has come, stretched so that it comes a whole number of times over the
        shot, the last frame's duration included; and that number, at least 1, or 0 where the rate is 0 throughout."""
        ...

    def placement(self, item: str) -> Matrix:
        """(4, 4) matrix from the item's space to the world."""
        ...

    def earlier(self, seconds: float) -> Scene:
        """The scene so many seconds before."""
        ...

    def field_values(self, field: str, elements: Elements) -> Values:
        """(n,) the values of another field of the shot."""
        ...

    def field_edge(self, field: str) -> tuple[float, float, str]:
        """Level and band of another field, and what the band is counted in."""
        ...

    def field_band(self, field: str, elements: Elements, values: Values) -> Band:
        """The width of another field's band in values, where it has these (n,) values at elements."""
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

    def arrivals_between(self, source: SolvedSource, elements: Elements) -> Values:
        """(n,) what a solved source's front needs to come to each piece or copy, going from one to the next."""
        ...

    def travelled(self, speed: NumberParameter) -> float:
        """The integral of a speed from the shot's first frame to this moment."""
        ...


Standing = Literal["own", "rest", "posed"]
"""own: only places in the subject's own space, as its shape made them. rest: where those stand in the world. posed: where
earlier steps have put them."""

Outline = dict[str, object]
"""A surface in a controller's space: {"kind": "ball", "radius"}, {"kind": "plane", "axis", "distance"} or
{"kind": "box", "half": three half sizes, infinite for a slab, "margin"}; in metres."""


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

    def groups(self) -> tuple[str, ...]:
        """The ids of the groups whose shapes this source measures from."""
        return ()

    @property
    def standing(self) -> Standing:
        """Which places of its subject the values depend on."""
        return "posed"

    @property
    def timed(self) -> bool:
        """Whether the values change over time though no parameter and no item does."""
        return False

    def reads(self, scene: Scene, subject: Subject) -> list[object]:
        """Plain data that the values depend on beside the declaration, the elements and where its items stand."""
        del scene, subject
        return []

    def outline(self, level: float, at: Moment) -> Outline | None:
        """Where this source alone has the value `level` (0..1), for those that have a place."""
        del level, at
        return None


class PlacedSource(SourceBase):
    """A source that measures places in the world: as earlier steps have posed them, or where the subject rests."""

    measured: Annotated[
        Literal["posed", "rest"],
        Field(description="On the geometry as it enters the step, or on the shape before its recipe"),
    ] = "posed"

    @property
    def standing(self) -> Standing:
        return self.measured

    def places(self, elements: Elements, scene: Scene) -> Values:
        """(n, 3) where the elements are, in world metres."""
        if self.measured == "posed" or elements.resting:
            return elements.posed
        return moved(elements.rest, scene.placement(elements.subject.item))

    def facing(self, elements: Elements, scene: Scene) -> Values:
        """(n, 3) the normals there."""
        if self.measured == "posed":
            return elements.facing()
        return elements.at_rest(scene.placement(elements.subject.item)).facing()


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
