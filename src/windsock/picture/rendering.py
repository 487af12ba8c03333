"""One picture while it is rendered: passes of light are added up, with what guides the denoiser and what is read exactly.

Loaded in the rendering process only.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from windsock.picture.hits import Hits
from windsock.picture.layers import Identity, Layers, Named
from windsock.picture.meshes import BuiltMeshes
from windsock.picture.quality import SAMPLES_A_PASS, Quality
from windsock.picture.scene import Floats, Scene, SeenAs
from windsock.picture.tracing import LAYERS, TracedScene

GUIDES = 3
"""Rays a pixel that guide the denoiser, one in each of the first passes."""

EXACT = 16
"""Rays a pixel where all passes are wanted."""

LARGE, LARGE_PARTS = 400_000, 2
"""A pass of more pixels than that is made in so many parts: it is stopped between them."""

ENDLESS = 1e7
"""Metres to what is behind all, where it is asked how that moves."""

MOST_LAYERS = 32
"""How many things one behind the other are looked through where some are not seen themselves."""

Reals = NDArray[np.float64]


class Unwanted(Exception):
    """Nobody waits for this picture any more."""


class Rendering:
    """A picture being made. It may be of several moments: each pass is of the scene that was set last."""

    def __init__(self, quality: Quality, built: BuiltMeshes) -> None:
        self._quality, self._built = quality, built
        self._traced: TracedScene | None = None
        self._light: Reals = np.zeros(())
        self._shown: Reals = np.zeros(())
        self._squared: Reals = np.zeros(())
        self._count = 0
        self._read = GatheredRays()
        self._middles: tuple[Floats, Floats, Floats | None] | None = None

    def set(self, scene: Scene) -> None:
        """Go on with another moment."""
        self._traced = TracedScene(scene, self._built)

    def add(self, most: int, unwanted: Callable[[], bool] = lambda: False) -> float:
        """Add a pass of at most so many; the mean error of the picture by now, as a share of white, 1 after the first. unwanted:
        asked now and then whether nobody waits for it any more. Raises Unwanted."""
        traced = self._traced
        assert traced is not None
        light = np.zeros(())
        parts = LARGE_PARTS if np.prod(traced.scene.rendered_size) > LARGE else 1
        for part in range(parts):
            light = light + traced.beauty(parts * self._count + part, SAMPLES_A_PASS // parts).astype(np.float64)
            if unwanted():
                raise Unwanted
        light = light / parts
        shown = (light / (1 + light)).mean(axis=-1)
        self._light = self._light + light
        self._shown, self._squared = self._shown + shown, self._squared + shown**2
        passes = self._quality.passes
        if passes and self._count == 0:
            self._middles = _at_middles(traced)
        # A picture of one pass is only a first one.
        rays = EXACT if passes else min(GUIDES, 1 + most)
        for _ in range(max(1, rays // most) if passes else 1):
            if self._read.count < rays:
                self._read.add(traced, self._quality)
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
        found.light = np.maximum(light, 0)
        if self._middles is not None:
            found.position, found.depth, found.motion = self._middles
        return found


class GatheredRays:
    """What rays through the pixels read, added up."""

    def __init__(self) -> None:
        self._sums: dict[str, Floats] = {}
        self._who: list[tuple[NDArray[np.int64], NDArray[np.int64], Floats]] = []
        self._names: dict[Named, int] = {}
        self._depths: list[Floats] = []
        self.count = 0

    def add(self, traced: TracedScene, quality: Quality) -> None:
        """One ray a pixel, with what is wanted of it beside the guides."""
        scene, number = traced.scene, self.count
        hits = traced.hits(_spot(number), _spot(number + 7) if scene.lens.radius > 0 else (0.5, 0.5))
        towards = hits.towards
        rays = np.arange(len(towards))
        left = np.ones(len(towards), dtype=np.float32)
        depths = np.full(len(towards), np.inf, dtype=np.float32)
        named = quality.passes or quality.covers
        held = np.zeros(len(towards), dtype=np.float32)
        unlit = np.ones(len(towards), dtype=np.float32)  # how much of a ray no glow came from
        most = MOST_LAYERS if any(one.role == "glow_only" for one in scene.surfaces) else LAYERS
        for layer in range(most):
            opacity = np.where(hits.met, _opacity(scene, hits), 0).astype(np.float32)
            out, glowing = _in_role(scene, hits, "held_out"), _in_role(scene, hits, "glow_only")
            stopped = left[rays] * np.where(glowing, 0, opacity)
            weight = np.where(out, 0, stopped).astype(np.float32)
            shining = np.where(glowing, left[rays] * unlit[rays] * opacity, weight).astype(np.float32)
            unlit[rays] *= np.where(glowing, 1 - opacity, 1)
            self._gather(scene, hits, weight, shining, rays, len(towards))
            if named:
                met = np.flatnonzero(shining > 0)
                self._who.append((rays[met], self._named(scene, hits)[met], shining[met]))
            left[rays] -= stopped
            held[rays] += stopped - weight
            if quality.depths:
                solid = rays[(weight >= 0.5) & np.isinf(depths[rays])]
                depths[solid] = hits.depth(scene.lens.to_world)[np.searchsorted(rays, solid)]
            on = np.flatnonzero(hits.met & (left[rays] > 1e-3))
            if layer == most - 1 or len(on) == 0:
                break
            rays = rays[on]
            hits = traced.further(hits.taken(on))
        self._put("opacity", (1 - left - held)[:, None], np.arange(len(towards)), len(towards))
        if quality.depths:
            self._depths.append(depths)
        self.count += 1

    def _gather(
        self, scene: Scene, hits: Hits, weight: Floats, shining: Floats, rays: NDArray[np.int64], count: int
    ) -> None:
        emission = hits.read(scene, "emission")
        if emission.any():
            emission = emission * shining[:, None]
            emission[_in_role(scene, hits, "matte")] = 0
        normal = hits.read(scene, "normals")
        away = np.einsum("ij,ij->i", normal, hits.towards.astype(np.float32)) > 0
        found = {
            "emission": emission,
            "normal": np.where(away[:, None], -normal, normal) * weight[:, None],
            "albedo": np.clip(hits.read(scene, "colour") + emission, 0, 1) * weight[:, None],
        }
        found |= {f"field {name}": hits.measured(scene, name) * weight[:, None] for name in _fields(scene)}
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
        height, width = scene.rendered_size

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
            identity=identity,
            depths=np.stack(self._depths).reshape(-1, height, width) if self._depths else None,
            values={
                name.removeprefix("field "): picture(name)[..., 0] for name in self._sums if name.startswith("field ")
            },
        )

    def _named(self, scene: Scene, hits: Hits) -> NDArray[np.int64]:
        """(n,) the number of the name of what each ray meets: moments need not have the same surfaces."""
        found = np.full(len(hits.surface), -1, dtype=np.int64)
        for number, here in hits.groups:
            surface = scene.surfaces[number]
            pieces = (
                np.full(len(here), -1) if surface.piece is None else surface.piece[surface.faces[hits.face[here], 0]]
            )
            own, which = np.unique(pieces, return_inverse=True)
            names = [Named(surface.item, surface.part, int(piece)) for piece in own]
            numbers = np.array([self._names.setdefault(name, len(self._names)) for name in names], dtype=np.int64)
            found[here] = numbers[which.ravel()]
        return found

    def _identity(self, scene: Scene) -> Identity:
        names = max(len(self._names), 1)
        pairs = np.concatenate([rays * names + name for rays, name, _ in self._who])
        weights = np.concatenate([weight for _, _, weight in self._who])
        unique, which = np.unique(pairs, return_inverse=True)
        cover = np.bincount(which.ravel(), weights, len(unique)) / self.count
        pixel, name = np.divmod(unique, names)
        return Identity(list(self._names), pixel, name, cover.astype(np.float32), scene.rendered_size)


def _in_role(scene: Scene, hits: Hits, role: SeenAs) -> NDArray[np.bool_]:
    """(n,) whether what rays meet is seen in a way."""
    own = [number for number, one in enumerate(scene.surfaces) if one.role == role]
    return np.isin(hits.surface, own) if own else np.zeros(len(hits.surface), dtype=bool)


def _fields(scene: Scene) -> set[str]:
    """The fields that were measured on any surface."""
    return {name for surface in scene.surfaces for name in surface.values}


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


def _at_middles(traced: TracedScene) -> tuple[Floats, Floats, Floats | None]:
    """Places, depths and motion where the middles of the pixels are: they are not mixed between things."""
    scene = traced.scene
    hits = traced.hits((0.5, 0.5))
    rays, seen = np.arange(len(hits.surface)), hits
    for _ in range(LAYERS):
        unseen = _in_role(scene, seen, "glow_only") | (_opacity(scene, seen) < 0.5)
        on = np.flatnonzero(seen.met & unseen)
        if len(on) == 0:
            break
        rays, seen = rays[on], traced.further(seen.taken(on))
        for name in ("surface", "face", "within", "distance"):
            getattr(hits, name)[rays] = getattr(seen, name)
    shape = scene.rendered_size
    places = np.where(hits.met[:, None], hits.places, 0).astype(np.float32).reshape(*shape, 3)
    motion = None if scene.later is None else _motion(scene, hits).reshape(*shape, 2)
    return places, hits.depth(scene.lens.to_world).astype(np.float32).reshape(shape), motion


def _motion(scene: Scene, hits: Hits) -> Floats:
    """(n, 2) pixels to the right and up to where what rays meet is one frame later; what is behind all is endlessly far off."""
    assert scene.later is not None
    met = hits.met
    now = np.where(met[:, None], hits.places, hits.origins + hits.towards * ENDLESS)
    gone = now + np.where(met[:, None], hits.moved(scene).astype(np.float64), 0)
    size = scene.width, scene.height
    return (scene.later.seen_at(gone, *size) - scene.lens.seen_at(now, *size)).astype(np.float32)


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
