"""Copies as plain meshes: for files that know no copies, and for whoever wants every face."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.frame import Frame
from windsock.core.geometry.mesh import FACE_LIMIT, LOOKS, Floats, Mesh, derived_number
from windsock.core.kernels.bodies import linear_parts
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.refusals import TooMuch


def copied_faces(frame: Frame) -> int:
    """How many faces all copies of a frame have together."""
    return sum(item.body.faces() for item in frame.draw if isinstance(item.body, CopiesPart))


def expanded(frame: Frame) -> Frame:
    """The frame with every copy as faces of its own. Raises TooMuch for more faces than a file should hold."""
    total = copied_faces(frame)
    if total > FACE_LIMIT:
        raise TooMuch(
            f"The copies have {total:,} faces together; as plain meshes up to {FACE_LIMIT:,} can be written. Nothing was "
            "written. Write a GLB that keeps them as copies, or have fewer of them."
        )
    return replace(
        frame, draw=[_expanded(item, item.body) if isinstance(item.body, CopiesPart) else item for item in frame.draw]
    )


def _expanded(item: DrawItem, part: CopiesPart) -> DrawItem:
    """One draw item of copies as a mesh in the subject's own space, without those that have no size."""
    part = part.only(part.there)
    copies, stance, model, places = part.copies, item.stance, part.model.mesh, part.mesh
    count, size = len(copies), len(model.points)
    linear = linear_parts(copies.turn, copies.size)
    points = np.einsum("kij,pj->kpi", linear, model.points.astype(np.float64)) + stance.level(places.points)[:, None]
    unsized = linear_parts(copies.turn, 1 / np.maximum(copies.size, 1e-9))
    normals = np.einsum("kij,pj->kpi", unsized, model.normals.astype(np.float64)).reshape(-1, 3)
    own = stance.own(points.reshape(-1, 3)).astype(np.float32)
    facing = normals @ stance.stretch
    facing /= np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-12)
    faces = (model.faces[None] + (np.arange(count) * size)[:, None, None]).reshape(-1, 3).astype(np.int32)
    number = derived_number(np.repeat(places.number, size), np.tile(model.number, count))
    mesh = Mesh(own, own, facing.astype(np.float32), faces, number, _tiled(model.uv, count))
    if any(getattr(places, name) is not None for name in LOOKS):
        mesh = replace(mesh, **{name: _repeated(getattr(places, name), size) for name in LOOKS})
    else:
        mesh = replace(mesh, **{name: _tiled(getattr(model, name), count) for name in LOOKS})
    if model.pictures is not None:
        mesh = replace(mesh, pictures=model.pictures.of(np.tile(model.origins(), count)))
    body = MeshPart(mesh, part.look, part.backs, part.alpha)
    heat = None if item.heat is None else np.repeat(item.heat, size)
    return replace(item, body=body, matrix=stance.own_to_world(), heat=heat, key=f"{item.key} expanded")


def _tiled(values: Floats | None, count: int) -> Floats | None:
    return None if values is None else np.tile(values, (count, *[1] * (values.ndim - 1)))


def _repeated(values: Floats | None, size: int) -> Floats | None:
    return None if values is None else np.repeat(values, size, axis=0)
