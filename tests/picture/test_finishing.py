"""From light to what is seen."""

from __future__ import annotations

import io
import os
import re
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from PIL import Image
from scipy import ndimage

from windsock.core.document.shot import parse_shot
from windsock.core.kernels.blurring import blurred
from windsock.picture.film import CODINGS, encoded_film
from windsock.picture.finishing import finished
from windsock.picture.layers import Layers
from windsock.picture.numbers import numbered
from windsock.picture.pixels import jpeg, of_depth, png, png_pixels, side_by_side, webp
from windsock.picture.sky import SKIES
from windsock.picture.view import ACADEMY, BRIGHTEST, SIDE, neutral, shown, table

PAGE = Path(__file__).parents[2] / "frontend" / "src" / "view"


def layers(light, emission=None):
    light = np.asarray(light, dtype=np.float32)
    none = np.zeros_like(light)
    return Layers(light, np.ones(light.shape[:2], np.float32), none if emission is None else emission, none, none)


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


def test_the_cameras_exposure_doubles_the_light_a_stop_and_glow_lies_about_what_shines():
    light = np.full((60, 80, 3), 0.1, np.float32)
    camera = {"kind": "camera", "name": "Eye", "rank": 0, "exposure": 1.0}
    shot = parse_shot({"name": "Exposed", "items": {"eye": camera}, "camera": "eye"})
    assert finished(layers(light), shot, 0).light == pytest.approx(0.2)
    emission = np.zeros_like(light)
    emission[30, 40] = 10
    glowing = finished(layers(light, emission), parse_shot({"name": "Glowing"}), 0).light
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


def scheduled() -> set[int]:
    """How the threads of this process get their share of the cores."""
    return {os.sched_getscheduler(int(thread)) for thread in os.listdir("/proc/self/task")}


@pytest.mark.parametrize("name", CODINGS)
def test_a_film_has_its_frames_its_rate_its_tags_and_its_colours(name):
    """Counted, timed and looked at by the library that reads it."""
    coding = CODINGS[name]
    colours = [(0.8, 0.1, 0.1), (0.1, 0.7, 0.2), (0.1, 0.2, 0.8), (0.5, 0.5, 0.5)]
    bits = 8 if coding.pixels == "yuv420p" else 16
    frames = [of_depth(np.full((64, 96, 3), colours[number % 4], np.float32), bits) for number in range(12)]
    rate = Fraction(24000, 1001)
    before = scheduled()

    def looked_at():
        for number, frame in enumerate(frames):
            # No encoder takes the cores from all others, not even one that an administrator runs.
            assert number == 0 or scheduled() == before
            yield frame

    content = encoded_film(looked_at(), rate, coding)
    assert scheduled() == before
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


def test_what_the_academy_shows_is_what_its_library_shows():
    """ACES 1.3 of a grey card: 0.18 is shown at about a tenth of a display's light (SMPTE ST 2065; the value from the library's
    own configuration, read another way: by its ACEScg space)."""
    import PyOpenColorIO as ocio  # noqa: N813

    for view, academy in ACADEMY.items():
        configuration = ocio.Config.CreateFromBuiltinConfig(academy.configuration)
        to_cg = configuration.getProcessor("Linear Rec.709 (sRGB)", "ACEScg").getDefaultCPUProcessor()
        told = ocio.DisplayViewTransform(src="ACEScg", display="sRGB - Display", view=academy.view)
        from_cg = configuration.getProcessor(told).getDefaultCPUProcessor()
        for colour in ([0.18, 0.18, 0.18], [0.8, 0.1, 0.05], [5.0, 4.0, 2.0]):
            wanted = from_cg.applyRGB(to_cg.applyRGB(colour))
            found = shown(np.array([[colour]], np.float32), view)[0, 0]
            assert found == pytest.approx(np.clip(wanted, 0, 1), abs=2e-3)
        grey = shown(np.full((1, 1, 3), 0.18, np.float32), view)[0, 0]
        assert grey == pytest.approx(grey[1], abs=2e-3)
        assert 0.3 < grey[0] < 0.45


def test_plain_is_cut_off_at_white():
    assert shown(np.array([[[0.2140, 1.0, 9.0]]], np.float32), "plain")[0, 0] == pytest.approx([0.5, 1, 1], abs=1e-3)


@pytest.mark.parametrize("view", ACADEMY)
def test_the_page_shows_by_the_same_table(view):
    held = (PAGE / "tables" / f"{view}.bin").read_bytes()
    assert held == table(view)
    text = (PAGE / "shownBy.ts").read_text()
    assert f"SIDE = {SIDE};" in text
    assert f"MOST = {BRIGHTEST:.0f};" in text
    # Straight between its places, a table is as good as the transform for what is not a saturated light.
    places = np.frombuffer(held, np.uint8).reshape(SIDE, SIDE, SIDE, 4)[..., :3] / 255
    light = np.random.default_rng(2).random((400, 3)) ** 2 * 4
    place = np.log2(light * 256 + 1) / np.log2(BRIGHTEST * 256 + 1) * (SIDE - 1)
    found = np.stack(
        [ndimage.map_coordinates(places[..., one], place[:, ::-1].T, order=1) for one in range(3)], axis=-1
    )
    wanted = shown(light[None].astype(np.float32), view)[0]
    assert np.abs(found - wanted).mean() < 0.004


def test_with_nothing_behind_all_a_picture_is_laid_over_anything():
    """What is half covered keeps its full colour and is half opaque; light where nothing is counts as bright as it is."""
    light = np.zeros((4, 3, 3), np.float32)
    light[:, 0] = [0.4, 0.2, 0.1]
    light[:, 1] = [0.2, 0.1, 0.05]
    light[:, 2] = [0.0, 0.0, 0.3]
    made = layers(light)
    made.opacity[:] = np.array([1.0, 0.5, 0.0], np.float32)
    shot = parse_shot({"name": "Clear", "view": "plain", "finishing": {}})
    clear = finished(made, shot, 0).over_nothing(shot, made.opacity)
    assert clear[..., 3] == pytest.approx(np.tile([1.0, 0.5, 0.3], (4, 1)), abs=1e-6)
    assert clear[0, 1, :3] == pytest.approx(clear[0, 0, :3], abs=1e-3)
    assert clear[0, 2, :3] == pytest.approx([0, 0, 1], abs=1e-3)
    for bits in (8, 16):
        written = png(clear, bits)
        assert Image.open(io.BytesIO(written)).mode in ("RGBA", "RGBX")
    assert (png_pixels(png(clear, 16)) == of_depth(clear, 16)).all()


def test_a_film_with_transparency_has_it():
    """Written as ProRes 4444 and read back: the opacity of each pixel, to a step of its twelve bits or so."""
    frames = [np.zeros((32, 64, 4), np.float32) for _ in range(3)]
    for number, frame in enumerate(frames):
        frame[..., 0] = 0.6
        frame[:, : 16 * (number + 1), 3] = 1
        frame[:, 48:, 3] = 0.25
    content = encoded_film((of_depth(frame, 16) for frame in frames), Fraction(25), CODINGS["prores-4444"])
    with av.open(io.BytesIO(content)) as container:
        read = list(container.decode(container.streams.video[0]))
    assert len(read) == 3
    for frame, given in zip(read, frames, strict=True):
        back = frame.reformat(format="rgba64le").to_ndarray() / 65535
        assert back[..., 3] == pytest.approx(given[..., 3], abs=0.01)


def test_numbers_are_written_where_they_harm_least_and_can_be_read():
    grey = np.full((180, 320, 3), 0.5, np.float32)
    told = numbered(grey, "Fog  0058")
    changed = np.abs(told - grey).max(axis=-1) > 0.1
    rows, columns = np.nonzero(changed)
    assert rows.min() > 150
    assert columns.max() < 120
    assert told.max() > 0.85
    assert told.min() < 0.1
    assert (numbered(grey, "Fog  0059") != told).any()


def test_a_contact_sheet_has_its_pictures_in_rows():
    pictures = [np.full((90, 160, 3), number / 12, np.float32) for number in range(12)]
    sheet = side_by_side(pictures)
    high, wide = sheet.shape[:2]
    assert 0.5 < wide / high < 2
    for number in range(12):
        assert (sheet == np.float32(number / 12)).all(axis=-1).sum() == 90 * 160
