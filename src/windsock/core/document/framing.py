"""Bringing things into the picture: where the shot's camera must stand to see a box, as an edit."""

from __future__ import annotations

from math import degrees

import numpy as np
from numpy.typing import NDArray
from pydantic import JsonValue

from windsock.core.document.items import Camera
from windsock.core.document.patches import Operation
from windsock.core.document.shot import Shot
from windsock.core.timing.parameter import KeyedVector

Reals = NDArray[np.float64]

FILLS = 0.62
"""The share of the picture's height that what is brought into view fills."""

SMALLEST, LARGEST = 0.12, 1.0
"""Shares of the picture's height below and above which a thing counts as not in the picture."""


def in_picture(shot: Shot, frame: float, low: Reals, high: Reals) -> bool:
    """Whether the shot's camera sees the whole of a box, (3,) to (3,) in world metres, and sees it at a sensible size."""
    if shot.camera is None:
        return True
    matrix, tangent = _camera(shot, frame)
    seen = (_corners(low, high) - matrix[:3, 3]) @ matrix[:3, :3]
    if (seen[:, 2] > -1e-3).any():
        return False
    across = seen[:, :2] / -seen[:, 2:] / (tangent * np.array([_aspect(shot), 1.0]))
    height = float(across[:, 1].max() - across[:, 1].min()) / 2
    width = float(across[:, 0].max() - across[:, 0].min()) / 2
    return bool((np.abs(across) <= 1.05).all()) and max(height, width) >= SMALLEST and height <= LARGEST


def into_view(shot: Shot, frame: float, low: Reals, high: Reals) -> list[Operation]:
    """The edit after which the shot's camera, looking the way it does at a frame, sees a box as a good part of its picture.

    A camera that is keyed in place goes along its way as before, from where it then stands; one that aims looks that way by
    its own turn from then on. Nothing where the shot has no camera.
    """
    if shot.camera is None:
        return []
    camera = shot.items[shot.camera]
    assert isinstance(camera, Camera)
    at = shot.moment(frame)
    matrix, tangent = _camera(shot, frame)
    middle = (low + high) / 2
    seen = (_corners(low, high) - middle) @ matrix[:3, :3]
    # The nearest corner counts in full: each must lie within the share of the picture at its own distance.
    needed = np.abs(seen[:, :2]) / (FILLS * tangent * np.array([_aspect(shot), 1.0])) + seen[:, 2:]
    distance = max(float(needed.max()), 0.05)
    wanted = middle + matrix[:3, 2] * distance
    patch: list[Operation] = []
    carrier = shot.space_of(shot.camera, at)
    path = f"/items/{shot.camera}"
    if camera.aim is not None:
        turn = carrier[:3, :3].T @ matrix[:3, :3]
        patch.append(Operation(op="replace", path=f"{path}/aim", value=None))
        patch.append(Operation(op="replace", path=f"{path}/turn", value=_turns(turn)))
    place = carrier[:3, :3].T @ (wanted - carrier[:3, 3])
    if isinstance(camera.place, KeyedVector):
        further = place - np.array(at(camera.place))
        for key, keyed in camera.place.keys.items():
            value = _listed(np.array(keyed.value) + further)
            patch.append(Operation(op="replace", path=f"{path}/place/keys/{key}/value", value=value))
    else:
        patch.append(Operation(op="replace", path=f"{path}/place", value=_listed(place)))
    return patch


def _listed(place: Reals) -> JsonValue:
    return [round(float(one), 4) for one in place]


def _camera(shot: Shot, frame: float) -> tuple[Reals, float]:
    """(4, 4) from the camera's space to the world, and the tangent of half its angle of view, upward."""
    assert shot.camera is not None
    camera = shot.items[shot.camera]
    assert isinstance(camera, Camera)
    at = shot.moment(frame)
    return shot.placement(shot.camera, at), float(np.tan(np.radians(at(camera.angle)) / 2))


def _aspect(shot: Shot) -> float:
    return shot.picture.width / shot.picture.height


def _corners(low: Reals, high: Reals) -> Reals:
    """(8, 3) the corners of a box."""
    which = (np.arange(8)[:, None] >> np.arange(3)) & 1
    return np.where(which == 0, low, high)


def _turns(rotation: Reals) -> JsonValue:
    """Degrees about X, then Y, then Z of a (3, 3) rotation (the order of `placement`)."""
    y = float(np.arcsin(np.clip(-rotation[2, 0], -1, 1)))
    x = float(np.arctan2(rotation[2, 1], rotation[2, 2]))
    z = float(np.arctan2(rotation[1, 0], rotation[0, 0]))
    return [round(degrees(one), 4) for one in (x, y, z)]
