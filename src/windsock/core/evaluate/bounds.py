"""What a shot will need, before any of it is made; what would not fit is refused with the largest setting that would."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

from windsock.core.declarations import in_order
from windsock.core.document.items import Path, Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.marching import CHECKPOINT_BYTES
from windsock.core.evaluate.plan import Plan
from windsock.core.fields.source import SolvedSource
from windsock.core.geometry.mesh import FACE_LIMIT
from windsock.core.refusals import TooMuch
from windsock.core.shapes import AnyGeometry, Assets, Box, Extrude, Imported, Plane, Ring, Sphere, Sweep, Text, Tube
from windsock.core.steps.march import TICKS, MarchedStep
from windsock.core.timing.parameter import Moment

MEMORY_LIMIT = 3 * 2**30
"""Bytes that one frame of a shot may need at once."""

TICK_LIMIT = 240_000
"""Ticks that a history may be marched over: 2000 seconds."""

POINT_BYTES = 80
"""Held for each point of a mesh: place, rest, normal, number, u,v and colour, and what is made of them to draw."""

FACE_BYTES = 24
FIELD_BYTES = 40
"""For each point and field: the values of its sources, and what joins them on the way."""

FRONT_BYTES = 400
"""For each point of a surface that a front is solved on: the updates about it, the queue and the times."""

MARCH_BYTES = 260
"""For each point of a march: two states, two ticks and the factors of a step."""

SECONDS_A_FACE, SECONDS_A_TICK, SECONDS_A_FRONT = 6e-8, 1.5e-7, 8e-6
"""Measured on two cores, for each face made, point of a tick, and point of a front."""

FRAME_SECONDS = 60.0
"""About how long one frame may take once the past that it needs is found."""


@dataclass(frozen=True)
class Estimate:
    """faces of all shapes; bytes at once; seconds for histories that have to be found first, and for one frame after."""

    faces: int
    bytes: int
    history_seconds: float
    frame_seconds: float


def estimate(shot: Shot, assets: Assets | None = None) -> Estimate:
    """What one frame of a shot will need. assets: what came from files, where that is known."""
    faces, held, before, each = 0, 0, 0.0, 0.0
    plan = Plan(shot)
    for _, item in in_order(shot.items):
        if not isinstance(item, Shape):
            continue
        count = _faces(item, shot, assets)
        points = count // 2 + 3
        faces += count
        held += count * FACE_BYTES + points * POINT_BYTES
        each += count * SECONDS_A_FACE
        used: set[str] = set()
        for step in item.recipe.steps.values():
            if not step.on:
                continue
            after = step.faces_after(count, bool(item.recipe.listened(step)))
            if after != count:
                count, points = after, after // 2 + 3
                faces += count
            held += count * FACE_BYTES + points * POINT_BYTES
            each += 4 * count * SECONDS_A_FACE
            more, longer = step.held(count)
            held, each = held + more, each + longer
            for field_id in item.recipe.listened(step):
                _fields(shot, field_id, used)
            if isinstance(step, MarchedStep):
                held += points * MARCH_BYTES + min(CHECKPOINT_BYTES, points * 48 * _ticks(shot))
                before += points * _ticks(shot) * SECONDS_A_TICK
        for field_id in used:
            told = shot.fields[field_id]
            held += points * FIELD_BYTES * max(len(told.sources), 1)
            each += plan.looking(field_id, points)
            if told.memory is not None:
                held += points * 24
                before += _ticks(shot) * plan.looking(field_id, points)
            for source in told.sources.values():
                if isinstance(source, SolvedSource):
                    held += points * FRONT_BYTES
                    before += points * SECONDS_A_FRONT
                before += _ticks(shot) * sum(plan.looking(other, points) for other in source.crossings())
    return Estimate(faces, held, before, each)


def refuse_too_much(shot: Shot, assets: Assets | None = None) -> None:
    """Raise TooMuch, before any work, for more faces, memory or ticks than are allowed."""
    total = 0
    for item in shot.items.values():
        if not isinstance(item, Shape):
            continue
        count = _faces(item, shot, assets)
        total += count
        if count > FACE_LIMIT:
            raise TooMuch(
                f"{item.name} would have {count:,} faces; the limit is {FACE_LIMIT:,}. Nothing was changed. "
                f"{largest(item.geometry, FACE_LIMIT)}"
            )
        before = count
        for _, step in in_order(item.recipe.steps):
            after = step.faces_after(before, bool(item.recipe.listened(step))) if step.on else before
            if after > FACE_LIMIT and after > before:
                raise TooMuch(step.too_many(item.name, before, after, FACE_LIMIT))
            before = after
    if total > FACE_LIMIT:
        name, geometry = _largest_shape(shot, assets)
        left = FACE_LIMIT - (total - geometry_faces(geometry, shot, assets))
        raise TooMuch(
            f"This shot, all its shapes together, would have {total:,} faces; the limit is {FACE_LIMIT:,}. Nothing was "
            f"changed. For {name}: {largest(geometry, max(left, 0))}"
        )
    needed = estimate(shot, assets)
    if needed.bytes > MEMORY_LIMIT:
        name, geometry = _largest_shape(shot, assets)
        share = MEMORY_LIMIT / needed.bytes
        fits = int(share * geometry_faces(geometry, shot, assets) * 0.95)
        raise TooMuch(
            f"This shot would need {needed.bytes / 2**30:.1f} GB at once; the limit is {MEMORY_LIMIT / 2**30:.0f} GB. "
            f"Nothing was changed. For {name}: {largest(geometry, fits)}"
        )
    if needed.frame_seconds > FRAME_SECONDS:
        plan = Plan(shot)
        letter = max(shot.fields, key=plan.looks, default="")
        deep = (
            f"Field {shot.fields[letter].letter} alone measures {plan.looks(letter):,.0f} clauses. " if letter else ""
        )
        raise TooMuch(
            f"One frame of this shot would take about {needed.frame_seconds:,.0f} s; the limit is {FRAME_SECONDS:.0f} s. "
            f"{deep}Nothing was changed. Have fields measure from fewer others, or take fewer faces."
        )
    if _has_history(shot) and _ticks(shot) > TICK_LIMIT:
        last = shot.frames.first + int(TICK_LIMIT / TICKS * shot.rate.fps) - 1
        raise TooMuch(
            f"The shot lasts {_ticks(shot) / TICKS:,.0f} s; what remembers or swings can go over {TICK_LIMIT / TICKS:,.0f} s. "
            f"Nothing was changed. A last frame of {last} would fit."
        )


def largest(geometry: AnyGeometry, faces: int) -> str:
    """In words, the largest setting of a shape that has no more faces than these."""
    if isinstance(geometry, Imported):
        return f"A file of {max(faces, 0):,} faces would fit."
    if isinstance(geometry, Sphere):
        if geometry.build == "icosahedron":
            fits = max((n for n in range(9) if 20 * 4**n <= faces), default=0)
            return f"{fits} subdivisions would fit."
        return f"{_scaled(geometry.segments, geometry.face_count(), faces)} segments with {_scaled(geometry.rings, geometry.face_count(), faces)} rings would fit."
    if isinstance(geometry, Box):
        return f"{max(1, int((max(faces, 12) / 12) ** 0.5))} cells along each edge would fit."
    if isinstance(geometry, Plane):
        return f"{_scaled(geometry.columns, geometry.face_count(), faces)} columns with {_scaled(geometry.rows, geometry.face_count(), faces)} rows would fit."
    if isinstance(geometry, Ring):
        return f"{_scaled(geometry.segments, geometry.face_count(), faces)} segments with {_scaled(geometry.sides, geometry.face_count(), faces)} sides would fit."
    if isinstance(geometry, Tube):
        return f"{_scaled(geometry.segments, geometry.face_count(), faces)} segments with {_scaled(geometry.rows, geometry.face_count(), faces)} rows would fit."
    if isinstance(geometry, (Text, Extrude)):
        size = Moment(0, 0)(geometry.face_size) * (geometry.face_count() / max(faces, 1)) ** 0.5
        return f"Faces of {size * 1.05:.2g} m would fit."
    if isinstance(geometry, Sweep):
        return (
            f"Sections {Moment(0, 0)(geometry.spacing) * geometry.face_count() / max(faces, 1):.2g} m apart would fit."
        )
    rows = max(1, geometry.face_count() // (2 * geometry.segments))
    if 2 * 96 * rows <= faces:
        return f"{min(geometry.segments, faces // (2 * rows))} segments would fit."
    apart = geometry.ring_height * geometry.face_count() / max(faces, 1) * 1.02
    return f"Rings {apart:.3g} m apart would fit."


def _scaled(setting: int, now: int, faces: int) -> int:
    return max(2, int(setting * (faces / max(now, 1)) ** 0.5))


def _faces(item: Shape, shot: Shot, assets: Assets | None) -> int:
    return item.fineness.faces(geometry_faces(item.geometry, shot, assets))


def geometry_faces(geometry: AnyGeometry, shot: Shot, assets: Assets | None) -> int:
    """How many faces a shape has before its recipe, at most or about."""
    if isinstance(geometry, Imported):
        return len(assets.mesh(geometry.asset).faces) if assets else 0
    if isinstance(geometry, Extrude):
        return geometry.face_count(assets.drawing(geometry.asset) if assets else None)
    if isinstance(geometry, Sweep):
        path = shot.items[geometry.path]
        return geometry.face_count(
            path.course(shot.moment(shot.frames.first)).length if isinstance(path, Path) else 0.0
        )
    return geometry.face_count()


def _largest_shape(shot: Shot, assets: Assets | None) -> tuple[str, AnyGeometry]:
    shapes = [item for item in shot.items.values() if isinstance(item, Shape)]
    shape = max(shapes, key=lambda item: _faces(item, shot, assets))
    return shape.name, shape.geometry


def _fields(shot: Shot, field_id: str, used: set[str]) -> None:
    if field_id not in used:
        used.add(field_id)
        for other in shot.fields[field_id].fields():
            _fields(shot, other, used)


def _has_history(shot: Shot) -> bool:
    steps = [step for item in shot.items.values() if isinstance(item, Shape) for step in item.recipe.steps.values()]
    sources = [source for field in shot.fields.values() for source in field.sources.values()]
    remembers = any(field.memory is not None for field in shot.fields.values())
    fronts = any(source.crossings() for source in sources)
    return remembers or fronts or any(isinstance(step, MarchedStep) and step.on for step in steps)


def _ticks(shot: Shot) -> int:
    return ceil((shot.frames.last - shot.frames.first) / shot.rate.fps * TICKS)
