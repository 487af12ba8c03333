"""Small scenes, and the renderer in this process: what is measured is the light itself."""

from __future__ import annotations

import os
from glob import glob

import numpy as np

from windsock.picture.quality import Quality
from windsock.picture.renderer import LLVM
from windsock.picture.scene import Lens, Scene, Sun, Surface, Surroundings

os.environ.setdefault("DRJIT_LIBLLVM_PATH", (glob(LLVM) or [""])[0])

# Looks along -Z from 10 m.
AHEAD = (1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 10, 0, 0, 0, 1)


def ahead(degrees: float = 30.0, **more) -> Lens:
    return Lens(tuple(float(one) for one in AHEAD), degrees, **more)


def surface(points, faces, normals=None, **looks) -> Surface:
    """Triangles with a matt look, or what is given."""
    points = np.asarray(points, dtype=np.float32)
    faces = np.asarray(faces, dtype=np.uint32)
    if normals is None:
        corners = points[faces[0]]
        normals = np.tile(np.cross(corners[1] - corners[0], corners[2] - corners[0]), (len(points), 1))
        normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    told = {
        "colour": [[0.5, 0.5, 0.5]],
        "roughness": [1.0],
        "metallic": [0.0],
        "transmission": [0.0],
        "opacity": [1.0],
        "emission": [[0.0, 0.0, 0.0]],
    }
    names = {"item": "thing", "part": "body", "backs": "shown", "cut": False}
    names |= {name: looks.pop(name) for name in list(looks) if name in names}
    arrays = {name: np.asarray(values, dtype=np.float32) for name, values in (told | looks).items()}
    return Surface(points=points, normals=np.asarray(normals, np.float32), faces=faces, **names, **arrays)


def sheet(size=1.0, z=0.0, middle=(0.0, 0.0), **looks) -> Surface:
    """A square that faces +Z, so many metres wide."""
    half, (x, y) = size / 2, middle
    corners = [(x - half, y - half, z), (x + half, y - half, z), (x + half, y + half, z), (x - half, y + half, z)]
    return surface(corners, [(0, 1, 2), (0, 2, 3)], **looks)


def ball(radius=1.0, **looks) -> Surface:
    """A smooth sphere about the origin."""
    import trimesh

    made = trimesh.creation.icosphere(subdivisions=4, radius=radius)
    return surface(made.vertices, made.faces, made.vertices / radius, **looks)


def scene(*surfaces: Surface, lens: Lens | None = None, suns: tuple[Sun, ...] = (), sky=0.0, size=(64, 64)) -> Scene:
    return Scene(*size, lens or ahead(), surfaces, suns, Surroundings("day", sky))


def rendered(one: Scene, passes=4, denoised=False, exact=False, built=None, quality=None):
    """The layers of a scene."""
    from windsock.picture.meshes import BuiltMeshes
    from windsock.picture.rendering import Rendering

    rendering = Rendering(quality or Quality(passes=exact), built or BuiltMeshes())
    rendering.set(one)
    for _ in range(passes):
        rendering.add(passes)
    return rendering.layers(denoised)
