"""How much light a GGX surface sends back in all, by the cosine of the view and the roughness.

Single scattering by Walter et al. 2007 with the height-correlated Smith term (Heitz 2014), split by Schlick's Fresnel term as
Karis 2013 does: the share is F0 · scale + bias. What single scattering loses is given back as Turquin 2019 does, and what is
below a coat gets what the coat does not send back (albedo scaling), so that a white surface returns all of a uniform light.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

SIZE = 32
"""Entries along the cosine and along the roughness."""

SAMPLES = 512


LEAST_ROUGHNESS = 0.04
"""What is less rough is taken to be so: no surface is quite a mirror."""


def albedo_table() -> NDArray[np.float32]:
    """(SIZE, SIZE, 2) scale and bias of what comes back, by roughness 0..1 and the cosine of the view (over 0)..1."""
    u = (np.arange(SAMPLES) + 0.5) / SAMPLES
    v = np.array([int(f"{one:09b}"[::-1], 2) for one in range(SAMPLES)]) / SAMPLES  # Hammersley 1960
    table = np.zeros((SIZE, SIZE, 2), dtype=np.float32)
    cosine = np.maximum(np.arange(SIZE) / (SIZE - 1), 1e-3)[:, None]
    view = np.stack([np.sqrt(1 - cosine**2), np.zeros_like(cosine), cosine], axis=-1)
    for row in range(SIZE):
        alpha = alpha_of(row / (SIZE - 1))
        half = _visible_normals(view, alpha, u, v)
        met = (view * half).sum(axis=-1)
        light = 2 * met[..., None] * half - view
        up = light[..., 2]
        # Seen normals are sampled, so the weight is what of the light gets out: G2 / G1 (Heitz 2018).
        weight = np.where(up > 0, _masked(cosine, np.maximum(up, 1e-6), alpha), 0.0)
        grazing = (1 - np.clip(met, 0, 1)) ** 5
        table[row, :, 0] = (weight * (1 - grazing)).mean(axis=1)
        table[row, :, 1] = (weight * grazing).mean(axis=1)
    return table


def alpha_of(roughness: float) -> float:
    """The width of the distribution of normals of a roughness (its square), not quite a mirror at 0."""
    return max(roughness, LEAST_ROUGHNESS) ** 2


def _visible_normals(
    view: NDArray[np.float64], alpha: float, u: NDArray[np.float64], v: NDArray[np.float64]
) -> NDArray[np.float64]:
    """(k, SAMPLES, 3) normals that a view sees, by Heitz 2018; view: (k, 1, 3)."""
    stretched = view * np.array([alpha, alpha, 1.0])
    stretched /= np.linalg.norm(stretched, axis=-1, keepdims=True)
    across = np.stack([-stretched[..., 1], stretched[..., 0], np.zeros_like(stretched[..., 0])], axis=-1)
    length = np.linalg.norm(across, axis=-1, keepdims=True)
    across = np.where(length > 1e-6, across / np.maximum(length, 1e-6), np.array([1.0, 0.0, 0.0]))
    other = np.cross(stretched, across)
    radius, angle = np.sqrt(u), 2 * np.pi * v
    first, second = radius * np.cos(angle), radius * np.sin(angle)
    share = 0.5 * (1 + stretched[..., 2])
    second = (1 - share) * np.sqrt(np.maximum(0, 1 - first**2)) + share * second
    third = np.sqrt(np.maximum(0, 1 - first**2 - second**2))
    found = first[..., None] * across + second[..., None] * other + third[..., None] * stretched
    found = found * np.array([alpha, alpha, 1.0])
    found[..., 2] = np.maximum(found[..., 2], 1e-6)
    return found / np.linalg.norm(found, axis=-1, keepdims=True)


def _masked(view: NDArray[np.float64], light: NDArray[np.float64], alpha: float) -> NDArray[np.float64]:
    def side(cosine: NDArray[np.float64]) -> NDArray[np.float64]:
        return (np.sqrt(1 + alpha**2 * (1 / cosine**2 - 1)) - 1) / 2

    return (1 + side(view)) / (1 + side(view) + side(light))
