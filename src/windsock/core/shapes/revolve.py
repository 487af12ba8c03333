"""A surface of revolution: a profile turned about the item's Y axis."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from itertools import pairwise
from math import ceil
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import Colour, Declared, Id, Quantity, Rank, in_order
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.mesh import Mesh
from windsock.core.shapes.geometry import Assets, Courses, GeometryBase
from windsock.core.shapes.grid import grid_faces
from windsock.core.timing.parameter import Finite, Moment, NumberParameter


class ProfilePoint(Declared):
    """A point of a profile. The surface turns sharply there (corner) or flows through (smooth).

    `colour` paints the surface from this point to the next; without one the look's base colour shows.
    """

    begins: ClassVar[Mapping[str, JsonValue]] = {"colour": "#C8420B"}

    rank: Rank
    radius: Annotated[Finite, Quantity("Distance from the axis", unit="m", low=0, high=1e4)]
    height: Annotated[Finite, Quantity("Height above the item's place", unit="m", low=-1e4, high=1e4)]
    joint: Literal["corner", "smooth"] = "corner"
    colour: Colour | None = None


VASE = {
    "p1": ProfilePoint(rank=0, radius=0.5, height=0.0),
    "p2": ProfilePoint(rank=1, radius=0.7, height=0.5, joint="smooth"),
    "p3": ProfilePoint(rank=2, radius=0.3, height=1.2, joint="smooth"),
    "p4": ProfilePoint(rank=3, radius=0.45, height=1.6),
}
"""The profile of a new one."""


class Revolve(GeometryBase):
    """A profile turned round the Y axis. Points in order run from bottom to top for an outside that faces out."""

    called: ClassVar[str] = "Revolve"
    finenesses: ClassVar[dict[str, str]] = {"segments": "{:g} segments", "ring_height": "rings {:g} m apart"}
    kind: Literal["revolve"] = "revolve"
    profile: Annotated[dict[Id, ProfilePoint], Field(min_length=2, max_length=200)]
    segments: Annotated[int, Quantity("Segments round the axis", low=3, high=4096, drag=0.5, whole=True)] = 96
    ring_height: Annotated[Finite, Quantity("Rings are at most this far apart", unit="m", low=0.001, high=1e4)] = 0.1
    girth: Annotated[NumberParameter, Quantity("Factor on every radius", low=0.001, high=100)] = 1.0

    def between(self, setting: str, key: str, at: Callable[[object], object]) -> Mapping[str, JsonValue] | None:
        """Half way to the next point; above the last one."""
        del at
        points = in_order(self.profile)
        place = next((place for place, (one, _) in enumerate(points) if one == key), None)
        if setting != "profile" or place is None:
            return None
        point = points[place][1]
        above = point.model_copy(update={"height": point.height + 0.2, "rank": point.rank + 2})
        other = points[place + 1][1] if place + 1 < len(points) else above
        middle = {name: (getattr(point, name) + getattr(other, name)) / 2 for name in ("rank", "radius", "height")}
        return point.model_dump(mode="json") | middle

    def face_count(self) -> int:
        """An upper bound of how many faces `build_revolve` will make."""
        points = [point for _, point in in_order(self.profile)]
        rows = sum(_rows(_span_length(low, high), self.ring_height) for low, high in pairwise(points))
        return 2 * self.segments * int(min(rows, 1e9))

    @classmethod
    def example(cls) -> Self:
        return cls(profile=VASE, ring_height=0.05)

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        del assets, courses
        return build_revolve(self, at)

    def fitting(self, faces: int) -> str:
        rows = max(1, self.face_count() // (2 * self.segments))
        if 2 * 96 * rows <= faces:
            return f"{min(self.segments, faces // (2 * rows))} segments would fit."
        apart = self.ring_height * self.face_count() / max(faces, 1) * 1.02
        return f"Rings {apart:.3g} m apart would fit."

    def finer_settings(self, factor: int) -> dict[str, float]:
        return {"segments": self.segments * factor, "ring_height": round(self.ring_height / factor, 5)}


def build_revolve(revolve: Revolve, at: Moment) -> Mesh:
    """The surface as a mesh. Each span between profile points has rows of its own, so that corners stay hard."""
    points = [point for _, point in in_order(revolve.profile)]
    girth = at(revolve.girth)
    outline = np.array([(point.radius * girth, point.height) for point in points])
    tangents = _tangents(outline, [point.joint == "smooth" for point in points])
    total = max(float(np.linalg.norm(np.diff(outline, axis=0), axis=1).sum()), 1e-12)
    spans: list[Mesh] = []
    first_row, travelled = 0, 0.0
    for index, (low, high) in enumerate(pairwise(points)):
        rows = int(_rows(_span_length(low, high), revolve.ring_height))
        share = np.linspace(0, 1, rows + 1)
        length = float(np.linalg.norm(outline[index + 1] - outline[index]))
        places, directions = _hermite(outline[index], outline[index + 1], *tangents[index], share)
        along = (travelled + share * length) / total
        colour = None if low.colour is None else linear_from_hex(low.colour)
        spans.append(turned(places, directions, revolve.segments, first_row, along, colour))
        first_row, travelled = first_row + rows, travelled + length
    return joined(spans)


def _span_length(low: ProfilePoint, high: ProfilePoint) -> float:
    return float(np.hypot(high.radius - low.radius, high.height - low.height))


def _rows(length: float, ring_height: float) -> float:
    return max(1, ceil(length / ring_height - 1e-9))


def _tangents(
    outline: NDArray[np.float64], smooth: list[bool]
) -> list[tuple[NDArray[np.float64], NDArray[np.float64]]]:
    """For each span the Hermite tangents at its ends: the chord at a corner, the neighbours' direction where smooth."""
    chords = np.diff(outline, axis=0)
    pairs: list[tuple[NDArray[np.float64], NDArray[np.float64]]] = []
    for index, chord in enumerate(chords):
        ends: list[NDArray[np.float64]] = []
        for point in (index, index + 1):
            if smooth[point] and 0 < point < len(chords):
                flow = outline[point + 1] - outline[point - 1]
                ends.append(flow / max(float(np.linalg.norm(flow)), 1e-12) * float(np.linalg.norm(chord)))
            else:
                ends.append(chord)
        pairs.append((ends[0], ends[1]))
    return pairs


def _hermite(
    start: NDArray[np.float64],
    end: NDArray[np.float64],
    out: NDArray[np.float64],
    into: NDArray[np.float64],
    share: NDArray[np.float64],
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    t = share[:, None]
    places = (
        (2 * t**3 - 3 * t**2 + 1) * start
        + (t**3 - 2 * t**2 + t) * out
        + (3 * t**2 - 2 * t**3) * end
        + (t**3 - t**2) * into
    )
    places[0], places[-1] = start, end
    places[:, 0] = np.maximum(places[:, 0], 0)
    directions = (
        (6 * t**2 - 6 * t) * start + (3 * t**2 - 4 * t + 1) * out + (6 * t - 6 * t**2) * end + (3 * t**2 - 2 * t) * into
    )
    return places, directions


def turned(
    places: NDArray[np.float64],
    directions: NDArray[np.float64],
    segments: int,
    first_row: int,
    along: NDArray[np.float64],
    colour: tuple[float, float, float] | None,
) -> Mesh:
    """Rows of a profile turned round the Y axis.

    places: (r, 2) radius and height of each row. directions: (r, 2) along the profile, any length. first_row: the number
    of the first row among those of the whole shape. along: (r,) v of each row. colour: linear, or None for the look's.
    """
    column, row = (v.ravel() for v in np.meshgrid(np.arange(segments + 1), np.arange(len(places))))
    angle = 2 * np.pi * (column % segments) / segments
    radius, height = places[row, 0], places[row, 1]
    points = np.stack([radius * np.sin(angle), height, radius * np.cos(angle)], axis=1).astype(np.float32)
    outward = np.stack([directions[:, 1], -directions[:, 0]], axis=1)
    outward /= np.maximum(np.linalg.norm(outward, axis=1, keepdims=True), 1e-12)
    normals = np.stack(
        [outward[row, 0] * np.sin(angle), outward[row, 1], outward[row, 0] * np.cos(angle)], axis=1
    ).astype(np.float32)
    number = (first_row + row) * segments + np.where(radius == 0, 0, column % segments)
    uv = np.stack([column / segments, along[row]], axis=1).astype(np.float32)
    painted = np.tile(np.array(colour or (np.nan,) * 3, dtype=np.float32), (len(points), 1))
    faces = grid_faces(segments, len(places) - 1, number)
    return Mesh(points, points, normals, faces, number.astype(np.int64), uv, painted)


def joined(spans: list[Mesh]) -> Mesh:
    """Spans that follow each other as one mesh. Rows where two of them meet stay apart, with the same numbers."""
    starts = np.cumsum([0] + [len(span.points) for span in spans[:-1]])
    points = np.concatenate([span.points for span in spans])
    colours = [span.colour for span in spans if span.colour is not None]
    painted = np.concatenate(colours)
    return Mesh(
        points=points,
        rest=points,
        normals=np.concatenate([span.normals for span in spans]),
        faces=np.concatenate([span.faces + int(start) for span, start in zip(spans, starts, strict=True)]).astype(
            np.int32
        ),
        number=np.concatenate([span.number for span in spans]),
        uv=np.concatenate([span.uv for span in spans if span.uv is not None]),
        colour=None if np.isnan(painted).all() else painted,
    )
