"""From a scene as trimesh reads it to one mesh of ours."""

from __future__ import annotations

from dataclasses import replace
from io import BytesIO

import numpy as np
import trimesh
from numpy.typing import NDArray
from trimesh.visual import ColorVisuals

from windsock.core.geometry.mesh import FACE_LIMIT, Mesh, smooth_normals
from windsock.core.geometry.pictures import Pictures
from windsock.core.kernels.srgb import decoded
from windsock.core.refusals import Refusal

PLAIN_PROPERTIES = {"x", "y", "z", "nx", "ny", "nz", "red", "green", "blue", "alpha", "s", "t", "u", "v"}
"""What a PLY file says of points that is not a number of its own."""

MOST_MEASURES = 32
"""Numbers of its own that a file may give to each point; further ones are left out."""


def read_scene(content: bytes, kind: str, keeps_normals: bool, colour_is_linear: bool) -> Mesh:
    """All triangle geometry of a file in one mesh, with the scene's transforms applied.

    keeps_normals: the file gives normals; otherwise they are smoothed. Raises Refusal for what cannot be read.
    """
    try:
        scene = trimesh.load_scene(BytesIO(content), file_type=kind, process=False)
        pieces = [_piece(scene, node, keeps_normals, colour_is_linear) for node in scene.graph.nodes_geometry]
    except MemoryError:
        raise
    except Exception as fault:  # noqa: BLE001 - the reader raises nearly anything on broken files
        raise Refusal(
            f"The file could not be read as {kind.upper()} ({type(fault).__name__}). Nothing was imported. "
            "Write it again from where it was made, and drop it here."
        ) from None
    pieces = [piece for piece in pieces if piece is not None]
    if not pieces:
        raise Refusal("The file holds no faces. Nothing was imported. Write it with its surfaces as faces.")
    return checked(joined(pieces), keeps_normals)


def _piece(scene: trimesh.Scene, node: str, keeps_normals: bool, colour_is_linear: bool) -> Mesh | None:
    matrix, name = scene.graph[node]
    geometry = scene.geometry[name]
    if not isinstance(geometry, trimesh.Trimesh) or len(geometry.faces) == 0:
        return None
    points = trimesh.transform_points(geometry.vertices, matrix).astype(np.float32)
    faces = np.asarray(geometry.faces, dtype=np.int32)
    if np.linalg.det(matrix[:3, :3]) < 0:
        faces = faces[:, ::-1]
    normals = np.zeros_like(points)
    if keeps_normals:
        turned = np.asarray(geometry.vertex_normals) @ np.linalg.inv(matrix[:3, :3])
        length = np.linalg.norm(turned, axis=1, keepdims=True)
        normals = np.where(length > 0, turned / np.maximum(length, 1e-12), (0, 1, 0)).astype(np.float32)
    uv = getattr(geometry.visual, "uv", None)
    return Mesh(
        points=points,
        rest=points,
        normals=normals,
        faces=faces,
        number=np.arange(len(points), dtype=np.int64),
        uv=None if uv is None or len(uv) != len(points) else np.asarray(uv, dtype=np.float32),
        colour=_colours(geometry, len(points), colour_is_linear),
        measures=_measures(geometry, len(points)),
    )


def _measures(geometry: trimesh.Trimesh, count: int) -> dict[str, NDArray[np.float32]]:
    """The numbers of its own that a file gives to points, by name; one for each component where there are several."""
    found: dict[str, NDArray[np.float32]] = {}
    raw = geometry.metadata.get("_ply_raw", {}).get("vertex", {}).get("data", {})
    names = raw.dtype.names or () if isinstance(raw, np.ndarray) else tuple(raw)
    own = {name: raw[name] for name in names if name not in PLAIN_PROPERTIES}
    for name, held in sorted({**own, **geometry.vertex_attributes}.items()):
        array = np.asarray(held)
        plain = "".join(letter for letter in str(name).lstrip("_").lower() if letter.isprintable())[:60]
        if not plain or len(array) != count or array.dtype.kind not in "fiu" or array.ndim > 2:
            continue
        columns = array.reshape(count, -1)
        for place in range(min(columns.shape[1], 4)):
            title = plain if columns.shape[1] == 1 else f"{plain} {place + 1}"
            found[title] = np.nan_to_num(columns[:, place].astype(np.float32), posinf=0, neginf=0)
    return dict(list(found.items())[:MOST_MEASURES])


def _colours(geometry: trimesh.Trimesh, count: int, linear: bool) -> NDArray[np.float32] | None:
    visual = geometry.visual
    if isinstance(visual, ColorVisuals) and visual.kind == "vertex":
        found = np.asarray(visual.vertex_colors, dtype=np.float64)[:, :3] / 255
        return (found if linear else decoded(found)).astype(np.float32)
    held = getattr(visual, "vertex_attributes", {}).get("color")
    if held is not None and len(held) == count:
        found = np.asarray(held, dtype=np.float64)[:, :3]
        return (found / 255 if held.dtype.kind in "ui" else found).astype(np.float32)
    material = getattr(visual, "material", None)
    base = getattr(material, "baseColorFactor", None)
    if base is None:
        return None
    return np.tile(decoded(np.asarray(base, dtype=np.float64)[:3] / 255), (count, 1)).astype(np.float32)


def joined(pieces: list[Mesh]) -> Mesh:
    """Pieces as one mesh; what only some of them have is filled in."""
    starts = np.cumsum([0] + [len(piece.points) for piece in pieces[:-1]])
    points = np.concatenate([piece.points for piece in pieces])

    def together(arrays: list[NDArray[np.float32] | None], columns: int, missing: float) -> NDArray[np.float32] | None:
        if all(array is None for array in arrays):
            return None
        return np.concatenate(
            [
                np.full((len(piece.points), columns), missing, dtype=np.float32) if array is None else array
                for piece, array in zip(pieces, arrays, strict=True)
            ]
        )

    return Mesh(
        points=points,
        rest=points,
        normals=np.concatenate([piece.normals for piece in pieces]),
        faces=np.concatenate([piece.faces + int(start) for piece, start in zip(pieces, starts, strict=True)]).astype(
            np.int32
        ),
        number=np.arange(len(points), dtype=np.int64),
        uv=together([piece.uv for piece in pieces], 2, 0.0),
        colour=together([piece.colour for piece in pieces], 3, np.nan),
        pictures=_pictures(pieces),
        measures={
            name: np.concatenate(
                [piece.measures.get(name, np.zeros(len(piece.points), np.float32)) for piece in pieces]
            )
            for name in sorted({name for piece in pieces for name in piece.measures})[:MOST_MEASURES]
        },
    )


def _pictures(pieces: list[Mesh]) -> Pictures | None:
    """The pictures of all pieces, each once."""
    images = list(dict.fromkeys(image for piece in pieces if piece.pictures for image in piece.pictures.images))
    shown = [
        np.full(len(piece.faces), -1, dtype=np.int32)
        if piece.pictures is None
        else np.array([*map(images.index, piece.pictures.images), -1], dtype=np.int32)[piece.pictures.shown]
        for piece in pieces
    ]
    return Pictures(tuple(images), np.concatenate(shown)) if images else None


def checked(mesh: Mesh, keeps_normals: bool) -> Mesh:
    """The mesh with sound normals and a number for each place. Raises Refusal for places and faces that cannot be."""
    wrong = int((~np.isfinite(mesh.points).all(axis=1)).sum())
    if wrong:
        raise Refusal(
            f"{wrong:,} points of the file have places that are not numbers. Nothing was imported. Mend the file and drop it again."
        )
    if np.abs(mesh.points).max() > 1e7:
        raise Refusal(
            "The file has points more than ten million units from its origin. Nothing was imported. Move or scale it before writing it."
        )
    if len(mesh.faces) > FACE_LIMIT:
        raise Refusal(
            f"The file has {len(mesh.faces):,} faces; the limit is {FACE_LIMIT:,}. Nothing was imported. Reduce it before writing it."
        )
    if mesh.faces.min() < 0 or mesh.faces.max() >= len(mesh.points):
        raise Refusal(
            "Faces of the file name points that it does not have. Nothing was imported. Write it again from where it was made."
        )
    number = place_numbers(mesh.points)
    normals = mesh.normals if keeps_normals else smooth_normals(mesh.points, mesh.faces, number)
    normals = np.where(np.isfinite(normals), normals, np.float32(0)).astype(np.float32)
    return replace(mesh, rest=mesh.points, normals=normals, number=number)


def place_numbers(points: NDArray[np.float32]) -> NDArray[np.int64]:
    """(n,) a number for each place, the same for points that coincide, in the order in which places come first.

    Places are told apart by a hash of their bits, which sorts ten times as fast as rows; where two places should ever
    share one, by the rows themselves.
    """
    bits = np.ascontiguousarray(points + np.float32(0)).view(np.uint32).astype(np.uint64)
    key = bits[:, 0] * np.uint64(0x9E3779B97F4A7C15) ^ bits[:, 1] * np.uint64(0xC2B2AE3D27D4EB4F)
    key = (key ^ (key >> np.uint64(31))) * np.uint64(0xD6E8FEB86659FD93) + bits[:, 2] * np.uint64(0x165667B19E3779F9)
    _, first, place = np.unique(key, return_index=True, return_inverse=True)
    if not np.array_equal(points[first][place], points):
        _, first, place = np.unique(points, axis=0, return_index=True, return_inverse=True)
    rank = np.empty(len(first), dtype=np.int64)
    rank[np.argsort(first)] = np.arange(len(first))
    return rank[place.ravel()]
