"""Coat: a thick coat spreads over the surface, with a round edge that bulges, and drips.

When its edge comes to each point is solved once over the surface as it rests (kernels/arrival.py, kernels/dripping.py); any frame is laid
on the surface as it is then (geometry/coating.py), so that it sticks to what moves.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import FieldId, ItemId, PartId, Quantity, about
from windsock.core.fields.about import elements_about
from windsock.core.fields.across import AXES
from windsock.core.fields.elements import Values
from windsock.core.fields.zones import Zone
from windsock.core.geometry.coating import Coating, behind_edge, coated, shares_gone, slopes, thickness
from windsock.core.geometry.mesh import LOOKS, Mesh, places_of, smooth_normals
from windsock.core.geometry.outward import outward
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.sites import sites_on
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.stance import stance_of
from windsock.core.geometry.subdivision import long_edges, split_middles
from windsock.core.kernels.areas import face_areas
from windsock.core.kernels.arrival import Surface, arrival_times, starts_about, surface_of
from windsock.core.kernels.deforming import shifted
from windsock.core.kernels.distinct import distinct
from windsock.core.kernels.dripping import dripped
from windsock.core.kernels.nearest import nearest_points
from windsock.core.kernels.together import together
from windsock.core.look import Look
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.refusals import TooMuch
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.steps.step import SolvedStep, WeightedStep
from windsock.core.timing.parameter import NumberParameter, Vector

MOST_FACES = 400_000
"""Faces that a shape may have where it is split for its coat."""

MOST_HALVINGS = 12
MOST_DRIPS = 2000
SLOWEST = 0.02
"""The pace up to which the edge never comes."""

SECONDS_A_FACE = 2e-5
"""About, for each face after splitting: from one profiled run on two cores."""

LIES = 0.3
"""As high a drop is where it lies, as a share of how far it hung."""

TAR = Look(base_colour="#17120F", roughness=0.16)


@dataclass(frozen=True, eq=False)
class Ground:
    """What is coated: the part with its faces split."""

    part: MeshPart

    @property
    def nbytes(self) -> int:
        return self.part.nbytes


class Coat(SolvedStep, WeightedStep):
    """Let a coat spread over the surface from its back end, from a place, or from where a field is inside; a part of its own.

    Its edge travels over the surface as that rests, at a speed in metres per second, times the weight of what drives the step, read at the
    shot's first frame; where that is next to nothing it never comes. Or a share says how much of all that it comes to is covered. From the
    back: along an axis of a controller or the shape's own, every piece of the surface from its own hindmost points. Behind the edge it rises
    round to its full thickness, and bulges. Drips run ahead of it down the surface, and hang where that looks down. It ends round where
    the surface ends.
    """

    says = "A thick coat that spreads over it, with a bulging edge"
    wish = "Make more on it"

    begins: ClassVar[Mapping[str, JsonValue]] = {"look": TAR.model_dump(mode="json")}

    kind: Literal["coat"] = "coat"
    solution: ClassVar[type[Solution]] = Coating
    works: ClassVar[str] = "Finding when the coat comes to each place"
    zone: Zone = "value"
    begins_at: Annotated[Literal["back", "place", "seeds"], Field(description="Where it starts from")] = "back"
    controller: Annotated[
        ItemId | None, Field(description="The controller that it starts from, or in whose axes; None: the shape's own")
    ] = None
    axis: Annotated[Literal["x", "y", "z"], Field(description="Along which axis it goes from the back")] = "y"
    end: Annotated[Literal["low", "high"], Field(description="Which end of that is the back")] = "low"
    seeds: Annotated[FieldId | None, Field(description="The field inside of which it starts")] = None
    by: Annotated[Literal["speed", "share"], Field(description="What says how far it has come")] = "speed"
    speed: Annotated[NumberParameter, Quantity("How fast it goes", unit="m/s", low=0, high=1e4, drag=0.005)] = 0.5
    share: Annotated[
        NumberParameter, Quantity("How much of what it comes to is covered", low=0, high=1, drag=0.005)
    ] = 0.5
    thick: Annotated[NumberParameter, Quantity("How thick it is", unit="m", low=0, high=1e3, drag=0.0005)] = 0.02
    bulge: Annotated[
        NumberParameter, Quantity("How much thicker it is at its edge", unit="m", low=0, high=1e3, drag=0.0005)
    ] = 0.015
    width: Annotated[float, Quantity("How wide its edge is", unit="m", low=0, high=1e3, drag=0.0005)] = 0.06
    drips: Annotated[
        float, Quantity("How many drips there are, of all that there is room for", low=0, high=1, drag=0.005)
    ] = 0.0
    drip_length: Annotated[float, Quantity("How long they are", unit="m", low=0, high=1e3, drag=0.001)] = 0.2
    drip_width: Annotated[float, Quantity("How wide they are", unit="m", low=1e-4, high=1e3, drag=0.001)] = 0.06
    pull: Annotated[Vector, Quantity("Which way drips are pulled", low=-1e4, high=1e4)] = (0.0, -1.0, 0.0)
    seed: Annotated[int, Quantity("Which of the chances", low=0, high=999_999, drag=0.1, whole=True)] = 1
    finest: Annotated[
        float, Quantity("Longest edges of its faces, 0 for as they are", unit="m", low=0, high=1e4, drag=0.0005)
    ] = 0.02
    beneath: Annotated[Literal["kept", "gone"], Field(description="Whether the surface beneath it stays")] = "kept"
    makes: Annotated[PartId, Field(description="The part that it is")] = "coat"
    look: Annotated[Look | None, Field(description="Its look; None: that of the part")] = TAR

    def made(self) -> str:
        return self.makes

    def fields(self) -> tuple[str, ...]:
        return (self.seeds,) if self.begins_at == "seeds" and self.seeds is not None else ()

    def items(self) -> tuple[str, ...]:
        return () if self.controller is None or self.begins_at == "seeds" else (self.controller,)

    @property
    def follows_faces(self) -> bool:
        return False

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {
            "speed": about(size, 0.3),
            "thick": about(size, 0.012),
            "bulge": about(size, 0.01),
            "width": about(size, 0.04),
            "drip_length": about(size, 0.15),
            "drip_width": about(size, 0.04),
            "finest": about(size, 0.02),
        }

    def faces_after(self, faces: int, driven: bool) -> int:
        """It depends on how large they are: the step itself refuses what would be too many."""
        del driven
        return min(faces * 4, faces + 60_000) if self.finest > 0 else faces

    def solving(self, mesh: Mesh, lasts: float) -> float:
        del lasts
        return self._fine_faces(mesh.points.astype(np.float64), mesh) * SECONDS_A_FACE

    def weighed(self, mesh: Mesh, matrix: Matrix) -> str:
        if len(mesh.faces) == 0:
            return ""
        count = self._fine_faces(stance_of(matrix).level(mesh.rest), mesh)
        return f"about {count:,.0f} faces"

    def asks(self, mesh: Mesh, lasts: float) -> float:
        del lasts
        return self._fine_faces(mesh.points.astype(np.float64), mesh) / 2

    def _fine_faces(self, points: Values, mesh: Mesh) -> float:
        """About how many faces it has after splitting."""
        if self.finest <= 0 or len(mesh.faces) == 0:
            return float(len(mesh.faces))
        corners = points[mesh.faces]
        longest = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2).max(axis=1)
        return float((2.0 ** (2 * np.log2(np.maximum(longest / self.finest, 1.0)))).sum())

    def doubts(self, solution: Solution) -> str:
        coating = cast(Coating, solution)
        if self.begins_at == "seeds" and self.seeds is None:
            return "no field says where it starts; choose one"
        if self.begins_at == "place" and self.controller is None:
            return "no controller says where it starts; choose one"
        reached = np.isfinite(coating.arrival)
        if len(reached) and not reached.any():
            return "it comes to no place; see where the field that drives it is above 0"
        missed = int(coating.missed[0])
        if missed and self.begins_at != "back":
            apart = f"{missed:,} parts" if missed > 1 else "one part"
            return f"it does not come to {apart} of the surface, not joined to where it starts; have it start from the back"
        return ""

    def solve(self, given: SolveInputs) -> Coating:
        """When its edge comes to each point. Raises TooMuch for more faces than there may be."""
        mesh, stance = given.mesh(), given.stance_at_start()
        mesh, splits = self._split(mesh, stance.level(mesh.rest)) if len(mesh.faces) else (mesh, [])
        first, place, _ = distinct(mesh.number)
        own, faces = mesh.rest.astype(np.float64), place[mesh.faces]
        level = stance.level(mesh.rest)
        surface = surface_of(level[first], faces)
        given.check(0.3)
        pace = given.weigh_at_start(lambda matrix, subject: elements_about(own[first], matrix, subject))
        slowness = np.full(len(first), np.inf)
        np.divide(1.0, pace, out=slowness, where=pace > SLOWEST)
        starts = self._starts(surface, own[first], faces, slowness, given)
        starts[~np.isfinite(slowness)] = np.inf
        arrival = arrival_times(surface, starts, slowness)
        assert arrival is not None
        given.check(0.8)
        # From here on by places, each of them once.
        normals = smooth_normals(level[first].astype(np.float32), faces.astype(np.int32), np.arange(len(first)))
        arrival, hang, since = self._dripped(level[first], normals, faces, arrival, given)
        slope = slopes(level[first], faces.astype(np.int32), np.arange(len(first)), arrival, slowness)
        gone = shares_gone(level[first], faces.astype(np.int32), arrival, 2 * self.width * slope)
        return Coating(
            arrival=arrival[place],
            slope=slope[place],
            pace=np.where(np.isfinite(slowness), slowness, 1.0)[place],
            steep=np.array([self.drip_width / 2 if self.drips > 0 else 0.0]),
            border=_to_border(surface, faces, len(first))[place],
            hang=hang[place],
            since=since[place],
            splits=np.concatenate([np.zeros((0, 2), dtype=np.int32), *splits]),
            sizes=np.array([len(one) for one in splits], dtype=np.int64),
            gone=gone,
            missed=np.array([_missed(faces, slowness, arrival)]),
            short=np.array([self.finest / 2 if self.finest > 0 else self.width / 2 + 1e-6]),
        )

    def _split(self, mesh: Mesh, level: Values) -> tuple[Mesh, list[NDArray[np.int32]]]:
        """A mesh at rest with its long edges split, and which those were, time by time. level: (n, 3) its points in metres."""
        splits = list[NDArray[np.int32]]()
        if self.finest <= 0:
            return mesh, splits
        for _ in range(MOST_HALVINGS):
            edges = long_edges(level, mesh.faces, self.finest * 1.001)
            if len(edges) == 0:
                break
            if len(mesh.faces) + 2 * len(edges) > MOST_FACES:
                raise TooMuch(
                    f"The coat would need more than {MOST_FACES:,} faces with edges of {self.finest:g} m. Nothing was changed. "
                    "Allow longer edges."
                )
            splits.append(edges.astype(np.int32))
            level = np.concatenate([level, level[edges].mean(axis=1)])
            mesh = split_middles(mesh, edges)
        return mesh, splits

    def _starts(
        self, surface: Surface, own: Values, faces: NDArray[np.int64], slowness: Values, given: SolveInputs
    ) -> Values:
        """(n,) travel at which it starts at each place by itself, infinite where it does not."""
        starts = np.full(len(own), np.inf)
        if len(faces) == 0:
            return starts
        if self.begins_at == "seeds":
            if self.seeds is None:
                return starts
            excess = given.excess_at_start(self.seeds, lambda matrix, subject: elements_about(own, matrix, subject))
            return starts_about(surface, excess, slowness, 0.0)
        matrix = given.stance_at_start().own_to_world()
        world = moved(own, matrix)
        frame = matrix if self.controller is None else given.placement_at_start(self.controller)
        if self.begins_at == "place":
            if self.controller is not None:
                starts[nearest_points(frame[:3, 3][None], world)] = 0.0
            return starts
        way = frame[:3, AXES[self.axis]] * (1 if self.end == "low" else -1)
        along = world @ (way / max(float(np.linalg.norm(way)), 1e-12))
        used = np.unique(faces)
        along -= along[used].min()
        island = _islands(faces, len(own))
        hindmost = np.full(int(island.max()) + 1, np.inf)
        np.minimum.at(hindmost, island[used], along[used])
        first = used[along[used] <= hindmost[island[used]] + 1e-5 * float(along[used].max(initial=0))]
        starts[first] = along[first]
        return starts

    def _dripped(
        self, level: Values, normals: NDArray[np.float32], faces: NDArray[np.int64], arrival: Values, given: SolveInputs
    ) -> tuple[Values, Values, Values]:
        """The times with those of drips, and how far and since when points hang down."""
        pull = given.stance_at_start().turn.T @ np.array(self.pull)
        long = float(np.linalg.norm(pull))
        none = np.zeros(len(level)), np.full(len(level), np.inf)
        if self.drips <= 0 or self.drip_length <= 0 or long < 1e-9 or len(faces) == 0:
            return arrival, *none
        area = float(face_areas(level.astype(np.float32), faces.astype(np.int32)).sum())
        room = min(int(area / (2 * self.drip_width) ** 2), MOST_DRIPS)
        places = sites_on(level, faces.astype(np.int32), room, self.seed, None)[: round(room * self.drips)]
        if len(places) == 0:
            return arrival, *none
        chances = np.random.default_rng(self.seed).random(room)[: len(places)]
        starts = nearest_points(places, level)
        length = self.drip_length * (0.35 + 0.65 * chances)
        made = dripped(level, normals.astype(np.float64), arrival, starts, pull / long, length, self.drip_width)
        return made.times, made.hang, made.since

    def _come(self, coating: Coating, given: StepInputs) -> float:
        """Metres that the edge has travelled."""
        return coating.come(given.at(self.share)) if self.by == "share" else given.travelled("speed")

    def remains(self, part: Part, given: StepInputs) -> Part:
        """The surface, without what is beneath the coat where that is to be gone."""
        coating = cast(Coating, given.solution)
        if self.beneath == "kept" or not isinstance(part, MeshPart) or len(part.mesh.faces) == 0:
            return part
        come = self._come(coating, given)
        if come <= 0:
            return part
        ground, _ = given.once("ground", Coat._ground)
        mesh, _ = behind_edge(ground.part.mesh, coating.behind(come), False)
        return replace(ground.part, mesh=mesh)

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The coat. Of copies there is none."""
        look = part.look if self.look is None else self.look
        backs = part.backs if self.look is None else "hidden"
        coating, come = cast(Coating, given.solution), 0.0
        if isinstance(part, MeshPart) and len(part.mesh.faces):
            come = self._come(coating, given)
        if come <= 0:
            return MeshPart(part.mesh.emptied(), look, backs, part.alpha)
        ground, _ = given.once("ground", Coat._ground)
        whole = ground.part.mesh
        hung = coating.hung(come, self.drip_length)
        mesh, behind = coated(whole, coating.behind(come), self.width)
        if len(mesh.faces) == 0:
            return MeshPart(mesh, look, backs, part.alpha)
        if self.look is not None:
            mesh = replace(mesh, pictures=None, **dict.fromkeys(LOOKS))
        mesh = self._laid(replace(mesh, piece=None), behind, _carried(whole, mesh, hung), given)
        return MeshPart(mesh, look, backs, part.alpha)

    def _laid(self, mesh: Mesh, behind: Values, hung: Values | None, given: StepInputs) -> Mesh:
        """A mesh off the surface by as much as the coat is thick."""
        at = given.at
        # Where nothing hangs it is the same in whatever way the subject is turned.
        matrix = given.stretch.own_to_world() if hung is None else given.matrix
        thick = thickness(behind, at(self.thick), self.width, at(self.bulge))
        place, count = places_of(mesh.number)
        out = outward(turned_normals(mesh.normals, matrix), place, count)
        shift = out * thick[:, None]
        if hung is not None:
            pull = np.array(self.pull)
            hung = hung * np.clip(behind / max(self.drip_width / 2, 1e-9), 0, 1)
            shift += pull / max(float(np.linalg.norm(pull)), 1e-12) * hung[:, None]
            # Where the surface has turned up since, what hung from it lies on it.
            off = (shift * out).sum(axis=1) - thick
            shift += out * np.maximum(LIES * hung - off, 0)[:, None]
        points = shifted(mesh.points, matrix, shift)
        return replace(mesh, points=points, normals=smooth_normals(points, mesh.faces, mesh.number))

    def _ground(self, part: Part, given: StepInputs) -> Ground:
        """What is coated, which stays as long as only time goes on."""
        assert isinstance(part, MeshPart)
        return Ground(replace(part, mesh=cast(Coating, given.solution).finer(part.mesh)))


def _islands(faces: NDArray[np.int64], count: int) -> NDArray[np.int64]:
    """(n,) which part of a surface each place belongs to, of those that hang together; 0 where it belongs to no face."""
    island = np.zeros(count, dtype=np.int64)
    island[faces] = together(faces)[:, None]
    return island


def _missed(faces: NDArray[np.int64], slowness: Values, arrival: Values) -> int:
    """How many parts of a surface nothing comes to, though it could go on there."""
    if len(faces) == 0:
        return 0
    island, used = _islands(faces, len(arrival)), np.unique(faces)
    could, came = (np.zeros(int(island.max()) + 1, dtype=bool) for _ in range(2))
    np.logical_or.at(could, island[used], np.isfinite(slowness[used]))
    np.logical_or.at(came, island[used], np.isfinite(arrival[used]))
    return int((could & ~came).sum())


def _carried(before: Mesh, after: Mesh, values: Values) -> Values | None:
    """(n,) values at the points of a mesh, at those of what was made of it; None where they are nothing."""
    return after.carried(values, len(before.descent)) if values.any() else None


def _to_border(surface: Surface, faces: NDArray[np.int64], count: int) -> Values:
    """(n,) metres to where the surface ends, infinite where it does not."""
    sides = faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    name = sides.min(axis=1) * count + sides.max(axis=1)
    _, first, often = np.unique(name, return_index=True, return_counts=True)
    starts = np.full(count, np.inf)
    if not (often == 1).any():
        return starts
    starts[sides[first[often == 1]].ravel()] = 0.0
    made = arrival_times(surface, starts, np.ones(count))
    assert made is not None
    return made
