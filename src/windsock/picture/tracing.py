"""The renderer itself: Mitsuba 3 in its LLVM variant. Loaded in the rendering process only."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import drjit
import mitsuba
import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.pictures import Wrap, sampled
from windsock.picture.hits import Hits
from windsock.picture.scene import Floats, Scene, SideLook, Sun, Surface
from windsock.picture.sky import HAZE, SKIES, sky_map

mi: Any = mitsuba  # its stubs do not say that it converts
dr: Any = drjit
mi.set_variant("llvm_ad_rgb")

from windsock.picture.surface_model import LookGlow, LookSurface  # noqa: E402 - it is of the variant

mi.register_bsdf("look", LookSurface)
mi.register_emitter("look_glow", LookGlow)

SAMPLES = 4
"""Of a pixel in a pass."""

DEPTH = 10
"""Bounces at most."""

GLOWS = 1e-3
"""From this emission on a face lights what is near."""

LOOKED_THROUGH = 3
"""Clear things before what is seen whose own distance does not count for the haze."""

SUN_AWAY = 1e5
"""Metres to where a sun with a width stands."""

GLASS = 1.4
"""Index of refraction of what lets light through, as the page has it."""


@dataclass(frozen=True, eq=False)
class Shape:
    """A shape of the renderer. surface: which surface it is of, -1 for a light; faces: its faces there."""

    surface: int
    faces: NDArray[np.int64]


class HazeIntegrator(mi.SamplingIntegrator):
    """What another integrator finds, faded into the haze by how far away it is first seen, as the page fades it."""

    def __init__(self, paths: Any, scene: Scene) -> None:
        mi.SamplingIntegrator.__init__(self, mi.Properties())
        self._paths = paths
        self._colour = mi.Color3f(SKIES[scene.surroundings.kind].faded.tolist())
        axis = -scene.lens.to_world[:3, 2]
        self._axis = mi.Vector3f((axis / np.linalg.norm(axis)).tolist())
        self._place = mi.Point3f(scene.lens.to_world[:3, 3].tolist())
        self._through = any(one.fades or one.backs == "hidden" for one in scene.surfaces)

    def sample(self, scene: Any, sampler: Any, ray: Any, medium: Any = None, active: Any = True) -> Any:
        light, valid, others = self._paths.sample(scene, sampler, ray, medium, active)
        met = scene.ray_intersect(ray, active)
        for _ in range(LOOKED_THROUGH if self._through else 0):
            clear = met.bsdf().eval_null_transmission(met, met.is_valid()).x > 0.5
            onward = met.spawn_ray(ray.d)
            further = scene.ray_intersect(onward, active & met.is_valid() & clear)
            met = dr.select(met.is_valid() & clear, further, met)
        depth = dr.dot(met.p - self._place, self._axis)
        part = dr.clip((depth - HAZE[0]) / (HAZE[1] - HAZE[0]), 0, 1)
        share = dr.select(active & met.is_valid() & (met.t < 0.5 * SUN_AWAY), part * part * (3 - 2 * part), 0)
        return dr.lerp(light, self._colour, share), valid, others


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


class TracedScene:
    """A scene as the renderer has it."""

    def __init__(self, scene: Scene, built: BuiltMeshes) -> None:
        self.scene = scene
        told: dict[str, Any] = {"type": "scene", "sensor": _sensor(scene), "sky": _sky(scene)}
        shapes: list[tuple[Any, Shape]] = []
        for number, meshes in enumerate(built.of(scene.surfaces)):
            shapes.extend((made, Shape(number, faces)) for made, faces in meshes)
        for number, sun in enumerate(scene.suns):
            light = _sun(sun)
            told[f"sun{number}"] = light
            if light["type"] == "disk":
                told[f"sun{number}"] = made = mi.load_dict(light)
                shapes.append((made, Shape(-1, np.zeros(0, dtype=np.int64))))
        straight = any(one.fades or one.backs == "hidden" for one in scene.surfaces)
        paths = mi.load_dict({"type": "volpath" if straight else "path", "max_depth": DEPTH, "rr_depth": 5})
        self._integrator = HazeIntegrator(paths, scene)
        for number, (made, shape) in enumerate(shapes):
            if shape.surface >= 0:
                told[f"shape{number}"] = made
        self.made = mi.load_dict(told)
        self._numbers = np.full(1 + max((_number(made) for made, _ in shapes), default=0), -1)
        for number, (made, _) in enumerate(shapes):
            self._numbers[_number(made)] = number
        self._shapes = [shape for _, shape in shapes]
        self._faces = np.concatenate([np.zeros(0, dtype=np.int64), *(one.faces for one in self._shapes)])

    def beauty(self, seed: int) -> Floats:
        """(height, width, 3) linear light: one pass of SAMPLES for each pixel."""
        return np.array(mi.render(self.made, integrator=self._integrator, spp=SAMPLES, seed=seed))[..., :3].astype(
            np.float32
        )

    def hits(self, jitter: tuple[float, float], lens: tuple[float, float] = (0.5, 0.5)) -> Hits:
        """What a ray through each pixel meets first. jitter: where in the pixel; lens: where in the aperture, both 0..1."""
        width, height = self.scene.width, self.scene.height
        index = dr.arange(mi.UInt32, width * height)
        place = mi.Point2f(
            (mi.Float(index % width) + jitter[0]) / width, (mi.Float(index // width) + jitter[1]) / height
        )
        rays, _ = self.made.sensors()[0].sample_ray(0.0, 0.5, place, mi.Point2f(*lens))
        return self._met(rays)

    def further(self, hits: Hits) -> Hits:
        """What rays that have met something meet next."""
        gone = hits.distance * (1 + 1e-5) + 1e-5
        start = hits.origins + hits.towards * gone[:, None]
        found = self._met(mi.Ray3f(mi.Point3f(start.T), mi.Vector3f(hits.towards.T)))
        return replace(found, distance=found.distance + gone, origins=hits.origins)

    def _met(self, rays: Any) -> Hits:
        met = self.made.ray_intersect_preliminary(rays, coherent=True)
        valid = np.array(met.is_valid())
        number = np.where(valid, np.array(dr.reinterpret_array(mi.UInt32, met.shape)), 0)
        shape = np.where(valid, self._numbers[np.minimum(number, len(self._numbers) - 1)], -1)
        of = np.array([one.surface for one in self._shapes] + [-1])
        starts = np.cumsum([0] + [len(one.faces) for one in self._shapes])
        surface = of[shape]
        # Of a light, and of nothing, no face is asked for.
        place = np.where(surface >= 0, starts[shape] + np.array(met.prim_index).astype(np.int64), 0)
        face = self._faces[place] if len(self._faces) else place
        return Hits(
            surface,
            face,
            np.array(met.prim_uv).T.astype(np.float64),
            np.array(met.t).astype(np.float64),
            np.array(rays.o).T.astype(np.float64),
            np.array(rays.d).T.astype(np.float64),
        )


def _number(shape: Any) -> int:
    return int(np.array(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape)))[0])


def _sensor(scene: Scene) -> dict[str, Any]:
    matrix = scene.lens.to_world
    origin, back, up = matrix[:3, 3], matrix[:3, 2], matrix[:3, 1]
    told: dict[str, Any] = {
        "type": "perspective",
        "fov": scene.lens.degrees,
        "fov_axis": "y",
        "near_clip": 0.01,
        "far_clip": 10 * SUN_AWAY,
        "to_world": mi.ScalarTransform4f().look_at(origin.tolist(), (origin - back).tolist(), up.tolist()),
        "film": {
            "type": "hdrfilm",
            "width": scene.width,
            "height": scene.height,
            "rfilter": {"type": "box"},
            "pixel_format": "rgb",
            "component_format": "float32",
        },
        "sampler": {"type": "independent"},
    }
    if scene.lens.radius > 0:
        told |= {"type": "thinlens", "aperture_radius": scene.lens.radius, "focus_distance": scene.lens.focus}
    return told


def _sky(scene: Scene) -> dict[str, Any]:
    light = sky_map(scene.surroundings.kind) * scene.surroundings.strength
    return {"type": "envmap", "bitmap": mi.Bitmap(np.ascontiguousarray(light))}


def _sun(sun: Sun) -> dict[str, Any]:
    towards = np.array(sun.towards)
    if sun.degrees <= 0:
        light = {"type": "rgb", "value": list(sun.light)}
        return {"type": "directional", "direction": towards.tolist(), "irradiance": light}
    radius = float(np.tan(np.radians(sun.degrees / 2)) * SUN_AWAY)
    # A disc seen under so small an angle: what falls on a face is its light times the projected solid angle.
    radiance = np.array(sun.light) / (np.pi * np.sin(np.radians(sun.degrees / 2)) ** 2)
    place = -towards * SUN_AWAY
    up = [0.0, 0.0, 1.0] if abs(towards[1]) > 0.9 else [0.0, 1.0, 0.0]
    turned = mi.ScalarTransform4f().look_at(place.tolist(), [0.0, 0.0, 0.0], up)
    return {
        "type": "disk",
        "to_world": turned @ mi.ScalarTransform4f().scale([radius, radius, radius]),
        "emitter": {"type": "area", "radiance": {"type": "rgb", "value": radiance.tolist()}},
        "bsdf": {"type": "diffuse", "reflectance": {"type": "rgb", "value": 0.0}},
    }


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
    return {name: values for name, values in channels.items() if len(values) == len(surface.points) > 1}


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
    glass = _glass(surface, base)
    if float(surface.transmission.min()) >= 1:
        return mi.load_dict(glass)
    weight = read("transmission", surface.transmission)
    return mi.load_dict({"type": "blendbsdf", "weight": weight, "solid": told, "clear": glass})


def _glass(surface: Surface, base: dict[str, Any]) -> dict[str, Any]:
    """What lets light through: bent where the surface encloses a body, straight through a sheet."""
    roughness = float(surface.roughness.mean())
    if not _encloses(surface):
        return {"type": "thindielectric", "int_ior": GLASS, "specular_transmittance": base}
    told: dict[str, Any] = {"type": "dielectric", "int_ior": GLASS, "specular_transmittance": base}
    if roughness > 0.05:
        told |= {"type": "roughdielectric", "alpha": roughness**2, "distribution": "ggx"}
    return told


def _encloses(surface: Surface) -> bool:
    """Whether each edge is one of two faces, points at the same place taken for one."""
    _, same = np.unique(surface.points, axis=0, return_inverse=True)
    corners = same.ravel()[surface.faces.astype(np.int64)]
    edges = np.concatenate([corners[:, [0, 1]], corners[:, [1, 2]], corners[:, [2, 0]]])
    edges.sort(axis=1)
    _, counts = np.unique(edges[:, 0] * len(surface.points) + edges[:, 1], return_counts=True)
    return bool((counts % 2 == 0).all())


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
