"""Shed: small copies born on a field's band, rising, falling and whirling by closed form.

Births are found once for the whole shot: for each face and each thirtieth of a second there is a fixed chance, and a birth
where it is under the number expected there then. So any frame is the same whoever asks, and a band that moves or widens
adds and takes away births without moving the others.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import PartId, Quantity, about
from windsock.core.fields.elements import Values
from windsock.core.geometry.mesh import NO_FACES, Mesh, Mixture
from windsock.core.geometry.placement import moved
from windsock.core.geometry.sites import sites_within
from windsock.core.geometry.solution import Solution
from windsock.core.kernels.band import band_lengths
from windsock.core.kernels.bodies import facing_turns, product
from windsock.core.kernels.chance import chance, directions
from windsock.core.kernels.flight import COLUMNS, Flight, legs, states
from windsock.core.kernels.shares import corner_shares
from windsock.core.kernels.surface_distance import Surface
from windsock.core.look import Look
from windsock.core.parts.copies import Copies, Model
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.parts.part import Part
from windsock.core.ramp import Ramp, Stop
from windsock.core.refusals import TooMuch
from windsock.core.shapes.forms import Form, form_mesh
from windsock.core.steps.given import Beat, SolveInputs, StepInputs
from windsock.core.steps.step import SolvedStep
from windsock.core.timing.curve import Curve
from windsock.core.timing.parameter import NumberParameter

BIRTH_LIMIT = 200_000
SECONDS_A_BEAT, SECONDS_A_FACE = 5e-4, 2e-7
"""Measured on two cores: what finding the births of one moment takes, and what each face adds to it."""

SECONDS_A_PLACE, SECONDS_A_LOOK = 4e-5, 1.2e-5
"""The same for each place in the solid, and for each second in which it is looked at."""

BEATS = 30
"""Times in a second at which births are looked for."""

EMBERS = Ramp(
    stops={
        "s1": Stop(at=0, colour="#FFE2A0"),
        "s2": Stop(at=0.35, colour="#FF7A1E"),
        "s3": Stop(at=1, colour="#3A0C04"),
    }
)
SHED_LOOK = Look(base_colour="#2A1A14", roughness=0.9)


@dataclass(frozen=True, eq=False)
class Births(Solution):
    """at: (k,) the second of each birth. face: (k,), shares: (k, 3) where on the shape, or nearest to which place of it. rest: (k, 3)
    where it was born, as the shape rests. number: (k,) of each. rows: its
    flight (see kernels/flight.py)."""

    at: Values
    face: NDArray[np.int64]
    shares: Values
    rest: Values
    number: NDArray[np.int64]
    rows: Values


class Shed(SolvedStep):
    """Shed small copies from where the field's band passes over the surface: `rate` a second for each metre of its length. Or from the solid:
    of so many places in it that are chosen once, each sheds one as the field's level comes to it.

    They start along the surface's normal at `speed`, go any way by up to `stray` of it, are pulled down (up where `pull` is
    negative), slowed by `drag` and led round the vertical by `whirl`. Each lives up to `life`; over its life its size
    follows a curve, its colour and its light the ramp.
    """

    says = "Sheds small copies where a field passes"
    wish = "Make more on it"

    undriven = "No field drives this, so nothing is shed. Choose the field whose band sheds."

    kind: Literal["shed"] = "shed"
    solution: ClassVar[type[Solution]] = Births
    looks: ClassVar[int] = BEATS
    zone: Literal["band"] = "band"
    makes: Annotated[PartId, Field(description="The part that they are")] = "embers"
    what: Form = "flakes"
    born: Annotated[Literal["band", "solid"], Field(description="Where they are born")] = "band"
    count: Annotated[int, Quantity("Of how many places in the solid", low=1, high=BIRTH_LIMIT, drag=10, whole=True)] = (
        5000
    )
    rate: Annotated[float, Quantity("Born in a second for each metre", unit="/s/m", low=0, high=10_000, drag=1)] = 60.0
    life: Annotated[float, Quantity("How long one lives", unit="s", low=0.01, high=60, drag=0.01)] = 1.5
    size: Annotated[NumberParameter, Quantity("How long one is", unit="m", low=0, high=100, drag=0.001)] = 0.03
    vary: Annotated[float, Quantity("Up to so much smaller and shorter-lived", low=0, high=1, drag=0.005)] = 0.6
    over_life: Annotated[Curve | None, Field(description="Its size over its life")] = None
    speed: Annotated[float, Quantity("Speed at the start", unit="m/s", low=0, high=1000, drag=0.01)] = 0.4
    stray: Annotated[float, Quantity("Share of the speed that goes any way", low=0, high=4, drag=0.01)] = 1.0
    pull: Annotated[float, Quantity("Pull downward", unit="m/s²", low=-1000, high=1000, drag=0.02)] = -0.6
    drag: Annotated[float, Quantity("Share of the speed lost in a second", unit="/s", low=0, high=50, drag=0.01)] = 0.8
    whirl: Annotated[float, Quantity("Led round the vertical", unit="°/s", low=-3600, high=3600, drag=1)] = 60.0
    spin: Annotated[float, Quantity("Turns by up to", unit="°/s", low=0, high=7200, drag=2)] = 300.0
    ramp: Annotated[Ramp, Field(description="Its colour and light over its life")] = EMBERS
    glow: Annotated[NumberParameter, Quantity("Strength of its light", low=0, high=100, drag=0.02)] = 3.0
    look: Look = SHED_LOOK
    seed: Annotated[int, Quantity("Which of the chances", low=0, high=999_999, drag=0.1, whole=True)] = 1

    def solving(self, mesh: Mesh, lasts: float) -> float:
        if self.born == "solid":
            return self.count * (SECONDS_A_PLACE + lasts * SECONDS_A_LOOK)
        return lasts * BEATS * (SECONDS_A_BEAT + SECONDS_A_FACE * len(mesh.faces))

    def made(self) -> str:
        return self.makes

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"size": about(size, 0.012), "rate": about(1 / max(size, 0.01), 80)}

    @property
    def makes_copies(self) -> bool:
        return True

    def apply(self, part: Part, given: StepInputs) -> Part:
        """Those that are alive."""
        del part
        births, second = cast(Births, given.solution), given.seconds
        at, number = births.at, births.number
        lives = self.life * self._varied(number)
        age = (second - at) / lives
        alive = np.flatnonzero((age >= 0) & (age < 1))
        age, number = age[alive], number[alive]
        rows = np.ascontiguousarray(births.rows[alive])
        state = states(np.arange(len(alive) + 1), rows, second - at[alive], self._flight())
        size = (
            given.at(self.size)
            * self._varied(number)
            * (_fading(age) if self.over_life is None else self.over_life(age))
        )
        half = state[:, 3:4] / 2
        spun = np.concatenate([directions(number, self.seed * 16 + 3) * np.sin(half), np.cos(half)], axis=1)
        turn = product(facing_turns(directions(number, self.seed * 16 + 8)), spun).astype(np.float32)
        model = Model(form_mesh(self.what), self.look, "hidden")
        reach = np.full(len(alive), np.linalg.norm(model.mesh.points, axis=1).max(), dtype=np.float32)
        sizes = np.repeat(size[:, None], 3, axis=1).astype(np.float32)
        copies = Copies(turn, sizes, reach, np.zeros(len(alive), dtype=np.int32), (model,))
        return CopiesPart(
            self._places(births, alive, state[:, [1, 0, 2]], age, given), self.look, "hidden", copies=copies
        )

    def _places(self, births: Births, alive: NDArray[np.int64], world: Values, age: Values, given: StepInputs) -> Mesh:
        """The middles of those alive, with their colour and light; they are measured where they were born."""
        made = given.subject.mesh
        # A shape that has fewer faces by now has those that it lacks at its last one.
        face = np.minimum(births.face[alive], max(len(made.faces) - 1, 0))
        corners = made.faces[face].astype(np.int64) if len(made.faces) else np.zeros((0, 3), dtype=np.int64)
        born = Mixture(corners, births.shares[alive])
        normals = born.carried(made.normals.astype(np.float64)).astype(np.float32)
        colours = self.ramp.colours(age)
        return Mesh(
            moved(world, np.linalg.inv(given.matrix)).astype(np.float32),
            births.rest[alive].astype(np.float32),
            normals,
            made.faces[:0],
            births.number[alive],
            colour=colours.astype(np.float32),
            emission=(colours * given.at(self.glow)).astype(np.float32),
            descent=(born,),
            origin=NO_FACES,
        )

    def solve(self, given: SolveInputs) -> Births:
        """Every birth of the shot, and its flight. Raises TooMuch for more of them than a shot may have."""
        if self.born == "solid":
            return self._from_solid(given)
        born: list[tuple[NDArray[np.int64], Values, NDArray[np.int64]]] = []
        starts: list[tuple[Values, Values, Values]] = []
        total = 0
        faces = given.at_start().mesh.faces
        for beat in given.beats(BEATS):
            face, number = self._births(beat, faces)
            total += len(face)
            if total > BIRTH_LIMIT:
                raise TooMuch(
                    f"More than {BIRTH_LIMIT:,} would be shed over the shot. Nothing was changed. Lower the rate, or let a "
                    "shorter front shed them."
                )
            root, across = np.sqrt(chance(number, self.seed * 16 + 1)), chance(number, self.seed * 16 + 2)
            shares = np.stack([1 - root, root * (1 - across), root * across], axis=1)
            start = np.einsum("kc,kcx->kx", shares, beat.places[faces[face]])
            way = np.einsum("kc,kcx->kx", shares, beat.normals[faces[face]])
            born.append((face, shares, number))
            starts.append((beat.seconds + chance(number, self.seed * 16 + 5) / BEATS, start, way))
        if not born:
            return _none()
        face = np.concatenate([one[0] for one in born])
        shares, number = np.concatenate([one[1] for one in born]), np.concatenate([one[2] for one in born])
        at, start, way = (np.concatenate([one[column] for one in starts]) for column in range(3))
        rest = np.einsum("kc,kcx->kx", shares, given.at_start().mesh.rest[faces[face]].astype(np.float64))
        return self._flown(at, face, shares, rest, number, start, way)

    def _from_solid(self, given: SolveInputs) -> Births:
        """Those that are born where the field comes to places in the solid; not those where it is from the start on."""
        mesh, stance = given.at_start().mesh, given.stance_at_start()
        if len(mesh.faces) == 0 or not given.is_driven():
            return _none()
        level = stance.level(mesh.points)
        sites = sites_within(level, mesh.faces, self.count, self.seed, None)
        places = stance.own(sites)
        seconds = given.reached_at(places)
        begins = given.begins()
        number = np.flatnonzero(np.isfinite(seconds) & (seconds > begins))
        if len(number) == 0:
            return _none()
        places, at = places[number], seconds[number]
        _, face, near = Surface(level, mesh.faces).nearest(sites[number])
        shares = corner_shares(near, level, mesh.faces.astype(np.int64), face)
        normals = np.einsum("kc,kcx->kx", shares, mesh.normals[mesh.faces[face]].astype(np.float64))
        # It moves straight from one beat to the next.
        beat = (at - begins) * BEATS
        low, share = np.floor(beat), (beat % 1)[:, None]
        before, after = (given.carried(begins + one / BEATS) for one in (low, low + 1))
        start = _moved(before, places) * (1 - share) + _moved(after, places) * share
        way = np.einsum("kyx,ky->kx", np.linalg.inv(before[:, :3, :3]), normals)
        return self._flown(at, face, shares, places, number, start, way)

    def _flown(
        self,
        at: Values,
        face: NDArray[np.int64],
        shares: Values,
        rest: Values,
        number: NDArray[np.int64],
        start: Values,
        way: Values,
    ) -> Births:
        """The births with their flights, which begin at places in the world, (k, 3), along (k, 3) normals."""
        way = way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-9)
        any_way = directions(number, self.seed * 16 + 10) * chance(number, self.seed * 16 + 4)[:, None] * self.stray
        moving = self.speed * (way + any_way)
        turning = np.radians(self.spin) * (2 * chance(number, self.seed * 16 + 7) - 1)
        _, rows = legs(
            np.ascontiguousarray(start[:, 1]),
            np.ascontiguousarray(moving[:, 1]),
            np.ascontiguousarray(start[:, [0, 2]]),
            np.ascontiguousarray(moving[:, [0, 2]]),
            turning,
            np.full(len(at), self.life),
            self._flight(),
        )
        return Births(at, face, shares, rest, number, rows)

    def _births(self, beat: Beat, faces: NDArray[np.int32]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """(k,) the faces with births in a beat, and numbers for these: at the rate, for each metre of the band's length."""
        width = np.broadcast_to(np.asarray(beat.band, dtype=np.float64), len(beat.values)).copy()
        near, length = band_lengths(beat.places, faces, beat.values, beat.level, width)
        chances = chance(near + beat.number * 5_000_011, self.seed * 16)
        count = np.floor(self.rate * length / BEATS + chances).astype(np.int64)
        chosen = np.repeat(near, count)
        which = np.arange(len(chosen)) - np.repeat(np.cumsum(count) - count, count)
        return chosen, (beat.number * 5_000_011 + chosen) * 64 + np.minimum(which, 63)

    def _varied(self, number: NDArray[np.int64]) -> Values:
        return 1 - self.vary * chance(number, self.seed * 16 + 6)

    def _flight(self) -> Flight:
        return Flight(-self.pull, (0.0, 0.0), self.drag, -float(np.radians(self.whirl)), 0.0, 0.0, floor=False)


def _none() -> Births:
    none = np.zeros(0, dtype=np.int64)
    return Births(np.zeros(0), none, np.zeros((0, 3)), np.zeros((0, 3)), none, np.zeros((0, COLUMNS)))


def _moved(matrices: Values, places: Values) -> Values:
    """(k, 3) places, each under a matrix of its own, (k, 4, 4)."""
    return np.einsum("kxy,ky->kx", matrices[:, :3, :3], places) + matrices[:, :3, 3]


def _fading(age: Values) -> Values:
    """Sizes over a life where no curve says otherwise: soon there, then slowly gone."""
    return np.minimum(age / 0.08, 1.0) * np.sqrt(np.maximum(1 - age, 0.0))
