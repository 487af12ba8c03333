"""A scene in the renderer: its lens and light, paths of light through it, and rays that read it exactly.

Loaded in the rendering process only.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from windsock.picture.hits import Hits
from windsock.picture.meshes import BuiltMeshes
from windsock.picture.quality import SAMPLES_A_PASS
from windsock.picture.scene import Floats, Scene, Sun
from windsock.picture.sky import HAZE, SKIES, sky_map
from windsock.picture.variant import dr, mi

DEPTH = 10
"""Bounces at most."""

LOOKED_THROUGH = 3
"""Clear things before what is seen whose own distance does not count for the haze."""

SUN_AWAY = 1e5
"""Metres to where a sun with a width stands."""


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
        """(height, width, 3) linear light: one pass."""
        return np.array(mi.render(self.made, integrator=self._integrator, spp=SAMPLES_A_PASS, seed=seed))[
            ..., :3
        ].astype(np.float32)

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
