"""Feeds mutated files to a reader, in a process of its own: `python fuzzing.py KIND COUNT SEED`.

Every file must be read soundly or refused in words, each within the time that one may take. Prints how many were refused.
"""

from __future__ import annotations

import io
import random
import resource
import signal
import sys
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import trimesh
from gltf_files import as_gltf, gltf_zip, pictured_glb, png, skinned_glb

from windsock.core.geometry.clip import Clip
from windsock.core.geometry.drawing import Drawing
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal, TooMuch
from windsock.core.shapes.extrude import Extrude, build_extrude
from windsock.core.shapes.text import Text, build_text
from windsock.core.timing.parameter import Moment
from windsock.formats.font import FOLDER, Font
from windsock.formats.importing import read_file, summary
from windsock.formats.reader import Held

SECONDS = 20
CHECKS = np.array([[[255, 0, 0], [0, 0, 255]], [[0, 255, 0], [9, 9, 9]]], dtype=np.uint8)
OBJ = b"mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nvt 0 0\nvn 0 0 1\ng a\nf 1/1/1 2/1/1 3/1/1\nf 1 2 4\nf -1 -2 -3\n"
SVG = b"""<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 80" width="10cm" height="8cm">
<defs><path id="p" d="M0 0h10v10z"/></defs><style>.a{fill:#f00}</style>
<g transform="translate(10 5) rotate(30)" fill-rule="evenodd"><path class="a" d="M10 10 L40 10 40 40 Z m5 5 h10 v10 h-10 z"/>
<g stroke="blue" stroke-width="2" stroke-linejoin="round"><path d="M5 60 C20 20 40 90 60 50 S 90 40 95 60 Q 99 70 80 75 T 60 70 A 10 5 30 1 0 50 60"/></g></g>
<use href="#p" x="50" y="5"/><circle cx="70" cy="20" r="12"/><rect x="5" y="5" width="20" height="9" rx="2"/>
<polygon points="1,1 9,2 5,8"/><ellipse cx="30" cy="60" rx="8" ry="4" fill="none" stroke="#000"/></svg>"""


def numbered_zip() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as bundle:
        for number in range(3):
            bundle.writestr(f"frames/f_{number:03}.obj", OBJ.replace(b"v 0 0 1", f"v 0 0 {number}".encode()))
    return out.getvalue()


def font(kind: str) -> bytes:
    return (
        (FOLDER / "stencil.woff2").read_bytes()
        if kind == "woff2"
        else Font([(FOLDER / "stencil.woff2").read_bytes()]).files[0]
    )


WHOLE: dict[str, Callable[[], bytes]] = {
    "obj": lambda: OBJ,
    "ply": lambda: trimesh.creation.box().export(file_type="ply"),  # type: ignore[return-value]
    "stl": lambda: trimesh.creation.box().export(file_type="stl"),  # type: ignore[return-value]
    "glb": skinned_glb,
    "pictured.glb": lambda: pictured_glb([png(CHECKS)], [[0, 0], [1, 0], [1, 1], [0, 1]], laid={"texCoord": 0}),
    "gltf": lambda: as_gltf(skinned_glb()),
    "zip": numbered_zip,
    "gltf.zip": gltf_zip,
    "svg": lambda: SVG,
    "ttf": lambda: font("ttf"),
    "woff2": lambda: font("woff2"),
}


def mutated(whole: bytes, rng: random.Random) -> bytes:
    """A few bytes changed, cut out, doubled, or numbers in text made huge."""
    content = bytearray(whole)
    for _ in range(rng.randint(1, 8)):
        place = rng.randrange(len(content))
        way = rng.random()
        if way < 0.6:
            content[place] = rng.randrange(256)
        elif way < 0.75:
            del content[place : place + rng.randint(1, 40)]
        elif way < 0.9:
            content[place:place] = content[place : place + rng.randint(1, 40)]
        else:
            content[place:place] = rng.choice(
                [b"-1", b"1e309", b"nan", b"99999999999", b"\0\0", b"\xff\xff\xff\xff", b"<g>"]
            )
        if not content:
            content = bytearray(b"x")
    return bytes(content)


def use(held: Held) -> None:
    """What becomes of it next: a fault there is as bad as one in the reader."""
    summary(held)
    meshes = []
    if isinstance(held, Mesh):
        meshes = [held]
    elif isinstance(held, Clip):
        meshes = [held.at(seconds) for seconds in (0.0, held.length / 3, held.length)]
    elif isinstance(held, Font):
        meshes = [build_text(Text(words="Ab8", face_size=0.3), Moment(0, 0), held)]
    elif isinstance(held, Drawing) and held.paints:
        meshes = [build_extrude(Extrude(asset="0" * 64, face_size=0.3), Moment(0, 0), held)]
    for mesh in meshes:
        assert np.isfinite(mesh.points).all()
        assert len(mesh.faces) == 0 or (mesh.faces.min() >= 0 and mesh.faces.max() < len(mesh.points))


def main() -> None:
    kind, count, seed = sys.argv[1], int(sys.argv[2]), int(sys.argv[3])
    resource.setrlimit(resource.RLIMIT_AS, (6 * 2**30, 6 * 2**30))
    whole = WHOLE[kind]()
    kind = kind.split(".")[-1]
    use(read_file(whole, kind))
    rng = random.Random(seed)
    refused = 0
    for number in range(count):
        content = mutated(whole, rng)
        Path(sys.argv[4]).write_bytes(content)
        signal.alarm(SECONDS)
        try:
            use(read_file(content, kind))
        except (Refusal, TooMuch) as refusal:
            if not str(refusal).rstrip().endswith("."):
                raise RuntimeError(f"not a sentence: {refusal}") from None
            refused += 1
        except MemoryError:
            refused += 1
        except BaseException:
            print(f"number {number} of seed {seed}", flush=True)
            raise
        signal.alarm(0)
    print(f"{refused} of {count} refused")


if __name__ == "__main__":
    main()
