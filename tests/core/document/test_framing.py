"""Bringing things into the picture: where the box's corners come to by the pinhole camera."""

from __future__ import annotations

import numpy as np
import pytest
from shots import parsed

from windsock.core.document.framing import in_picture, into_view
from windsock.core.document.patches import patched
from windsock.demo.blank import blank_shot

BOXES = {
    "a tenth of a metre": (np.array([0.0, 0, 0]), np.array([0.1, 0.08, 0.06])),
    "ten metres": (np.array([-5.0, 0, -5]), np.array([5.0, 10, 5])),
    "far away": (np.array([80.0, 3, -200]), np.array([81.0, 5, -199])),
    "behind the camera": (np.array([0.0, 1, 30]), np.array([1.0, 2, 31])),
    "long and flat": (np.array([-4.0, 0, 0]), np.array([4.0, 0.01, 0.2])),
}
CAMERAS: dict[str, dict] = {
    "still": {},
    "turned": {"turn": [-20, 130, 4]},
    "keyed": {"place": {"keys": {"a": {"frame": 0, "value": [0, 2, 8]}, "b": {"frame": 60, "value": [3, 1, 5]}}}},
    "carried": {"parent": "controller", "turn": [0, 30, 0]},
    "aiming": {"aim": "controller"},
    "tall picture": {},
}


def heights(shot, frame: float, low, high) -> tuple[float, float]:
    """How much of the picture the box's corners span upward and across, by the pinhole projection; nothing may lie outside."""
    matrix = shot.placement(shot.camera, shot.moment(frame))
    corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    seen = np.c_[corners, np.ones(8)] @ np.linalg.inv(matrix).T
    assert (seen[:, 2] < 0).all()
    focal = 1 / np.tan(np.radians(shot.moment(frame)(shot.items[shot.camera].angle)) / 2)
    up = focal * seen[:, 1] / -seen[:, 2]
    across = focal * seen[:, 0] / -seen[:, 2] * shot.picture.height / shot.picture.width
    assert max(np.abs(up).max(), np.abs(across).max()) <= 1
    return (up.max() - up.min()) / 2, (across.max() - across.min()) / 2


@pytest.mark.parametrize("box", BOXES)
@pytest.mark.parametrize("camera", CAMERAS)
def test_what_is_brought_into_view_fills_a_good_part_of_the_picture(box, camera):
    document: dict = blank_shot("Framing")  # type: ignore[assignment]
    document["items"]["camera"] |= CAMERAS[camera]
    document["items"]["controller"]["turn"] = [10, 40, 0]
    if camera == "tall picture":
        document["picture"] = {"width": 720, "height": 1280}
    shot = parsed(document)
    low, high = BOXES[box]
    for frame in (0, 33):
        patch = into_view(shot, frame, low, high)
        after = parsed(patched(shot.model_dump(mode="json"), patch))  # type: ignore[arg-type]
        up, across = heights(after, frame, low, high)
        assert 0.25 < max(up, across) <= 0.9
        assert in_picture(after, frame, low, high)
        before, now = (one.placement("camera", one.moment(frame))[:3, :3] for one in (shot, after))
        np.testing.assert_allclose(now, before, atol=1e-5)


@pytest.mark.parametrize("box", ["a tenth of a metre", "ten metres", "far away", "behind the camera"])
def test_what_is_too_small_too_large_or_elsewhere_is_not_in_the_picture(box):
    assert not in_picture(parsed(blank_shot("Framing")), 0, *BOXES[box])  # type: ignore[arg-type]


def test_a_ball_at_the_middle_is_in_the_picture_and_a_shot_without_a_camera_needs_none():
    document: dict = blank_shot("Framing")  # type: ignore[assignment]
    low, high = np.array([-1.0, 0, -1]), np.array([1.0, 2, 1])
    assert in_picture(parsed(document), 0, low, high)
    document["camera"] = None
    assert in_picture(parsed(document), 0, low, high)
    assert into_view(parsed(document), 0, low, high) == []
