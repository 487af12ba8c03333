"""The shapes of a group as they move over the shot, copies and pieces and all, for what is touched by them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from windsock.core.evaluate.moments import scene_at
from windsock.core.evaluate.reads import Reads
from windsock.core.evaluate.results import Latest
from windsock.core.evaluate.scene import SceneAt
from windsock.core.geometry.movers import Bounds, Mover, Way, box_corners
from windsock.core.geometry.placement import Matrix, moved
from windsock.core.geometry.stance import stance_of
from windsock.core.kernels.bodies import linear_parts
from windsock.core.kernels.surface_distance import Surface
from windsock.core.kernels.touching import label_boxes
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.parts.part import Part
from windsock.core.parts.pieces_part import PiecesPart
from windsock.core.timing.parameter import KeyedVector

if TYPE_CHECKING:
    from windsock.core.evaluate.recipes import Recipes

Reals = NDArray[np.float64]
ONE = np.zeros(1, dtype=np.int64)


def movers_of(recipes: Recipes, scene: SceneAt, group: str, but: str, reads: Reads) -> list[Mover]:
    """Every part of the shapes of a group, without the item `but`, as it moves. reads: where it is noted what is looked at, now and
    later."""
    reads.note(("group", group, but), scene.answer(("group", group, but)))
    scenes = _Scenes(scene)
    found: list[Mover] = []
    for item in scene.shot.shapes_of(group):
        if item == but:
            continue
        reads.leaves[("placement", item)] = None
        for name, made in recipes.parts(scene.first().of_recipe(item), item).items():
            reads.leaves.update(made.reads.leaves)
            changes = any(scene.definitions.changes(leaf) for leaf in made.reads.leaves)
            # Copies are laid anew where what they lie on is stretched.
            laid_anew = isinstance(made.value, CopiesPart) and isinstance(scene.shape(item).scale, KeyedVector)
            if changes or laid_anew:
                found.append(_Loose(recipes, scenes, item, name, reads))
                continue
            standing = scene.first().placement(item)
            surface = _triangles(made.value, standing, None).surface
            if len(surface.faces):
                own = moved(surface.points, np.linalg.inv(standing))
                found.append(_Rigid(scene, item, Surface(own, surface.faces)))
    return found


class _Scenes:
    """The scenes at the last two moments that were asked for."""

    def __init__(self, scene: SceneAt) -> None:
        self._scene, self._latest = scene, Latest()
        self._kept: dict[float, SceneAt] = {}

    def at(self, seconds: float) -> SceneAt:
        if seconds not in self._kept:
            while len(self._kept) > 1:
                del self._kept[next(iter(self._kept))]
            self._kept[seconds] = scene_at(self._scene, seconds, self._latest)
        return self._kept[seconds]


class _Rigid:
    """A part that only moves as a whole."""

    def __init__(self, scene: SceneAt, item: str, surface: Surface) -> None:
        self._scene, self._item, self._surface = scene, item, surface
        self._corners = box_corners(*surface.box)

    def _matrix(self, seconds: float) -> Matrix:
        shot = self._scene.shot
        return self._scene.plan.placement(self._item, shot.moment(seconds * shot.rate.fps))

    def bounds(self, seconds: float) -> Bounds:
        matrix = self._matrix(seconds)
        return Bounds(ONE, moved(self._corners, matrix)[None], matrix.tobytes())

    def way(self, before: float, now: float, number: NDArray[np.int64]) -> Way:
        del number
        return _RigidWay(self._surface, self._matrix(before), self._matrix(now))


@dataclass(frozen=True, eq=False)
class _RigidWay:
    """Between two moments its points go straight."""

    surface: Surface
    first: Matrix
    last: Matrix

    def at(self, share: float) -> tuple[Surface, Matrix]:
        return self.surface, self.last if share >= 1 else self.first + (self.last - self.first) * share


@dataclass(frozen=True, eq=False)
class _Triangles:
    """Faces of bodies. label: (n,) which body each point belongs to; number: (k,) who the bodies are."""

    surface: Surface
    label: NDArray[np.int32]
    number: NDArray[np.int64]


class _Loose:
    """A part that changes, or whose bodies go their own ways."""

    def __init__(self, recipes: Recipes, scenes: _Scenes, item: str, part: str, reads: Reads) -> None:
        self._recipes, self._scenes, self._item, self._part, self._reads = recipes, scenes, item, part, reads

    def _now(self, seconds: float) -> tuple[Part, str, Matrix]:
        scene = self._scenes.at(seconds)
        made = self._recipes.parts(scene.of_recipe(self._item), self._item)[self._part]
        self._reads.leaves.update(made.reads.leaves)
        return made.value, made.key, scene.placement(self._item)

    def bounds(self, seconds: float) -> Bounds:
        part, key, matrix = self._now(seconds)
        name = (key, matrix.tobytes())
        if isinstance(part, CopiesPart):
            middles = moved(part.mesh.points, matrix)
            reach = part.copies.radius.astype(np.float64) * part.copies.size.max(axis=1, initial=0)
            there = np.flatnonzero(reach > 0)
            low, high = middles[there] - reach[there, None], middles[there] + reach[there, None]
            return Bounds(part.mesh.number[there], box_corners(low, high), name)
        made = _triangles(part, matrix, None)
        low, high = label_boxes(made.surface.points, made.label, len(made.number))
        there = np.flatnonzero(np.isfinite(low[:, 0]))
        return Bounds(made.number[there], box_corners(low[there], high[there]), name)

    def way(self, before: float, now: float, number: NDArray[np.int64]) -> Way:
        ends = [_triangles(part, matrix, number) for part, _, matrix in (self._now(before), self._now(now))]
        return _LooseWay(ends[0].surface, ends[1].surface)


@dataclass(frozen=True, eq=False)
class _LooseWay:
    first: Surface
    last: Surface

    def at(self, share: float) -> tuple[Surface, Matrix]:
        # Where other faces are there by now, they are taken as they are now.
        alike = self.first.points.shape == self.last.points.shape and np.array_equal(self.first.faces, self.last.faces)
        if share >= 1 or not alike:
            return self.last, np.eye(4)
        points = self.first.points + (self.last.points - self.first.points) * share
        return Surface(points, self.last.faces), np.eye(4)


def _triangles(part: Part, standing: Matrix, number: NDArray[np.int64] | None) -> _Triangles:
    """The faces of a part in the world, or only those of some of its bodies. standing: (4, 4) how its subject stands."""
    if isinstance(part, CopiesPart):
        return _of_copies(part, standing, number)
    mesh = part.mesh
    if not isinstance(part, PiecesPart):
        label = np.zeros(len(mesh.points), dtype=np.int32)
        return _Triangles(Surface(moved(mesh.points, standing), mesh.faces), label, ONE)
    label, numbers, faces = part.body_of_points(), part.pieces.places.number, mesh.faces
    if number is None:
        return _Triangles(Surface(moved(mesh.points, standing), faces), label, numbers)
    faces = faces[np.isin(numbers, number)[label[faces[:, 0]]]]
    used, place = np.unique(faces, return_inverse=True)
    return _Triangles(Surface(moved(mesh.points[used], standing), place.reshape(-1, 3)), label[used], numbers)


def _of_copies(part: CopiesPart, standing: Matrix, number: NDArray[np.int64] | None) -> _Triangles:
    """The same of copies, of whatever models."""
    points: list[Reals] = [np.zeros((0, 3))]
    faces: list[NDArray[np.int64]] = [np.zeros((0, 3), dtype=np.int64)]
    labels: list[NDArray[np.int32]] = [np.zeros(0, dtype=np.int32)]
    stance, before = stance_of(standing), 0
    there = part.there if number is None else part.there & np.isin(part.mesh.number, number)
    for kind, model in enumerate(part.copies.models):
        which, size = np.flatnonzero(there & (part.copies.kind == kind)), len(model.mesh.points)
        linear = linear_parts(part.copies.turn[which], part.copies.size[which])
        laid = np.einsum("kij,pj->kpi", linear, model.mesh.points.astype(np.float64))
        laid += stance.level(part.mesh.points[which])[:, None]
        points.append(moved(stance.own(laid.reshape(-1, 3)), standing))
        faces.append((model.mesh.faces[None] + (before + np.arange(len(which)) * size)[:, None, None]).reshape(-1, 3))
        labels.append(np.repeat(which, size).astype(np.int32))
        before += len(which) * size
    surface = Surface(np.concatenate(points), np.concatenate(faces))
    return _Triangles(surface, np.concatenate(labels), part.mesh.number)
