"""Meld: one smooth skin over points, copies, trails and shapes.

The field is that of soft objects (kernels/melding.py), worked out only about what is melded; the skin is its surface
(kernels/isosurface.py).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import GroupId, PartId, Quantity, about
from windsock.core.fields.elements import Values
from windsock.core.geometry.mesh import LOOKS, Floats, Mesh, smooth_normals
from windsock.core.geometry.neighbours import edges_between
from windsock.core.geometry.placement import moved
from windsock.core.geometry.sprinkled import sprinkled
from windsock.core.kernels.isosurface import CELLS, isosurface
from windsock.core.kernels.melding import bell, bricks_about, mixed_at, own_weights, summed, sums_of_own
from windsock.core.kernels.smoothing import without_bumps
from windsock.core.look import Look
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.refusals import TooMuch
from windsock.core.steps.given import StepInputs
from windsock.core.steps.step import WeightedStep
from windsock.core.timing.parameter import NumberParameter

MOST_PLACES = 600_000
"""Places that are melded, at most."""

MOST_BRICKS, MOST_CELLS = 60_000, 12_000_000
"""Bricks about what is melded, and bricks of the box about all of it."""

MOST_PAIRS, MOST_SUMS = 2e8, 4e9
"""Pairs of a brick and a point that reaches into it, and values of bells that are added up, at most: some seconds of work."""

APART = 0.5
"""How far places on faces are apart, in radii."""

FAR = 1 << 19
"""Voxels from the middle of a shape's space that are told apart."""


@dataclass(frozen=True, eq=False)
class Soft:
    """What is melded: (n, 3) places in metres and (n,) radii; (n, 3) the points of the part that each lies between, and their shares;
    counts: (n,) whether it lies on the part at all."""

    places: Values
    radius: Values
    corners: NDArray[np.int64]
    shares: Values
    counts: NDArray[np.bool_]

    def with_others(self, places: Values, radius: Values) -> Soft:
        """These and places that are of something else, (k, 3), with (k,) radii."""
        count = len(places)
        return Soft(
            np.concatenate([self.places, places]),
            np.concatenate([self.radius, radius]),
            np.concatenate([self.corners, np.zeros((count, 3), dtype=np.int64)]),
            np.concatenate([self.shares, np.tile([1.0, 0.0, 0.0], (count, 1))]),
            np.concatenate([self.counts, np.zeros(count, dtype=bool)]),
        )


class Meld(WeightedStep):
    """Lay one smooth skin over what the part is made of: its copies, or its points and faces; and over another part and the shapes of a
    group, if they are chosen. It is a part of its own.

    The skin of one point alone is a ball of the radius; those that are near each other flow together, from further away the more they
    blend. The field's weight is how large the radius is at each point. Colours and u,v are mixed from what is nearest. Only what is about
    the skin is worked out, in cells of the size that is said.
    """

    says = "One smooth skin over all of it"
    wish = "Make more on it"

    begins: ClassVar[Mapping[str, JsonValue]] = {"look": {"base_colour": "#C9A227", "roughness": 0.25}}

    kind: Literal["meld"] = "meld"
    lays_skin: ClassVar[bool] = True
    radius: Annotated[NumberParameter, Quantity("How far the skin is from a point", unit="m", low=0, high=1e4)] = 0.05
    blend: Annotated[
        NumberParameter, Quantity("How far it flows together, in radii", unit="×", low=1.05, high=6, drag=0.01)
    ] = 2.0
    group: Annotated[GroupId | None, Field(description="The shapes that are melded in")] = None
    also: Annotated[PartId | None, Field(description="Another part that is melded in")] = None
    smooth: Annotated[float, Quantity("Width of bumps that it is smoothed of", unit="m", low=0, high=1e4)] = 0.0
    cell: Annotated[float, Quantity("Size of a cell", unit="m", low=1e-5, high=1e4, drag=0.0005)] = 0.02
    makes: Annotated[PartId, Field(description="The part that the skin is")] = "skin"
    look: Annotated[Look | None, Field(description="Its look; None: that of the part")] = None

    def made(self) -> str:
        return self.makes

    def groups(self) -> tuple[str, ...]:
        return () if self.group is None else (self.group,)

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"radius": about(size, 0.04), "cell": about(size, 0.015)}

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The skin. Raises TooMuch for more places or cells than can be worked out."""
        look = part.look if self.look is None else self.look
        mesh, stretch = part.mesh, given.stretch
        soft = self._soft(part, given)
        there = soft.radius > 1e-9
        if not there.any() or not len(mesh.points):
            return MeshPart(_emptied(mesh), look, "hidden")
        # In the order of their X, as the sums want them.
        order = np.flatnonzero(there)[np.argsort(soft.places[there, 0], kind="stable")]
        soft = Soft(*(getattr(soft, name)[order] for name in Soft.__dataclass_fields__))
        made = self._skin(soft, mesh, given)
        if self.look is not None:
            made = replace(made, pictures=None, **dict.fromkeys(LOOKS))
        own = stretch.own(made.points)
        points = own.astype(np.float32)
        made = replace(made, points=points, normals=smooth_normals(points, made.faces, made.number))
        return MeshPart(made, look, "hidden")

    def _soft(self, part: Part, given: StepInputs) -> Soft:
        """What is melded, in metres of the level space."""
        mesh, level = part.mesh, given.stretch.level(part.mesh.points)
        radius = given.at(self.radius) * self.weight(len(mesh.points), given)
        every = np.arange(len(mesh.points))
        corners, shares = np.repeat(every[:, None], 3, axis=1), np.tile([1.0, 0.0, 0.0], (len(every), 1))
        if isinstance(part, CopiesPart):
            radius = radius * part.copies.size.astype(np.float64).mean(axis=1)
        elif len(mesh.faces):
            apart = APART * max(float(given.at(self.radius)), 1e-9)
            spread = sprinkled(level, mesh.faces, max(apart, self.cell), MOST_PLACES)
            if spread is None:
                raise TooMuch(_too_many())
            corners, shares = spread.corners, spread.shares
            level, radius = spread.carried(level), spread.carried(radius)
        soft = Soft(level, radius, corners, shares, np.ones(len(level), dtype=bool))
        other = given.beside(self.also) if self.also is not None and self.also != self.part else None
        if other is not None:
            soft = soft.with_others(*self._of_other(other, given))
        if self.group is not None:
            to_level = np.asarray(np.linalg.inv(given.stance.level_to_world()), dtype=np.float64)
            for shape in given.group(self.group):
                surface = shape.surface
                places = moved(self._over(surface.points, surface.faces, given), to_level)
                soft = soft.with_others(places, np.full(len(places), given.at(self.radius) * given.at(self.amount)))
        if len(soft.places) > MOST_PLACES:
            raise TooMuch(_too_many())
        return soft

    def _of_other(self, part: Part, given: StepInputs) -> tuple[Values, Values]:
        """(n, 3) places of another part in the level space, and (n,) their radii."""
        level, radius = given.stretch.level(part.mesh.points), given.at(self.radius) * given.at(self.amount)
        if isinstance(part, CopiesPart):
            return level, radius * part.copies.size.astype(np.float64).mean(axis=1)
        places = self._over(level, part.mesh.faces, given)
        return places, np.full(len(places), radius)

    def _over(self, points: Values, faces: NDArray[np.integer], given: StepInputs) -> Values:
        """(n, 3) places spread over faces."""
        spread = sprinkled(points, faces, max(APART * given.at(self.radius), self.cell), MOST_PLACES)
        if spread is None:
            raise TooMuch(_too_many())
        return spread.carried(points)

    def _smoothed(self, points: Floats, faces: NDArray[np.int32]) -> Floats:
        """The skin without bumps that are narrower than a width, and no smaller for that."""
        edges, border = edges_between(faces.astype(np.int64), len(points))
        return without_bumps(points.astype(np.float64), edges, border, self.smooth).astype(np.float32)

    def _skin(self, soft: Soft, mesh: Mesh, given: StepInputs) -> Mesh:
        """The skin in the level space, with all that it takes from the part."""
        cell, blend = self.cell, given.at(self.blend)
        reach = soft.radius * blend / cell
        # Nothing is seen of what has less room than a cell.
        reach = np.maximum(reach, 1.0)
        places = soft.places / cell
        low = np.floor((places - reach[:, None]).min(axis=0)) - 2
        high = np.ceil((places + reach[:, None]).max(axis=0)) + 2
        nodes = [int(one) for one in high - low + 1]
        shape = (nodes[0], nodes[1], nodes[2])
        if float(np.prod([one / CELLS + 1 for one in shape])) > MOST_CELLS or np.abs([*low, *high]).max() > FAR:
            raise TooMuch(
                f"A skin over {max(shape) * cell:,.3g} m in cells of {cell:g} m cannot be worked out. Nothing was changed. Take larger cells."
            )
        places = np.ascontiguousarray(places - low)
        if float(((2 * reach / CELLS + 2) ** 3).sum()) > MOST_PAIRS or float(((2 * reach) ** 3).sum()) > MOST_SUMS:
            raise TooMuch(
                f"Each point reaches {float(reach.max()):,.0f} cells far, which is too much for {len(places):,} of them. Nothing was "
                "changed. Take larger cells, a smaller radius, or fewer points."
            )
        about = bricks_about(places, reach, shape)
        if sums_of_own(places, about, shape) > MOST_SUMS:
            raise TooMuch(
                "So many points lie so near each other that their skin would take long. Nothing was changed. Take a smaller radius, "
                "or fewer points."
            )
        if len(about.bricks) > MOST_BRICKS:
            more = cell * np.sqrt(len(about.bricks) / MOST_BRICKS)
            raise TooMuch(
                f"The skin would be worked out in {len(about.bricks) * CELLS**3:,} cells; {MOST_BRICKS * CELLS**3:,} fit. Nothing was "
                f"changed. Cells of {more * 1.1:.2g} m would fit."
            )
        weight = own_weights(places, reach, about)
        values = summed(places, reach, weight, about) - np.float32(bell(1 / blend))
        found = isosurface(shape, about.bricks, values)
        at = found.places(shape)
        which, share = mixed_at(at, places, reach, weight, soft.counts, about, shape)
        corners = soft.corners[which].reshape(len(at), -1)
        shares = (soft.shares[which] * share[:, :, None]).reshape(len(at), -1)
        made = mesh.mixed(corners, shares, _numbers(found.first, found.axis, shape, low))
        faces = found.faces
        points = ((at + low) * cell).astype(np.float32)
        if self.smooth > 0 and len(faces):
            points = self._smoothed(points, faces)
        return replace(made, points=points, faces=faces, origin=np.full(len(faces), -1, dtype=np.int32))


def _numbers(
    first: NDArray[np.int64], axis: NDArray[np.int8], shape: tuple[int, int, int], low: Values
) -> NDArray[np.int64]:
    """(v,) a number below 0 for each point, by the edge that it lies on, wherever the grid begins."""
    x, y, z = (one + int(start) + FAR for one, start in zip(np.unravel_index(first, shape), low, strict=True))
    return -1 - (((x << 40) | (y << 20) | z) * 3 + axis)


def _emptied(mesh: Mesh) -> Mesh:
    none = np.zeros((0, 3), dtype=np.int64)
    return mesh.mixed(none, none.astype(np.float64), none[:, 0])


def _too_many() -> str:
    return f"More than {MOST_PLACES:,} places would be melded. Nothing was changed. Take a larger radius, fewer copies, or a coarser shape."
