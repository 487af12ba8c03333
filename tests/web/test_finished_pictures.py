"""Finished pictures asked of the API: a part of one, and how long more of them would take."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image
from shots import cut_ball


@pytest.fixture
def shot(client) -> str:
    document = cut_ball()
    document["items"]["eye"] = {"kind": "camera", "name": "Eye", "rank": 3, "place": [0, 0, 6], "angle": 30}
    document["items"]["key"] = {"kind": "light", "name": "Key", "rank": 4, "turn": [-45, 30, 0]}
    return client.new_shot(document | {"camera": "eye", "picture": {"width": 320, "height": 180}})


def finished(client, shot: str, **more: object):
    wish = {"revision": 0, "frame": 0, "width": 96, "height": 54, "samples": 32} | more
    return client.post(f"/api/shots/{shot}/finished", wish)


def pixels(content: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(content)).convert("RGB")).astype(float)


def test_a_part_is_a_part_of_the_whole_and_time_is_told_after_it(client, shot):
    time = f"/api/shots/{shot}/rendering-time?revision=0"
    assert client.get(f"{time}&frames=10").json == {"seconds": None, "memory": None}
    whole = pixels(finished(client, shot).body)
    part = finished(client, shot, part=[0.25, 0.0, 0.75, 0.5])
    assert part.status == 200, part.json
    cut = pixels(part.body)
    assert cut.shape == (27, 48, 3)
    assert abs(cut - whole[:27, 24:72]).mean() < 6
    # A picture of 320 by 180 with few faces: the process itself, and 950 bytes for each pixel.
    assert client.get(f"{time}&frames=10").json["memory"] == pytest.approx(3e8 + 950 * 320 * 180, rel=0.01)
    ten, one = (client.get(f"{time}&frames={count}").json["seconds"] for count in (10, 1))
    assert ten == pytest.approx(10 * one)
    assert client.get(f"{time}&frames=1&part=2").json["seconds"] == pytest.approx(one / 4)
    assert client.get(f"{time}&frames=1&format=contact-sheet").json["seconds"] == pytest.approx(one)


@pytest.mark.parametrize(
    "part", [[0.5, 0, 0.5, 1], [0, 0.6, 1, 0.4], [-0.1, 0, 1, 1], [0, 0, 1, 1.2], [0, 0, 1], "all"]
)
def test_what_is_no_part_is_refused_in_words(client, shot, part):
    refused = finished(client, shot, part=part)
    assert refused.status == 422
    assert "part" in refused.json["detail"]
