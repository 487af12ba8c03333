"""The surface of a look as the renderer has it: a diffuse body under a GGX coat, or a metal, as far as it is opaque.

The model is that of the glTF 2.0 material (its appendix B), with the energy that single scattering loses given back; see
`reflecting`. What is not opaque lets light straight through, and so do faces whose backs are hidden, from behind.
Loaded in the rendering process only.
"""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np

from windsock.picture.reflecting import LEAST_ROUGHNESS, SIZE, albedo_table
from windsock.picture.variant import dr, mi

DIELECTRIC = 0.04
"""Schlick's F0 of an index of refraction of 1.5, as glTF has it."""


@cache
def _table() -> tuple[Any, Any]:
    """Scale and bias of what a coat sends back, as the renderer reads them."""
    table = albedo_table().reshape(-1, 2)
    return mi.Float(np.ascontiguousarray(table[:, 0])), mi.Float(np.ascontiguousarray(table[:, 1]))


def coat_albedo(cosine: Any, roughness: Any, active: Any) -> tuple[Any, Any]:
    """Scale and bias of what a coat sends back, between the entries of the table."""
    x, y = dr.clip(cosine, 0, 1) * (SIZE - 1), roughness * (SIZE - 1)
    left, low = mi.UInt32(dr.minimum(x, SIZE - 2)), mi.UInt32(dr.minimum(y, SIZE - 2))
    across, up = x - mi.Float(left), y - mi.Float(low)
    at = low * SIZE + left

    def read(values: Any) -> Any:
        corners = [dr.gather(mi.Float, values, at + step, active) for step in (0, 1, SIZE, SIZE + 1)]
        return dr.lerp(dr.lerp(corners[0], corners[1], across), dr.lerp(corners[2], corners[3], across), up)

    scale, bias = _table()
    return read(scale), read(bias)


class LookSurface(mi.BSDF):
    """Parameters: base (colour), roughness, metallic, opacity as textures; `back_base` … for a look of its own from behind;
    `backs`: shown, own or hidden."""

    def __init__(self, props: Any) -> None:
        mi.BSDF.__init__(self, props)
        self.backs = props["backs"]
        self.front = tuple(props.get_texture(name) for name in ("base", "roughness", "metallic"))
        self.back = (
            tuple(props.get_texture(f"back_{name}") for name in ("base", "roughness", "metallic"))
            if self.backs == "own"
            else None
        )
        self.opacity = props.get_texture("opacity") if "opacity" in props else None
        both = mi.BSDFFlags.FrontSide | mi.BSDFFlags.BackSide
        lobes = [
            mi.BSDFFlags.DiffuseReflection | both | mi.BSDFFlags.SpatiallyVarying,
            mi.BSDFFlags.GlossyReflection | both | mi.BSDFFlags.SpatiallyVarying,
        ]
        if self.opacity is not None or self.backs == "hidden":
            lobes.append(mi.BSDFFlags.Null | both | mi.BSDFFlags.SpatiallyVarying)
        self.m_components = [int(lobe) for lobe in lobes]
        flags = 0
        for lobe in lobes:
            flags |= int(lobe)
        self.m_flags = flags

    def _there(self, si: Any, active: Any) -> Any:
        """How opaque a place is from where it is seen."""
        there = mi.Float(1) if self.opacity is None else dr.clip(self.opacity.eval_1(si, active), 0, 1)
        if self.backs == "hidden":
            there = dr.select(mi.Frame3f.cos_theta(si.wi) < 0, 0.0, there)
        return there

    def _surface(self, si: Any, active: Any) -> tuple[Any, Any, Any]:
        """Base colour, roughness and metallic of the side that is seen."""

        def read(textures: tuple[Any, ...]) -> tuple[Any, Any, Any]:
            base, roughness, metallic = textures
            return base.eval(si, active), roughness.eval_1(si, active), metallic.eval_1(si, active)

        found = read(self.front)
        if self.back is not None:
            behind = mi.Frame3f.cos_theta(si.wi) < 0
            found = tuple(dr.select(behind, b, f) for f, b in zip(found, read(self.back), strict=True))
        base, roughness, metallic = found
        return dr.clip(base, 0, 1), dr.clip(roughness, 0, 1), dr.clip(metallic, 0, 1)

    def _lobes(self, si: Any, wi: Any, active: Any) -> tuple[Any, ...]:
        base, roughness, metallic = self._surface(si, active)
        alpha = dr.square(dr.maximum(roughness, LEAST_ROUGHNESS))
        normal = dr.lerp(mi.Color3f(DIELECTRIC), base, metallic)
        scale, bias = coat_albedo(mi.Frame3f.cos_theta(wi), roughness, active)
        # Single scattering, made good for what it loses (Turquin 2019).
        more = 1 + normal * (1 / dr.maximum(scale + bias, 1e-3) - 1)
        coat = (normal * scale + bias) * more
        body = (
            base
            * (1 - metallic)
            * dr.maximum(
                1 - (DIELECTRIC * scale + bias) * (1 + DIELECTRIC * (1 / dr.maximum(scale + bias, 1e-3) - 1)), 0
            )
        )
        light, dull = mi.luminance(coat, si.wavelengths), mi.luminance(body, si.wavelengths)
        share = dr.clip(light / dr.maximum(light + dull, 1e-6), 0.05, 1)
        share = dr.select(dull <= 0, 1.0, share)
        return alpha, normal, more, body, share

    def _value(self, lobes: tuple[Any, ...], wi: Any, wo: Any) -> tuple[Any, Any]:
        """The light that goes on, cosine included, and the density of the direction, of what is opaque."""
        alpha, normal, more, body, share = lobes
        seen, lit = mi.Frame3f.cos_theta(wi), mi.Frame3f.cos_theta(wo)
        above = (seen > 0) & (lit > 0)
        half = dr.normalize(wi + wo)
        spread = mi.MicrofacetDistribution(mi.MicrofacetType.GGX, alpha, alpha, True)
        density = spread.eval(half)
        met = dr.clip(dr.dot(wi, half), 0, 1)
        fresnel = normal + (1 - normal) * dr.power(1 - met, 5)

        def side(cosine: Any) -> Any:
            squared = dr.square(dr.maximum(cosine, 1e-6))
            return (dr.sqrt(1 + dr.square(alpha) * (1 / squared - 1)) - 1) * 0.5

        masked = 1 / (1 + side(seen) + side(lit))
        glossy = fresnel * more * (density * masked / dr.maximum(4 * seen, 1e-6))
        value = glossy + body * (dr.inv_pi * lit)
        towards = spread.pdf(wi, half) / dr.maximum(4 * met, 1e-6)
        pdf = share * towards + (1 - share) * (dr.inv_pi * lit)
        return dr.select(above, value, 0), dr.select(above, pdf, 0)

    def sample(self, ctx: Any, si: Any, sample1: Any, sample2: Any, active: Any = True) -> tuple[Any, Any]:
        there = self._there(si, active)
        through = sample1 >= there
        first = dr.clip(sample1 / dr.maximum(there, 1e-6), 0, 1)
        turned = mi.Frame3f.cos_theta(si.wi) < 0
        wi = mi.Vector3f(si.wi.x, si.wi.y, dr.abs(si.wi.z))
        lobes = self._lobes(si, wi, active)
        alpha, share = lobes[0], lobes[4]
        glossy = first < share
        spread = mi.MicrofacetDistribution(mi.MicrofacetType.GGX, alpha, alpha, True)
        half, _ = spread.sample(wi, sample2)
        wo = dr.select(glossy, mi.reflect(wi, half), mi.warp.square_to_cosine_hemisphere(sample2))
        value, pdf = self._value(lobes, wi, wo)
        good = active & ~through & (pdf > 0)
        wo = mi.Vector3f(wo.x, wo.y, dr.select(turned, -wo.z, wo.z))
        found = mi.BSDFSample3f()
        found.wo = dr.select(through, -si.wi, wo)
        found.eta = 1.0
        found.pdf = dr.select(through, 1 - there, pdf * there)
        found.sampled_type = dr.select(
            through,
            int(mi.BSDFFlags.Null),
            dr.select(glossy, int(mi.BSDFFlags.GlossyReflection), int(mi.BSDFFlags.DiffuseReflection)),
        )
        found.sampled_component = dr.select(through, 2, dr.select(glossy, 1, 0))
        weight = dr.select(through, mi.Color3f(1), dr.select(good, value / dr.maximum(pdf, 1e-12), 0))
        return found, dr.select(active, weight, 0)

    def eval(self, ctx: Any, si: Any, wo: Any, active: Any = True) -> Any:
        return self.eval_pdf(ctx, si, wo, active)[0]

    def pdf(self, ctx: Any, si: Any, wo: Any, active: Any = True) -> Any:
        return self.eval_pdf(ctx, si, wo, active)[1]

    def eval_pdf(self, ctx: Any, si: Any, wo: Any, active: Any = True) -> tuple[Any, Any]:
        there = self._there(si, active)
        turned = mi.Frame3f.cos_theta(si.wi) < 0
        wi = mi.Vector3f(si.wi.x, si.wi.y, dr.abs(si.wi.z))
        out = mi.Vector3f(wo.x, wo.y, dr.select(turned, -wo.z, wo.z))
        value, pdf = self._value(self._lobes(si, wi, active), wi, out)
        return dr.select(active, value * there, 0), dr.select(active, pdf * there, 0)

    def eval_null_transmission(self, si: Any, active: Any = True) -> Any:
        return dr.select(active, mi.Color3f(1 - self._there(si, active)), 0)

    def traverse(self, cb: Any) -> None:
        pass

    def to_string(self) -> str:
        return "LookSurface[]"


class LookGlow(mi.Emitter):
    """What faces give off, from both sides. Parameters: radiance, a texture; `behind`: that of the back where it has its own,
    or nothing where backs are hidden."""

    def __init__(self, props: Any) -> None:
        mi.Emitter.__init__(self, props)
        self.radiance = props.get_texture("radiance")
        self.behind = props.get_texture("behind") if "behind" in props else None
        self.m_flags = int(mi.EmitterFlags.Surface) | int(mi.EmitterFlags.SpatiallyVarying)

    def _given(self, si: Any, front: Any, active: Any) -> Any:
        light = self.radiance.eval(si, active)
        if self.behind is not None:
            light = dr.select(front, light, self.behind.eval(si, active))
        return dr.select(active, light, 0)

    def eval(self, si: Any, active: Any = True) -> Any:
        return self._given(si, mi.Frame3f.cos_theta(si.wi) > 0, active)

    def sample_direction(self, it: Any, sample: Any, active: Any = True) -> tuple[Any, Any]:
        ds = self.get_shape().sample_direction(it, sample, active)
        facing = dr.dot(ds.d, ds.n)
        active = active & (ds.pdf > 0) & (dr.abs(facing) > 1e-6)
        si = mi.SurfaceInteraction3f(ds, it.wavelengths)
        ds.emitter = mi.EmitterPtr(self)
        light = self._given(si, facing < 0, active) / dr.select(active, ds.pdf, 1)
        return ds, dr.select(active, light, 0)

    def pdf_direction(self, it: Any, ds: Any, active: Any = True) -> Any:
        return dr.select(active, self.get_shape().pdf_direction(it, ds, active), 0)

    def eval_direction(self, it: Any, ds: Any, active: Any = True) -> Any:
        si = mi.SurfaceInteraction3f(ds, it.wavelengths)
        return self._given(si, dr.dot(ds.d, ds.n) < 0, active)

    def traverse(self, cb: Any) -> None:
        pass

    def to_string(self) -> str:
        return "LookGlow[]"
