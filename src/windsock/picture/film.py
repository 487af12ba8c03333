"""Finished frames as film, encoded by FFmpeg's libraries through PyAV, tagged ITU-R BT.709."""

from __future__ import annotations

import io
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from windsock.processes.scheduling import share_cores

Pixels = NDArray[np.uint8] | NDArray[np.uint16]

BT709 = 1
"""In the tables of ITU-T H.273: the primaries, the transfer and the matrix of BT.709."""

FULL, LIMITED = 2, 1


@dataclass(frozen=True)
class Coding:
    """A way to write a film. called: in words; ending: of its files; codec, pixels: as FFmpeg names them; transparent: whether its
    frames have an opacity. plays: whether browsers play it."""

    called: str
    ending: str
    container: Literal["mp4", "mov", "webm", "matroska"]
    codec: str
    pixels: str
    options: tuple[tuple[str, str], ...] = ()
    media: str = "video/mp4"
    transparent: bool = False
    plays: bool = False


CODINGS: dict[str, Coding] = {
    "h264": Coding("H.264", "mp4", "mp4", "libx264", "yuv420p", (("crf", "16"), ("preset", "medium")), plays=True),
    "prores": Coding("ProRes 422 HQ", "mov", "mov", "prores_ks", "yuv422p10le", (("profile", "3"),), "video/quicktime"),
    "prores-4444": Coding(
        "ProRes 4444, with transparency",
        "mov",
        "mov",
        "prores_ks",
        "yuva444p10le",
        (("profile", "4"), ("alpha_bits", "16")),
        "video/quicktime",
        transparent=True,
    ),
    "vp9": Coding(
        "VP9",
        "webm",
        "webm",
        "libvpx-vp9",
        "yuv420p",
        (("crf", "24"), ("b", "0"), ("row-mt", "1")),
        "video/webm",
        plays=True,
    ),
    "av1": Coding("AV1", "mp4", "mp4", "libsvtav1", "yuv420p10le", (("crf", "26"), ("preset", "8")), plays=True),
    "ffv1": Coding("FFV1, lossless", "mkv", "matroska", "ffv1", "gbrp16le", (), "video/x-matroska"),
}
"""By the name that each is asked for."""


def encoded_film(frames: Iterable[Pixels], rate: Fraction, coding: Coding) -> bytes:
    """The film. frames: (height, width, 3) each, 4 for one with transparency, sRGB from the top, all of one size that is even both ways; rate: frames a
    second, kept exactly."""
    import av
    from av.video.reformatter import VideoReformatter

    held = io.BytesIO()
    converting = VideoReformatter()
    # Without its own box of colours a film in one of these containers is read as untagged.
    tagged = {"movflags": "+write_colr"} if coding.container in ("mp4", "mov") else {}
    with av.open(held, "w", format=coding.container, options=tagged) as container:
        stream: Any = None
        for number, pixels in enumerate(frames):
            if stream is None:
                stream = _stream(container, coding, rate, pixels)
            container.mux(stream.encode(_frame(pixels, coding, number, rate, converting)))
        if stream is None:
            raise ValueError("a film has at least one frame")
        container.mux(stream.encode(None))
    return held.getvalue()


def _stream(container: Any, coding: Coding, rate: Fraction, pixels: Pixels) -> Any:
    stream: Any = container.add_stream(coding.codec, rate=rate, options=dict(coding.options))
    stream.height, stream.width = pixels.shape[:2]
    stream.pix_fmt = coding.pixels
    stream.time_base = 1 / rate
    context = stream.codec_context
    context.color_primaries = context.color_trc = BT709
    if not coding.pixels.startswith("gbr"):
        context.colorspace, context.color_range = BT709, LIMITED
    context.thread_count = 0
    context.open()
    share_cores()  # the encoder of AV1 makes itself real-time where an administrator runs it
    return stream


def _frame(pixels: Pixels, coding: Coding, number: int, rate: Fraction, converting: Any) -> Any:
    import av

    deep = pixels.dtype == np.uint16
    held: Any = np.ascontiguousarray(pixels)
    formats = {(3, False): "rgb24", (3, True): "rgb48le", (4, False): "rgba", (4, True): "rgba64le"}
    frame = av.VideoFrame.from_ndarray(held, format=formats[pixels.shape[2], deep])
    if coding.pixels.startswith("gbr"):
        frame = converting.reformat(frame, format=coding.pixels)
    else:
        frame = converting.reformat(
            frame,
            format=coding.pixels,
            src_colorspace="ITU709",
            dst_colorspace="ITU709",
            src_color_range=FULL,
            dst_color_range=LIMITED,
        )
        frame.colorspace, frame.color_range = BT709, LIMITED
        frame.color_primaries = frame.color_trc = BT709
    frame.pts, frame.time_base = number, 1 / rate
    return frame
