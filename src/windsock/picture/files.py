"""Which file a finished frame becomes."""

from __future__ import annotations

from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.picture.exr import exr_bytes
from windsock.picture.pixels import jpeg, png, webp
from windsock.picture.still import Still


def picture_file(still: Still, shot: Shot, frame: float, ending: str, bits: int = 8) -> bytes:
    """The bytes of a file by its ending, with the dot. bits: of a PNG."""
    if ending == ".exr":
        names = {key: item.name for key, item in shot.items.items()}
        parts = {
            (key, part): f"{item.name}, {told.name}"
            for key, item in shot.items.items()
            if isinstance(item, Shape)
            for part, told in item.recipe.parts.items()
        }
        return exr_bytes(still, (shot.rate.numerator, shot.rate.denominator), frame, names, parts)
    if ending == ".jpg":
        return jpeg(still.light)
    return webp(still.light) if ending == ".webp" else png(still.light, bits)
