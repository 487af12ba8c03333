"""A warm evaluator after an edit of any setting answers as a fresh one does. Kinds and settings come from the schema."""

from __future__ import annotations

import os
from collections.abc import Iterator

import pytest
from processes import COUNTED, Process, made_up, shot_of
from settings import edits_of, kinds_of, whole

from windsock.core.document.shot import BadDocument, parse_shot

FRAMES = (2.0, 9.5)

CELLS = {"kind": "fracture", "count": 5, "field": "one"}
FLAKES = {"kind": "scatter", "count": 12, "makes": "copies", "field": "one"}
FLIGHT = {"kind": "release", "field": "two", "speed": 1.5, "pull": 60.0, "bounce": 0.8, "height": -0.3}
"""It bounces within the frames that are looked at, so that sizes count."""
GLOW = {"kind": "shade", "field": "one"}


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
    warm.answer(document, FRAMES)
    stale, tried = [], 0
    for place, (pointer, edited) in enumerate(edits_of(document, under)):
        if place % every and not EVERY:
            continue
        tried += 1
        if warm.answer(edited, FRAMES) != Process().answer(edited, FRAMES):
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
