"""Sweep: a section carried along a path."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import ItemId, Quantity
from windsock.core.geometry.course import Course, frames
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.slab import HARD, split_corners
from windsock.core.kernels.creases import corner_normals
from windsock.core.kernels.triangulation import border_meshed, meshed
from windsock.core.shapes.geometry import Assets, Courses, GeometryBase
from windsock.core.timing.parameter import Moment, NumberParameter

Places = NDArray[np.float64]


class Sweep(GeometryBase):
    """A round or square section along a path, in the path's own space: carried by the path, it lies on it.

    `start` and `end` say which share of the path is covered; keyed, the sweep grows along it.
    """

    finenesses: ClassVar[dict[str, str]] = {"sides": "{:g} sides", "spacing": "sections {:g} m apart"}
    kind: Literal["sweep"] = "sweep"
    path: ItemId
    section: Literal["round", "square"] = "round"
    width: Annotated[NumberParameter, Quantity("Width of the section", unit="m", low=0.0001, high=1e4)] = 0.2
    height: Annotated[NumberParameter, Quantity("Height of the section", unit="m", low=0.0001, high=1e4)] = 0.2
    start: Annotated[NumberParameter, Quantity("Share of the path where it begins", low=0, high=1, drag=0.002)] = 0.0
    end: Annotated[NumberParameter, Quantity("Share of the path where it ends", low=0, high=1, drag=0.002)] = 1.0
    start_size: Annotated[NumberParameter, Quantity("Size of its first section", low=0, high=100)] = 1.0
    end_size: Annotated[NumberParameter, Quantity("Size of its last section", low=0, high=100)] = 1.0
    twist: Annotated[
        NumberParameter, Quantity("Turned by from end to end", unit="°", low=-36000, high=36000, drag=1)
    ] = 0.0
    sides: Annotated[int, Quantity("Faces round the section", low=3, high=512, drag=0.2, whole=True)] = 24
    spacing: Annotated[
        NumberParameter, Quantity("Sections are this far apart", unit="m", low=0.0005, high=1e3, drag=0.002)
    ] = 0.05

    def face_count(self, length: float = 10.0) -> int:
        """About how many faces `build_sweep` will make along a path of this length in metres."""
        rows = length / Moment(0, 0)(self.spacing) + 2
        return int(min(2 * self.sides * rows + 4 * self.sides**2, 1e12))

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        del assets
        return build_sweep(self, at, courses(self.path))

    def faces_from(self, assets: Assets | None, courses: Courses) -> int:
        del assets
        return self.face_count(courses(self.path).length)

    def fitting(self, faces: int) -> str:
        apart = Moment(0, 0)(self.spacing) * self.face_count() / max(faces, 1)
        return f"Sections {apart:.2g} m apart would fit."

    def paths(self) -> tuple[str, ...]:
        return (self.path,)

    def finer_settings(self, factor: int) -> dict[str, float]:
        if not isinstance(self.spacing, (int, float)):
            return {}
        return {"sides": self.sides * factor, "spacing": round(self.spacing / factor, 5)}


def build_sweep(sweep: Sweep, at: Moment, course: Course) -> Mesh:
    """The sweep as a closed mesh; all round a closed path without caps. u goes round the section, v along the path."""
    low, high = sorted((at(sweep.start), at(sweep.end)))
    spacing = max(at(sweep.spacing), course.length / 100_000)
    first, last = low * course.length, max(high * course.length, low * course.length + 1e-4)
    last = min(last, course.length)
    first = min(first, last - 1e-5)
    rows = np.arange(int(np.floor(first / spacing)) + 1, int(np.ceil(last / spacing)))
    along = np.concatenate([[first], rows * spacing, [last]])
    row_number = np.concatenate([[rows[0] - 1 if len(rows) else 0], rows, [rows[-1] + 1 if len(rows) else 1]]) + 1
    closed = course.closed and low <= 0 and high >= 1
    every = max(spacing, 1e-6)
    table = np.linspace(0, course.length, max(int(course.length / every), 8) + 1)
    _, side, up = frames(course.at(table), course.closed)
    share = (along - first) / (last - first)
    size = at(sweep.start_size) + (at(sweep.end_size) - at(sweep.start_size)) * share
    turn = np.radians(at(sweep.twist)) * along / course.length
    outline = _section(sweep, at)
    ring = outline[None, :, :] * np.maximum(size, 1e-4)[:, None, None]
    cosine, sine = np.cos(turn)[:, None], np.sin(turn)[:, None]
    x, y = cosine * ring[:, :, 0] - sine * ring[:, :, 1], sine * ring[:, :, 0] + cosine * ring[:, :, 1]
    across, over = (_between(along, table, axes) for axes in (side, up))
    places = course.at(along)[:, None, :] + x[:, :, None] * across[:, None, :] + y[:, :, None] * over[:, None, :]
    count = len(outline)
    if closed:
        places = places[:-1]
    number = (row_number[: len(places), None] * count + np.arange(count)).ravel()
    faces = _wall(len(places), count, closed)
    flat = places.reshape(-1, 3)
    if not closed:
        flat, faces, number = _capped(flat, faces, number, outline, spacing, places, int(row_number[-1]) + 2)
    return _mesh(flat, faces, number, along, count, len(places))


def _section(sweep: Sweep, at: Moment) -> Places:
    """(k, 2) the section's outline, anticlockwise seen against the path's direction."""
    half = np.array([at(sweep.width), at(sweep.height)]) / 2
    if sweep.section == "round":
        angle = 2 * np.pi * np.arange(sweep.sides) / sweep.sides
        return np.column_stack([np.cos(angle), np.sin(angle)]) * half
    corners = np.array([[1, -1], [1, 1], [-1, 1], [-1, -1]], dtype=np.float64)
    each = max(1, round(sweep.sides / 4))
    share = np.arange(each)[:, None] / each
    runs = [one + (other - one) * share for one, other in zip(corners, np.roll(corners, -1, axis=0), strict=True)]
    return np.concatenate(runs) * half


def _between(along: NDArray[np.float64], table: NDArray[np.float64], axes: Places) -> Places:
    made = np.stack([np.interp(along, table, axes[:, axis]) for axis in range(3)], axis=1)
    return made / np.maximum(np.linalg.norm(made, axis=1, keepdims=True), 1e-12)


def _wall(rows: int, count: int, closed: bool) -> NDArray[np.int64]:
    row, column = (
        axis.ravel() for axis in np.meshgrid(np.arange(rows if closed else rows - 1), np.arange(count), indexing="ij")
    )
    ahead, beside = (row + 1) % rows, (column + 1) % count
    a, b = row * count + column, row * count + beside
    c, d = ahead * count + beside, ahead * count + column
    return np.concatenate([np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1)])


def _capped(
    flat: Places,
    faces: NDArray[np.int64],
    number: NDArray[np.int64],
    outline: Places,
    spacing: float,
    places: Places,
    top: int,
) -> tuple[Places, NDArray[np.int64], NDArray[np.int64]]:
    """The wall with its two ends closed by even triangles."""
    even = meshed([outline], [], spacing, max(spacing, float(np.ptp(outline, axis=0).min()) / 12))
    points, cap, (ring,) = even if even is not None else border_meshed([outline])
    count, middle = len(outline), np.setdiff1d(np.arange(len(points)), ring)
    if len(ring) != count:
        raise AssertionError("a section's outline is an edge of its own triangles")
    made, numbers, closed = [flat], [number], [faces]
    for end in (0, 1):
        rim = places[-end]
        # Any place of the section as a mix of the rim's: its own axes are those of the rim.
        basis = np.linalg.pinv(np.column_stack([outline, np.ones(count)])) @ rim
        start = sum(len(one) for one in made)
        lookup = np.zeros(len(points), dtype=np.int64)
        lookup[ring] = (len(flat) - count if end else 0) + np.arange(count)
        lookup[middle] = start + np.arange(len(middle))
        made.append(np.column_stack([points[middle], np.ones(len(middle))]) @ basis)
        numbers.append((2**40 * (end + 1)) + np.arange(len(middle)))
        closed.append(lookup[cap if end else cap[:, ::-1]])
    return np.concatenate(made), np.concatenate(closed), np.concatenate(numbers)


def _mesh(
    flat: Places, faces: NDArray[np.int64], number: NDArray[np.int64], along: NDArray[np.float64], count: int, rows: int
) -> Mesh:
    corners = flat[faces]
    facing = 0.5 * np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals = corner_normals(facing, faces, HARD).reshape(-1, 3)
    mesh = split_corners(flat, faces, normals)
    place = mesh.number
    row, column = np.minimum(place // count, rows - 1), place % count
    uv = np.column_stack([column / count, along[row] / max(float(along[-1]), 1e-9)]).astype(np.float32)
    return replace(mesh, number=number[place], uv=uv)
