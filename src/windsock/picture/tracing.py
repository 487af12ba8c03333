"""A scene in the renderer: its lens and light, paths of light through it, and rays that read it exactly.

Loaded in the rendering process only.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from windsock.picture.hits import Hits
from windsock.picture.meshes import BuiltMeshes
from windsock.picture.quality import SAMPLES_A_PASS
from windsock.picture.scene import Floats, Lamp, Scene, Sun, Surroundings
from windsock.picture.sky import HAZE, SKIES, sky_map
from windsock.picture.variant import dr, mi

DEPTH = 10
"""Bounces at most."""

LOOKED_THROUGH = 3
"""Clear things before what is seen whose own distance does not count for the haze."""

LAYERS = 6
"""How many things one behind the other are looked through."""

LAMP = -2
"""Stands for the surface of a lamp."""

BEHIND = 64
"""Sides, one behind the other, of what is not seen itself that are gone through."""

THIN = 1e-3
"""Metres that an area is at least wide and high; a ball that is smaller is a point."""

SUN_AWAY = 1e5
"""Metres to where a sun with a width stands."""


@dataclass(frozen=True, eq=False)
class Shape:
    """A shape of the renderer. surface: which surface it is of, -1 for a sun, LAMP for a lamp; faces: its faces there."""

    surface: int
    faces: NDArray[np.int64]


class HazeIntegrator(mi.SamplingIntegrator):
    """What another integrator finds, faded into the haze by how far away it is first seen, as the page fades it."""

    def __init__(
        self, paths: Any, scene: Scene, hidden: NDArray[np.bool_], flat: Mapping[float, NDArray[np.bool_]]
    ) -> None:
        """hidden: by the renderer's own numbers of shapes, which are not seen by themselves. flat: which are seen as one light all over,
        by that light."""
        mi.SamplingIntegrator.__init__(self, mi.Properties())
        self._paths = paths
        self._flat = {light: mi.Bool(which) for light, which in flat.items() if which.any()}
        self._hidden = mi.Bool(hidden) if hidden.any() else None
        self._colour = mi.Color3f(SKIES[scene.surroundings.kind].faded.tolist())
        axis = -scene.lens.to_world[:3, 2]
        self._axis = mi.Vector3f((axis / np.linalg.norm(axis)).tolist())
        self._place = mi.Point3f(scene.lens.to_world[:3, 3].tolist())
        # Values that are not spelled out in a kernel: it would be compiled anew for each frame.
        dr.make_opaque(self._colour, self._axis, self._place)
        told = scene.surroundings
        self._backdrop = Backdrop(scene) if told.strength != 1 or told.behind is not None else None
        self._through = any(one.fades or one.backs == "hidden" for one in scene.surfaces)

    def sample(self, scene: Any, sampler: Any, ray: Any, medium: Any = None, active: Any = True) -> Any:
        if self._hidden is not None:
            ray = _reaching(mi.RayDifferential3f(ray), scene, self._hidden, active)
        light, valid, others = self._paths.sample(scene, sampler, ray, medium, active)
        met = scene.ray_intersect(ray, active)
        if self._backdrop is not None:
            light = self._backdrop.behind(light, self._unmet(scene, ray, met, active), met, ray)
        for _ in range(LOOKED_THROUGH if self._through else 0):
            clear = met.bsdf().eval_null_transmission(met, met.is_valid()).x > 0.5
            onward = met.spawn_ray(ray.d)
            further = scene.ray_intersect(onward, active & met.is_valid() & clear)
            met = dr.select(met.is_valid() & clear, further, met)
        depth = dr.dot(met.p - self._place, self._axis)
        part = dr.clip((depth - HAZE[0]) / (HAZE[1] - HAZE[0]), 0, 1)
        share = dr.select(active & met.is_valid() & (met.t < 0.5 * SUN_AWAY), part * part * (3 - 2 * part), 0)
        light = dr.lerp(light, self._colour, share)
        for shade, which in self._flat.items():
            number = dr.reinterpret_array(mi.UInt32, met.shape)
            own = active & met.is_valid()
            light = dr.select(own & dr.gather(mi.Bool, which, number, own), mi.Color3f(shade), light)
        return light, valid, others

    def _unmet(self, scene: Any, ray: Any, met: Any, active: Any) -> Any:
        """How much of what is behind all comes through what a ray meets."""
        left = mi.Float(1)
        for _ in range(LAYERS if self._through else 0):
            on = active & met.is_valid()
            left = dr.select(on, left * met.bsdf().eval_null_transmission(met, on).x, left)
            met = dr.select(on & (left > 0), scene.ray_intersect(met.spawn_ray(ray.d), on & (left > 0)), met)
        return dr.select(active & (~met.is_valid() | (met.t > 0.5 * SUN_AWAY)), left, 0)


class Backdrop:
    """What is seen behind all in place of the light that comes from there: the sky at a strength of 1, or a colour."""

    def __init__(self, scene: Scene) -> None:
        self._sky = mi.load_dict(_sky(scene.surroundings, 1.0))
        self._strength = mi.Float(scene.surroundings.strength)
        colour = scene.surroundings.behind
        self._colour = None if colour is None else mi.Color3f(list(colour))
        dr.make_opaque(self._strength, self._colour)

    def behind(self, light: Any, left: Any, met: Any, ray: Any) -> Any:
        """Light of rays with what is behind all exchanged, by how much of that comes through. met: what rays meet first."""
        seen = dr.zeros(mi.SurfaceInteraction3f)
        seen.wi = -ray.d
        sky = self._sky.eval(seen)
        if self._colour is None:
            return light + left * (1 - self._strength) * sky
        # What is seen of a sun goes too.
        light = dr.select(met.is_valid() & (met.t > 0.5 * SUN_AWAY), self._strength * sky, light)
        return light + left * (self._colour - self._strength * sky)


class TracedScene:
    """A scene as the renderer has it."""

    def __init__(self, scene: Scene, built: BuiltMeshes) -> None:
        self.scene = scene
        told: dict[str, Any] = {
            "type": "scene",
            "sensor": _sensor(scene),
            "sky": _sky(scene.surroundings, scene.surroundings.strength),
        }
        shapes: list[tuple[Any, Shape]] = []
        for number, meshes in enumerate(built.of(scene.surfaces)):
            shapes.extend((made, Shape(number, faces)) for made, faces in meshes)
        for number, sun in enumerate(scene.suns):
            light = _sun(sun)
            told[f"sun{number}"] = light
            if light["type"] == "disk":
                told[f"sun{number}"] = made = mi.load_dict(light)
                shapes.append((made, Shape(-1, np.zeros(0, dtype=np.int64))))
        for number, lamp in enumerate(scene.lamps):
            light = _lamp(lamp)
            told[f"lamp{number}"] = light
            if light["type"] != "point":
                told[f"lamp{number}"] = made = mi.load_dict(light)
                shapes.append((made, Shape(LAMP, np.zeros(0, dtype=np.int64))))
        straight = any(one.fades or one.backs == "hidden" for one in scene.surfaces)
        paths = mi.load_dict({"type": "volpath" if straight else "path", "max_depth": DEPTH, "rr_depth": 5})
        for number, (made, shape) in enumerate(shapes):
            if shape.surface >= 0:
                told[f"shape{number}"] = made
        self.made = mi.load_dict(told)
        self._numbers = np.full(1 + max((_number(made) for made, _ in shapes), default=0), -1)
        for number, (made, _) in enumerate(shapes):
            self._numbers[_number(made)] = number
        self._shapes = [shape for _, shape in shapes]
        # By the renderer's own numbers, which shapes are not seen by themselves.
        roles = ["unseen" if shape.surface == LAMP else self._role(shape) for _, shape in shapes]

        def those(*wanted: str) -> NDArray[np.bool_]:
            found = np.zeros(len(self._numbers), dtype=bool)
            found[[_number(made) for (made, _), role in zip(shapes, roles, strict=True) if role in wanted]] = True
            return found

        self._integrator = HazeIntegrator(
            paths, scene, those("unseen", "glow_only"), {0.0: those("held_out"), 1.0: those("matte")}
        )
        # What glows only is met by rays that read, for its glow.
        self._gone_through = np.array(
            [LAMP, *(number for number, one in enumerate(scene.surfaces) if one.role == "unseen")]
        )
        self._goes_through = "unseen" in roles
        self._faces = np.concatenate([np.zeros(0, dtype=np.int64), *(one.faces for one in self._shapes)])

    def _role(self, shape: Shape) -> str:
        return self.scene.surfaces[shape.surface].role if shape.surface >= 0 else "shown"

    def beauty(self, seed: int, samples: int = SAMPLES_A_PASS) -> Floats:
        """(height, width, 3) linear light of so many samples a pixel."""
        made = mi.render(self.made, integrator=self._integrator, spp=samples, seed=seed)
        return np.array(made)[..., :3].astype(np.float32)

    def hits(self, jitter: tuple[float, float], lens: tuple[float, float] = (0.5, 0.5)) -> Hits:
        """What a ray through each pixel meets first. jitter: where in the pixel; lens: where in the aperture, both 0..1."""
        height, width = self.scene.rendered_size
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
        """What rays meet first of what is seen itself."""
        hits = self._first(rays)
        for _ in range(BEHIND if self._goes_through else 0):
            behind = np.flatnonzero(np.isin(hits.surface, self._gone_through))
            if len(behind) == 0:
                break
            gone = hits.distance[behind] * (1 + 1e-5) + 1e-5
            start = hits.origins[behind] + hits.towards[behind] * gone[:, None]
            further = self._first(mi.Ray3f(mi.Point3f(start.T), mi.Vector3f(hits.towards[behind].T)))
            for name in ("surface", "face", "within"):
                getattr(hits, name)[behind] = getattr(further, name)
            hits.distance[behind] = further.distance + gone
        return hits

    def _first(self, rays: Any) -> Hits:
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


def _reaching(ray: Any, scene: Any, hidden: Any, active: Any) -> Any:
    """A ray that goes on behind what it meets of what is not seen by itself."""

    def goes_on(start: Any, on: Any, count: Any) -> Any:
        del start
        return on & (count < BEHIND)

    def onward(start: Any, on: Any, count: Any) -> Any:
        here = mi.Ray3f(start, ray.d)
        met = scene.ray_intersect_preliminary(here, active=on)
        number = dr.reinterpret_array(mi.UInt32, met.shape)
        gone = on & met.is_valid() & dr.gather(mi.Bool, hidden, number, on & met.is_valid())
        return dr.select(gone, here(met.t * (1 + 1e-5) + 1e-5), start), gone, count + 1

    ray.o, _, _ = dr.while_loop((ray.o, mi.Bool(active), mi.UInt32(0)), goes_on, onward)
    return ray


def _number(shape: Any) -> int:
    return int(np.array(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape)))[0])


def _sensor(scene: Scene) -> dict[str, Any]:
    matrix = scene.lens.to_world
    cut: dict[str, Any] = {}
    if scene.region is not None:
        height, width = scene.rendered_size
        offset = {"crop_offset_x": scene.region[0], "crop_offset_y": scene.region[1]}
        cut = {"crop_width": width, "crop_height": height} | offset
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
        }
        | cut,
        "sampler": {"type": "independent"},
    }
    if scene.lens.radius > 0:
        told |= {"type": "thinlens", "aperture_radius": scene.lens.radius, "focus_distance": scene.lens.focus}
    return told


def _sky(told: Surroundings, strength: float) -> dict[str, Any]:
    # The renderer's pictures of all round begin ahead, a panorama's middle is there.
    own = (
        sky_map(told.kind)
        if told.light is None
        else np.roll(told.light.astype(np.float32), told.light.shape[1] // 2, axis=1)
    )
    light = mi.Bitmap(np.ascontiguousarray(own))
    turned = mi.ScalarTransform4f().rotate([0, 1, 0], told.turn)
    return {"type": "envmap", "bitmap": light, "scale": strength, "to_world": turned}


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


def _lamp(lamp: Lamp) -> dict[str, Any]:
    matrix = np.array(lamp.matrix).reshape(4, 4)
    light = np.array(lamp.light)
    if lamp.across is None and lamp.radius < THIN:
        intensity = {"type": "rgb", "value": light.tolist()}
        return {"type": "point", "position": matrix[:3, 3].tolist(), "intensity": intensity}
    if lamp.across is None:
        # A ball of radiance L has the intensity L pi r^2 to all sides.
        shape: dict[str, Any] = {"type": "sphere", "center": matrix[:3, 3].tolist(), "radius": lamp.radius}
        radiance = light / (np.pi * lamp.radius**2)
    else:
        wide, high = (max(one, THIN) for one in lamp.across)
        place, turned = np.eye(4), matrix[:3, :3] / np.linalg.norm(matrix[:3, :3], axis=0)
        # The renderer's rectangle faces its +Z.
        place[:3, :3], place[:3, 3] = turned @ np.diag([-wide / 2, high / 2, -1.0]), matrix[:3, 3]
        shape = {"type": "rectangle", "to_world": mi.ScalarTransform4f(place)}
        radiance = light / (wide * high)
    return shape | {
        "emitter": {"type": "area", "radiance": {"type": "rgb", "value": radiance.tolist()}},
        "bsdf": {"type": "diffuse", "reflectance": {"type": "rgb", "value": 0.0}},
    }
