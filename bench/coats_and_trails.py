"""Coats and trails: a frame of each, against the least that it could be."""

from __future__ import annotations

from itertools import count

import numpy as np
from pydantic import JsonValue

from bench.measuring import Bench, clocked, side_by_side
from bench.pieces import evaluator
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.geometry.mesh import smooth_normals
from windsock.core.geometry.trailing import SIDES
from windsock.core.kernels.bands import faces_between


def coat_frame() -> Bench:
    """A frame of a coat half way over a ball of 20,480 faces, against the smooth normals of the ball once."""
    coat: dict[str, JsonValue] = {
        "kind": "coat", "speed": 0.4, "finest": 0.0, "makes": "made", "thick": 0.02, "width": 0.06,
    }  # fmt: skip
    shot, own, turn = _shot(coat, {"kind": "sphere", "radius": 0.5, "subdivisions": 5}, [0, 0, 0]), evaluator(), count()
    ball = own.frame(shot, 48).draw[0].body.mesh

    def ours() -> None:
        own.frame(shot, 40 + 0.01 * next(turn))

    mine, other = side_by_side(clocked(ours), clocked(lambda: smooth_normals(ball.points, ball.faces, ball.number)), 15)
    return Bench("coat-frame", mine, other, 10, "a frame of a coat on 20,480 faces, against one pass of smooth normals")


def trail_any() -> Bench:
    """Any frame of 200 strands, against the points, normals and faces of as many tubes written once."""
    place = {
        "keys": {
            f"k{one}": {
                "frame": 12 * one,
                "value": [float(np.cos(one)), 0.3 * float(np.sin(2 * one)), float(np.sin(one))],
            }
            for one in range(9)
        }
    }
    trail: dict[str, JsonValue] = {
        "kind": "trail", "of": "points", "count": 200, "lasts": 1.0, "spacing": 0.01, "makes": "made",
    }  # fmt: skip
    shot, own, turn = _shot(trail, {"kind": "sphere", "radius": 0.5, "subdivisions": 4}, place), evaluator(), count()
    made = own.frame(shot, 60).draw[-1].body.mesh
    sides = SIDES["tubes"]
    rows = len(made.points) // sides
    places, starts = made.points[::sides].astype(np.float64), np.linspace(0, rows, 201).astype(np.int64)
    across, up = np.tile([1.0, 0.0, 0.0], (rows, 1)), np.tile([0.0, 1.0, 0.0], (rows, 1))
    thick = np.full(rows, 0.01)

    def ours() -> None:
        own.frame(shot, 50 + 0.01 * next(turn))

    def reference() -> None:
        angle = np.arange(sides) * 2 * np.pi / sides
        out = np.cos(angle)[None, :, None] * across[:, None] + np.sin(angle)[None, :, None] * up[:, None]
        (places[:, None] + out * thick[:, None, None]).reshape(-1, 3).astype(np.float32)
        out.reshape(-1, 3).astype(np.float32)
        faces_between(starts, sides, True)

    mine, other = side_by_side(clocked(ours), clocked(reference), 9)
    return Bench(
        "trail-any", mine, other, 1.5, f"any frame of 200 strands, {rows:,} steps, against their tubes written once"
    )


def _shot(step: dict[str, JsonValue], geometry: JsonValue, place: JsonValue) -> Shot:
    parts: JsonValue = {"body": {"name": "Body", "rank": 0}, "made": {"name": "Made", "rank": 1}}
    ball: JsonValue = {
        "kind": "shape", "name": "Ball", "rank": 0, "geometry": geometry, "place": place,
        "recipe": {"parts": parts, "steps": {"step": step | {"rank": 0}}},
    }  # fmt: skip
    return parse_shot({"name": "Bench", "frames": {"first": 0, "last": 96}, "items": {"ball": ball}})
