"""`./windsock picture` and `./windsock film`: finished frames without web or database."""

from __future__ import annotations

import io
import json

import av
import numpy as np
import OpenEXR
import pytest
from PIL import Image
from shots import cut_ball

from windsock.commands.film import film
from windsock.commands.picture import picture
from windsock.commands.say import Trouble

SMALL = ["--size", "64x48", "--samples", "8"]


@pytest.fixture
def shot(tmp_path):
    path = tmp_path / "shot.json"
    path.write_text(json.dumps(cut_ball()))
    return str(path)


def test_a_frame_is_a_picture_of_the_kind_that_its_ending_says(tmp_path, shot, capsys):
    for name, kind in (("a.png", "PNG"), ("a.jpg", "JPEG"), ("a.webp", "WEBP")):
        out = tmp_path / name
        assert picture([shot, "--frame", "40.5", *SMALL, "--out", str(out)]) == 0
        read = Image.open(io.BytesIO(out.read_bytes()))
        assert (read.format, read.size) == (kind, (64, 48))
        pixels = np.asarray(read.convert("RGB")).astype(int)
        # The ball before the sky.
        assert np.abs(pixels[24, 32] - pixels[1, 1]).max() > 15
    assert picture([shot, "--frame", "40", *SMALL, "--out", str(tmp_path / "a.exr")]) == 0
    assert OpenEXR.File(str(tmp_path / "a.exr")).parts[0].name() == "beauty"
    assert "64 by 48" in capsys.readouterr().out
    assert picture([shot, "--frame", "40", *SMALL, "--clear", "--out", str(tmp_path / "clear.png")]) == 0
    opacity = np.asarray(Image.open(tmp_path / "clear.png"))[..., 3]
    assert (opacity[1, 1], opacity[24, 32]) == (0, 255)


def test_a_range_is_a_film(tmp_path, shot, capsys):
    out = tmp_path / "x.mp4"
    assert film([shot, "--first", "38", "--last", "41", "--size", "65x49", "--samples", "4", "--out", str(out)]) == 0
    with av.open(str(out)) as container:
        stream = container.streams.video[0]
        assert (stream.width, stream.height, stream.average_rate) == (64, 48, 24)
        assert len(list(container.decode(stream))) == 4
    assert "frame 41: 4 of 4" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("words", "complaint"),
    [
        (["--frame", "1", "--out", "x.gif"], "must end in .png"),
        (["--frame", "nan", "--out", "x.png"], "must lie between"),
        (["--frame", "1", "--clear", "--out", "x.jpg"], "nothing behind all"),
        (["--frame", "1", "--size", "1e9x3", "--out", "x.png"], "is no size"),
        (["--frame", "1", "--size", "8x8", "--out", "x.png"], "each from 16"),
        (["--frame", "1", "--size", "16384x16384", "--out", "x.png"], "more pixels than are rendered"),
        (["--frame", "1", "--samples", "0", "--out", "x.png"], "1 to 4096"),
        (["--frame", "1", "--noise", "nan", "--out", "x.png"], "between 0 and 1"),
    ],
)
def test_what_cannot_be_rendered_is_said(tmp_path, monkeypatch, shot, words, complaint):
    monkeypatch.chdir(tmp_path)
    with pytest.raises(Trouble, match=complaint):
        picture([shot, *words])
    assert not (tmp_path / "x.png").exists()


@pytest.mark.parametrize(
    ("words", "complaint"),
    [
        (["--out", "x.avi"], "must end in .mp4"),
        (["--first", "9", "--last", "3", "--out", "x.mp4"], "before the first"),
        (["--coding", "ffv1", "--out", "x.mp4"], "ends in .mkv"),
    ],
)
def test_what_cannot_be_filmed_is_said(tmp_path, monkeypatch, shot, words, complaint):
    monkeypatch.chdir(tmp_path)
    with pytest.raises(Trouble, match=complaint):
        film([shot, *words])


def test_a_file_that_is_no_shot_and_a_folder_that_is_not_there_are_said(tmp_path, shot):
    with pytest.raises(Trouble, match="There is no file"):
        picture([str(tmp_path / "none.json"), "--frame", "1", "--out", "x.png"])
    with pytest.raises(Trouble, match="could not be written"):
        picture([shot, "--frame", "1", *SMALL, "--out", str(tmp_path / "none" / "x.png")])
