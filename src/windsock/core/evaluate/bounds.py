"""What a shot will need, before any of it is made; what would not fit is refused with the largest setting that would."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

from windsock.core.declarations import in_order
from windsock.core.document.items import Path, Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.marching import CHECKPOINT_BYTES
from windsock.core.evaluate.plan import Plan
from windsock.core.fields.marched import MarchedSource
from windsock.core.fields.source import HistorySource, SolvedSource
from windsock.core.geometry.course import Course
from windsock.core.geometry.mesh import FACE_LIMIT
from windsock.core.refusals import TooMuch
from windsock.core.shapes.geometry import Assets, GeometryBase
from windsock.core.steps.march import MarchedStep
from windsock.core.timing.ticks import TICKS

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
            field = shot.fields[field_id]
            held += points * FIELD_BYTES * max(len(field.sources), 1)
            each += plan.looking(field_id, points)
            if field.memory is not None:
                held += points * 24
                before += _ticks(shot) * plan.looking(field_id, points)
            for source in field.sources.values():
                if isinstance(source, MarchedSource):
                    held += points * MARCH_BYTES + min(CHECKPOINT_BYTES, points * 48 * _ticks(shot))
                    before += points * _ticks(shot) * SECONDS_A_TICK
                if isinstance(source, HistorySource):
                    before += source.solving(points, _ticks(shot) / TICKS)
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
                f"{item.geometry.fitting(FACE_LIMIT)}"
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
            f"changed. For {name}: {geometry.fitting(max(left, 0))}"
        )
    needed = estimate(shot, assets)
    if needed.bytes > MEMORY_LIMIT:
        name, geometry = _largest_shape(shot, assets)
        share = MEMORY_LIMIT / needed.bytes
        fits = int(share * geometry_faces(geometry, shot, assets) * 0.95)
        raise TooMuch(
            f"This shot would need {needed.bytes / 2**30:.1f} GB at once; the limit is {MEMORY_LIMIT / 2**30:.0f} GB. "
            f"Nothing was changed. For {name}: {geometry.fitting(fits)}"
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


def _faces(item: Shape, shot: Shot, assets: Assets | None) -> int:
    return item.fineness.faces(geometry_faces(item.geometry, shot, assets))


def geometry_faces(geometry: GeometryBase, shot: Shot, assets: Assets | None) -> int:
    """How many faces a shape has before its recipe, at most or about."""

    def course(path: str) -> Course:
        found = shot.items[path]
        assert isinstance(found, Path)
        return found.course(shot.moment(shot.frames.first))

    return geometry.faces_from(assets, course)


def _largest_shape(shot: Shot, assets: Assets | None) -> tuple[str, GeometryBase]:
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
    fronts = any(source.crossings() or isinstance(source, MarchedSource) for source in sources)
    return remembers or fronts or any(isinstance(step, MarchedStep) and step.on for step in steps)


def _ticks(shot: Shot) -> int:
    return ceil((shot.frames.last - shot.frames.first) / shot.rate.fps * TICKS)
