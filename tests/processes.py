"""An evaluator as a process has it, and made-up shots that have everything in them that steps and sources refer to."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace

import numpy as np
import orjson
from settings import SCHEMA, samples
from shots import Files

from windsock.core.document.shot import Shot, parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.detail import Detail
from windsock.core.evaluate.frame import Evaluator, Heat
from windsock.core.evaluate.keeping import Keeper
from windsock.core.geometry.clip import Clip, Pose
from windsock.core.geometry.drawing import Drawing
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal
from windsock.core.shapes.box import Box, build_box
from windsock.evaluator.bundle import Bundler
from windsock.formats.svg import read_svg

SQUARE = b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0H8V6H0Z" fill="#a03020"/><path d="M2 2H5V4H2Z"/></svg>'


class SmallFiles(Files):
    """A drawing, and a mesh that moves, under any name."""

    def mesh(self, asset: str) -> Mesh:
        return self.clip(asset).mesh

    def clip(self, asset: str) -> Clip:
        mesh = build_box(Box(width=0.8, divisions=2), parse_shot({"name": "Any"}).moment(0))
        bent = replace(mesh, points=(mesh.points * np.array([1.0, 1.4, 0.7])).astype(np.float32))
        poses = tuple(Pose(one.points, one.normals) for one in (mesh, bent, mesh))
        return Clip(mesh, np.array([0.0, 0.2, 0.5]), poses)

    def drawing(self, asset: str) -> Drawing:
        return read_svg(SQUARE)


class Process:
    """What a process knows: an evaluator with its caches, and the blocks it has sent."""

    def __init__(self) -> None:
        keeper = Keeper(Cache(2**29))
        self.evaluator = Evaluator(SmallFiles(), keeper)
        self.bundler = Bundler(Cache(2**28))

    def answer(self, document: dict, frames: Iterable[float], detail: Detail = "final") -> list[bytes]:
        """What the page gets for frames of a shot, but for what it cost."""
        shot = parse_shot(document)
        return [self._frame(shot, frame, detail) for frame in frames]

    def _frame(self, shot: Shot, frame: float, detail: Detail) -> bytes:
        field = next(iter(shot.fields), None)
        try:
            found = self.evaluator.frame(shot, frame, detail, Heat(field, "it") if field else None)
        except Refusal as refusal:
            return str(refusal).encode()
        reply = b"".join(bytes(part) for part in self.bundler.bundle(shot, found, set()))
        length = int.from_bytes(reply[:4], "little")
        told = orjson.loads(reply[4 : 4 + length])
        del told["costs"]
        for report in (*told["shapes"], *told["steps"]):
            report.pop("milliseconds"), report.pop("reused", None)
        return orjson.dumps(told, option=orjson.OPT_SORT_KEYS) + reply[4 + length :]


def keyed(*values: object) -> dict:
    return {"keys": {f"k{place}": {"frame": place * 12, "value": value} for place, value in enumerate(values)}}


def shot_of(steps: list[dict], *, source: dict | None = None, geometry: dict | None = None) -> dict:
    """A ball with a recipe, and beside it one of everything that steps and sources refer to."""
    around = {"kind": "around", "controller": "fog", "reach": 0.7, "soft": 0.4}
    parts = {name: {"name": name, "rank": rank} for rank, name in enumerate(("body", "copies", "wires", "more"))}
    geometry = geometry or {"kind": "sphere", "radius": 0.5, "subdivisions": 1}
    named = {f"s{place}": step | {"rank": place} for place, step in enumerate(steps)}
    points = {f"p{place}": {"rank": place, "place": [place * 0.4 - 0.6, 0.1 * place, 0.3]} for place in range(4)}
    return {
        "name": "Every setting",
        "frames": {"first": 0, "last": 12},
        "camera": "eye",
        "items": {
            "it": {
                "kind": "shape", "name": "It", "rank": 0, "geometry": geometry, "parent": "post",
                "turn": keyed([0, 0, 0], [0, 40, 10]), "recipe": {"parts": parts, "steps": named},
            },
            "other": {
                "kind": "shape", "name": "Other", "rank": 1, "geometry": {"kind": "box", "width": 0.4, "divisions": 2},
                "place": keyed([0.9, 0, 0], [0.2, 0.2, 0]),
                "recipe": {"steps": {"cut": {"kind": "cut_away", "rank": 0, "field": "two"}}},
            },
            "fog": {"kind": "controller", "name": "Fog", "rank": 2, "place": keyed([-0.9, 0, 0], [0.1, 0.1, 0])},
            "post": {"kind": "controller", "name": "Post", "rank": 3, "place": [0.1, 0.2, 0]},
            "line": {"kind": "path", "name": "Line", "rank": 4, "points": points},
            "eye": {"kind": "camera", "name": "Eye", "rank": 5, "place": [0, 1, 4], "aim": "post"},
            "sun": {"kind": "light", "name": "Sun", "rank": 6, "place": [2, 4, 3]},
        },
        "groups": {"near": {"name": "Near", "rank": 0, "members": {"other": {"rank": 0}}}},
        "fields": {
            "one": {"letter": "A", "name": "One", "rank": 0, "level": 0.4, "band": 0.3, "sources": {"s": source or around}},
            "two": {
                "letter": "B", "name": "Two", "rank": 1, "level": 0.3, "band": 0.2,
                "sources": {"s": {"kind": "across", "controller": "post", "soft": 1.0}},
            },
        },
    }  # fmt: skip


COUNTED = {
    "count": 8,
    "segments": 6,
    "rings": 3,
    "subdivisions": 1,
    "sides": 5,
    "divisions": 2,
    "cells": 2,
    "spacing": 0.3,
    "face_size": 0.3,
}
"""Values that keep what is made up small."""


def made_up(definition: str, kind: str, **given: object) -> Iterator[dict]:
    """Things of a kind with what they refer to, as far as that can be found by trying."""
    reference = next(name for name, told in SCHEMA["$defs"].items() if _kind(told) == kind and _of(name, definition))
    properties = SCHEMA["$defs"][reference]["properties"]
    fitting = {name: value for name, value in given.items() if name in properties}
    yield from samples({"$ref": f"#/$defs/{reference}"}, shot_of([]), **fitting)


def _kind(told: dict) -> str | None:
    return told.get("properties", {}).get("kind", {}).get("const")


def _of(name: str, definition: str) -> bool:
    owner, member = definition.split(".")
    told = SCHEMA["$defs"][owner]["properties"][member]
    told = next(iter(told["patternProperties"].values())) if "patternProperties" in told else told
    return f"#/$defs/{name}" in told["discriminator"]["mapping"].values()
