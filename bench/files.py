"""Files: a large OBJ in, a frame as GLB out."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import trimesh

from bench.evaluating import fresh
from bench.measuring import Bench, clocked, side_by_side
from windsock.core.document.shot import parse_shot
from windsock.formats.importing import read_file
from windsock.writers.glb_out import write_glb

MILLION = 10**6


def large_obj() -> bytes:
    """A wavy sheet of a million faces."""
    side = int((MILLION / 2) ** 0.5)
    x, z = np.meshgrid(np.linspace(0, 1, side + 1), np.linspace(0, 1, side + 1))
    places = np.stack([x, np.sin(9 * x) * np.cos(7 * z) / 9, z], axis=-1).reshape(-1, 3)
    corner = (np.arange(side)[:, None] * (side + 1) + np.arange(side)).ravel() + 1
    lower = np.stack([corner, corner + side + 1, corner + side + 2], axis=1)
    upper = np.stack([corner, corner + side + 2, corner + 1], axis=1)
    lines = [f"v {a:.6f} {b:.6f} {c:.6f}" for a, b, c in places.tolist()]
    lines += [f"f {a} {b} {c}" for a, b, c in np.concatenate([lower, upper]).tolist()]
    return ("\n".join(lines) + "\n").encode()


def import_1m() -> Bench:
    content = large_obj()
    ours = clocked(lambda: read_file(content, "obj"))
    reference = clocked(lambda: trimesh.load_scene(BytesIO(content), file_type="obj", process=False))
    mine, theirs = side_by_side(ours, reference, rounds=3)
    return Bench(
        "import-1m", mine, theirs, 1.5, "an OBJ of a million faces read and checked, against trimesh's reader alone"
    )


def export_glb() -> Bench:
    shape = {
        "kind": "shape",
        "name": "Ball",
        "rank": 0,
        "geometry": {"kind": "sphere", "build": "latitude", "segments": 320, "rings": 157},
    }
    shot = parse_shot({"name": "Ball", "items": {"ball": shape}})
    frame = fresh().frame(shot, 0)
    mesh = frame.draw[0].body.mesh
    with TemporaryDirectory() as folder:
        path = Path(folder) / "out"

        def plain() -> None:
            with path.open("wb") as file:
                for array in (mesh.points, mesh.normals, mesh.uv, mesh.faces):
                    if array is not None:
                        array.tofile(file)

        ours = clocked(lambda: path.write_bytes(write_glb(shot, frame)))
        mine, theirs = side_by_side(ours, clocked(plain))
    told = f"a frame of {len(mesh.faces):,} faces as GLB, against the same arrays written to a file"
    return Bench("export-glb", mine, theirs, 6, told)
