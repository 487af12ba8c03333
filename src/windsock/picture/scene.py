"""What a renderer gets: arrays in world metres, looks, light and a lens. Plain data, checked before it is handed over."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields, is_dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from xxhash import xxh3_128

from windsock.core.document.layers import Role
from windsock.core.kernels.pictures import Wrap

Floats = NDArray[np.float32]

Region = tuple[int, int, int, int]
"""A part of a picture: its left, top, right and bottom edges in pixels from the top left."""

MOST_PIXELS = 8192 * 8192


SeenAs = Role | Literal["unseen"]


@dataclass(frozen=True, eq=False)
class SideLook:
    """The look of faces from behind, the same at every point: linear colour, and numbers from 0 to 1. emission: (3,)."""

    colour: Floats
    roughness: float
    metallic: float
    emission: Floats


@dataclass(frozen=True)
class Inside:
    """What light meets that goes through a surface: an index of refraction, what is left of linear light after a metre inside,
    and how thick it is in metres where it is a sheet."""

    index: float = 1.5
    left: tuple[float, float, float] = (1.0, 1.0, 1.0)
    thickness: float = 0.0


@dataclass(frozen=True, eq=False)
class Surface:
    """Triangles with their look. points, normals: (n, 3); faces: (m, 3); the rest a row for each point, or one for all.

    colour, emission: linear (n or 1, 3); roughness, metallic, transmission, opacity: (n or 1,). pixels: (height, width, 3)
    linear, the colour by uv, (n, 2) from the bottom left; mask: (height, width, 1), what multiplies the opacity the same way;
    wrap: what is beyond the edges of both, along u and v. backs: how faces are seen from behind. cut: whether an opacity is
    either there or not, divided at 1/2. values: (n,) of fields, by their ids, that are read where it is seen. piece: (n,) which
    piece each point is of. later: (n, 3) where each point is one frame later. role: how it is seen. inside: what light meets that
    goes through it.
    """

    item: str
    part: str
    points: Floats
    normals: Floats
    faces: NDArray[np.uint32]
    colour: Floats
    roughness: Floats
    metallic: Floats
    transmission: Floats
    opacity: Floats
    emission: Floats
    uv: Floats | None = None
    pixels: Floats | None = None
    mask: Floats | None = None
    wrap: tuple[Wrap, Wrap] = ("repeat", "repeat")
    backs: Literal["shown", "hidden"] | SideLook = "shown"
    cut: bool = False
    values: Mapping[str, Floats] = field(default_factory=dict[str, Floats])
    piece: NDArray[np.integer] | None = None
    later: Floats | None = None
    role: SeenAs = "shown"
    inside: Inside = Inside()

    @property
    def content(self) -> str:
        """A hash of all that the renderer has it as."""
        beside = ("values", "piece", "later", "role")
        return _hashed({name: value for name, value in _told(self).items() if name not in beside})

    @property
    def through(self) -> bool:
        """Whether light goes through it anywhere."""
        return bool((self.transmission > 0).any())

    @property
    def fades(self) -> bool:
        """Whether it is not quite opaque anywhere."""
        return self.mask is not None or bool((self.opacity < 1).any())


@dataclass(frozen=True)
class Sun:
    """Parallel light. towards: (3,) the way that it shines; light: (3,) linear, what falls on a face square to it, times pi
    over the light that a white face then sends back; degrees: how wide it is in the sky, 0 for a point."""

    towards: tuple[float, float, float]
    light: tuple[float, float, float]
    degrees: float = 0.0


@dataclass(frozen=True)
class Lamp:
    """A light that stands near, and is itself seen only in what mirrors it. matrix: 16 numbers to the world by rows, it shines
    along its -Z. light: (3,) linear, what falls on a face square to it one metre away. radius: of a ball in metres, 0 for a point;
    across: metres wide and high of an area, None for a ball."""

    matrix: tuple[float, ...]
    light: tuple[float, float, float]
    radius: float = 0.0
    across: tuple[float, float] | None = None


@dataclass(frozen=True, eq=False)
class Surroundings:
    """The light from all round: a sky by its name, how strong its light is, and degrees that it is turned about +Y. behind: linear,
    what is seen behind all; None for the sky itself, at a strength of 1. light: (height, width, 3) the sky, as a `Panorama` has it; None for
    the one of that name."""

    kind: str = "day"
    strength: float = 1.0
    turn: float = 0.0
    behind: tuple[float, float, float] | None = None
    light: NDArray[np.float16] | None = None


@dataclass(frozen=True)
class Lens:
    """Where the camera is and how it sees. matrix: 16 numbers to the world by rows, it looks along its -Z with +Y up.

    degrees: the angle of view from bottom to top. radius: of the aperture in metres, 0 for all sharp; focus: metres to what is
    sharp.
    """

    matrix: tuple[float, ...]
    degrees: float
    radius: float = 0.0
    focus: float = 1.0

    @property
    def to_world(self) -> NDArray[np.float64]:
        """(4, 4)."""
        return np.array(self.matrix).reshape(4, 4)

    def seen_at(self, places: NDArray[np.float64], width: int, height: int) -> NDArray[np.float64]:
        """(n, 2) pixels from the lower left corner at which places, (n, 3) in the world, are seen in a picture of a size."""
        matrix = self.to_world
        axes = matrix[:3, :3] / np.linalg.norm(matrix[:3, :3], axis=0)
        own = (places - matrix[:3, 3]) @ axes
        depth = np.maximum(-own[:, 2:], 1e-6)
        high = np.tan(np.radians(self.degrees) / 2)
        return (own[:, :2] / depth / np.array([high * width / height, high]) * 0.5 + 0.5) * np.array([width, height])


@dataclass(frozen=True, eq=False)
class Scene:
    """All of a moment. width, height: pixels. later: the lens one frame later, where motion is asked for. region: pixels from the
    left, the top, to the right and the bottom, where only a part of the picture is rendered."""

    width: int
    height: int
    lens: Lens
    surfaces: tuple[Surface, ...]
    suns: tuple[Sun, ...] = ()
    surroundings: Surroundings = Surroundings()
    lamps: tuple[Lamp, ...] = ()
    later: Lens | None = None
    region: Region | None = None

    @property
    def content(self) -> str:
        """A hash of all that is in it."""
        return _hashed(_told(self))

    @property
    def rendered_size(self) -> tuple[int, int]:
        """Height and width in pixels of what is rendered of it."""
        if self.region is None:
            return self.height, self.width
        left, top, right, bottom = self.region
        return bottom - top, right - left


def _told(value: object) -> dict[str, object]:
    return {one.name: getattr(value, one.name) for one in fields(value)}  # pyright: ignore[reportArgumentType]


def _hashed(told: Mapping[str, object]) -> str:
    """A hash of arrays, numbers, words, and what is made of them."""
    digest = xxh3_128()

    def add(name: str, value: object) -> None:
        if isinstance(value, np.ndarray):
            digest.update(f"{name} {value.shape} {value.dtype}".encode())
            digest.update(np.ascontiguousarray(value).data)
        elif is_dataclass(value):
            digest.update(f"{name} {type(value).__name__}".encode())
            for key, one in _told(value).items():
                add(key, one)
        elif isinstance(value, Mapping):
            digest.update(f"{name} {len(value)}".encode())
            for key in sorted(value):
                add(str(key), value[key])
        elif isinstance(value, tuple):
            digest.update(f"{name} {len(value)}".encode())
            for one in value:
                add("", one)
        else:
            digest.update(f"{name} {value!r}".encode())

    for name, value in told.items():
        add(name, value)
    return digest.hexdigest()


def checked(surface: Surface) -> Surface | None:
    """A surface with nothing in it that a renderer stumbles over; None where nothing is left.

    Faces with a corner that is not a finite place, and faces without an area, are left out; a normal that is none becomes
    that of a face; what is not a number in a look is 0.
    """
    count = len(surface.points)
    faces = surface.faces
    if len(faces) == 0 or count == 0:
        return None
    if int(faces.max()) >= count:
        raise ValueError(f"a face of {surface.item} names point {int(faces.max())} of {count}")
    good = np.asarray(np.isfinite(surface.points).all(axis=1) & (np.abs(surface.points) < 1e6).all(axis=1))
    points = surface.points if good.all() else np.where(good[:, None], surface.points, np.float32(0))
    corners = points[faces]
    across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    area = np.einsum("ij,ij->i", across, across)
    kept = np.asarray(good[faces].all(axis=1) & (area > 0) & np.isfinite(area))
    if not kept.any():
        return None
    faces = faces if kept.all() else faces[kept]
    normals = surface.normals
    length = np.linalg.norm(normals, axis=1)
    bad = np.logical_not(length > 1e-6)
    if bad.any():
        flat = np.zeros_like(points)
        np.add.at(flat, faces.ravel(), np.repeat(across[kept], 3, axis=0).astype(np.float32))
        sizes = np.maximum(np.linalg.norm(flat, axis=1, keepdims=True), 1e-20)
        normals = np.where(
            bad[:, None], np.where(sizes > 1e-20, flat / sizes, np.array([0, 1, 0], dtype=np.float32)), normals
        )
    looks = {
        name: _numbers(getattr(surface, name))
        for name in ("colour", "roughness", "metallic", "transmission", "opacity", "emission")
    }
    return replace(
        surface,
        points=np.ascontiguousarray(points, dtype=np.float32),
        normals=np.ascontiguousarray(normals, dtype=np.float32),
        faces=np.ascontiguousarray(faces, dtype=np.uint32),
        values={key: _numbers(values) for key, values in surface.values.items()},
        **looks,
    )


def _numbers(values: Floats) -> Floats:
    return np.nan_to_num(values, nan=0.0, posinf=1e4, neginf=0.0).astype(np.float32)
