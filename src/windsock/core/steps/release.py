"""Release: lets each piece or copy go from the moment the field reaches it.

Flight and bounces are solved once for each (kernels/flight.py), then any moment is a lookup.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.declarations import ItemId, Quantity
from windsock.core.fields.elements import Values
from windsock.core.geometry.bodies import Bodies
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import moved
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.stance import Stance, stance_of
from windsock.core.kernels.bodies import facing_turns, product
from windsock.core.kernels.chance import chance, directions
from windsock.core.kernels.flight import Flight, legs, states
from windsock.core.parts.part import Part, Relocation
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.steps.step import Leaves, SolvedStep
from windsock.core.timing.parameter import NumberParameter, Vector
from windsock.core.timing.ticks import TICKS

BESIDE = 1 / 240
"""Seconds to either side of a release between which the subject's own motion is measured."""


@dataclass(frozen=True, eq=False)
class Flights(Solution):
    """at: (k,) the second at which each is let go, infinite where it is not. starts: (k + 1,) and rows: the legs of each (see
    kernels/flight.py). radius: (k,) how far its middle lies off the floor where it touches it, ball: (k,) of the ball about
    it, metres. held: (k, 4) how the subject is turned then."""

    at: Values
    starts: NDArray[np.int64]
    rows: Values
    radius: Values
    ball: Values
    held: Values


class Release(SolvedStep):
    """Let each piece or copy go at the second at which the field's level first comes to where its middle rests.

    It starts from where it is carried then, with the motion it is carried with, and `speed` along the surface's normal, a
    fixed direction, or away from a controller; up to `stray` of that speed goes any way by chance. `pull` draws it down,
    or up where it is negative. `drag` takes speed, `whirl` leads it round the floor's normal, `spin` turns it about an
    axis by chance. The floor is level at a height, or the plane through a controller across its Y axis, as it stands at
    the first frame; pieces bounce off it on the ball about them. `friction` takes its share of the speed along the floor at
    each touch, and is Coulomb's coefficient for what slides: on a slope whose tangent is larger it slides and rolls on, on
    others it comes to rest. One that starts within the floor is kept as high as it was. Settings that are keyed count as
    they are when it is let go.
    """

    says = "Lets pieces or copies fly and fall"
    wish = "Move its pieces and copies"

    kind: Literal["release"] = "release"
    solution: ClassVar[type[Solution]] = Flights
    looks: ClassVar[int] = TICKS
    zone: Literal["inside"] = "inside"
    speed: Annotated[NumberParameter, Quantity("Speed at the start", unit="m/s", low=0, high=1000, drag=0.02)] = 1.0
    way: Annotated[Literal["normal", "fixed", "away"], Field(description="Which way it starts")] = "normal"
    direction: Annotated[Vector, Quantity("The fixed direction", low=-1, high=1)] = (0.0, 1.0, 0.0)
    source: Annotated[ItemId | None, Field(description="The controller that it starts away from")] = None
    stray: Annotated[NumberParameter, Quantity("Share of the speed that goes any way", low=0, high=1, drag=0.005)] = 0.3
    wait: Annotated[float, Quantity("Let go up to so much later, by chance", unit="s", low=0, high=100)] = 0.0
    pull: Annotated[float, Quantity("Pull downward", unit="m/s²", low=-1000, high=1000, drag=0.05)] = 9.81
    drag: Annotated[float, Quantity("Share of the speed lost in a second", unit="/s", low=0, high=50, drag=0.01)] = 0.3
    whirl: Annotated[float, Quantity("Led round the floor's normal", unit="°/s", low=-3600, high=3600, drag=1)] = 0.0
    spin: Annotated[float, Quantity("Turns by up to", unit="°/s", low=0, high=7200, drag=2)] = 240.0
    floor: Annotated[Literal["none", "height", "controller"], Field(description="What it bounces off")] = "height"
    height: Annotated[float, Quantity("Height of the floor", unit="m", low=-1e4, high=1e4)] = 0.0
    plane: Annotated[ItemId | None, Field(description="The controller whose plane is the floor")] = None
    bounce: Annotated[float, Quantity("Speed that a bounce leaves", low=0, high=1, drag=0.005)] = 0.35
    friction: Annotated[float, Quantity("Friction of the floor", low=0, high=1, drag=0.005)] = 0.35
    seed: Annotated[int, Quantity("Which of the chances", low=0, high=999_999, drag=0.1, whole=True)] = 1

    def items(self) -> tuple[str, ...]:
        away = (self.source,) if self.way == "away" and self.source else ()
        return (*away, self.plane) if self.floor == "controller" and self.plane else away

    @property
    def at_middles(self) -> bool:
        return True

    @property
    def leaves(self) -> Leaves:
        return "points"

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part with what was let go where it has come to."""
        bodies, flights, second = part.bodies(), cast(Flights, given.solution), given.seconds
        gone = flights.at <= second
        if not gone.any():
            return part
        matrix, stance = given.matrix, given.stance
        state = states(flights.starts, flights.rows, np.where(gone, second - flights.at, 0.0), self._flight(given))
        frame, foot = self._frame(given)
        flown = foot + state[:, [1, 0, 2]] @ frame.T + flights.radius[:, None] * frame[:, 1]
        now = moved(bodies.places.points, matrix)
        resting = moved(bodies.places.rest, matrix)
        # What earlier steps move them by comes on top, but not through the floor.
        world = flown + (now - resting)
        if self.floor != "none":
            over = (world - foot) @ frame[:, 1] - flights.radius
            world += np.maximum(-over, 0)[:, None] * frame[:, 1]
        amount = given.at(self.amount)
        free = gone[:, None]
        places = np.where(free, now + (world - now) * amount, now)
        turned = self._turned(bodies, state[:, 3:] * amount, flights, stance, frame)
        turn = np.where(free, turned, bodies.turn)
        own = moved(places, np.linalg.inv(matrix))
        to = Relocation(own, turn.astype(np.float32), bodies.size.copy(), gone, lambda: np.ones((len(bodies), 3)))
        return part.relocated(bodies, to, stance)

    def _turned(self, bodies: Bodies, motion: Values, flights: Flights, stance: Stance, frame: Values) -> Values:
        """(k, 4) turns in the level space: as they were when let go, spun about an axis by chance, and rolled along the
        floor. motion: (k, 3) the angle of the spin, and how far each has slid along two directions of the floor, whose frame
        is (3, 3)."""
        number = bodies.places.number
        spun = _about(directions(number, self.seed * 16 + 5), motion[:, 0])
        held = flights.held
        if self.friction > 0 and motion[:, 1:].any():
            along = motion[:, 1:]
            far = np.linalg.norm(along, axis=1)
            # The floor's normal crossed with the way: what rolls along X turns against the right hand about Z.
            axis = np.column_stack([along[:, 1], np.zeros(len(along)), -along[:, 0]]) / np.maximum(far, 1e-12)[:, None]
            held = product(_about(axis @ frame.T, far / flights.ball), held)
        back = facing_turns(stance.turn.T[:, 1][None], stance.turn.T[:, 0][None])
        return product(product(np.broadcast_to(back, held.shape), held), product(spun, bodies.turn.astype(np.float64)))

    def solve(self, given: SolveInputs) -> Flights:
        """When each is let go, and its legs from then on."""
        bodies = given.bodies()
        number = bodies.places.number
        at = given.reached() + chance(number, self.seed * 16) * self.wait
        known = np.where(np.isfinite(at), at, 0.0)
        carried = given.carried(known)
        rest = bodies.places.rest.astype(np.float64)
        start = _each(carried, rest)
        # Before the first frame nothing moves, so at the start only what comes counts.
        before = np.maximum(known - BESIDE, given.begins())
        ahead, behind = given.carried(known + BESIDE), given.carried(before)
        moving = (_each(ahead, rest) - _each(behind, rest)) / (known + BESIDE - before)[:, None]
        moving += self._thrown(start, carried, bodies.places, known, given)
        frame, foot = self._frame(given)
        local = (start - foot) @ frame
        ball = bodies.radius * bodies.size.max(axis=1)
        # One that starts within the floor has the floor as low as it stands.
        radius = np.minimum(ball.astype(np.float64), local[:, 1])
        speeds = moving @ frame
        turning = np.radians(self.spin) * (0.4 + 0.6 * chance(number, self.seed * 16 + 9))
        lasts = np.where(np.isfinite(at), np.maximum(given.lasts() - known, 0) + 1, 0.0)
        starts, rows = legs(
            np.ascontiguousarray(local[:, 1] - radius),
            np.ascontiguousarray(speeds[:, 1]),
            np.ascontiguousarray(local[:, [0, 2]]),
            np.ascontiguousarray(speeds[:, [0, 2]]),
            turning,
            lasts,
            self._flight(given),
        )
        held = _turns(carried)
        turns = facing_turns(np.ascontiguousarray(held[:, :, 1]), np.ascontiguousarray(held[:, :, 0]))
        return Flights(at, starts, rows, radius, np.maximum(ball.astype(np.float64), 1e-4), turns)

    def _thrown(self, start: Values, carried: Values, places: Mesh, seconds: Values, given: SolveInputs) -> Values:
        """(k, 3) the speed that each is given, m/s in the world."""
        number, normals = places.number, places.normals.astype(np.float64)
        if self.way == "normal":
            way = np.einsum("kij,kj->ki", np.linalg.inv(carried[:, :3, :3]).transpose(0, 2, 1), normals)
        elif self.way == "away" and self.source is not None:
            way = start - given.placement_at_start(self.source)[:3, 3]
        else:
            way = np.broadcast_to(np.array(self.direction), start.shape)
        way = way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-9)
        speed, stray = given.over_time(self.speed, seconds), given.over_time(self.stray, seconds)
        any_way = directions(number, self.seed * 16 + 1) * chance(number, self.seed * 16 + 3)[:, None]
        varied = 1 - 0.5 * stray * chance(number, self.seed * 16 + 4)
        return speed[:, None] * (way * varied[:, None] + any_way * stray[:, None])

    def _frame(self, given: StepInputs | SolveInputs) -> tuple[Values, Values]:
        """(3, 3) columns X, Y (the floor's normal) and Z of the floor, right-handed, and (3,) a place on it."""
        if self.floor == "controller" and self.plane is not None:
            matrix = given.placement_at_start(self.plane)
            return stance_of(matrix).turn, matrix[:3, 3]
        return np.eye(3), np.array([0.0, self.height, 0.0])

    def _flight(self, given: StepInputs | SolveInputs) -> Flight:
        frame, _ = self._frame(given)
        pull = np.array([0.0, -self.pull, 0.0]) @ frame
        # Across, X and Z are the real and the imaginary axis; turning from X to Z is against the right hand about Y.
        whirl = -float(np.radians(self.whirl))
        across = (float(pull[0]), float(pull[2]))
        return Flight(float(pull[1]), across, self.drag, whirl, self.bounce, self.friction, self.floor != "none")


def _about(axis: Values, angle: Values) -> Values:
    """(k, 4) quaternions of turns about (k, 3) axes of length 1 by (k,) radians."""
    return np.concatenate([axis * np.sin(angle / 2)[:, None], np.cos(angle / 2)[:, None]], axis=1)


def _each(matrices: Values, points: Values) -> Values:
    """(k, 3) points, each through its (4, 4) matrix."""
    return np.einsum("kij,kj->ki", matrices[:, :3, :3], points) + matrices[:, :3, 3]


def _turns(matrices: Values) -> Values:
    """(k, 3, 3) the rotations in placements: their polar factors."""
    left, _, right = np.linalg.svd(matrices[:, :3, :3])
    return left @ right
