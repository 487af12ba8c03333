"""A warm evaluator after an edit of any setting answers as a fresh one does. Kinds and settings come from the schema."""

from __future__ import annotations

import os
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import orjson
import pytest
from settings import SCHEMA, edits_of, kinds_of, samples, whole
from shots import Files

from windsock.core.document.shot import BadDocument, Shot, parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.frame import Evaluator, Heat
from windsock.core.evaluate.keeping import Keeper
from windsock.core.geometry.clip import Clip, Pose
from windsock.core.geometry.drawing import Drawing
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal
from windsock.core.shapes.box import Box, build_box
from windsock.evaluator.bundle import Bundler
from windsock.formats.svg import read_svg

FRAMES = (2.0, 9.5)
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

    def answer(self, document: dict) -> list[bytes]:
        """What the page gets for the frames of a shot, but for what it cost."""
        shot = parse_shot(document)
        return [self._frame(shot, frame) for frame in FRAMES]

    def _frame(self, shot: Shot, frame: float) -> bytes:
        field = next(iter(shot.fields), None)
        try:
            found = self.evaluator.frame(shot, frame, heat=Heat(field, "it") if field else None)
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


CELLS = {"kind": "fracture", "count": 5, "field": "one"}
FLAKES = {"kind": "scatter", "count": 12, "makes": "copies", "field": "one"}
FLIGHT = {"kind": "release", "field": "two", "speed": 1.5, "pull": 60.0, "bounce": 0.8, "height": -0.3}
"""It bounces within the frames that are looked at, so that sizes count."""
GLOW = {"kind": "shade", "field": "one"}
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


def first_valid(documents: Iterator[dict]) -> dict:
    for document in documents:
        try:
            parse_shot(document)
        except BadDocument:
            continue
        return document
    raise AssertionError("nothing valid could be made up")


STEPS, SOURCES, GEOMETRIES = kinds_of("Recipe", "steps"), kinds_of("Field", "sources"), kinds_of("Shape", "geometry")
BEFORE = {"on its own": ([], "body"), "on pieces": ([CELLS], "body"), "on copies": ([FLAKES], "copies")}


def with_step(kind: str, before: str) -> dict:
    """A step between one that makes what it works on and others that take what it leaves."""
    ahead, part = BEFORE[before]
    takes = {"part": part, "field": "one", "makes": "more", "gap": 0.02, "count": 8}
    steps = made_up("Recipe.steps", kind, **takes)

    def laid() -> Iterator[dict]:
        for step in steps:
            behind = [FLIGHT | {"part": made} for made in sorted({part, step.get("makes", part)})]
            yield shot_of([*ahead, step, *behind, GLOW | {"part": part}])

    return first_valid(laid())


def with_source(kind: str) -> dict:
    sources = made_up("Field.sources", kind)
    return first_valid(
        shot_of([{"kind": "cut_away", "field": "one"}, FLAKES, FLIGHT | {"part": "copies", "field": "one"}], source=one)
        for one in sources
    )


def with_geometry(kind: str) -> dict:
    made = made_up("Shape.geometry", kind, **COUNTED)
    given = {"asset": "0" * 64, "words": "io", "motion": {}}
    shots = (
        shot_of([CELLS, FLIGHT, FLAKES], geometry=one | {k: v for k, v in given.items() if k in one}) for one in made
    )
    return first_valid(shots)


EVERY = bool(os.environ.get("WINDSOCK_EVERY_SETTING"))
"""Whether settings are tried in every surroundings; otherwise each is in one, and a fifth of them in others."""


def held_against_fresh(document: dict, under: str, every: int = 1) -> None:
    document = whole(document)
    warm = Process()
    warm.answer(document)
    stale, tried = [], 0
    for place, (pointer, edited) in enumerate(edits_of(document, under)):
        if place % every and not EVERY:
            continue
        tried += 1
        if warm.answer(edited) != Process().answer(edited):
            stale.append(pointer)
    assert tried > 1
    assert stale == []


@pytest.mark.parametrize("before", BEFORE)
@pytest.mark.parametrize("kind", STEPS)
def test_settings_of_a_step(kind, before):
    ahead = len(BEFORE[before][0])
    held_against_fresh(with_step(kind, before), f"/items/it/recipe/steps/s{ahead}/", 1 + 4 * ahead)


@pytest.mark.parametrize("kind", SOURCES)
def test_settings_of_a_source(kind):
    held_against_fresh(with_source(kind), "/fields/one/sources/s/")


@pytest.mark.parametrize("kind", GEOMETRIES)
def test_settings_of_a_shape(kind):
    held_against_fresh(with_geometry(kind), "/items/it/geometry/")


@pytest.mark.parametrize("under", ["/items", "/fields", "/groups", "/frames", "/environment", "/rate", "/picture"])
def test_all_other_settings(under):
    held_against_fresh(shot_of([FLAKES, FLIGHT | {"part": "copies"}, GLOW]), under)
