"""Wave: a swell that travels through the shape, round or sharp-crested, from a controller, shapes, or along a path."""

from __future__ import annotations

from math import inf
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, JsonValue

from windsock.core.declarations import GroupId, ItemId, Quantity, about
from windsock.core.fields.elements import Values
from windsock.core.geometry.course import Course
from windsock.core.geometry.mesh import Floats, Mesh, places_of
from windsock.core.geometry.outward import outward
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.kernels.deforming import shifted
from windsock.core.kernels.nearest import nearest_points
from windsock.core.kernels.surface_distance import nearest_on
from windsock.core.kernels.waves import wave_shift, waved
from windsock.core.parts.part import Part, Relocation
from windsock.core.refusals import Refusal
from windsock.core.steps.deforming import PointStep, placed, rigid_frame
from windsock.core.steps.given import StepInputs
from windsock.core.timing.parameter import KeyedNumber, Moment, NumberParameter

FACES_IN_A_WAVE = 6
"""Fewer than that from crest to crest, and a wave is no wave."""


class Wave(PointStep):
    """Raise points as a wave of a length passes them at a speed.

    round: outward from the Y of a controller, or of the shape itself. straight: along its X. shapes: outward from the
    surfaces of a group's shapes. path: along a path. With a way inward it comes the other way. A sharp crest moves points to and
    fro along the way as well, in circles where the sharpness is 1 (a trochoid); it is held back before the surface would
    fold. It falls off with the distance that it has come, and dies with the seconds of the shot. Several steps add up.
    """

    says = "A swell that travels through it"
    wish = "Let it move"

    kind: Literal["wave"] = "wave"
    form: Annotated[Literal["round", "straight", "shapes", "path"], Field(description="Where it comes from")] = "round"
    controller: Annotated[ItemId | None, Field(description="In whose space; None: the shape's own")] = None
    group: Annotated[GroupId | None, Field(description="The shapes that it comes from")] = None
    path: Annotated[ItemId | None, Field(description="The path that it goes along")] = None
    length: Annotated[NumberParameter, Quantity("From crest to crest", unit="m", low=0.0001, high=1e4)] = 0.8
    speed: Annotated[NumberParameter, Quantity("How fast crests travel", unit="m/s", low=0, high=1e4)] = 0.8
    height: Annotated[NumberParameter, Quantity("From trough to crest", unit="m", low=-1e4, high=1e4)] = 0.1
    way: Annotated[Literal["outward", "inward"], Field(description="Which way it travels")] = "outward"
    sharp: Annotated[NumberParameter, Quantity("How sharp its crests are", low=0, high=1, drag=0.005)] = 0.0
    raises: Annotated[Literal["up", "normal"], Field(description="Along its space's Y, or the surface's normal")] = "up"
    fades: Annotated[
        NumberParameter, Quantity("Way over which it falls to a third, 0 for never", unit="m", low=0, high=1e5)
    ] = 0.0
    dies: Annotated[
        NumberParameter,
        Quantity("Seconds over which it falls to a third, 0 for never", unit="s", low=0, high=1e4, drag=0.01),
    ] = 0.0
    pieces: Annotated[
        Literal["bend", "whole"], Field(description="Whether pieces and copies bend, or are moved whole")
    ] = "bend"

    @property
    def at_middles(self) -> bool:
        return self.pieces == "whole"

    def items(self) -> tuple[str, ...]:
        return tuple(one for one in (self.controller, self.path) if one is not None)

    def paths(self) -> tuple[str, ...]:
        return () if self.path is None else (self.path,)

    def groups(self) -> tuple[str, ...]:
        return () if self.group is None else (self.group,)

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"length": about(size, 0.4), "speed": about(size, 0.4), "height": about(size, 0.05)}

    def longest_faces(self, at: Moment, long: float) -> float:
        del long
        return inf if self.pieces == "whole" or at(self.height) == 0 else at(self.length) / FACES_IN_A_WAVE

    def told(self, at: Moment, fps: float, lasts: float) -> str:
        speed, length = at(self.speed), at(self.length)
        if speed <= 0:
            return "stands still"
        period = length / speed
        times = lasts / period
        closes = " and closes" if abs(times - round(times)) < 5e-4 and round(times) > 0 and self._repeats() else ""
        return f"period {period:.4g} s, {period * fps:.4g} frames; comes {times:.4g} times in the shot{closes}"

    def closing(self, setting: str, lasts: float) -> float:
        speed, length = self.speed, self.length
        if setting not in ("speed", "length"):
            raise Refusal("A wave closes by its speed or its length. Nothing was changed. Choose one of them.")
        if isinstance(speed, KeyedNumber) or isinstance(length, KeyedNumber) or self.dies != 0 or speed <= 0:
            raise Refusal(
                "This wave does not repeat: it dies away, stands still, or its speed or length is keyed. Nothing was changed. "
                "Give it a constant speed and length, and let it not die."
            )
        times = max(1, round(lasts * speed / length))
        return times * length / lasts if setting == "speed" else lasts * speed / times

    def _repeats(self) -> bool:
        """Whether it is the same again after each period."""
        return self.dies == 0 and not isinstance(self.speed, KeyedNumber) and not isinstance(self.length, KeyedNumber)

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part in waves, its pieces bent or moved whole."""
        if self.pieces == "bend":
            mesh = part.mesh
            points = self._carried(mesh, self.weight(len(mesh.points), given), given)
            return part if points is None else placed(part, points)
        bodies = part.bodies()
        weight = self.weight(len(bodies), given)
        points = self._carried(bodies.places, weight, given)
        if points is None:
            return part
        size = bodies.size
        to = Relocation(
            points.astype(np.float64), bodies.turn.copy(), size.copy(), weight != 0, lambda: np.ones(size.shape)
        )
        return part.relocated(bodies, to, given.stance)

    def _carried(self, mesh: Mesh, weight: Values, given: StepInputs) -> Floats | None:
        """(n, 3) the points of a mesh in waves, None where nothing moves."""
        at = given.at
        dies = at(self.dies)
        rise = 0.5 * at(self.height) * (float(np.exp(-max(given.seconds, 0.0) / dies)) if dies > 0 else 1.0)
        if rise == 0 or not weight.any():
            return None
        length = at(self.length)
        sway = at(self.sharp) * min(abs(rise), length / (2 * np.pi)) * float(np.sign(rise))
        come = given.travelled("speed") * (1 if self.way == "outward" else -1)
        fades, matrix = at(self.fades), given.matrix
        origin = matrix if self.controller is None else given.placement(self.controller)
        frame, _ = rigid_frame(origin, "y", "x")
        if self.form in ("round", "straight") and self.raises == "up":
            to_frame = np.ascontiguousarray(frame @ matrix)
            radial = self.form == "round"
            return waved(mesh.points, to_frame, radial, length, come, rise, sway, fades, weight)
        places = moved(mesh.points, matrix)
        far, ways = self._from(places, frame, given)
        if self.raises == "normal":
            place, count = places_of(mesh.number)
            ups = outward(turned_normals(mesh.normals, matrix), place, count)
        else:
            ups = np.broadcast_to(frame[1, :3], places.shape)
        held = np.where(np.isfinite(far), weight, 0.0)
        far = np.where(np.isfinite(far), far, 0.0)
        shift = wave_shift(far, ways, np.ascontiguousarray(ups), length, come, rise, sway, fades, held)
        return shifted(mesh.points, matrix, shift)

    def _from(self, places: Values, frame: Matrix, given: StepInputs) -> tuple[Values, Values]:
        """(n,) how far places in the world are from where the wave comes from, infinite where it comes from nowhere; (n, 3) the way
        from there."""
        match self.form:
            case "round":
                # Where the surface itself is raised it may be a ball: the distance is that in space.
                ways = places - np.linalg.inv(frame)[:3, 3]
                far = np.linalg.norm(ways, axis=1)
                return far, ways / np.maximum(far, 1e-9)[:, None]
            case "straight":
                return moved(places, frame)[:, 0].copy(), np.tile(frame[0, :3], (len(places), 1))
            case "path":
                nowhere = np.full(len(places), np.inf), np.zeros_like(places)
                if self.path is None:
                    return nowhere
                return _along(places, given.course(self.path), given.placement(self.path))
            case "shapes":
                return self._from_shapes(places, given)

    def _from_shapes(self, places: Values, given: StepInputs) -> tuple[Values, Values]:
        far, ways = np.full(len(places), np.inf), np.zeros_like(places)
        for shape in given.group(self.group) if self.group is not None else []:
            distance, nearest = nearest_on(places, shape.surface)
            nearer = distance < far
            far[nearer] = distance[nearer]
            away = places[nearer] - nearest[nearer]
            ways[nearer] = away / np.maximum(distance[nearer], 1e-9)[:, None]
        return far, ways


def _along(places: Values, course: Course, matrix: Matrix) -> tuple[Values, Values]:
    """(n,) metres along a course in the world to what of it is nearest to each place, and (n, 3) the way that it goes there."""
    line = moved(course.places, matrix)
    along, ways = np.full(len(places), np.inf), np.zeros_like(places)
    if len(line) < 2:
        return along, ways
    steps = np.diff(line, axis=0)
    lengths = np.linalg.norm(steps, axis=1)
    come = np.concatenate([[0.0], np.cumsum(lengths)])
    near = nearest_points(places, line)
    best = np.full(len(places), np.inf)
    for span in (np.clip(near - 1, 0, len(steps) - 1), np.clip(near, 0, len(steps) - 1)):
        step, length = steps[span], np.maximum(lengths[span], 1e-12)
        share = np.clip(np.einsum("ij,ij->i", places - line[span], step) / length**2, 0, 1)
        apart = np.linalg.norm(line[span] + share[:, None] * step - places, axis=1)
        nearer = apart < best
        best[nearer] = apart[nearer]
        along[nearer] = (come[span] + share * lengths[span])[nearer]
        ways[nearer] = (step / length[:, None])[nearer]
    return along, ways
