"""From light to what is seen."""

from __future__ import annotations

import io
import re
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from PIL import Image

from windsock.core.kernels.blurring import blurred
from windsock.picture.film import CODINGS, encoded_film
from windsock.picture.finishing import finished, neutral, shown
from windsock.picture.layers import Layers
from windsock.picture.pixels import jpeg, of_depth, png, png_pixels, webp
from windsock.picture.sky import SKIES

PAGE = Path(__file__).parents[2] / "frontend" / "src" / "view"


def layers(light, emission=None):
    light = np.asarray(light, dtype=np.float32)
    none = np.zeros_like(light)
    return Layers(light, np.ones(light.shape[:2], np.float32), none if emission is None else emission, none, none, none)


@pytest.mark.parametrize("width", [1.5, 6.0, 25.0])
def test_a_blur_keeps_what_there_is_and_is_as_wide_as_said(width):
    """The energy of its kernel is 1, and its second moment the square of its width (of a Gaussian)."""
    point = np.zeros((301, 301, 1), dtype=np.float32)
    point[150, 150] = 1
    soft = blurred(point, width)[..., 0]
    assert soft.sum() == pytest.approx(1, abs=0.01)
    place = np.arange(301) - 150
    assert np.sqrt((soft.sum(axis=0) * place**2).sum()) == pytest.approx(width, rel=0.06)


def test_the_tone_mapper_is_that_of_its_reference():
    """Khronos PBR Neutral, the numbers of its GLSL reference done by hand for one colour at a time."""

    def by_hand(colour):
        x = min(colour)
        offset = x - 6.25 * x * x if x < 0.08 else 0.04
        colour = [one - offset for one in colour]
        peak = max(colour)
        if peak < 0.76:
            return colour
        d = 1 - 0.76
        new = 1 - d * d / (peak + d - 0.76)
        colour = [one * new / peak for one in colour]
        g = 1 - 1 / (0.15 * (peak - new) + 1)
        return [one * (1 - g) + new * g for one in colour]

    for colour in ([0.18, 0.18, 0.18], [0.05, 0.3, 0.6], [0.9, 0.5, 0.1], [4.0, 2.0, 1.0], [60.0, 1.0, 0.0], [0, 0, 0]):
        found = neutral(np.array([[colour]], dtype=np.float32))[0, 0]
        assert found == pytest.approx(np.clip(by_hand(colour), 0, 1), abs=1e-5)


def test_what_is_shown_is_encoded_by_the_standard():
    """IEC 61966-2-1 of what the tone mapper gives: 0.18 less 0.04 is 0.14, shown at 0.4106."""
    grey = shown(np.full((1, 1, 3), 0.18, np.float32))
    assert grey == pytest.approx(1.055 * 0.14 ** (1 / 2.4) - 0.055, abs=1e-4)


def test_exposure_doubles_the_light_a_stop_and_glow_lies_about_what_shines():
    light = np.full((60, 80, 3), 0.1, np.float32)
    assert finished(layers(light), 1.0) == pytest.approx(0.2)
    emission = np.zeros_like(light)
    emission[30, 40] = 10
    glowing = finished(layers(light, emission))
    assert glowing[30, 42, 0] > glowing[30, 60, 0] > 0.1
    assert glowing[30, 38, 0] == pytest.approx(glowing[30, 42, 0], rel=0.02)


def test_the_skies_are_those_of_the_page():
    text = (PAGE / "sky.ts").read_text()
    for name, sky in SKIES.items():
        told = re.search(rf"{name}: {{(.*?)}},", text, re.S).group(1)
        numbers = [float(one) for one in re.findall(r"(?<![#\w.])\d+\.?\d*(?![\w.])", re.sub(r'"[^"]*"', "", told))]
        assert numbers == pytest.approx([*sky.ground, *sky.horizon, *sky.zenith, sky.cloud])
        assert sky.haze in told
    assert re.search(r"Fog\(hazeOf\(.day.\), 30, 130\)", (PAGE / "content.ts").read_text())


def ramp(bits):
    across = np.linspace(0, 1, 64, dtype=np.float32)
    return of_depth(np.repeat(np.repeat(across[None, :, None], 32, 0), 3, 2), bits)


def test_pictures_come_back_as_they_were_written():
    light = np.random.default_rng(1).random((24, 32, 3), dtype=np.float32)
    assert (np.asarray(Image.open(io.BytesIO(png(light)))) == of_depth(light, 8)).all()
    assert (png_pixels(png(light, 16)) == of_depth(light, 16)).all()
    smooth = np.full((24, 32, 3), [0.5, 0.2, 0.1], np.float32)
    for written in (jpeg(smooth), webp(smooth)):
        read = np.asarray(Image.open(io.BytesIO(written)).convert("RGB")).astype(int)
        assert np.abs(read - of_depth(smooth, 8).astype(int)).max() <= 3


@pytest.mark.parametrize("name", CODINGS)
def test_a_film_has_its_frames_its_rate_its_tags_and_its_colours(name):
    """Counted, timed and looked at by the library that reads it."""
    coding = CODINGS[name]
    colours = [(0.8, 0.1, 0.1), (0.1, 0.7, 0.2), (0.1, 0.2, 0.8), (0.5, 0.5, 0.5)]
    bits = 8 if coding.pixels == "yuv420p" else 16
    frames = [of_depth(np.full((64, 96, 3), colours[number % 4], np.float32), bits) for number in range(12)]
    rate = Fraction(24000, 1001)
    content = encoded_film(frames, rate, coding)
    with av.open(io.BytesIO(content)) as container:
        stream = container.streams.video[0]
        read = list(container.decode(stream))
        assert len(read) == 12
        assert stream.average_rate == pytest.approx(rate, rel=1e-3)
        assert float(read[-1].pts * stream.time_base) == pytest.approx(11 / rate, abs=2e-3)
        if not coding.pixels.startswith("gbr"):
            context = stream.codec_context
            assert (context.color_primaries, context.color_trc, context.colorspace) == (1, 1, 1)
        for frame, given in zip(read, frames, strict=True):
            back = frame.reformat(format="rgb24", src_colorspace="ITU709", dst_colorspace="ITU709").to_ndarray()
            wanted = given.astype(float) / (255 if bits == 8 else 65535) * 255
            assert np.abs(back[16:-16, 16:-16] - wanted[16:-16, 16:-16]).mean() < 4


def test_a_film_of_nothing_is_refused():
    with pytest.raises(ValueError, match="at least one"):
        encoded_film([], Fraction(24), CODINGS["h264"])
