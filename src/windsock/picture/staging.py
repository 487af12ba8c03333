"""An evaluated frame as the scene that is rendered."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal, cast

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import in_order
from windsock.core.document.items import Camera, Light
from windsock.core.document.shot import Shot
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.expanding import expanded
from windsock.core.evaluate.frame import Frame
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.placement import moved, turned_normals
from windsock.core.kernels.srgb import OF_BYTES
from windsock.core.look import Look
from windsock.picture.scene import Floats, Lens, Scene, SideLook, Sun, Surface, Surroundings, checked

Told = Mapping[str, float | str]

FREE_ANGLE = 35.0


def staged(shot: Shot, frame: Frame, width: int, height: int) -> Scene:
    """The scene of a frame, at a size in pixels. Raises TooMuch for more faces of copies than are rendered."""
    frame = expanded(frame)
    surfaces = [found for item in frame.draw if item.body.faces() and (found := _surface(item, frame)) is not None]
    # As in the page, the first light shines.
    lights = [(key, item) for key, item in in_order(shot.items) if isinstance(item, Light)][:1]
    suns = [_sun(item, frame.placements[key], frame) for key, item in lights if frame.moment(item.strength) > 0]
    surroundings = Surroundings(shot.environment.kind, float(frame.moment(shot.environment.strength)))
    return Scene(
        width, height, _lens(shot, frame, surfaces, width / height), tuple(surfaces), tuple(suns), surroundings
    )


def _surface(item: DrawItem, frame: Frame) -> Surface | None:
    mesh, body = item.surface, item.body
    look = cast(Told, frame.plan.resolved(body.look, frame.moment))
    base = np.array(linear_from_hex(str(look["base_colour"])), dtype=np.float32)
    pixels, mask, picture = None, None, item.picture
    if picture is not None and mesh.uv is not None:
        if mesh.colour is None and mesh.pictured is None:
            pixels = (OF_BYTES[picture.pixels[..., :3]] * base).astype(np.float32)
        if picture.alpha != "none" and picture.pixels.shape[2] == 4:
            shown = picture.pixels[..., 3:].astype(np.float32)
            mask = np.asarray(shown >= 128 if picture.alpha == "cut" else shown / 255, dtype=np.float32)
    own = mesh.colour if pixels is not None else mesh.seen_colour()
    colour = base[None] if own is None else np.where(np.isnan(own), base, own)
    emission = mesh.emission
    if emission is None:
        emission = (np.array(linear_from_hex(str(look["emission_colour"]))) * look["emission"])[None]
    opacity = _channel(mesh.opacity, 1.0) * np.float32(look["opacity"])
    # What is mirrored by its placement turns its faces about.
    faces = mesh.faces if np.linalg.det(item.matrix[:3, :3]) > 0 else mesh.faces[:, ::-1]
    return checked(
        Surface(
            item.item,
            item.part,
            moved(mesh.points.astype(np.float64), item.matrix).astype(np.float32),
            turned_normals(mesh.normals, item.matrix).astype(np.float32),
            faces.astype(np.uint32),
            colour.astype(np.float32),
            _channel(mesh.roughness, look["roughness"]),
            _channel(mesh.metallic, look["metallic"]),
            _channel(mesh.transmission, look["transmission"]),
            opacity,
            np.asarray(emission, dtype=np.float32),
            mesh.uv,
            pixels,
            mask,
            ("repeat", "repeat") if picture is None else picture.wrap,
            _backs(body.backs, frame),
            body.alpha == "cut",
        )
    )


def _channel(own: Floats | None, told: float | str) -> Floats:
    return np.array([told], dtype=np.float32) if own is None else own.astype(np.float32)


def _backs(backs: Look | Literal["shown", "hidden"], frame: Frame) -> Literal["shown", "hidden"] | SideLook:
    if not isinstance(backs, Look):
        return backs
    look = cast(Told, frame.plan.resolved(backs, frame.moment))
    emission = np.array(linear_from_hex(str(look["emission_colour"]))) * look["emission"]
    return SideLook(
        np.array(linear_from_hex(str(look["base_colour"])), dtype=np.float32),
        float(look["roughness"]),
        float(look["metallic"]),
        emission.astype(np.float32),
    )


def _sun(light: Light, matrix: NDArray[np.float64], frame: Frame) -> Sun:
    towards = -matrix[:3, 2] / max(float(np.linalg.norm(matrix[:3, 2])), 1e-12)
    shone = np.array(linear_from_hex(light.colour)) * frame.moment(light.strength)
    return Sun(_three(towards), _three(shone), float(frame.moment(light.width)))


def _three(values: NDArray[np.float64]) -> tuple[float, float, float]:
    x, y, z = (float(one) for one in values)
    return x, y, z


def _lens(shot: Shot, frame: Frame, surfaces: list[Surface], aspect: float) -> Lens:
    """The shot's camera; of a shot without one, a view of all that is there, from before and above."""
    if shot.camera is None:
        return _free(surfaces, aspect)
    camera = shot.items[shot.camera]
    assert isinstance(camera, Camera)
    at, matrix = frame.moment, frame.placements[shot.camera]
    f_number = at(camera.aperture)
    across = camera.sensor * shot.picture.height / shot.picture.width
    focal = across / 2 / np.tan(np.radians(at(camera.angle)) / 2)
    # The f-number is the focal length over the width of the opening.
    radius = 0.0 if f_number <= 0 else float(focal / 1000 / f_number / 2)
    degrees = _whole(at(camera.angle), shot.picture.width / shot.picture.height, aspect)
    return Lens(tuple(matrix.ravel().tolist()), degrees, radius, _focus(shot, camera, frame))


def _whole(degrees: float, own: float, aspect: float) -> float:
    """The angle of view at which the whole of the shot's picture is seen in one that is not as wide against its height."""
    tangent = np.tan(np.radians(degrees) / 2) * max(1.0, own / aspect)
    return float(np.degrees(2 * np.arctan(tangent)))


def _focus(shot: Shot, camera: Camera, frame: Frame) -> float:
    """Metres along the lens to what is sharp: to an item where the camera follows one."""
    if camera.focus_on is None or shot.camera is None:
        return max(frame.moment(camera.focus), 0.01)
    matrix = frame.placements[shot.camera]
    away = frame.placements[camera.focus_on][:3, 3] - matrix[:3, 3]
    return max(float(-(away @ matrix[:3, 2]) / max(float(np.linalg.norm(matrix[:3, 2])), 1e-12)), 0.01)


def _free(surfaces: list[Surface], aspect: float) -> Lens:
    low = np.min([one.points.min(axis=0) for one in surfaces], axis=0) if surfaces else np.full(3, -1.0)
    high = np.max([one.points.max(axis=0) for one in surfaces], axis=0) if surfaces else np.full(3, 1.0)
    middle, radius = (low + high) / 2, max(float(np.linalg.norm(high - low)) / 2, 1e-3)
    back = np.array([0.35, 0.35, 1.0]) / np.linalg.norm([0.35, 0.35, 1.0])
    right = np.cross([0.0, 1.0, 0.0], back)
    right /= np.linalg.norm(right)
    matrix = np.eye(4)
    matrix[:3, :3] = np.column_stack([right, np.cross(back, right), back])
    half = np.radians(FREE_ANGLE / 2)
    matrix[:3, 3] = middle + back * radius / np.sin(min(half, np.arctan(np.tan(half) * aspect)))
    return Lens(tuple(matrix.ravel().tolist()), FREE_ANGLE)
