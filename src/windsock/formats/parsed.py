"""What a file holds, once read: as one plain archive of arrays that can be loaded without trusting it."""

from __future__ import annotations

import json
from dataclasses import fields
from io import BytesIO
from pathlib import Path
from typing import Any

import numpy as np

from windsock.core.geometry.clip import Clip, Pose
from windsock.core.geometry.drawing import Drawing, Paint, Stroke
from windsock.core.geometry.mesh import OPTIONAL, Mesh
from windsock.core.geometry.panorama import Panorama
from windsock.core.geometry.pictures import Picture, Pictures
from windsock.formats.font import Font
from windsock.formats.pictures import pixels_of
from windsock.formats.reader import Held

ARRAYS = ("points", "rest", "normals", "faces", "number", *OPTIONAL)


def store(held: Held, path: Path) -> None:
    """Write what a file holds."""
    arrays: dict[str, np.ndarray] = {}
    header: dict[str, Any]
    if isinstance(held, Mesh):
        header = {"sort": "mesh", "mesh": _mesh_out(held, "m", arrays)}
    elif isinstance(held, Clip):
        header = {"sort": "clip", "mesh": _mesh_out(held.mesh, "m", arrays), "poses": len(held.poses)}
        header["meshes"] = [_mesh_out(mesh, f"m{place}", arrays) for place, mesh in enumerate(held.meshes)]
        arrays["seconds"] = held.seconds
        for place, pose in enumerate(held.poses):
            arrays[f"p{place}"], arrays[f"n{place}"] = pose
    elif isinstance(held, Drawing):
        header = {"sort": "drawing", "notes": held.notes, "paints": [], "strokes": []}
        for place, paint in enumerate(held.paints):
            header["paints"].append([len(paint.region), paint.colour])
            arrays |= {f"r{place}.{row}": outline for row, outline in enumerate(paint.region)}
        for place, stroke in enumerate(held.strokes):
            header["strokes"].append(stroke.closed)
            arrays[f"s{place}"] = stroke.curves
    elif isinstance(held, Panorama):
        header = {"sort": "panorama"}
        arrays["light"] = held.light
    else:
        header = {"sort": "font"}
        arrays |= {f"f{place}": np.frombuffer(one, dtype=np.uint8) for place, one in enumerate(held.files)}
        header["files"] = len(held.files)
    arrays["told"] = np.frombuffer(json.dumps(header).encode(), dtype=np.uint8)
    with path.open("wb") as file:
        np.savez(file, allow_pickle=False, **arrays)


def restored(path: Path) -> Held:
    """Read what `store` has written."""
    with np.load(BytesIO(path.read_bytes()), allow_pickle=False) as held:
        arrays = {name: held[name] for name in held.files}
    header = json.loads(arrays["told"].tobytes())
    if header["sort"] == "mesh":
        return _mesh_in(header["mesh"], "m", arrays)
    if header["sort"] == "clip":
        mesh = _mesh_in(header["mesh"], "m", arrays)
        poses = tuple(Pose(arrays[f"p{place}"], arrays[f"n{place}"]) for place in range(header["poses"]))
        meshes = tuple(_mesh_in(one, f"m{place}", arrays) for place, one in enumerate(header["meshes"]))
        return Clip(mesh, arrays["seconds"], poses, meshes)
    if header["sort"] == "drawing":
        paints = [
            Paint([arrays[f"r{place}.{row}"] for row in range(count)], None if colour is None else tuple(colour))
            for place, (count, colour) in enumerate(header["paints"])
        ]
        strokes = [Stroke(arrays[f"s{place}"], closed) for place, closed in enumerate(header["strokes"])]
        return Drawing(paints, strokes, header["notes"])
    if header["sort"] == "panorama":
        return Panorama(arrays["light"])
    return Font([arrays[f"f{place}"].tobytes() for place in range(header["files"])])


def _mesh_out(mesh: Mesh, prefix: str, arrays: dict[str, np.ndarray]) -> dict[str, Any]:
    given = {field.name: getattr(mesh, field.name) for field in fields(mesh) if field.name in ARRAYS}
    there = {name: values for name, values in given.items() if values is not None}
    arrays |= {f"{prefix}.{name}": values for name, values in there.items()}
    arrays |= {f"{prefix}.measure{place}": values for place, values in enumerate(mesh.measures.values())}
    header: dict[str, Any] = {"arrays": list(there), "measures": list(mesh.measures), "pictures": []}
    if mesh.pictures is not None:
        arrays[f"{prefix}.shown"] = mesh.pictures.shown
        for place, image in enumerate(mesh.pictures.images):
            arrays[f"{prefix}.picture{place}"] = image.content
            header["pictures"].append([image.kind, image.wrap, image.alpha])
    return header


def _mesh_in(header: dict[str, Any], prefix: str, arrays: dict[str, np.ndarray]) -> Mesh:
    given: dict[str, Any] = {name: arrays[f"{prefix}.{name}"] for name in header["arrays"]}
    measures = {name: arrays[f"{prefix}.measure{place}"] for place, name in enumerate(header["measures"])}
    pictures = None
    if header["pictures"]:
        images = [
            Picture(pixels_of(content := arrays[f"{prefix}.picture{place}"]), content, kind, tuple(wrap), alpha)
            for place, (kind, wrap, alpha) in enumerate(header["pictures"])
        ]
        pictures = Pictures(tuple(images), arrays[f"{prefix}.shown"])
    return Mesh(**given, pictures=pictures, measures=measures)
