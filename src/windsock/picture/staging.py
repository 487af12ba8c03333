"""An evaluated frame as the scene that is rendered."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Literal, cast

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import in_order
from windsock.core.document.items import Camera, Light
from windsock.core.document.shot import Shot
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.expanding import copied_faces, expanded
from windsock.core.evaluate.frame import Frame
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.mesh import FACE_LIMIT
from windsock.core.geometry.panorama import Panorama
from windsock.core.geometry.placement import moved, turned_normals
from windsock.core.kernels.srgb import OF_BYTES
from windsock.core.look import Look
from windsock.core.refusals import TooMuch
from windsock.picture.scene import (
    Floats,
    Inside,
    Lamp,
    Lens,
    Region,
    Scene,
    SeenAs,
    SideLook,
    Sun,
    Surface,
    Surroundings,
    checked,
)

Told = Mapping[str, float | str]
Measured = Callable[[DrawItem], Mapping[str, NDArray[np.float64]]]

FREE_ANGLE = 35.0

DARKEST = 1e-4
"""What is left of light at least after the distance that a look tells: of none of it no power can be taken."""


def staged(
    shot: Shot,
    frame: Frame,
    width: int,
    height: int,
    measured: Measured | None = None,
    later: Frame | None = None,
    round_about: Panorama | None = None,
    region: Region | None = None,
) -> Scene:
    """The scene of a frame, at a size in pixels. measured: the values of the fields that are to be read where it is seen, by what
    is drawn. later: the next frame, where it is asked how all moves. round_about: the picture of the
    surroundings, where they have one. region: the part that is rendered. Raises TooMuch for more faces of copies than are rendered."""
    total = copied_faces(frame)
    if total > FACE_LIMIT:
        raise TooMuch(
            f"The copies have {total:,} faces together; up to {FACE_LIMIT:,} are rendered. Nothing was rendered. Have "
            f"{int(100 * FACE_LIMIT / total)} % of them, or copy a shape with fewer faces."
        )
    frame = expanded(frame)
    goals = None if later is None else Goals(expanded(later))
    made = [_surface(item, frame, measured, goals, shot.role_of(item.item)) for item in frame.draw if item.body.faces()]
    surfaces = [surface for surface in made if surface is not None]
    lights = [(item, frame.placements[key]) for key, item in in_order(shot.items) if isinstance(item, Light)]
    lights = [(item, matrix) for item, matrix in lights if frame.moment(item.strength) > 0]
    suns = [_sun(item, matrix, frame) for item, matrix in lights if item.shines == "parallel"]
    lamps = [_lamp(item, matrix, frame) for item, matrix in lights if item.shines != "parallel"]
    told, at = shot.environment, frame.moment
    light = None if round_about is None else round_about.light
    behind = None if told.seen else linear_from_hex(told.behind)
    if shot.pictured is not None:
        behind = (0.0, 0.0, 0.0)
    surroundings = Surroundings(told.kind, float(at(told.strength)), float(at(told.turn)), behind, light)
    return Scene(
        width,
        height,
        _lens(shot, frame, surfaces, width / height),
        tuple(surfaces),
        tuple(suns),
        surroundings,
        tuple(lamps),
        None if later is None else _lens(shot, later, surfaces, width / height),
        region,
    )


class Goals:
    """Where the points of a frame are, to be found by which points they are: their numbers, and of what is broken their pieces too."""

    def __init__(self, frame: Frame) -> None:
        found: dict[tuple[str, str], list[DrawItem]] = {}
        for item in frame.draw:
            found.setdefault((item.item, item.part), []).append(item)
        self._of: dict[tuple[str, str], tuple[NDArray[np.uint64], Floats]] = {}
        for name, items in found.items():
            names, first = np.unique(np.concatenate([_point_names(one) for one in items]), return_index=True)
            self._of[name] = names, np.concatenate([_world(one) for one in items])[first]

    def of(self, item: DrawItem) -> Floats:
        """(n, 3) where the points of what is drawn are then; where they are now for those that are gone."""
        here = _world(item)
        names, places = self._of.get((item.item, item.part), (np.zeros(0, np.uint64), here[:0]))
        own = _point_names(item)
        place = np.minimum(np.searchsorted(names, own), max(len(names) - 1, 0))
        if len(names) == 0:
            return here
        return np.where((names[place] == own)[:, None], places[place], here)


def _point_names(item: DrawItem) -> NDArray[np.uint64]:
    mesh = item.surface
    number = mesh.number.astype(np.int64).view(np.uint64)
    if mesh.piece is None:
        return number
    # Pieces share the numbers of places where they were one.
    return number ^ (mesh.piece.astype(np.uint64) + np.uint64(1)) * np.uint64(0x9E3779B97F4A7C15)


def _world(item: DrawItem) -> Floats:
    return moved(item.surface.points.astype(np.float64), item.matrix).astype(np.float32)


def _surface(
    item: DrawItem, frame: Frame, measured: Measured | None, goals: Goals | None, role: SeenAs
) -> Surface | None:
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
            _world(item),
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
            {} if measured is None else {key: values.astype(np.float32) for key, values in measured(item).items()},
            mesh.piece,
            None if goals is None else goals.of(item),
            role,
            _inside(look),
        )
    )


def _inside(look: Told) -> Inside:
    """What is left of light after a metre, as the colour is what is left after the distance that the look tells (Beer and Lambert)."""
    after = np.maximum(linear_from_hex(str(look["attenuation_colour"])), DARKEST) ** (
        1 / float(look["attenuation_distance"])
    )
    return Inside(float(look["index"]), _three(after), float(look["thickness"]))


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
    return Sun(_three(towards), light.light(frame.moment), float(frame.moment(light.width)))


def _lamp(light: Light, matrix: NDArray[np.float64], frame: Frame) -> Lamp:
    at = frame.moment
    numbers = tuple(matrix.ravel().tolist())
    if light.shines == "point":
        return Lamp(numbers, light.light(at), float(at(light.radius)))
    return Lamp(numbers, light.light(at), across=(float(at(light.wide)), float(at(light.high))))


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
    glass = camera.glass(at, shot.picture.height / shot.picture.width)
    # The f-number is the focal length over the width of the opening.
    radius = 0.0 if glass.f_number <= 0 else glass.focal / glass.f_number / 2
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
