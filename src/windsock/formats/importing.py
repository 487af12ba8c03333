"""Files in: from bytes and a kind to what they hold, and what that is."""

from __future__ import annotations

import numpy as np

from windsock.core.geometry.clip import Clip
from windsock.core.geometry.drawing import Drawing
from windsock.core.geometry.mending import mended
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.panorama import Panorama
from windsock.core.refusals import Refusal
from windsock.formats.font import Font, read_font
from windsock.formats.glb_in import read_glb, read_gltf
from windsock.formats.gltf_zip import read_gltf_zip, scenes
from windsock.formats.limits import FILE_LIMIT
from windsock.formats.numbered import read_numbered
from windsock.formats.obj import read_obj
from windsock.formats.panorama import read_exr, read_hdr, read_panorama
from windsock.formats.ply import read_ply
from windsock.formats.reader import Held, Reader
from windsock.formats.stl import read_stl
from windsock.formats.svg import read_svg
from windsock.formats.zips import opened


def read_zip(content: bytes) -> Held:
    """What a zip holds: a glTF file with what it names, or numbered files. Raises Refusal."""
    return read_gltf_zip(content) if scenes(opened(content)) else read_numbered(content)


READERS: tuple[Reader, ...] = (
    Reader("obj", "OBJ", read_obj),
    Reader("glb", "GLB", read_glb),
    Reader("gltf", "glTF", read_gltf),
    Reader("ply", "PLY", read_ply),
    Reader("stl", "STL", read_stl),
    Reader("zip", "zips of numbered OBJ or PLY or of a glTF with its files", read_zip),
    Reader("svg", "SVG drawings", read_svg),
    Reader("ttf", "TTF fonts", read_font),
    Reader("otf", "OTF fonts", read_font),
    Reader("woff2", "WOFF2 fonts", read_font),
    Reader("hdr", "Radiance HDR panoramas", read_hdr),
    Reader("exr", "OpenEXR panoramas", read_exr),
    Reader("png", "PNG panoramas", read_panorama),
    Reader("jpg", "JPEG panoramas", read_panorama),
)


def what_is_read() -> str:
    """The kinds of files that are read, as people read it."""
    *others, last = [reader.called for reader in READERS]
    return f"{', '.join(others)} and {last}"


def read_file(content: bytes, kind: str) -> Held:
    """What a file holds. Raises Refusal in people's words."""
    reader = next((one for one in READERS if one.ending == kind), None)
    if reader is None:
        raise Refusal(
            f"Files of the kind “{kind}” are not read here. Nothing was imported. What is read: {what_is_read()}."
        )
    if not content:
        raise Refusal("The file is empty. Nothing was imported. Write it again from where it was made.")
    if len(content) > FILE_LIMIT:
        raise Refusal(
            f"The file is {len(content) / 2**20:.0f} MB; the limit is {FILE_LIMIT // 2**20} MB. Nothing was imported. "
            "Save it smaller and drop it again."
        )
    return reader.read(content)


def read_mesh(content: bytes, kind: str) -> Mesh:
    """The mesh of a file, as it first stands. Raises Refusal."""
    held = read_file(content, kind)
    if isinstance(held, Clip):
        return held.mesh
    if not isinstance(held, Mesh):
        raise Refusal("The file holds no faces. Nothing was imported. Choose a file of a shape.")
    return held


def open_edges(mesh: Mesh) -> int:
    """How many edges have one face alone, by place: 0 for a closed mesh."""
    _, place = np.unique(mesh.number, return_inverse=True)
    sides = np.sort(place[mesh.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)].astype(np.int64), axis=1)
    _, count = np.unique(sides[:, 0] * (int(place.max(initial=0)) + 1) + sides[:, 1], return_counts=True)
    return int((count == 1).sum())


def summary(held: Held) -> dict[str, object]:
    """What people want to know of an imported file: what it is, counts, and its size in the file's units."""
    if isinstance(held, Font):
        return {"sort": "font"}
    if isinstance(held, Drawing):
        low, high = held.bounds() if held.paints else (np.zeros(2), np.zeros(2))
        return {
            "sort": "drawing",
            "low": [*low.tolist(), 0.0],
            "high": [*high.tolist(), 0.0],
            "paints": len(held.paints),
            "lines": len(held.strokes),
            "notes": held.notes,
        }
    if isinstance(held, Panorama):
        height, width = held.light.shape[:2]
        return {"sort": "panorama", "wide": width, "tall": height}
    if isinstance(held, Clip):
        return _mesh_summary(held.mesh) | {"moments": len(held.seconds), "seconds": held.length}
    return _mesh_summary(held)


def _mesh_summary(mesh: Mesh) -> dict[str, object]:
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    _, flaws = mended(mesh)
    return {
        "sort": "mesh",
        "flaws": vars(flaws),
        "faces": len(mesh.faces),
        "points": len(mesh.points),
        "low": low.tolist(),
        "high": high.tolist(),
        "has_uv": mesh.uv is not None,
        "has_colour": mesh.colour is not None,
        "pictures": 0 if mesh.pictures is None else len(mesh.pictures.images),
        "measures": list(mesh.measures),
        "open_edges": open_edges(mesh),
        "doubled_points": len(mesh.points) - len(np.unique(mesh.number)),
    }
