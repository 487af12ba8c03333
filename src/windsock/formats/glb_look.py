"""What the materials of a glTF file say of faces: their colour and the picture laid on them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, cast

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.pictures import Picture
from windsock.core.kernels.pictures import Wrap
from windsock.core.refusals import Refusal
from windsock.formats.gltf_data import BROKEN, Data
from windsock.formats.pictures import Alpha, read_picture

Floats = NDArray[np.float32]

WRAPS: dict[int, Wrap] = {10497: "repeat", 33648: "mirror", 33071: "clamp"}
"""glTF 2.0, sampler.wrapS."""

TRANSFORM = "KHR_texture_transform"
TOTAL_LIMIT = 96_000_000
"""Pixels of all pictures of a file together, as they are kept."""


@dataclass(frozen=True, eq=False)
class Surface:
    """How a primitive looks. colour: (n, 3) linear or None; uv: (n, 2), v from the bottom, or None."""

    colour: Floats | None
    uv: Floats | None
    picture: Picture | None


class Looks:
    """The materials of a file; each picture is read once."""

    def __init__(self, data: Data) -> None:
        self._data = data
        self._pictures: dict[tuple[int, Alpha, float], Picture | None] = {}

    def of(self, primitive: dict[str, Any], own: Floats | None, count: int) -> Surface:
        """The look of a primitive of so many points. own: (n, 3) the colours its points have. Raises Refusal."""
        number = primitive.get("material")
        material = {} if number is None else self._data.one("materials", number)
        basic = material.get("pbrMetallicRoughness", {})
        factor = np.array(basic.get("baseColorFactor", [1, 1, 1, 1]), dtype=np.float64)[:3]
        laid = basic.get("baseColorTexture")
        uv = self._uv(primitive, 0, count)
        picture = None
        if laid is not None:
            moved = laid.get("extensions", {}).get(TRANSFORM, {})
            under = self._uv(primitive, moved.get("texCoord", laid.get("texCoord", 0)), count)
            picture = None if under is None else self._picture(laid.get("index"), material)
            uv = uv if picture is None or under is None else _transformed(under, moved)
        colour = None
        if own is not None or picture is not None or "baseColorFactor" in basic:
            given = np.tile(factor, (count, 1)) if own is None else own * factor
            colour = np.clip(np.nan_to_num(given), 0, 1).astype(np.float32)
        flipped = None if uv is None else np.column_stack([uv[:, 0], 1 - uv[:, 1]]).astype(np.float32)
        return Surface(colour, flipped, picture)

    def _uv(self, primitive: dict[str, Any], number: object, count: int) -> NDArray[np.float64] | None:
        """(n, 2) one set of u,v as the file has them, v from the top."""
        given = primitive["attributes"].get(f"TEXCOORD_{number}")
        if given is None:
            return None
        found = self._data.array(given)
        if len(found) != count or found.shape[1] < 2:
            raise Refusal(BROKEN)
        return np.clip(np.nan_to_num(found[:, :2].astype(np.float64)), -1e6, 1e6)

    def _picture(self, place: object, material: dict[str, Any]) -> Picture | None:
        texture = self._data.one("textures", place)
        if texture.get("source") is None:
            return None
        assert isinstance(place, int)
        alpha: Alpha = {"MASK": "cut", "BLEND": "blend"}.get(material.get("alphaMode", "OPAQUE"), "none")  # pyright: ignore[reportAssignmentType]
        cutoff = float(np.clip(material.get("alphaCutoff", 0.5), 0, 1))
        if (place, alpha, cutoff) not in self._pictures:
            self._pictures[place, alpha, cutoff] = self._read(texture, alpha, cutoff)
            held = sum(one.pixels.shape[0] * one.pixels.shape[1] for one in self._pictures.values() if one)
            if held > TOTAL_LIMIT:
                raise Refusal(
                    f"The pictures in the file have more than {TOTAL_LIMIT / 1e6:.0f} million pixels together. Nothing was imported. Save them smaller."
                )
        return self._pictures[place, alpha, cutoff]

    def _read(self, texture: dict[str, Any], alpha: Alpha, cutoff: float) -> Picture:
        sampler = self._data.one("samplers", texture["sampler"]) if "sampler" in texture else {}
        wrap = cast(
            tuple[Wrap, Wrap], tuple(WRAPS.get(sampler.get(name, 10497), "repeat") for name in ("wrapS", "wrapT"))
        )
        return read_picture(self._data.picture(texture["source"]), wrap, alpha, cutoff)


def _transformed(uv: NDArray[np.float64], texture: dict[str, Any]) -> NDArray[np.float64]:
    """Moved, turned and scaled as KHR_texture_transform says."""
    offset, scale = (
        np.array(texture.get(name, default), dtype=np.float64)
        for name, default in (("offset", [0, 0]), ("scale", [1, 1]))
    )
    turn = float(texture.get("rotation", 0))
    if offset.shape != (2,) or scale.shape != (2,) or not np.isfinite([*offset, *scale, turn]).all():
        raise Refusal(BROKEN)
    u, v = (uv * scale).T
    cosine, sine = np.cos(turn), np.sin(turn)
    return np.clip(np.column_stack([cosine * u + sine * v, cosine * v - sine * u]) + offset, -1e6, 1e6)
