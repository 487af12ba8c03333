"""One picture while it is rendered: passes of light are added up, with what guides the denoiser and what is read exactly.

Loaded in the rendering process only.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.picture.hits import Hits
from windsock.picture.layers import Identity, Layers
from windsock.picture.meshes import BuiltMeshes
from windsock.picture.scene import Floats, Lens, Scene
from windsock.picture.sky import sky_towards
from windsock.picture.tracing import TracedScene

LAYERS = 6
"""How many things one behind the other are looked through."""

GUIDES = 3
"""Rays a pixel that guide the denoiser, one in each of the first passes."""

EXACT = 16
"""Rays a pixel where all passes are wanted."""

Reals = NDArray[np.float64]


class Rendering:
    """A picture being made. It may be of several moments: each pass is of the scene that was set last."""

    def __init__(self, passes: bool, built: BuiltMeshes) -> None:
        self._passes, self._built = passes, built
        self._traced: TracedScene | None = None
        self._light: Reals = np.zeros(())
        self._shown: Reals = np.zeros(())
        self._squared: Reals = np.zeros(())
        self._count = 0
        self._read = GatheredRays()
        self._middles: tuple[Floats, Floats] | None = None

    def set(self, scene: Scene) -> None:
        """Go on with another moment."""
        self._traced = TracedScene(scene, self._built)

    def add(self, most: int) -> float:
        """Add a pass of at most so many; the mean error of the picture by now, as a share of white, 1 after the first."""
        traced = self._traced
        assert traced is not None
        light = traced.beauty(self._count).astype(np.float64)
        shown = (light / (1 + light)).mean(axis=-1)
        self._light = self._light + light
        self._shown, self._squared = self._shown + shown, self._squared + shown**2
        if self._passes and self._count == 0:
            self._middles = _at_middles(traced)
        rays = EXACT if self._passes else GUIDES
        for _ in range(max(1, rays // most) if self._passes else 1):
            if self._read.count < rays:
                self._read.add(traced, self._passes)
        self._count += 1
        if self._count == 1:
            return 1.0
        mean = self._shown / self._count
        variance = np.maximum(self._squared / self._count - mean**2, 0) / (self._count - 1)
        return float(np.sqrt(variance).mean())

    def layers(self, denoised: bool) -> Layers:
        """All that was found."""
        traced = self._traced
        assert traced is not None
        scene = traced.scene
        light = np.nan_to_num(self._light / self._count, nan=0.0, posinf=1e4).astype(np.float32)
        found = self._read.found(scene)
        if denoised:
            light = _denoised(light, found.albedo, found.normal)
        behind = found.sky * np.float32(1 - scene.surroundings.strength)
        found.light = np.maximum(light + behind, 0)
        if self._middles is not None:
            found.position, found.depth = self._middles
        return found


class GatheredRays:
    """What rays through the pixels read, added up."""

    def __init__(self) -> None:
        self._sums: dict[str, Floats] = {}
        self._who: list[tuple[NDArray[np.int64], NDArray[np.int64], Floats]] = []
        self._names: dict[tuple[str, str], int] = {}
        self._sky: tuple[Lens, Floats] | None = None
        self.count = 0

    def add(self, traced: TracedScene, named: bool) -> None:
        """One ray a pixel. named: also which surfaces it meets."""
        scene, number = traced.scene, self.count
        hits = traced.hits(_spot(number), _spot(number + 7) if scene.lens.radius > 0 else (0.5, 0.5))
        towards = hits.towards
        rays = np.arange(len(towards))
        left = np.ones(len(towards), dtype=np.float32)
        for layer in range(LAYERS):
            weight = left[rays] * np.where(hits.met, _opacity(scene, hits), 0).astype(np.float32)
            self._gather(scene, hits, weight, rays, len(towards))
            if named:
                met = np.flatnonzero(weight > 0)
                self._who.append((rays[met], self._named(scene)[hits.surface[met]], weight[met]))
            left[rays] -= weight
            on = np.flatnonzero(hits.met & (left[rays] > 1e-3))
            if layer == LAYERS - 1 or len(on) == 0:
                break
            rays = rays[on]
            hits = traced.further(hits.taken(on))
        everywhere = np.arange(len(towards))
        self._put("opacity", (1 - left)[:, None], everywhere, len(towards))
        if scene.surroundings.strength != 1:
            self._put("sky", left[:, None] * self._behind(scene, towards), everywhere, len(towards))
        self.count += 1

    def _behind(self, scene: Scene, towards: Reals) -> Floats:
        """(n, 3) the sky that is behind all; it is smooth, so that of the first rays of a lens does for the others."""
        if self._sky is None or self._sky[0] != scene.lens:
            self._sky = scene.lens, sky_towards(scene.surroundings.kind, towards).astype(np.float32)
        return self._sky[1]

    def _gather(self, scene: Scene, hits: Hits, weight: Floats, rays: NDArray[np.int64], count: int) -> None:
        emission = hits.read(scene, "emission")
        if emission.any():
            emission = emission * hits.read(scene, "opacity") * (weight > 0)[:, None]
        normal = hits.read(scene, "normals")
        away = np.einsum("ij,ij->i", normal, hits.towards.astype(np.float32)) > 0
        found = {
            "emission": emission,
            "normal": np.where(away[:, None], -normal, normal) * weight[:, None],
            "albedo": np.clip(hits.read(scene, "colour") + emission, 0, 1) * weight[:, None],
        }
        for name, values in found.items():
            self._put(name, values, rays, count)

    def _put(self, name: str, values: Floats, rays: NDArray[np.int64], count: int) -> None:
        if name not in self._sums:
            self._sums[name] = np.zeros((count, values.shape[1]), dtype=np.float32)
        if len(rays) == count:
            self._sums[name] += values
        else:
            self._sums[name][rays] += values

    def found(self, scene: Scene) -> Layers:
        """The means over the rays, as pictures."""
        height, width = scene.height, scene.width

        def picture(name: str) -> Floats:
            if name not in self._sums:
                return np.zeros((height, width, 3), dtype=np.float32)
            return (self._sums[name] / np.float32(self.count)).reshape(height, width, -1)

        identity = self._identity(scene) if self._who else None
        return Layers(
            light=np.zeros((height, width, 3), dtype=np.float32),
            opacity=picture("opacity")[..., 0],
            emission=picture("emission"),
            albedo=picture("albedo"),
            normal=picture("normal"),
            sky=picture("sky"),
            identity=identity,
        )

    def _named(self, scene: Scene) -> NDArray[np.int64]:
        """(surfaces,) the number of the name of each surface: moments need not have the same surfaces."""
        names = [(one.item, one.part) for one in scene.surfaces]
        return np.array([self._names.setdefault(name, len(self._names)) for name in names], dtype=np.int64)

    def _identity(self, scene: Scene) -> Identity:
        covered = np.zeros((len(self._names), scene.width * scene.height), dtype=np.float32)
        for rays, name, weight in self._who:
            np.add.at(covered, (name, rays), weight)
        return Identity(list(self._names), covered.reshape(-1, scene.height, scene.width) / np.float32(self.count))


def _opacity(scene: Scene, hits: Hits) -> Reals:
    """(n,) how far a ray is stopped where it meets something: not at backs that are hidden."""
    opacity = np.ones(len(hits.surface))
    for number, here in hits.groups:
        surface = scene.surfaces[number]
        if not surface.fades and surface.backs != "hidden":
            continue
        own = hits.taken(here)
        value = np.clip(own.read(scene, "opacity")[:, 0], 0, 1)
        if surface.cut:
            value = np.where(value >= 0.5, 1, 0)
        if surface.backs == "hidden":
            behind = np.einsum("ij,ij->i", own.read(scene, "normals"), own.towards) > 0
            value = np.where(behind, 0, value)
        opacity[here] = value
    return opacity


def _at_middles(traced: TracedScene) -> tuple[Floats, Floats]:
    """Places and depths where the middles of the pixels are: they are not mixed between things."""
    scene = traced.scene
    hits = traced.hits((0.5, 0.5))
    rays, seen = np.arange(len(hits.surface)), hits
    for _ in range(LAYERS):
        on = np.flatnonzero(seen.met & (_opacity(scene, seen) < 0.5))
        if len(on) == 0:
            break
        rays, seen = rays[on], traced.further(seen.taken(on))
        for name in ("surface", "face", "within", "distance"):
            getattr(hits, name)[rays] = getattr(seen, name)
    shape = scene.height, scene.width
    places = np.where(hits.met[:, None], hits.places, 0).astype(np.float32).reshape(*shape, 3)
    return places, hits.depth(scene.lens.to_world).astype(np.float32).reshape(shape)


def _spot(number: int) -> tuple[float, float]:
    """A place in a unit square, one of a sequence that covers it evenly (Halton 1960)."""
    return _halton(number + 1, 2), _halton(number + 1, 3)


def _halton(number: int, base: int) -> float:
    found, part = 0.0, 1.0 / base
    while number:
        number, digit = divmod(number, base)
        found += digit * part
        part /= base
    return found


def _denoised(light: Floats, albedo: Floats, normal: Floats) -> Floats:
    """Without noise, by Open Image Denoise, led by colours and normals."""
    import pyoidn

    arrays = (np.ascontiguousarray(one, dtype=np.float32) for one in (light, albedo, normal))
    return np.asarray(pyoidn.denoise(*arrays, hdr=True), dtype=np.float32).reshape(light.shape)
