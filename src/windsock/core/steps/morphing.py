"""What the steps share that turn one shape into another: the place of each point there, and the way to it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated, Literal, cast

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.declarations import Declared, Id, ItemId, Quantity, Rank, in_order
from windsock.core.fields.elements import Values
from windsock.core.fields.source import SourceBase
from windsock.core.fields.surface import BEGINS
from windsock.core.fields.surface import Surface as SurfaceReading
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.course import unit_rows
from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.geometry.neighbours import edges_between, places_by_piece
from windsock.core.geometry.pairing import (
    Laid,
    Pairing,
    flat_pairs,
    laid_on,
    nearest_pairs,
    order_pairs,
    ray_pairs,
)
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.stance import stance_of
from windsock.core.kernels.marks import Marks
from windsock.core.kernels.smoothing import smoothed
from windsock.core.kernels.surface_distance import Surface
from windsock.core.look import Look
from windsock.core.parts.part import Part
from windsock.core.steps.deforming import placed
from windsock.core.steps.given import StepInputs
from windsock.core.steps.step import Marked, SolvedStep
from windsock.core.timing.curve import Curve
from windsock.core.timing.parameter import NumberParameter, Vector

Plain = float | tuple[float, ...]
"""What a channel of a look is where its points do not say."""

MOST_FOLDED, MOST_STRETCHED = 0.02, 0.1
"""Shares of the faces up to which nobody minds."""

MOST_MARKS = 64

SMOOTHS = 0.5
"""Share of the way to the middle of its neighbours that a point half way goes each time."""


@dataclass(frozen=True, eq=False)
class Goal:
    """What a shape turns into: (m, 3) places and normals in the world, and the mesh and the look that they are of."""

    places: Values
    normals: Values
    mesh: Mesh
    look: Look


class Mark(Declared):
    """One place on both shapes, as each rests."""

    rank: Rank
    here: Annotated[Vector, Quantity("Where it is on this shape", unit="m", low=-1e5, high=1e5)]
    there: Annotated[Vector, Quantity("Where it is on the other one", unit="m", low=-1e5, high=1e5)]


class MorphingStep(SolvedStep):
    """A step that takes points to their places on another shape.

    Which place that is, is found where both shapes are at the shot's first frame, and stays the same place of the other shape while
    that moves and changes; it is found again by itself where its faces become others. nearest: the nearest place. rays: what is
    outermost on the ray from a controller, or from the other shape's middle. axis: on the ray straight from a controller's Y.
    uv: the same u,v. order: the first point to the first. marks: places that are marked as the same go to each other, and what
    lies between goes to the nearest place from where they take it. Before it is looked for, this shape is laid on the other one.
    """

    works = "Finding the place of each point"

    target: Annotated[ItemId | None, Field(description="The shape that it turns into")] = None
    way: Annotated[
        Literal["nearest", "rays", "axis", "uv", "order", "marks"],
        Field(description="How the place of a point is found"),
    ] = "nearest"
    marks: Annotated[
        dict[Id, Mark], Field(max_length=MOST_MARKS, description="Places on both shapes that are the same")
    ] = {}
    laid: Annotated[Laid, Field(description="How it is laid on the other before places are looked for")] = "boxes"
    controller: Annotated[ItemId | None, Field(description="Where rays come from; None: the other shape's middle")] = (
        None
    )
    going: Annotated[Literal["straight", "round"], Field(description="Straight, or round about both middles")] = (
        "straight"
    )
    bulge: Annotated[NumberParameter, Quantity("How far it swells on the way", unit="m", low=-1e4, high=1e4)] = 0.0
    bulge_along: Annotated[Curve | None, Field(description="How the swelling goes along the way")] = None
    smoothing: Annotated[int, Quantity("How often it is smoothed half way", low=0, high=200, drag=0.1, whole=True)] = 0
    look: Annotated[Literal["crossing", "own"], Field(description="Whether its look crosses over as well")] = "crossing"

    @classmethod
    def referring(cls, shapes: list[str], paths: list[str]) -> dict[str, JsonValue]:
        return {"target": next(iter(shapes), None)}

    def shapes(self) -> tuple[str, ...]:
        return () if self.target is None else (self.target,)

    def items(self) -> tuple[str, ...]:
        return () if self.controller is None or self.way not in ("rays", "axis") else (self.controller,)

    def held(self, faces: int) -> tuple[int, float]:
        return faces * 160, faces * 4e-7

    def solving(self, mesh: Mesh, lasts: float) -> float:
        del lasts
        return 1e-5 * len(mesh.points)

    def marked(self) -> tuple[Marked, ...]:
        if self.way != "marks" or self.target is None:
            return ()
        ordered = in_order(self.marks)
        here = [Marked(key, None, mark.here) for key, mark in ordered]
        return (*here, *(Marked(key, self.target, mark.there) for key, mark in ordered))

    def marks_on(self, mesh: Mesh, own_to_world: Matrix, there: Mesh, surface: Surface) -> Marks | None:
        """The marks in the world, on a mesh that stands under a matrix and on the surface of another mesh, as both are posed."""
        if self.way != "marks" or not self.marks or len(mesh.faces) == 0 or len(there.faces) == 0:
            return None
        ordered = [mark for _, mark in in_order(self.marks)]
        here = _from_rest([mark.here for mark in ordered], mesh, moved(mesh.points, own_to_world))
        return Marks(here, _from_rest([mark.there for mark in ordered], there, surface.points))

    def paired(
        self,
        points: Values,
        mesh: Mesh,
        surface: Surface,
        there: Mesh | None,
        from_: Matrix | None,
        marks: Marks | None = None,
    ) -> Pairing:
        """points: (n, 3) of a mesh in the world; there: the other mesh, for its u,v; from_: where rays come from; marks: from this
        mesh to the other."""
        match self.way:
            case "order":
                return order_pairs(len(points), surface.faces)
            case "uv" if there is not None and mesh.uv is not None and there.uv is not None:
                return flat_pairs(mesh.uv.astype(np.float64), there.uv.astype(np.float64), there.faces)
            case "rays" | "axis" if len(surface.faces) > 0:
                laid = laid_on(points, surface, self.laid)
                low, high = surface.box
                middle = (low + high) / 2 if from_ is None else from_[:3, 3]
                if self.way == "rays":
                    return ray_pairs(laid, surface, middle)
                axis = np.array([0.0, 1.0, 0.0]) if from_ is None else from_[:3, 1]
                axis = axis / max(float(np.linalg.norm(axis)), 1e-12)
                return ray_pairs(laid, surface, middle + np.outer((laid - middle) @ axis, axis))
            case "marks" if marks is not None:
                here = laid_on(marks.here, surface, self.laid, points)
                laid = laid_on(points, surface, self.laid)
                return nearest_pairs(Marks(here, marks.there).brought(laid), surface)
            case _:
                return nearest_pairs(laid_on(points, surface, self.laid), surface)

    def doubts(self, solution: Solution) -> str:
        folded, stretched = (float(one) for one in getattr(solution, "harm", np.zeros(2)))
        told = [f"{100 * folded:.0f} % of its faces fold over"] if folded > MOST_FOLDED else []
        told += (
            [f"{100 * stretched:.0f} % are stretched to several times the others"] if stretched > MOST_STRETCHED else []
        )
        if not told:
            return ""
        return (
            f"{' and '.join(told)} on the other shape; go there another way, lay it differently, or give it more faces"
        )

    def doubts_seen(self) -> Mapping[str, SourceBase]:
        return {
            reading: SurfaceReading(
                rank=rank, word="or", reading=reading, low=BEGINS[reading][1], high=BEGINS[reading][2]
            )
            for rank, reading in enumerate(("stretch", "fold"))
        }

    def from_where(self) -> str | None:
        """The item that rays come from, where it has one."""
        return next(iter(self.items()), None)

    def turned_into(
        self, part: Part, matrix: Matrix, pairs: Pairing, goal: Goal, weight: Values, given: StepInputs
    ) -> Part:
        """The part on its way to a goal, as far as (n,) weights say. matrix: from its space to the world; pairs: of its points
        before the recipe."""
        mesh = part.mesh
        if len(goal.mesh.faces) == 0 or (pairs.face < 0).any():
            return part
        here = moved(mesh.points, matrix)
        there = mesh.from_rest(pairs.on(goal.places, goal.mesh.faces))
        normals = turned_normals(mesh.normals, matrix)
        others = unit_rows(mesh.from_rest(pairs.on(goal.normals, goal.mesh.faces)))
        places = self._between(here, there, weight)
        between = 4 * weight * (1 - weight)
        bulge = given.at(self.bulge)
        if bulge != 0:
            along = between if self.bulge_along is None else self.bulge_along(np.clip(weight, 0, 1))
            out = unit_rows(normals + (others - normals) * weight[:, None])
            places = places + out * (bulge * along * ((weight > 0) & (weight < 1)))[:, None]
        if self.smoothing > 0 and len(mesh.faces):
            places = _smoothed(places, mesh, np.clip(between, 0, 1), self.smoothing)
        own = moved(places, np.linalg.inv(matrix)).astype(np.float32)
        made = placed(part, np.where((weight == 0)[:, None], mesh.points, own))
        own_others = turned_normals(others, np.linalg.inv(matrix))
        facing = unit_rows(made.mesh.normals + (own_others - made.mesh.normals) * weight[:, None]).astype(np.float32)
        facing = np.where((weight == 0)[:, None], made.mesh.normals, facing)
        changed = replace(made.mesh, normals=facing)
        if self.look == "crossing":
            changed = _crossed(changed, part.look, goal, pairs, weight, given)
        return replace(made, mesh=changed)

    def _between(self, here: Values, there: Values, weight: Values) -> Values:
        """(n, 3) places on the way."""
        share = weight[:, None]
        straight = here + (there - here) * share
        if self.going == "straight":
            return straight
        start, end = here.mean(axis=0), there.mean(axis=0)
        one, other = here - start, there - end
        long, far = (np.linalg.norm(way, axis=1, keepdims=True) for way in (one, other))
        cosine = np.clip(np.einsum("ij,ij->i", one, other)[:, None] / np.maximum(long * far, 1e-12), -1, 1)
        angle = np.arccos(cosine)
        sine = np.sin(angle)
        turns = (sine > 1e-6) & (long > 1e-9) & (far > 1e-9)
        safe = np.where(turns, sine, 1.0)
        way = np.sin((1 - share) * angle) / safe * one / np.maximum(long, 1e-12)
        way = way + np.sin(share * angle) / safe * other / np.maximum(far, 1e-12)
        round_ = start + (end - start) * share + way * (long + (far - long) * share)
        # Exactly on both at the ends.
        return np.where(turns & (share > 0) & (share < 1), round_, straight)


def _from_rest(places: list[Vector], mesh: Mesh, points: Values) -> Values:
    """(k, 3) where places on a mesh at rest are once its points are elsewhere."""
    resting = Surface(mesh.rest.astype(np.float64), mesh.faces)
    return nearest_pairs(np.array(places, dtype=np.float64), resting).on(points, resting.faces)


def goal_of(shape: str, given: StepInputs) -> Goal:
    """A shape as its recipe leaves it, as what another one turns into."""
    model = given.model(shape)
    normals = turned_normals(model.mesh.normals, stance_of(given.placement(shape)).level_to_world())
    return Goal(given.shape(shape).surface.points, normals, model.mesh, model.look)


def _smoothed(places: Values, mesh: Mesh, weight: Values, times: int) -> Values:
    place, count = places_by_piece(mesh)
    first = np.zeros(count, dtype=np.int64)
    first[place[::-1]] = np.arange(len(place))[::-1]
    edges, border = edges_between(place[mesh.faces], count)
    made = smoothed(places[first], edges, border, [SMOOTHS] * times, weight[first])
    return places + (made - places[first])[place]


def _crossed(mesh: Mesh, look: Look, goal: Goal, pairs: Pairing, weight: Values, given: StepInputs) -> Mesh:
    """The mesh with the channels of its look, and its u,v, on their way to those of the other shape."""
    other, there, at = goal.look, goal.mesh, given.at

    def crossed(own: Floats | None, plain: Plain, theirs: Floats | None, their_plain: Plain) -> Values | None:
        """(n, ...) values between both; None where both are the look's own and the same."""
        if own is None and theirs is None and plain == their_plain:
            return None
        count = len(mesh.points)
        one = np.asarray(plain, dtype=np.float64)
        start = np.broadcast_to(one, (count, *one.shape))
        if own is not None:
            start = np.where(np.isfinite(own), own, start)
        if theirs is None:
            end = np.broadcast_to(np.asarray(their_plain, dtype=np.float64), start.shape)
        else:
            filled = np.where(np.isfinite(theirs), theirs, np.asarray(their_plain, dtype=np.float64))
            end = mesh.from_rest(pairs.on(filled.astype(np.float64), there.faces))
        share = np.clip(weight, 0, 1).reshape((-1,) + (1,) * (start.ndim - 1))
        return start + (end - start) * share

    made: dict[str, Values | None] = {
        "colour": crossed(
            mesh.colour, linear_from_hex(look.base_colour), there.seen_colour(), linear_from_hex(other.base_colour)
        ),
        "emission": crossed(mesh.emission, _light(look, given), there.emission, _light(other, given)),
    }
    for name in ("roughness", "metallic", "transmission", "opacity"):
        plain, their_plain = (at(cast(NumberParameter, getattr(of, name))) for of in (look, other))
        own, theirs = (cast("Floats | None", getattr(of, name)) for of in (mesh, there))
        made[name] = crossed(own, plain, theirs, their_plain)
    if mesh.uv is not None and there.uv is not None:
        made["uv"] = crossed(mesh.uv, (0.0, 0.0), there.uv, (0.0, 0.0))
    return replace(mesh, **{name: None if one is None else one.astype(np.float32) for name, one in made.items()})


def _light(look: Look, given: StepInputs) -> tuple[float, ...]:
    strength = given.at(look.emission)
    return tuple(channel * strength for channel in linear_from_hex(look.emission_colour))
