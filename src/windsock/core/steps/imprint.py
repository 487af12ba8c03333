"""Imprint: a groove pressed by moving shapes, what is displaced raised at its edges.

All touches of the shot are found once (geometry/touches.py), on faces that are split beforehand where anything will come near; then
any frame is a lookup. What is soft is soft over metres, not over faces (kernels/softening.py).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import GroupId, Quantity, about
from windsock.core.fields.elements import Values
from windsock.core.fields.falloff import smoothstep
from windsock.core.geometry.approach import approaches, closest
from windsock.core.geometry.mesh import Mesh, one_of_each, places_of
from windsock.core.geometry.movers import Mover
from windsock.core.geometry.outward import outward
from windsock.core.geometry.placement import turned_normals
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.subdivision import longest_edges, split_again, split_edges
from windsock.core.geometry.touches import Touches, at_rest, touches_of
from windsock.core.kernels.deforming import shifted
from windsock.core.kernels.noise import gradient_noise
from windsock.core.kernels.softening import Softening
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.refusals import TooMuch
from windsock.core.steps.deforming import placed
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.steps.step import SolvedStep, WeightedStep
from windsock.core.timing.parameter import NumberParameter

CREST = 0.35
"""How far a track spreads, once made soft over the width of what is raised, where that is highest; at the edge of a wide track it is
1/2."""

MOST_HALVINGS = 12
MOST_FACES = 400_000
"""Faces that a shape may have where it is split for its tracks."""

SECONDS_A_TICK, SECONDS_A_FACE = 1.5e-3, 6e-6
"""Measured on two cores, for each tick of the shot, and for each face."""


@dataclass(frozen=True, eq=False)
class Imprinted(Touches):
    """Touches at the points of a mesh after splitting. splits: (k,) whether each point is one whose edges are split, for one split after
    another; sizes: (s,) how many of them belong to each."""

    splits: NDArray[np.bool_]
    sizes: NDArray[np.int64]

    def finer(self, mesh: Mesh) -> Mesh:
        """A mesh with the faces of the one that was solved for, split as that was."""
        return split_again(mesh, self.splits, self.sizes)


@dataclass(frozen=True, eq=False)
class Ground:
    """What is pressed: the part with its faces split, which place each of its points is at, and what makes values soft there, over the
    width of the soft edge and over that of what is raised; None where that is nothing."""

    part: MeshPart
    place: NDArray[np.int64]
    first: NDArray[np.int64]
    soft: Softening | None
    wide: Softening | None

    @property
    def nbytes(self) -> int:
        held = sum(one.nbytes for one in (self.soft, self.wide) if one is not None)
        return self.part.nbytes + self.place.nbytes + self.first.nbytes + held


class Imprint(SolvedStep, WeightedStep):
    """Press the shape in where a group's shapes, their pieces and copies too, have touched it until now.

    own: as deep as they went in, at most `at_most`. flat: `depth` deep wherever they were. round: so deep in the middle of the track,
    rising to its edges over the soft width. The edge is soft over a width. Beside it the surface is raised, up to a height or so that
    what was pressed down is kept, but for the share that is packed; over a width. Rough: a noise on all that was touched. It comes back
    within seconds if it recovers. Touches count on the shape as it rests, where it stands. Faces are split where anything comes near, until
    their edges are no longer than `finest`.
    """

    says = "A track that other shapes press in, with raised edges"
    wish = "Bend and turn it"

    kind: Literal["imprint"] = "imprint"
    solution: ClassVar[type[Solution]] = Imprinted
    works: ClassVar[str] = "Finding what presses the surface in"
    group: Annotated[GroupId | None, Field(description="The shapes that press it in")] = None
    profile: Annotated[Literal["own", "flat", "round"], Field(description="How it is deep across a track")] = "own"
    depth: Annotated[NumberParameter, Quantity("How deep a flat or round track is", unit="m", low=0, high=1e4)] = 0.05
    at_most: Annotated[
        NumberParameter, Quantity("How deep shapes press at most, 0 for as deep as they go", unit="m", low=0, high=1e4)
    ] = 0.0
    soft: Annotated[float, Quantity("Width of the soft edge", unit="m", low=0, high=1e4, drag=0.001)] = 0.0
    rim: Annotated[Literal["none", "height", "kept"], Field(description="What is raised beside it")] = "kept"
    rim_height: Annotated[NumberParameter, Quantity("How high the edge is raised", unit="m", low=0, high=1e4)] = 0.03
    rim_width: Annotated[float, Quantity("Over what width it is raised", unit="m", low=0.0001, high=1e4)] = 0.15
    packed: Annotated[
        NumberParameter, Quantity("Share of what is pressed down that is packed", low=0, high=1, drag=0.005)
    ] = 0.3
    rough: Annotated[NumberParameter, Quantity("How rough it is where it was touched", unit="m", low=0, high=1e4)] = 0.0
    grain: Annotated[NumberParameter, Quantity("How large the roughness is", unit="m", low=0.0001, high=1e4)] = 0.05
    recovers: Annotated[
        NumberParameter, Quantity("Seconds in which it comes back, 0 for never", unit="s", low=0, high=1e4, drag=0.01)
    ] = 0.0
    margin: Annotated[float, Quantity("How near touches", unit="m", low=0, high=1e4, drag=0.001)] = 0.002
    finest: Annotated[
        float, Quantity("How long edges of faces may be there, 0 to leave them", unit="m", low=0, high=1e4, drag=0.001)
    ] = 0.04
    seed: Annotated[int, Quantity("Which of the chances", low=0, high=999_999, drag=0.1, whole=True)] = 1

    def groups(self) -> tuple[str, ...]:
        return () if self.group is None else (self.group,)

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {
            "depth": about(size, 0.02),
            "rim_height": about(size, 0.01),
            "rim_width": about(size, 0.05),
            "grain": about(size, 0.02),
            "finest": about(size, 0.012),
        }

    def faces_after(self, faces: int, driven: bool) -> int:
        """It depends on where shapes go: the step itself refuses what would be too many."""
        del driven
        return min(faces * 4, faces + 60_000) if self.finest > 0 else faces

    def solving(self, mesh: Mesh, lasts: float) -> float:
        return lasts * 120 * SECONDS_A_TICK + len(mesh.faces) * SECONDS_A_FACE

    def doubts(self, solution: Solution) -> str:
        touches = cast(Imprinted, solution)
        if self.group is None:
            return "no shapes press it in yet; choose a group"
        return "" if len(touches.point) else "nothing of the group touches it within the shot; move it closer"

    def solve(self, given: SolveInputs) -> Imprinted:
        """Where the faces are split, and all touches after that. Raises TooMuch for more faces or touches than can be kept."""
        mesh = given.mesh()
        movers = given.movers(self.group) if self.group is not None else []
        splits: list[NDArray[np.bool_]] = []
        if self.finest > 0 and len(movers) and len(mesh.faces):
            mesh, splits = self._split(mesh, movers, given)
        margin = max(self.margin, 1e-9)
        touches = touches_of(at_rest(mesh, given.carried_at), movers, given.span(), margin, given.check)
        none = np.zeros(0, dtype=np.bool_)
        sizes = np.array([len(one) for one in splits], dtype=np.int64)
        return Imprinted(**touches.arrays(), splits=np.concatenate([none, *splits]), sizes=sizes)  # pyright: ignore

    def _split(self, mesh: Mesh, movers: list[Mover], given: SolveInputs) -> tuple[Mesh, list[NDArray[np.bool_]]]:
        """The mesh at rest with its faces split where anything comes near, and at which points that was, time by time."""
        stance, splits = given.stance_at_start(), list[NDArray[np.bool_]]()
        beside = self.soft + (self.rim_width if self.rim != "none" else 0.0) + self.margin
        # A few fine faces lie beside a track in any case.
        beside = max(beside, 2 * self.finest)
        near = np.full(len(mesh.points), np.nan)
        for _ in range(MOST_HALVINGS):
            longest = longest_edges(stance.level(mesh.rest), mesh.faces)
            coarse = longest > self.finest * 1.001
            asked = np.flatnonzero(coarse & np.isnan(near))
            if len(asked):
                surface, reach = at_rest(mesh, given.carried_at), longest[asked] + beside
                # Between two looks a shape goes so far: so much nearer than is seen it may come, half of it either way.
                step = float(reach.min()) / 2
                coming = approaches(surface, movers, given.span(), step, given.check)
                resting = replace(surface, points=surface.points[asked])
                near[asked] = closest(resting, reach + step / 2, beside, coming, given.check) - step / 2
            chosen = coarse & (near <= longest + beside)
            if not chosen.any():
                break
            if len(mesh.faces) + 3 * int(chosen[mesh.faces].any(axis=1).sum()) > MOST_FACES:
                raise TooMuch(
                    f"The track would need more than {MOST_FACES:,} faces with edges of {self.finest:g} m. Nothing was changed. "
                    "Allow longer edges."
                )
            splits.append(chosen)
            before = len(mesh.points)
            mesh = split_edges(mesh, chosen).mesh
            near = np.concatenate([near, np.full(len(mesh.points) - before, np.nan)])
        return mesh, splits

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part pressed in, its faces split. Copies stay as they are."""
        if not isinstance(part, MeshPart) or self.group is None or len(part.mesh.faces) == 0:
            return part
        touches = cast(Imprinted, given.solution)
        if len(touches.point) == 0:
            return part
        ground, key = given.once("ground", Imprint._ground)
        mesh, matrix = ground.part.mesh, given.matrix
        rise = self._rise(touches, ground, given)
        # The field is asked at the points that are there after splitting.
        driven = given.weigh_step(mesh, key)
        weight = given.at(self.amount) * (1.0 if driven is None else driven)
        ways = outward(turned_normals(mesh.normals, matrix), ground.place, len(ground.first))
        return placed(ground.part, shifted(mesh.points, matrix, ways * (rise[ground.place] * weight)[:, None]))

    def _ground(self, part: Part, given: StepInputs) -> Ground:
        """What is pressed, which stays as long as only time goes on."""
        assert isinstance(part, MeshPart)
        mesh = cast(Imprinted, given.solution).finer(part.mesh)
        place, count = places_of(mesh.number)
        first = one_of_each(place, count)
        level = given.stretch.level(mesh.rest)[first]
        faces = place[mesh.faces]
        soft = Softening(level, faces, self.soft) if self.soft > 0 else None
        wide = Softening(level, faces, self.rim_width) if self.rim != "none" or given.at(self.rough) > 0 else None
        return Ground(replace(part, mesh=mesh), place, first, soft, wide)

    def _rise(self, touches: Imprinted, ground: Ground, given: StepInputs) -> Values:
        """(k,) metres that each place goes out, below 0 in."""
        at, seconds = given.at, given.seconds
        recovers, first, soft, wide = at(self.recovers), ground.first, ground.soft, ground.wide
        held = _held(touches, seconds, recovers)[first]
        if not held.any():
            return held
        softly = held if soft is None or (self.profile == "own" and self.rim != "height") else np.clip(soft(held), 0, 1)
        match self.profile:
            case "own":
                deep, most = touches.deepest(seconds, recovers)[first], at(self.at_most)
                deep = np.minimum(deep, most) if most > 0 else deep
                deep = deep if soft is None else np.maximum(soft(deep), 0.0)
            case "flat":
                deep = at(self.depth) * softly
            case "round":
                deep = at(self.depth) * np.sin(np.pi / 2 * np.clip(2 * softly - 1, 0, 1))
        rise = -deep
        rough = at(self.rough)
        spread = wide is not None and (self.rim == "height" or rough > 0)
        about = np.clip(wide(held), 0, 1) if wide is not None and spread else held
        if self.rim == "height":
            rise = rise + at(self.rim_height) * smoothstep(np.minimum(about / CREST, 1.0)) * (1 - softly)
        elif self.rim == "kept" and wide is not None:
            beside = np.maximum(wide(deep) - deep, 0.0)
            room = float(beside @ wide.areas)
            if room > 0:
                rise = rise + beside * ((1 - at(self.packed)) * float(deep @ wide.areas) / room)
        if rough > 0:
            rest = given.stretch.level(ground.part.mesh.rest)[first]
            rise = rise + rough * np.minimum(2 * about, 1.0) * gradient_noise(rest / at(self.grain), self.seed, 3)
        return rise


def _held(touches: Touches, seconds: float, recovers: float) -> Values:
    """(n,) 1 where anything has touched, going back to 0 as it recovers."""
    first, last = touches.times(seconds)
    there = np.isfinite(first)
    if recovers <= 0:
        return there.astype(np.float64)
    gone = np.where(there, seconds - np.where(there, last, 0.0), recovers)
    return 1 - smoothstep(np.clip(gone / recovers, 0, 1))
