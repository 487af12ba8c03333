"""Erode: the shape is eaten in from its surface, or grown, at a rate by field.

When a front comes to each place of a volume is solved once (kernels/eikonal.py); then any frame is the surface of those times
(geometry/eating.py).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import partial
from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import FieldId, PartId, Quantity, about
from windsock.core.fields.about import elements_about
from windsock.core.fields.elements import Elements, Subject, Values
from windsock.core.fields.zones import Zone
from windsock.core.geometry.eating import Eaten, Eating, Front, eaten, with_own_normals
from windsock.core.geometry.mesh import LOOKS, Floats, Mesh
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.stance import Stance, stance_of
from windsock.core.geometry.volume import Volume, nodes_about, refuse_too_fine, volume_in_words, volume_of
from windsock.core.kernels.eikonal import swept_times
from windsock.core.kernels.fronts import extended_out, seeded, smoothed_times
from windsock.core.kernels.opening import without_small
from windsock.core.look import Look
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.steps.step import SolvedStep, WeightedStep
from windsock.core.timing.parameter import NumberParameter

AT_A_TIME = 500_000
"""Places at which a field is measured at once."""

SECONDS_A_NODE = 1.2e-6
"""Measured on two cores, for each node of a volume, without what the fields take."""

DRAFT = 2.0
"""Times as large as they will be voxels are while a value is dragged."""

SLOWEST = 0.02
"""The pace up to which the front never comes."""

MOST_READINGS = 60
INSIDE_LOOK = Look(base_colour="#8A5A3C", roughness=0.7)


class Erode(SolvedStep, WeightedStep):
    """Eat the shape away from its surface inward or from where a field is inside, or let it grow out beyond its surface; or the same run
    backwards.

    The front travels at a speed in metres per second, times the weight of what drives the step, in space; where that is next to
    nothing it never comes, so that islands are left. The weight is read at the shot's first frame, or anew every so many seconds. Or a share says how
    much of all that it comes to is gone. What it opens is a part of its own, with the place on the surface that was nearest; what is left
    of the surface stays the part it was. A shape that is not closed has an inside by the winding number; one of a single sheet has none.
    """

    says = "Eaten in from its surface, or grown"
    wish = "Take it away"

    begins: ClassVar[Mapping[str, JsonValue]] = {"look": INSIDE_LOOK.model_dump(mode="json")}

    kind: Literal["erode"] = "erode"
    solution: ClassVar[type[Solution]] = Eating
    works: ClassVar[str] = "Finding when each place is reached"
    sends_front: ClassVar[bool] = True
    zone: Zone = "value"
    way: Annotated[
        Literal["inward", "outward", "seeds"], Field(description="Where the front starts, and which way it goes")
    ] = "inward"
    seeds: Annotated[FieldId | None, Field(description="The field inside of which it starts")] = None
    run: Annotated[Literal["forwards", "backwards"], Field(description="Backwards: the same from its end on")] = (
        "forwards"
    )
    by: Annotated[Literal["speed", "share"], Field(description="What says how far it has come")] = "speed"
    speed: Annotated[NumberParameter, Quantity("How fast it goes", unit="m/s", low=0, high=1e4, drag=0.001)] = 0.1
    share: Annotated[
        NumberParameter, Quantity("How much of what it comes to it has reached", low=0, high=1, drag=0.005)
    ] = 0.5
    at_most: Annotated[float, Quantity("How far it goes at most, 0 for any", unit="m", low=0, high=1e4)] = 0.0
    sharpness: Annotated[
        float, Quantity("How sharply places that are eaten are parted from others", low=0, high=1, drag=0.005)
    ] = 0.0
    smooth: Annotated[float, Quantity("Width over which the front is smooth", unit="m", low=0, high=1e4)] = 0.0
    least: Annotated[float, Quantity("Smallest bits that stay", unit="m³", low=0, high=1e9, drag=1e-5)] = 0.0
    anew: Annotated[
        float, Quantity("How often the field is read anew, 0 for once", unit="s", low=0, high=1e4, drag=0.01)
    ] = 0.0
    voxel: Annotated[float, Quantity("Size of a voxel", unit="m", low=1e-5, high=1e4, drag=0.0005)] = 0.02
    makes: Annotated[PartId, Field(description="The part that is opened")] = "opened"
    look: Annotated[Look | None, Field(description="Its look; None: that of the part")] = INSIDE_LOOK

    def made(self) -> str:
        return self.makes

    def fields(self) -> tuple[str, ...]:
        return (self.seeds,) if self.way == "seeds" and self.seeds is not None else ()

    @property
    def follows_faces(self) -> bool:
        return False

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"voxel": about(size, 0.012), "speed": about(size, 0.05)}

    def solving(self, mesh: Mesh, lasts: float) -> float:
        del lasts
        return nodes_about(mesh.points, self.voxel, self._beyond()) * SECONDS_A_NODE

    def refuse_too_much(self, mesh: Mesh) -> None:
        if len(mesh.points):
            refuse_too_fine(np.ptp(mesh.points, axis=0).astype(np.float64), self.voxel, self._beyond())

    def asks(self, mesh: Mesh, lasts: float) -> float:
        return nodes_about(mesh.points, self.voxel, self._beyond()) * self._readings_in(lasts)

    def weighed(self, mesh: Mesh, matrix: Matrix) -> str:
        if len(mesh.faces) == 0:
            return ""
        return volume_in_words(stance_of(matrix).level(mesh.rest), self.voxel, self._beyond())

    def doubts(self, solution: Solution) -> str:
        eating = cast(Eating, solution)
        if self.way == "seeds" and self.seeds is None:
            return "no field says where it starts; choose one"
        if not (eating.distance < 0).any():
            return "the shape has no inside that its voxels can show; give it thickness, or take smaller voxels"
        if eating.last <= 0:
            return "the front comes to no place; see where the field that drives it is above 0"
        return ""

    def _beyond(self) -> float:
        """Metres outside of the shape that it may come to."""
        return self.at_most if self.way == "outward" else 0.0

    def solve(self, given: SolveInputs) -> Eating:
        """When the front comes to each place. Raises TooMuch for more voxels than a volume may have."""
        mesh, stance = given.mesh(), given.stance_at_start()
        voxel = self.voxel * (DRAFT if given.is_draft() else 1.0)
        volume = volume_of(stance.level(mesh.rest), mesh.faces, voxel, self._beyond(), given.check)
        arrival = self._arrival(volume, stance, given)
        return Eating.found(
            volume,
            arrival,
            np.asarray(np.linalg.inv(stance.stretch), dtype=np.float64),
            "out" if self.way == "outward" else "in",
        )

    def _arrival(self, volume: Volume, stance: Stance, given: SolveInputs) -> Floats:
        """When the front comes to each node, in metres of travel at full pace."""
        way, voxel = (-1.0 if self.way == "outward" else 1.0), float(volume.voxel[0])
        distance = volume.distance
        ahead = (way * distance < 0) if self.way != "outward" else (distance > 0) & (distance <= self.at_most)
        asked = np.flatnonzero(ahead | (volume.face >= 0) & (np.abs(distance) < 2 * voxel))
        times = np.full(volume.shape, np.inf, dtype=np.float32)
        if not ahead.any() or (self.way == "seeds" and self.seeds is None):
            return times
        slowness = self._slowness(volume, asked, stance, given)
        if self.way == "seeds" and self.seeds is not None:
            excess = np.full(volume.shape, -np.inf, dtype=np.float32)
            excess.reshape(-1)[asked] = self._asked(
                volume, asked, stance, partial(given.excess_at_start, self.seeds), given.check
            )
            slowness[~ahead] = np.inf
            seeded(times, excess, slowness, voxel)
        else:
            extended_out(times, distance, slowness, way, volume.face)
            _entered(times, slowness, distance, ahead, voxel, 0.0)
        pace = np.unique(slowness[ahead])
        if self.way != "seeds" and len(pace) == 1 and np.isfinite(pace[0]) and self._readings(given) == 1:
            # Everywhere alike: it comes to each place straight from the surface.
            times[ahead] = np.abs(distance[ahead]) * pace[0]
        else:
            self._swept(times, slowness, volume, asked, ahead, stance, given)
        return self._finished(times, ahead, voxel)

    def _swept(
        self,
        times: Floats,
        slowness: Floats,
        volume: Volume,
        asked: NDArray[np.int64],
        ahead: NDArray[np.bool_],
        stance: Stance,
        given: SolveInputs,
    ) -> None:
        """Lets the front run, in place, through what the field says at one moment after another."""
        voxel = float(volume.voxel[0])
        readings = self._readings(given)
        seconds = given.begins() + self.anew * np.arange(readings + 1.0)
        come = given.travelled_until("speed", seconds)
        for reading in range(readings):
            given.check(0.5 + 0.5 * reading / readings)
            if reading:
                late = ahead & (times >= come[reading])
                times[late] = np.inf
                slowness = self._slowness(volume, asked, stance, given.at_second(float(seconds[reading])))
                if self.way != "seeds":
                    _entered(times, slowness, volume.distance, ahead, voxel, float(come[reading]))
            steps = np.where(ahead, slowness * np.float32(voxel), np.float32(np.inf))
            until = np.inf if reading == readings - 1 else float(come[reading + 1])
            if not swept_times(times, steps.astype(np.float32), until, float(come[reading]), given.flag):
                given.check(1.0)

    def _readings(self, given: SolveInputs) -> int:
        """How often the field is read."""
        return self._readings_in(given.lasts() - given.begins()) if given.is_driven() else 1

    def _readings_in(self, seconds: float) -> int:
        """How often a field is read in so many seconds."""
        if self.anew <= 0 or self.by == "share":
            return 1
        return int(np.clip(np.ceil(seconds / self.anew), 1, MOST_READINGS))

    def _slowness(self, volume: Volume, asked: NDArray[np.int64], stance: Stance, given: SolveInputs) -> Floats:
        """Metres of travel for each metre, at the nodes that are asked; infinite elsewhere, and where the front never goes."""
        made = np.full(volume.shape, np.inf, dtype=np.float32)
        pace = self._asked(volume, asked, stance, given.weigh_at_start, given.check)
        if self.sharpness > 0:
            pace = np.clip(0.5 + (pace - 0.5) / max(1 - self.sharpness, 1e-3), 0, 1)
        slow = np.full(len(pace), np.inf)
        np.divide(1.0, pace, out=slow, where=pace > SLOWEST)
        made.reshape(-1)[asked] = slow
        return made

    def _asked(
        self,
        volume: Volume,
        asked: NDArray[np.int64],
        stance: Stance,
        measure: Callable[[Callable[[Matrix, Subject], Elements]], Values],
        tell: Callable[[float], None],
    ) -> Values:
        """(k,) what is measured at nodes, some of them at a time. tell: is told how much is done, and stops it where it is cancelled."""
        made = np.empty(len(asked))
        for at in range(0, len(asked), AT_A_TIME):
            some = slice(at, at + AT_A_TIME)
            tell(0.5)
            places = stance.own(volume.places(asked[some]))
            made[some] = measure(lambda matrix, subject, places=places: elements_about(places, matrix, subject))
        return made

    def _finished(self, times: Floats, ahead: NDArray[np.bool_], voxel: float) -> Floats:
        """The times made smooth, without those beyond the most and without bits that are too small."""
        if self.smooth > voxel / 4:
            times = smoothed_times(times, ahead, self.smooth / voxel)
        if self.at_most > 0:
            times[ahead & (times > self.at_most)] = np.inf
        if self.least > 0 and self.way != "outward":
            times = without_small(times, ahead, int(np.ceil(self.least / voxel**3)))
        return times

    def _come(self, eating: Eating, given: StepInputs) -> float:
        """Metres that the front has travelled."""
        forwards = self.run == "forwards"
        if self.by == "share":
            share = given.at(self.share)
            return eating.come(share if forwards else 1 - share)
        come = given.travelled("speed")
        return come if forwards else eating.last - come

    def front(self, given: StepInputs) -> Front:
        eating = cast(Eating, given.solution)
        return Front(eating, self._come(eating, given))

    def remains(self, part: Part, given: StepInputs) -> Part:
        """What is left of the surface."""
        if not isinstance(part, MeshPart):
            return part
        left, _ = given.once("left", Erode._left)
        skin = left.skin
        return part if skin is part.mesh else MeshPart(replace(skin, piece=None), part.look, part.backs, part.alpha)

    def apply(self, part: Part, given: StepInputs) -> Part:
        """What the front has opened. Of copies there is nothing."""
        if not isinstance(part, MeshPart):
            return MeshPart(part.mesh.emptied(), part.look, part.backs)
        left, _ = given.once("left", Erode._left)
        look = part.look if self.look is None else self.look
        backs = part.backs if self.look is None else "hidden"
        mesh = with_own_normals(left.opened)
        if self.look is not None:
            mesh = replace(mesh, pictures=None, **dict.fromkeys(LOOKS))
        return MeshPart(replace(mesh, piece=None), look, backs, part.alpha)

    def _left(self, part: Part, given: StepInputs) -> Eaten:
        """What is left of the shape, and what is open, now."""
        front, mesh = self.front(given), part.mesh
        eating, come = front.eating, front.come
        if come <= 0 or eating.last <= 0 or len(mesh.faces) == 0:
            return Eaten(mesh, mesh.emptied())
        rest = mesh.rest.astype(np.float64) @ np.linalg.inv(eating.own).T
        return eaten(mesh, rest, eating, come)


def _entered(
    times: Floats, slowness: Floats, distance: Floats, ahead: NDArray[np.bool_], voxel: float, come: float
) -> None:
    """Lets the front in at the surface, in place, where it has not come in yet; no sooner than it has come so far."""
    near = ahead & (np.abs(distance) <= voxel) & np.isinf(times)
    times[near] = np.maximum(np.abs(distance[near]) * slowness[near], come)
