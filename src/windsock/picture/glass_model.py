"""What lets light through as the renderer has it: coloured where light crosses its surface, and on the way inside.

Loaded in the rendering process only.
"""

from __future__ import annotations

from typing import Any

from windsock.picture.reflecting import LEAST_ROUGHNESS
from windsock.picture.surface_model import coat_albedo
from windsock.picture.variant import dr, mi


class LookGlass(mi.BSDF):
    """Another BSDF with its colours. Parameters: clear, that BSDF, without colour; base, the colour of a whole body or sheet; left,
    what is left of light after a metre inside; thickness, metres of a sheet, below 0 for a closed body; index, of refraction.

    Within a body a ray that meets the surface has come all its way inside, so its length is that which counts.
    """

    def __init__(self, props: Any) -> None:
        mi.BSDF.__init__(self, props)
        self.clear = props["clear"]
        self.base = props.get_texture("base")
        self.left = props.get_texture("left")
        self.thickness = float(props["thickness"])
        self.index = float(props["index"])
        self.m_components = [int(self.clear.flags(one)) for one in range(self.clear.component_count())]
        self.m_flags = int(self.clear.flags())

    def _coloured(self, si: Any, wo: Any, active: Any) -> Any:
        """What is left of light that came along `si` and goes on along wo."""
        base = dr.clip(self.base.eval(si, active), 0, 1)
        power = dr.log(dr.maximum(self.left.eval(si, active), 1e-6))
        cosine = mi.Frame3f.cos_theta(si.wi)
        crosses = cosine * mi.Frame3f.cos_theta(wo) < 0
        if self.thickness < 0:
            # Light crosses the surface of a body twice.
            across = dr.select(crosses, dr.sqrt(base), 1)
            return across * dr.select(cosine < 0, dr.exp(power * dr.minimum(si.t, 1e4)), 1)
        bent = dr.sqrt(dr.maximum(1 - (1 - dr.square(cosine)) / self.index**2, 1e-4))
        return dr.select(crosses, base * dr.exp(power * (self.thickness / bent)), 1)

    def sample(self, ctx: Any, si: Any, sample1: Any, sample2: Any, active: Any = True) -> tuple[Any, Any]:
        found, weight = self.clear.sample(ctx, si, sample1, sample2, active)
        return found, weight * self._coloured(si, found.wo, active)

    def eval(self, ctx: Any, si: Any, wo: Any, active: Any = True) -> Any:
        return self.clear.eval(ctx, si, wo, active) * self._coloured(si, wo, active)

    def pdf(self, ctx: Any, si: Any, wo: Any, active: Any = True) -> Any:
        return self.clear.pdf(ctx, si, wo, active)

    def eval_pdf(self, ctx: Any, si: Any, wo: Any, active: Any = True) -> tuple[Any, Any]:
        value, pdf = self.clear.eval_pdf(ctx, si, wo, active)
        return value * self._coloured(si, wo, active), pdf

    def eval_null_transmission(self, si: Any, active: Any = True) -> Any:
        return self.clear.eval_null_transmission(si, active) * self._coloured(si, -si.wi, active)

    def traverse(self, cb: Any) -> None:
        pass

    def to_string(self) -> str:
        return "LookGlass[]"


class RoughSheet(mi.BSDF):
    """A thin sheet whose sides are rough: light goes on in the directions in which it is sent back, on the other side. Parameters:
    roughness; int_ior, its index of refraction.

    How much is sent back is Fresnel's at the facet, to and fro between both sides (Stokes 1862); the facets are those of GGX, with
    what single scattering loses given back.
    """

    def __init__(self, props: Any) -> None:
        mi.BSDF.__init__(self, props)
        self.roughness = props.get_texture("roughness")
        self.index = float(props["int_ior"])
        both = mi.BSDFFlags.FrontSide | mi.BSDFFlags.BackSide | mi.BSDFFlags.SpatiallyVarying
        lobes = [mi.BSDFFlags.GlossyReflection | both, mi.BSDFFlags.GlossyTransmission | both]
        self.m_components = [int(one) for one in lobes]
        self.m_flags = int(lobes[0]) | int(lobes[1])

    def _facets(self, si: Any, active: Any) -> tuple[Any, Any, Any]:
        """How facets are spread, the direction that is seen from above, and what single scattering keeps of light from there."""
        roughness = dr.clip(self.roughness.eval_1(si, active), LEAST_ROUGHNESS, 1)
        alpha = dr.square(roughness)
        seen = mi.Vector3f(si.wi.x, si.wi.y, dr.abs(si.wi.z))
        scale, bias = coat_albedo(seen.z, roughness, active)
        return mi.MicrofacetDistribution(mi.MicrofacetType.GGX, alpha, alpha, True), seen, scale + bias

    def _sent_back(self, seen: Any, half: Any) -> Any:
        once = mi.fresnel(dr.dot(seen, half), self.index)[0]
        return 2 * once / (1 + once)

    def sample(self, ctx: Any, si: Any, sample1: Any, sample2: Any, active: Any = True) -> tuple[Any, Any]:
        spread, seen, kept = self._facets(si, active)
        half, density = spread.sample(seen, sample2)
        back = self._sent_back(seen, half)
        reflects = sample1 < back
        towards = mi.reflect(seen, half)
        good = active & (towards.z > 0) & (density > 0)
        above = si.wi.z > 0
        found = mi.BSDFSample3f()
        found.wo = mi.Vector3f(towards.x, towards.y, dr.select(above == reflects, towards.z, -towards.z))
        found.eta = 1.0
        found.pdf = density / dr.maximum(4 * dr.dot(seen, half), 1e-6) * dr.select(reflects, back, 1 - back)
        lobes = mi.BSDFFlags
        found.sampled_type = dr.select(reflects, int(lobes.GlossyReflection), int(lobes.GlossyTransmission))
        found.sampled_component = dr.select(reflects, 0, 1)
        weight = spread.smith_g1(towards, half) / dr.maximum(kept, 1e-3)
        return found, dr.select(good, mi.Color3f(weight), 0)

    def eval(self, ctx: Any, si: Any, wo: Any, active: Any = True) -> Any:
        return self.eval_pdf(ctx, si, wo, active)[0]

    def pdf(self, ctx: Any, si: Any, wo: Any, active: Any = True) -> Any:
        return self.eval_pdf(ctx, si, wo, active)[1]

    def eval_pdf(self, ctx: Any, si: Any, wo: Any, active: Any = True) -> tuple[Any, Any]:
        spread, seen, kept = self._facets(si, active)
        towards = mi.Vector3f(wo.x, wo.y, dr.abs(wo.z))
        half = dr.normalize(seen + towards)
        back = self._sent_back(seen, half)
        share = dr.select(si.wi.z * wo.z > 0, back, 1 - back)
        density = spread.pdf(seen, half) / dr.maximum(4 * dr.dot(seen, half), 1e-6)
        value = density * spread.smith_g1(towards, half) / dr.maximum(kept, 1e-3)
        good = active & (towards.z > 0) & (seen.z > 0)
        return dr.select(good, mi.Color3f(value * share), 0), dr.select(good, density * share, 0)

    def traverse(self, cb: Any) -> None:
        pass

    def to_string(self) -> str:
        return "RoughSheet[]"
