"""Which file a finished frame becomes."""

from __future__ import annotations

from collections.abc import Mapping

from windsock.core.document.items import Shape
from windsock.picture.exr import exr_bytes
from windsock.picture.numbers import numbered
from windsock.picture.pixels import jpeg, png, webp
from windsock.picture.still import Still


def picture_file(
    still: Still,
    ending: str,
    bits: int = 8,
    transparent: bool = False,
    words: str = "",
    apart: Mapping[str, Still] | None = None,
) -> bytes:
    """The bytes of a file by its ending, with the dot. bits: of a PNG. transparent: with an opacity, which a PNG and a WebP can
    have. words: that are written into it, but for an OpenEXR. apart: the frame by each of its layers, for an
    OpenEXR."""
    shot, shown = still.shot, still.finished.shown
    if transparent:
        shown = still.finished.over_nothing(shot, still.layers.opacity)
    if words:
        shown = numbered(shown, words)
    if ending == ".exr":
        names = {key: item.name for key, item in shot.items.items()}
        parts = {
            (key, part): f"{item.name}, {told.name}"
            for key, item in shot.items.items()
            if isinstance(item, Shape)
            for part, told in item.recipe.parts.items()
        }
        return exr_bytes(still, names, parts, apart)
    if ending == ".jpg":
        return jpeg(shown)
    return webp(shown) if ending == ".webp" else png(shown, bits)
