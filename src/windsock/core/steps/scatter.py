"""Scatter: lays copies of shapes over the subject, staying stuck to a moving surface.

Places are drawn on the shape at rest, uncut; each is found again on what the steps before have left of the mesh
(kernels/laying.py), so that copies ride along and go with what is cut away.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import Declared, Id, ItemId, PartId, Quantity, Rank, about, in_order
from windsock.core.fields.elements import Values
from windsock.core.fields.zones import Zone
from windsock.core.geometry.mesh import NO_FACES, OPTIONAL, Mesh, Mixture
from windsock.core.geometry.placement import moved
from windsock.core.geometry.sites import sites_within
from windsock.core.geometry.solution import Solution
from windsock.core.geometry.sowing import (
    GOLDEN,
    PACKED,
    apart,
    apart_within,
    cubes_about,
    on_edges,
    on_faces,
    on_points,
)
from windsock.core.geometry.stance import Stance
from windsock.core.kernels.affine import linear
from windsock.core.kernels.areas import face_areas
from windsock.core.kernels.bodies import facing_turns, leaning_turns
from windsock.core.kernels.chance import chance, drawn
from windsock.core.kernels.laying import found_again, laid
from windsock.core.kernels.nearest import nearest_points
from windsock.core.look import Look
from windsock.core.parts.copies import Copies, Model
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.parts.part import Part
from windsock.core.refusals import TooMuch
from windsock.core.shapes.forms import Form, form_mesh
from windsock.core.steps.given import DrivenSetting, SolveInputs, StepInputs
from windsock.core.steps.step import SolvedStep, WeightedStep
from windsock.core.timing.parameter import KeyedNumber, NumberParameter

COPY_LIMIT = 1_000_000
COPY_FACES = 24_000_000
"""Faces that all copies of a step may have together."""

COPY_BYTES, SECONDS_A_COPY = 700, 2.5e-6
"""For each copy: where it is laid, how it stands, and what is made on the way; measured on two cores."""

SECONDS_WITHIN = 3e-4
"""Measured on two cores, for each place in a volume that is filled by spacing."""

CUBE_LIMIT = 10_000_000
"""Cubes of `apart_within` over the box of a shape, of which about 1,000,000 places fill a seventh."""

COPY_LOOK = Look(base_colour="#D8D2C3", roughness=0.6)


@dataclass(frozen=True, eq=False)
class CopyPlaces:
    """Where copies are laid. mesh: k points without faces; along: (k, 3) directions along the surface, and up: off it, in
    the level space; upright: (k, 4) turns that stand them on it, where that is asked; chances: six numbers by chance for
    each."""

    mesh: Mesh
    along: Values
    up: Values
    upright: Values | None
    chances: tuple[Values, ...]

    @property
    def nbytes(self) -> int:
        upright = 0 if self.upright is None else self.upright.nbytes
        held = self.mesh.nbytes + self.along.nbytes + self.up.nbytes + upright
        return held + sum(one.nbytes for one in self.chances)


class CopiedShape(Declared):
    """A shape that copies are made of, and how large its share of them is."""

    rank: Rank
    shape: ItemId
    share: Annotated[float, Quantity("Its share of the copies", low=0, high=1000, drag=0.01)] = 1.0


@dataclass(frozen=True, eq=False)
class CopySites(Solution):
    """Places on the shape at rest: face: (k,) and shares: (k, 3); or in it: places (k, 3) in its own space, for which there are
    no faces. number: (k,) of each."""

    face: NDArray[np.int64]
    shares: Values
    places: Values
    number: NDArray[np.int64]


class Scatter(WeightedStep, SolvedStep):
    """Lay copies over the part, as a part of their own.

    By count, or by the least distance between two. The field's weight is how dense they are: a copy is there where the
    weight is over its own chance, and comes in over `soft` of the weight. Size, length, turn and lift may each be ruled by
    a field of its own, whose weight counts for the whole setting. Copies stand with +Y along the surface's normal, the
    path, towards a controller, or as the world's axes lie.
    """

    says = "Lays copies over the shape"
    wish = "Make more on it"

    kind: Literal["scatter"] = "scatter"
    solution: ClassVar[type[Solution]] = CopySites
    zone: Zone = "value"
    makes: Annotated[PartId, Field(description="The part that the copies are")] = "copies"
    what: Annotated[Form | Literal["shapes"], Field(description="What they are copies of")] = "flakes"
    shapes_of: Annotated[
        dict[Id, CopiedShape], Field(max_length=16, description="The shapes, where they are of shapes")
    ] = {}
    on_what: Annotated[
        Literal["faces", "points", "edges", "volume", "path"], Field(description="Where they are laid")
    ] = "faces"
    path: Annotated[ItemId | None, Field(description="The path they are laid along, or stand along")] = None
    by: Annotated[Literal["count", "spacing"], Field(description="How many there are")] = "count"
    count: Annotated[NumberParameter, Quantity("How many copies", low=0, high=COPY_LIMIT, drag=10, whole=True)] = 2000
    spacing: Annotated[float, Quantity("Least distance between two", unit="m", low=1e-4, high=1e4, drag=0.001)] = 0.1
    soft: Annotated[float, Quantity("Share of the weight over which one comes in", low=0, high=1, drag=0.005)] = 0.1
    size: Annotated[NumberParameter, Quantity("How long a copy is", unit="m", low=0, high=1e4, drag=0.001)] = 0.06
    times: Annotated[NumberParameter, Quantity("How many times as large as the shape", unit="×", low=0, high=1e4)] = 1.0
    length: Annotated[NumberParameter, Quantity("Stretched along its own Y", unit="×", low=0, high=1e3)] = 1.0
    vary: Annotated[NumberParameter, Quantity("Up to so much smaller, by chance", low=0, high=1, drag=0.005)] = 0.3
    turn: Annotated[NumberParameter, Quantity("Turned about its own Y by up to", unit="°", low=0, high=360, drag=1)] = (
        180.0
    )
    tilt: Annotated[NumberParameter, Quantity("Tilted by up to", unit="°", low=0, high=180, drag=0.5)] = 10.0
    lift: Annotated[NumberParameter, Quantity("Lifted off the surface", unit="m", low=-1e4, high=1e4, drag=0.001)] = 0.0
    stand: Annotated[
        Literal["normal", "path", "controller", "world"], Field(description="What its own Y points along")
    ] = "normal"
    controller: Annotated[ItemId | None, Field(description="The controller that copies look towards")] = None
    size_by: DrivenSetting | None = None
    length_by: DrivenSetting | None = None
    turn_by: DrivenSetting | None = None
    lift_by: DrivenSetting | None = None
    look: Annotated[Look, Field(description="The look of copies of forms")] = COPY_LOOK
    seed: Annotated[int, Quantity("Which of the chances", low=0, high=999_999, drag=0.1, whole=True)] = 1

    def made(self) -> str:
        return self.makes

    def items(self) -> tuple[str, ...]:
        path = self.paths()
        return (*path, self.controller) if self.stand == "controller" and self.controller else path

    def copying(self, shapes: list[str]) -> tuple[str, dict[str, JsonValue]] | None:
        used = {one.shape for one in self.shapes_of.values()}
        free = next((shape for shape in shapes if shape not in used), None)
        rank = max((one.rank for one in self.shapes_of.values()), default=-1) + 1
        return None if free is None else ("shapes_of", {"rank": rank, "shape": free})

    def shapes(self) -> tuple[str, ...]:
        return tuple(one.shape for one in self.shapes_of.values()) if self.what == "shapes" else ()

    def fields(self) -> tuple[str, ...]:
        ruled = (self.size_by, self.length_by, self.turn_by, self.lift_by)
        return tuple(one.field for one in ruled if one is not None)

    def held(self, faces: int) -> tuple[int, float]:
        del faces
        copies = self._most() if self.by == "count" else min(COPY_LIMIT, 100_000)
        return copies * COPY_BYTES, copies * SECONDS_A_COPY

    def solving(self, mesh: Mesh, lasts: float) -> float:
        del lasts
        if self.on_what != "volume" or self.by != "spacing" or len(mesh.points) == 0:
            return 0.0
        size = np.ptp(mesh.points.astype(np.float64), axis=0)
        return SECONDS_WITHIN * 0.74 * float(size.prod()) / self.spacing**3

    def paths(self) -> tuple[str, ...]:
        return (self.path,) if self.path and "path" in (self.on_what, self.stand) else ()

    def solve(self, given: SolveInputs) -> CopySites:
        """Where copies are laid on the shape at rest, as it is and stands at the first frame."""
        mesh, stance = given.at_start().mesh, given.stance_at_start()
        level, faces = stance.level(mesh.points), mesh.faces
        if self.on_what == "path" or len(faces) == 0:
            none = np.zeros(0, dtype=np.int64)
            return CopySites(none, np.zeros((0, 3)), np.zeros((0, 3)), none)
        if self.on_what == "volume":
            return self._sown_within(mesh, level, stance)
        if self.by == "spacing":
            self._refuse_crowd(level, faces)
            sown = apart(level, faces, self.spacing, COPY_LIMIT, self.seed)
        elif self.on_what == "points":
            sown = on_points(mesh, self._most(), self.seed)
        elif self.on_what == "edges":
            sown = on_edges(level, mesh, self._most(), self.seed)
        else:
            sown = on_faces(level, faces, self._most(), self.seed)
        return CopySites(sown.face, sown.shares, np.zeros((0, 3)), sown.number)

    def _most(self) -> int:
        """How many copies there are at most over the shot."""
        return int(max(self.count.numbers())) if isinstance(self.count, KeyedNumber) else int(self.count)

    @classmethod
    def sized(cls, size: float) -> dict[str, JsonValue]:
        return {"size": about(size, 0.04), "spacing": about(size, 0.03)}

    @property
    def follows_faces(self) -> bool:
        return False

    @property
    def makes_copies(self) -> bool:
        return True

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The copies. Where they lie and what chance gives them is kept while only fields and looks change."""
        stance, at = given.stance, given.at
        places, key = given.once("places", Scatter._places)
        mesh = places.mesh
        weight = given.weigh_step(mesh, key)
        weight = np.full(len(mesh.points), at(self.amount)) if weight is None else weight * at(self.amount)
        over = weight - places.chances[0]
        # Where nothing thins them all are there, the last ones too.
        share = np.where(weight >= 1, 1.0, np.clip(over / self.soft, 0, 1) if self.soft > 0 else over > 0)
        copies = self._stood(places, share, key, given, stance)
        self._refuse_heavy(copies)
        return CopiesPart(self._lifted(places, key, given, stance), self.look, "hidden", copies=copies)

    def _places(self, part: Part, given: StepInputs) -> CopyPlaces:
        off = self.on_what in ("volume", "path")
        laid_on, along = self._off_surface(part.mesh, given) if off else self._on_surface(part.mesh, given)
        return self._placed(laid_on, along, given.stretch)

    def _placed(self, mesh: Mesh, along: Values, stance: Stance) -> CopyPlaces:
        up = stance.level_directions(mesh.normals)
        upright = facing_turns(up, linear(along, stance.stretch)) if self.stand == "normal" else None
        return CopyPlaces(
            mesh, along, up, upright, tuple(chance(mesh.number, self.seed * 32 + one) for one in range(1, 7))
        )

    def _sown_within(self, mesh: Mesh, level: Values, stance: Stance) -> CopySites:
        if self.by == "spacing":
            self._refuse_crowd_within(level)
            places = apart_within(level, mesh.faces, self.spacing, COPY_LIMIT + 1, self.seed)
            if len(places) > COPY_LIMIT:
                raise self._too_many(self.spacing * 1.1)
        else:
            places = sites_within(level, mesh.faces, self._most(), self.seed, None)
        number = np.arange(len(places))
        return CopySites(number[:0], np.zeros((0, 3)), stance.own(places), number)

    def _refuse_crowd_within(self, level: Values) -> None:
        cubes = cubes_about(level, self.spacing)
        if cubes > CUBE_LIMIT:
            raise self._too_many(self.spacing * (cubes / CUBE_LIMIT) ** (1 / 3))

    def _too_many(self, fits: float) -> TooMuch:
        return TooMuch(
            f"Copies {self.spacing:g} m apart would be more than {COPY_LIMIT:,}. Nothing was changed. "
            f"{fits * 1.02:.2g} m apart would fit."
        )

    def _refuse_crowd(self, level: Values, faces: NDArray[np.int32]) -> None:
        area = float(face_areas(level.astype(np.float32), faces).sum())
        if area * PACKED / self.spacing**2 > COPY_LIMIT:
            raise self._too_many((area * PACKED / COPY_LIMIT) ** 0.5)

    def _refuse_heavy(self, copies: Copies) -> None:
        """Copies are drawn one by one, so that their faces count, though they are held only once."""
        each = np.array([len(model.mesh.faces) for model in copies.models] or [0])
        total = int(each[copies.kind].sum()) if len(each) and len(copies) else 0
        if total > COPY_FACES:
            raise TooMuch(
                f"The copies would have {total:,} faces together; up to {COPY_FACES:,} can be drawn. Nothing was changed. "
                f"Have at most {int(COPY_FACES / max(int(each.max()), 1)):,} of them, or a lighter shape."
            )

    def _on_surface(self, mesh: Mesh, given: StepInputs) -> tuple[Mesh, Values]:
        """The places that are left, as a mesh without faces, and (k, 3) directions along the surface."""
        sown, made = cast(CopySites, given.solution), given.subject.mesh
        face, shares, number = sown.face, sown.shares, sown.number
        there = face < len(made.faces)
        if self.by == "count" and self.on_what != "points":
            there &= number < given.at(self.count)
        face, shares, number = face[there], shares[there], number[there]
        if mesh.origin is not None:
            places = np.einsum("kc,kcx->kx", shares, made.rest[made.faces[face]])
            face, shares = found_again(places, face, mesh.rest, mesh.faces, mesh.origin)
            left = face >= 0
            face, shares, number = face[left], shares[left], number[left]
        corners = mesh.faces[face]
        points, rest, normals, along = laid(corners, shares, mesh.points, mesh.rest, mesh.normals)
        laid_on = Mixture(corners.astype(np.int64), shares)
        uv = None if mesh.uv is None else laid_on.carried(mesh.uv.astype(np.float64)).astype(np.float32)
        none, descent = mesh.faces[:0], (*mesh.descent, laid_on)
        return Mesh(points, rest, normals, none, number, uv, descent=descent, origin=NO_FACES), along

    def _off_surface(self, mesh: Mesh, given: StepInputs) -> tuple[Mesh, Values]:
        """The same for places in the shape or along a path; each moves and is measured with the nearest point of the mesh."""
        if len(mesh.points) == 0:
            return mesh.taken(np.zeros(0, dtype=np.int64)), np.zeros((0, 3))
        if self.on_what == "path":
            places, number, along = self._along(given)
        else:
            sown = cast(CopySites, given.solution)
            places, number = sown.places, sown.number
            there = number < given.at(self.count) if self.by == "count" else np.ones(len(number), dtype=bool)
            places, number = places[there], number[there]
            along = np.broadcast_to([1.0, 0.0, 0.0], places.shape)
        near = nearest_points(places, mesh.rest)
        corners = near[:, None]
        made = replace(mesh, **dict.fromkeys(OPTIONAL)).mixed(corners, np.ones((len(near), 1)), number)
        shift = 0 if self.on_what == "path" else mesh.points[near] - mesh.rest[near]
        points = (places + shift).astype(np.float32)
        normals = (
            made.normals if self.on_what == "volume" else np.tile(np.array([0, 1, 0], dtype=np.float32), (len(near), 1))
        )
        return replace(made, points=points, rest=places.astype(np.float32), normals=normals), along

    def _along(self, given: StepInputs) -> tuple[Values, NDArray[np.int64], Values]:
        """(k, 3) places along the path in the subject's space, their numbers, and the path's direction there."""
        if self.path is None:
            return np.zeros((0, 3)), np.zeros(0, dtype=np.int64), np.zeros((0, 3))
        line = moved(given.course(self.path).places, given.placement(self.path))
        length = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
        if self.by == "spacing":
            number = np.arange(min(int(length[-1] / self.spacing) + 1, COPY_LIMIT))
            at = number * self.spacing
        else:
            number = np.arange(int(given.at(self.count)))
            at = (number * GOLDEN % 1.0) * length[-1]
        step = np.clip(np.searchsorted(length, at, "right"), 1, len(length) - 1)
        way = line[step] - line[step - 1]
        places = np.stack([np.interp(at, length, line[:, axis]) for axis in range(3)], axis=1)
        back = np.linalg.inv(given.matrix)
        return moved(places, back), number, way @ back[:3, :3].T

    def _stood(self, places: CopyPlaces, share: Values, key: str, given: StepInputs, stance: Stance) -> Copies:
        at, mesh = given.at, places.mesh
        _, smaller, round_, lean, way, which = places.chances
        models = self._models(given)
        kind = self._kinds(which)
        base = at(self.times) if self.what == "shapes" and self.shapes_of else at(self.size)
        size = base * (1 - at(self.vary) * smaller) * share * self._by(self.size_by, mesh, key, given)
        sizes = np.repeat(size.astype(np.float32)[:, None], 3, axis=1)
        sizes[:, 1] *= at(self.length) * self._by(self.length_by, mesh, key, given)
        angle = np.radians(at(self.turn)) * (2 * round_ - 1) * self._by(self.turn_by, mesh, key, given)
        upright = self._upright(places, given, stance)
        turn = leaning_turns(upright, np.radians(at(self.tilt)) * lean, 2 * np.pi * way, angle)
        radius = np.array([np.linalg.norm(model.mesh.points, axis=1).max(initial=0) for model in models])[kind]
        return Copies(turn, sizes, radius.astype(np.float32), kind, models)

    def _by(self, driven: DrivenSetting | None, mesh: Mesh, key: str, given: StepInputs) -> Values | float:
        return 1.0 if driven is None or len(mesh.points) == 0 else given.weigh(driven, mesh, key)

    def _models(self, given: StepInputs) -> tuple[Model, ...]:
        if self.what == "shapes" and self.shapes_of:
            return tuple(given.model(one.shape) for _, one in in_order(self.shapes_of))
        return (Model(form_mesh("flakes" if self.what == "shapes" else self.what), self.look, "hidden"),)

    def _kinds(self, which: Values) -> NDArray[np.int32]:
        """(k,) which model each is a copy of, by its chance and the shares."""
        if self.what != "shapes" or len(self.shapes_of) < 2:
            return np.zeros(len(which), dtype=np.int32)
        shares = np.array([one.share for _, one in in_order(self.shapes_of)])
        return drawn(shares, which).astype(np.int32)

    def _upright(self, places: CopyPlaces, given: StepInputs, stance: Stance) -> Values:
        """(k, 4) turns in the level space that stand copies up."""
        if places.upright is not None:
            return places.upright
        mesh, up, across = places.mesh, places.up, linear(places.along, stance.stretch)
        if self.stand == "world":
            back = np.ascontiguousarray(stance.turn.T)
            return np.broadcast_to(facing_turns(back[:, 1][None], back[:, 0][None]), (len(across), 4))
        if self.stand == "controller" and self.controller is not None:
            towards = (given.placement(self.controller)[:3, 3] - stance.place) @ stance.turn
            up = towards - stance.level(mesh.points)
        if self.stand == "path" and self.path is not None:
            up, across = self._path_ways(mesh, given, stance), up
        return facing_turns(np.ascontiguousarray(up), np.ascontiguousarray(across))

    def _path_ways(self, mesh: Mesh, given: StepInputs, stance: Stance) -> Values:
        """(k, 3) the path's direction, in the level space, where it is nearest to each copy."""
        assert self.path is not None
        line = moved(given.course(self.path).places, given.placement(self.path))
        line = (line - stance.place) @ stance.turn
        near = nearest_points(stance.level(mesh.points), line)
        after = np.minimum(near + 1, len(line) - 1)
        return line[after] - line[after - 1]

    def _lifted(self, places: CopyPlaces, key: str, given: StepInputs, stance: Stance) -> Mesh:
        lift, mesh = given.at(self.lift), places.mesh
        if lift == 0 or len(mesh.points) == 0:
            return mesh
        height = np.broadcast_to(lift * self._by(self.lift_by, mesh, key, given), len(mesh.points))
        raised = stance.level(mesh.points) + places.up * height[:, None]
        return replace(mesh, points=stance.own(raised).astype(np.float32))
