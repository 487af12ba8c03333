"""Ride: the shape goes along with how another one is moved and deformed."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.declarations import ItemId, Quantity
from windsock.core.geometry.binding import CAGE_FACES, Binding, By, nearest_turns
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import moved
from windsock.core.geometry.solution import Solution
from windsock.core.kernels.deforming import shifted
from windsock.core.parts.part import Part, Relocation
from windsock.core.steps.deforming import PointStep, placed, turned_by
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.steps.step import SolvedStep

FAR = 0.1
"""Share of the carrier's size from which on a place is far from its surface."""


class Ride(PointStep, SolvedStep):
    """Go along with another shape, as far as the field's weight says, as it is moved and deformed from how it is at one frame.

    Each point, or the middle of each piece, as it rests at that frame, is held by the other shape after its own recipe. surface: by
    its nearest place, the way from there to the point turning as the surface turns. cage: by mean value coordinates in it, so that
    an affine map of the cage is the same map of what is in it; for a cage of few faces, closed, around the shape. It is bound
    anew by itself whenever one of the two becomes another; while the other one has other faces than when it was bound, as
    behind a cut, it carries nothing.
    """

    says = "Goes along as another shape is moved and deformed"
    wish = "Let it move"
    works = "Binding the shape to what it rides on"

    kind: Literal["ride"] = "ride"
    solution: ClassVar[type[Solution]] = Binding
    carrier: Annotated[ItemId | None, Field(description="The shape that it goes along with")] = None
    by: Annotated[By, Field(description="By its nearest place on the surface, or within it as a cage")] = "surface"
    pieces: Annotated[
        Literal["bend", "whole"],
        Field(description="Whether pieces bend, or are moved and turned whole; copies always are"),
    ] = "bend"
    bound: Annotated[Literal["first", "frame"], Field(description="At which frame it is bound")] = "first"
    frame: Annotated[
        int, Quantity("The frame at which it is bound", low=-100_000, high=1_000_000, drag=0.2, whole=True)
    ] = 0

    @property
    def at_middles(self) -> bool:
        return self.pieces == "whole"

    @classmethod
    def referring(cls, shapes: list[str], paths: list[str]) -> dict[str, JsonValue]:
        return {"carrier": next(iter(shapes), None)}

    def shapes(self) -> tuple[str, ...]:
        return () if self.carrier is None else (self.carrier,)

    def frames(self) -> tuple[float, ...]:
        return (self.frame,) if self.bound == "frame" else ()

    def at_rate(self, factor: float) -> dict[str, JsonValue]:
        return {"frame": round(self.frame * factor)}

    def held(self, faces: int) -> tuple[int, float]:
        each = 2 * CAGE_FACES if self.by == "cage" else 80
        return faces * each, faces * (1e-6 if self.by == "cage" else 3e-7)

    def solving(self, mesh: Mesh, lasts: float) -> float:
        del lasts
        return (1e-4 if self.by == "cage" else 1e-5) * len(mesh.points)

    def solve(self, given: SolveInputs) -> Binding:
        """The points of the part as they rest, or the middles of its pieces, bound to the other shape after its recipe."""
        if self.carrier is None:
            return Binding.nothing()
        then = given.at_frame(self.frame) if self.bound == "frame" else given
        rest = (then.bodies().places if self.pieces == "whole" else then.mesh()).rest
        places = moved(rest, then.stance_at_start().own_to_world())
        return (
            Binding.bound(places, then.shape_at_start(self.carrier).surface, self.by, given.check) or Binding.nothing()
        )

    def doubts(self, solution: Solution) -> str:
        bound = cast(Binding, solution)
        if self.carrier is None:
            return ""
        if len(bound) == 0:
            too_many = f", or a cage of more than {CAGE_FACES} faces" if self.by == "cage" else ""
            return f"it is bound to nothing: what it rides on has no faces there{too_many}"
        size = float(bound.size[0])
        if self.by == "surface" and self.pieces == "whole":
            return ""  # what is moved whole may stand on a mast
        beyond = bound.gap > (1e-6 * size if self.by == "cage" else FAR * size)
        if not beyond.any():
            return ""
        share = (
            f"{max(1, round(100 * float(beyond.mean())))} % of its points, up to {float(bound.gap.max()):.2g} m away,"
        )
        if self.by == "cage":
            return f"{share} lie outside of the cage and are carried along only roughly; make the cage larger"
        return (
            f"{share} are far from the surface and swing with its turns; bring them closer, or ride within it as a cage"
        )

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part where the other shape has taken it."""
        whole = self.pieces == "whole" or part.points_are_middles
        bodies = part.bodies() if whole else None
        mesh = part.mesh if bodies is None else bodies.places
        weight = self.weight(len(mesh.points), given)
        if self.carrier is None or len(mesh.points) == 0 or not weight.any():
            return part
        surface, matrix = given.shape(self.carrier).surface, given.matrix
        bound = cast(Binding, given.solution)
        if len(bound) == 0 or not bound.fits(surface) or bound.stays(surface):
            return part
        carried = bound.carried(surface)
        away = moved(mesh.points, matrix) - carried.foot
        shift = carried.now - carried.foot + np.einsum("nij,nj->ni", carried.linear, away) - away
        points = shifted(mesh.points, matrix, shift * weight[:, None])
        if bodies is None:
            return placed(part, points)
        stance = given.stance
        turns = stance.turn.T @ nearest_turns(carried.linear) @ stance.turn
        size = bodies.size.copy()
        to = Relocation(
            points.astype(np.float64),
            turned_by(turns, bodies.turn, weight),
            size,
            weight != 0,
            lambda: np.ones(size.shape),
        )
        return part.relocated(bodies, to, stance)
