"""Surfaces as the renderer's meshes and materials. Loaded in the rendering process only."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.enclosing import encloses
from windsock.core.kernels.pictures import Wrap, sampled
from windsock.picture.glass_model import LookGlass, RoughSheet
from windsock.picture.scene import Floats, SideLook, Surface
from windsock.picture.surface_model import LookGlow, LookSurface
from windsock.picture.variant import mi

mi.register_bsdf("look", LookSurface)
mi.register_bsdf("look_glass", LookGlass)
mi.register_bsdf("rough_sheet", RoughSheet)
mi.register_emitter("look_glow", LookGlow)

GLOWS = 1e-3
"""From this emission on a face lights what is near."""

SMOOTH = 0.05
"""Up to this roughness what lets light through is as smooth as a mirror."""


class BuiltMeshes:
    """The renderer's meshes of the surfaces of the last scene: what is the same in the next one is not built again."""

    def __init__(self) -> None:
        self._kept: dict[str, list[tuple[Any, NDArray[np.int64]]]] = {}

    def of(self, surfaces: Sequence[Surface]) -> list[list[tuple[Any, NDArray[np.int64]]]]:
        """Those of each surface, with the faces that they have; what only the scene before had is let go of."""
        names = [surface.content for surface in surfaces]
        before, self._kept = self._kept, {}
        for name, surface in zip(names, surfaces, strict=True):
            if name not in self._kept:
                self._kept[name] = before.get(name) or _meshes(surface)
        return [self._kept[name] for name in names]


def _meshes(surface: Surface) -> list[tuple[Any, NDArray[np.int64]]]:
    """The renderer's meshes of a surface, each with the faces that it has: those that glow are of their own."""
    if surface.cut:
        surface, origins = _opaque_faces(surface)
    else:
        origins = np.arange(len(surface.faces))
    if len(surface.faces) == 0:
        return []
    emission = _of_points(surface.emission * surface.opacity[:, None], len(surface.points))
    glows = (emission.max(axis=1) > GLOWS)[surface.faces].any(axis=1)
    made: list[tuple[Any, NDArray[np.int64]]] = []
    if not glows.all():
        made.append((_mesh(surface, np.flatnonzero(~glows), None), origins[~glows]))
    if glows.any():
        made.append((_mesh(surface, np.flatnonzero(glows), emission), origins[glows]))
    return made


def _opaque_faces(surface: Surface) -> tuple[Surface, NDArray[np.int64]]:
    opacity = _of_points(surface.opacity, len(surface.points))
    kept = np.flatnonzero(opacity[surface.faces].mean(axis=1) >= 0.5)
    return replace(surface, faces=surface.faces[kept], opacity=np.ones(1, dtype=np.float32)), kept


def _of_points(values: Floats, count: int) -> Floats:
    return values if len(values) == count else np.broadcast_to(values, (count, *values.shape[1:]))


def _mesh(surface: Surface, faces: NDArray[np.int64], emission: Floats | None) -> Any:
    """Some faces of a surface. emission: (n, 3) what its points give off, or None."""
    corners = surface.faces[faces]
    if emission is None:
        used, corners = np.unique(corners, return_inverse=True)
        corners = corners.reshape(-1, 3)
        # The renderer counts v from the top of a picture.
        laid = surface.pixels is not None or surface.mask is not None
        uv = surface.uv[used] * [1, -1] + [0, 1] if laid and surface.uv is not None else None
    else:
        # Each face has texels of its own for what it gives off.
        used, corners = corners.ravel(), np.arange(corners.size).reshape(-1, 3)
        uv = _texel_places(len(faces))
        surface = _of_its_points(surface)
    attributes = {name: np.ascontiguousarray(values[used]) for name, values in _varying(surface).items()}
    properties = mi.Properties()
    properties["bsdf"] = _bsdf(surface, set(attributes))
    if emission is not None:
        light = {"type": "look_glow", "radiance": _texels(emission[used].reshape(-1, 3, 3))}
        if surface.backs != "shown":
            own = [0.0, 0.0, 0.0] if surface.backs == "hidden" else surface.backs.emission.tolist()
            light["behind"] = {"type": "rgb", "value": own}
        properties["emitter"] = mi.load_dict(light)
    made = mi.Mesh(
        "mesh",
        len(used),
        len(corners),
        has_vertex_normals=True,
        has_vertex_texcoords=uv is not None,
        props=properties,
    )
    for name, values in attributes.items():
        made.add_attribute(name, values.size // len(used), values.ravel())
    told = mi.traverse(made)
    told["vertex_positions"] = surface.points[used].ravel()
    told["vertex_normals"] = surface.normals[used].ravel()
    told["faces"] = np.ascontiguousarray(corners, dtype=np.uint32).ravel()
    if uv is not None:
        told["vertex_texcoords"] = np.ascontiguousarray(uv, dtype=np.float32).ravel()
    told.update()
    return made


def _of_its_points(surface: Surface) -> Surface:
    """The same with what pictures show of it taken at its points."""
    if surface.uv is None or (surface.pixels is None and surface.mask is None):
        return surface
    colour, opacity = surface.colour, surface.opacity
    if surface.pixels is not None:
        colour = sampled(surface.pixels, surface.uv, surface.wrap).astype(np.float32)
    if surface.mask is not None:
        opacity = (opacity * sampled(surface.mask, surface.uv, surface.wrap)[:, 0]).astype(np.float32)
    return replace(surface, colour=colour, opacity=opacity, pixels=None, mask=None)


def _varying(surface: Surface) -> dict[str, Floats]:
    """What differs from point to point, by the name that the renderer reads it under."""
    channels = {
        "vertex_base": surface.colour if surface.pixels is None else surface.colour[:1],
        "vertex_roughness": surface.roughness,
        "vertex_metallic": surface.metallic,
        "vertex_opacity": surface.opacity,
        "vertex_transmission": surface.transmission,
    }
    if surface.through:
        channels["vertex_alpha"] = _alpha(surface.roughness)
    return {name: values for name, values in channels.items() if len(values) == len(surface.points) > 1}


def _alpha(roughness: Floats) -> Floats:
    """The width of GGX of roughnesses, as glTF has it."""
    return np.square(np.maximum(roughness, SMOOTH)).astype(np.float32)


def _bsdf(surface: Surface, varying: set[str]) -> Any:
    def read(name: str, values: Floats) -> dict[str, Any]:
        if f"vertex_{name}" in varying:
            return {"type": "mesh_attribute", "name": f"vertex_{name}"}
        value = values[0].tolist()
        return {"type": "rgb", "value": value if isinstance(value, list) else float(value)}

    base = read("base", surface.colour) if surface.pixels is None else _picture(surface.pixels, surface.wrap)
    told: dict[str, Any] = {
        "type": "look",
        "base": base,
        "roughness": read("roughness", surface.roughness),
        "metallic": read("metallic", surface.metallic),
        "backs": surface.backs if isinstance(surface.backs, str) else "own",
    }
    if isinstance(surface.backs, SideLook):
        behind = surface.backs
        told["back_base"] = {"type": "rgb", "value": behind.colour.tolist()}
        told["back_roughness"] = {"type": "rgb", "value": behind.roughness}
        told["back_metallic"] = {"type": "rgb", "value": behind.metallic}
    if surface.mask is not None:
        told["opacity"] = _picture(surface.mask * surface.opacity.mean(), surface.wrap)
    elif surface.fades:
        told["opacity"] = read("opacity", surface.opacity)
    if not surface.through:
        return mi.load_dict(told)
    alpha = read("alpha", _alpha(surface.roughness))
    glass = _glass(surface, base, told["roughness"], alpha)
    if float(surface.transmission.min()) >= 1:
        return mi.load_dict(glass)
    weight = read("transmission", surface.transmission)
    return mi.load_dict({"type": "blendbsdf", "weight": weight, "solid": told, "clear": glass})


def _glass(surface: Surface, base: dict[str, Any], roughness: dict[str, Any], alpha: dict[str, Any]) -> dict[str, Any]:
    """What lets light through: bent where the surface encloses a body, straight through a sheet."""
    inside, smooth = surface.inside, float(surface.roughness.max()) <= SMOOTH
    body = encloses(surface.points, surface.faces)
    # The renderer takes no index of exactly 1.
    clear: dict[str, Any] = {"int_ior": max(inside.index, 1.0001)}
    if not body and not smooth:
        clear |= {"type": "rough_sheet", "roughness": roughness}
    else:
        clear |= {"type": "dielectric" if body else "thindielectric", "ext_ior": 1.0}
    if body and not smooth:
        clear |= {"type": "roughdielectric", "alpha": alpha, "distribution": "ggx"}
    thickness = -1.0 if body else inside.thickness
    return {"type": "look_glass", "clear": clear, "base": base, "thickness": thickness, "index": inside.index} | {
        "left": {"type": "rgb", "value": list(inside.left)}
    }


def _picture(pixels: Floats, wrap: tuple[Wrap, Wrap]) -> dict[str, Any]:
    """A picture as the renderer reads it; it has one way beyond the edge, that along u."""
    return {
        "type": "bitmap",
        "bitmap": mi.Bitmap(np.ascontiguousarray(pixels)),
        "raw": True,
        "wrap_mode": wrap[0],
    }


# Four texels a face: the three corners, and what makes the light between them a plane.


def _side(faces: int) -> int:
    return int(np.ceil(np.sqrt(max(faces, 1))))


def _texel_places(faces: int) -> Floats:
    """(3 faces, 2) the u,v of the corners of each face, from the middle of one of its texels to that of another."""
    side = _side(faces)
    row, column = np.divmod(np.arange(faces), side)
    corner = np.stack([2 * column + 0.5, 2 * row + 0.5], axis=-1)[:, None] + np.array([[0, 0], [1, 0], [0, 1]])
    u, v = corner[..., 0] / (2 * side), corner[..., 1] / (2 * side)
    return np.stack([u, v], axis=-1).reshape(-1, 2).astype(np.float32)


def _texels(light: Floats) -> dict[str, Any]:
    """What each face gives off at its corners, (m, 3, 3), as a picture that `_texel_places` leads to."""
    side = _side(len(light))
    held = np.zeros((side, 2, side, 2, 3), dtype=np.float32)
    row, column = np.divmod(np.arange(len(light)), side)
    held[row, 0, column, 0], held[row, 0, column, 1], held[row, 1, column, 0] = light[:, 0], light[:, 1], light[:, 2]
    held[row, 1, column, 1] = np.maximum(light[:, 1] + light[:, 2] - light[:, 0], 0)
    return _picture(held.reshape(2 * side, 2 * side, 3), ("clamp", "clamp"))
