"""Pictures of all round, from the files that they come in."""

from __future__ import annotations

import io

import numpy as np
import pytest
from panoramas import exr, hdr
from PIL import Image

from windsock.core.kernels.srgb import decoded
from windsock.core.refusals import Refusal
from windsock.formats.importing import read_file, summary
from windsock.formats.panorama import WIDEST
from windsock.formats.parsed import restored, store


def light(high=16, most=40.0):
    rows, columns = np.mgrid[0:high, 0 : 2 * high]
    return np.stack([rows / high, columns / (2 * high), np.where(rows < 2, most, 0.25)], axis=-1).astype(np.float32)


def written(pixels, folder) -> bytes:
    exr(pixels, folder / "made.exr")
    return (folder / "made.exr").read_bytes()


def test_radiance_and_openexr_are_linear_light(tmp_path):
    made = light()
    assert read_file(written(made, tmp_path), "exr").light == pytest.approx(made, rel=2e-3)
    # A shared exponent has eight bits for the largest colour.
    assert read_file(hdr(made), "hdr").light == pytest.approx(made, abs=0.35, rel=0.02)


@pytest.mark.parametrize("kind", ["png", "jpg"])
def test_png_and_jpeg_are_srgb(kind):
    pixels = np.full((16, 32, 3), [200, 100, 50], np.uint8)
    held = io.BytesIO()
    Image.fromarray(pixels).save(held, "PNG" if kind == "png" else "JPEG", quality=95)
    wanted = decoded(np.array([200, 100, 50]) / 255)
    assert read_file(held.getvalue(), kind).light[8, 8] == pytest.approx(wanted, abs=0.02)


def test_what_is_kept_is_as_wide_as_is_needed_and_comes_back(tmp_path):
    wide = read_file(written(light(WIDEST * 3 // 4), tmp_path), "exr")
    assert wide.light.shape[1] <= WIDEST
    assert wide.light[..., 0].mean() == pytest.approx(0.5, abs=0.01)
    store(wide, tmp_path / "kept")
    assert (restored(tmp_path / "kept").light == wide.light).all()
    assert summary(wide)["sort"] == "panorama"


def test_what_is_no_number_is_no_light(tmp_path):
    made = light()
    made[3, 3] = np.nan
    made[4, 4] = np.inf
    made[5, 5] = -3
    kept = read_file(written(made, tmp_path), "exr").light
    assert np.isfinite(kept).all()
    assert kept.min() >= 0


@pytest.mark.parametrize(
    ("content", "kind", "words"),
    [
        (b"#?RADIANCE\nnothing", "hdr", "Radiance HDR"),
        (b"#?RADIANCE\n\n-Y 40000 +X 80000\n", "hdr", "million are read"),
        (b"#?RADIANCE\n\n-Y 16 +X 32\nshort", "hdr", "Radiance HDR"),
        (b"v/1\x01nothing at all", "exr", "OpenEXR"),
        (b"\x89PNG\r\n\x1a\nno", "png", "PNG or JPEG"),
    ],
)
def test_broken_and_huge_ones_are_refused_in_words(content, kind, words):
    with pytest.raises(Refusal, match=words):
        read_file(content, kind)


def test_a_picture_that_is_not_twice_as_wide_as_high_is_refused():
    held = io.BytesIO()
    Image.new("RGB", (64, 64)).save(held, "PNG")
    with pytest.raises(Refusal, match="twice as wide"):
        read_file(held.getvalue(), "png")
