"""Finished frames as OpenEXR, one part for each pass, linear light with Rec. 709 primaries."""

from __future__ import annotations

import tempfile
from collections.abc import Mapping
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np

from windsock.picture.cryptomatte import matte, metadata
from windsock.picture.scene import Floats
from windsock.picture.still import Still

REC709 = (0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290)
"""x and y of red, green, blue and white (ITU-R BT.709)."""


def exr_bytes(
    still: Still,
    names: Mapping[str, str],
    parts: Mapping[tuple[str, str], str],
    apart: Mapping[str, Still] | None = None,
) -> bytes:
    """The file. names: of items by their ids; parts: of parts by item and id. apart: the frame as its layers show it, by their ids:
    a part each."""
    import OpenEXR  # it is there only where pictures are made

    layers, shot = still.layers, still.shot
    rate = shot.rate.numerator, shot.rate.denominator
    shared: dict[str, Any] = {
        "chromaticities": REC709,
        "framesPerSecond": Fraction(*rate),
        "timeCode": _time_code(OpenEXR, still.frame, rate),
        "software": "Wind Sock",
    }
    made = [_part(OpenEXR, "beauty", _colours(still.finished.light, layers.opacity), shared, half=True)]
    for key, one in (apart or {}).items():
        told = _colours(one.finished.light, one.layers.opacity)
        channels = {f"layer_{key}.{channel}": values for channel, values in told.items()}
        named = shared | {"windsockLayer": shot.layers[key].name}
        made.append(_part(OpenEXR, f"layer_{key}", channels, named, half=True))
    made += [
        _part(OpenEXR, name, _coloured(name, getattr(layers, name)), shared, half=True)
        for name in ("emission", "albedo")
    ]
    made.append(_part(OpenEXR, "normal", _placed("normal", layers.normal), shared, half=True))
    if layers.position is not None:
        made.append(_part(OpenEXR, "position", _placed("position", layers.position), shared))
    if layers.motion is not None:
        channels = {"motion.X": layers.motion[..., 0], "motion.Y": layers.motion[..., 1]}
        made.append(_part(OpenEXR, "motion", channels, shared))
    if layers.depth is not None:
        made.append(_part(OpenEXR, "depth", {"depth.Z": layers.depth}, shared))
    for field, values in layers.values.items():
        name = f"field_{shot.fields[field].letter}"
        made.append(_part(OpenEXR, name, {f"{name}.V": values}, shared))
    if layers.identity is not None:
        all_named = layers.identity.named
        named = {"crypto_item": [names[one.item] for one in all_named]}
        named["crypto_part"] = [parts[one.item, one.part] for one in all_named]
        if any(one.piece >= 0 for one in all_named):
            named["crypto_piece"] = [_piece(parts[one.item, one.part], one.piece) for one in all_named]
        for name, words in named.items():
            channels, manifest = matte(layers.identity, words)
            told = {f"{name}{ending}": values for ending, values in channels.items()}
            made.append(_part(OpenEXR, name, told, shared | metadata(name, manifest)))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "frame.exr"
        with OpenEXR.File(made) as file:
            file.write(str(path))
        return path.read_bytes()


def _piece(part: str, number: int) -> str:
    return part if number < 0 else f"{part}, piece {number}"


def _part(library: Any, name: str, channels: dict[str, Floats], shared: dict[str, Any], half: bool = False) -> Any:
    head = shared | {"compression": library.ZIP_COMPRESSION, "type": library.scanlineimage, "name": name}
    held = {
        channel: np.ascontiguousarray(_halved(values) if half else values.astype(np.float32))
        for channel, values in channels.items()
    }
    return library.Part(head, held, name)


def _halved(values: Floats) -> np.ndarray[Any, np.dtype[np.float16]]:
    return np.clip(values, -65504, 65504).astype(np.float16)


def _colours(light: Floats, opacity: Floats) -> dict[str, Floats]:
    return {"R": light[..., 0], "G": light[..., 1], "B": light[..., 2], "A": opacity}


def _coloured(name: str, values: Floats) -> dict[str, Floats]:
    return {f"{name}.{channel}": values[..., place] for place, channel in enumerate("RGB")}


def _placed(name: str, values: Floats) -> dict[str, Floats]:
    return {f"{name}.{channel}": values[..., place] for place, channel in enumerate("XYZ")}


def _time_code(library: Any, frame: float, rate: tuple[int, int]) -> Any:
    """Hours, minutes, seconds and frames of a frame, counted in whole frames a second, from 0."""
    whole = max(int(frame), 0)
    a_second = max(round(rate[0] / rate[1]), 1)
    seconds, frames = divmod(whole, a_second)
    minutes, seconds = divmod(seconds, 60)
    hours, minutes = divmod(minutes, 60)
    return library.TimeCode(
        hours % 24, minutes, seconds, frames % 60, False, False, False, False, False, False, *([0] * 8)
    )
