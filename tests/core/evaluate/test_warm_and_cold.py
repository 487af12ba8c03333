"""Whatever is in a shot and however it is edited: a live evaluator answers with the bytes of a fresh process.

Shots and edits are drawn from the schema, so that a new kind of shape, source or step is tried from its first day.
"""

from __future__ import annotations

import copy
import os
import random

import pytest
from processes import COUNTED, Process, shot_of
from settings import kinds_of, other_values, places_of, samples_of, whole, with_value

from windsock.core.document.shot import BadDocument, parse_shot
from windsock.core.evaluate.detail import Detail
from windsock.demo.loading import SHOTS as DEMO_SHOTS

CASES = int(os.environ.get("WINDSOCK_CASES", "180"))
EDITS = 12
"""Edits of one shot, each asked about at one frame: a case each."""

DETAILS: list[Detail] = ["final", "final", "dragged"]
SHOTS = -(-CASES // EDITS)
BATCHES = 8
FRAMES = (0.0, 2.0, 3.5, 7.0, 12.0)
GIVEN = {"asset": "0" * 64, "words": "io", "motion": {}, "makes": "more"} | COUNTED


def made_up_shot(rng: random.Random) -> dict:
    """Three shapes with recipes, which refer to each other and to one of everything else."""
    document = shot_of([])
    items, fields = document["items"], document["fields"]
    items["third"] = copy.deepcopy(items["other"]) | {"name": "Third", "rank": 7, "place": [0.3, 0.4, 0.2]}
    parts = {name: {"name": name, "rank": rank} for rank, name in enumerate(("body", "copies", "wires", "more"))}
    for item in ("it", "other", "third"):
        items[item]["recipe"] = {"parts": parts, "steps": {}}
        _put(rng, document, items[item], "geometry", "Shape.geometry", {})
    for field in fields.values():
        field["memory"] = rng.choice([None, None, {"kind": "hold"}, {"kind": "fade", "seconds": 0.2}])
        for place in range(rng.randint(1, 2)):
            _put(rng, document, field["sources"], f"s{place or ''}", "Field.sources", {"rank": place})
    for item in ("it", "other", "third"):
        made = ["body"]
        for place in range(rng.randint(1, 4) if item == "it" else rng.randint(0, 2)):
            beside = {"rank": place, "field": rng.choice(["one", "two", None]), "part": rng.choice(made)}
            step = _put(rng, document, items[item]["recipe"]["steps"], f"s{place}", "Recipe.steps", beside)
            if step is not None and step.get("makes"):
                made.append(step["makes"])
    return _varied(rng, whole(document), 6)


FEWER = {
    "segments": 12,
    "divisions": 3,
    "columns": 12,
    "rows": 12,
    "sides": 6,
    "subdivisions": 2,
    "count": 60,
    "rate": 8.0,
    "times": 1,
}
LONGER = {"ring_height": 0.5, "face_size": 0.4, "spacing": 0.4}


def demo_shot(rng: random.Random) -> dict:
    """One of the demo shots with few faces, pieces and copies, over two dozen frames."""
    document = whole(DEMO_SHOTS[rng.choice(sorted(DEMO_SHOTS))]())
    document["frames"]["last"] = min(document["frames"]["last"], document["frames"]["first"] + 24)
    _thin(document["items"])
    return whole(document)


def _thin(thing: object) -> None:
    if not isinstance(thing, dict):
        return
    for name, value in thing.items():
        if isinstance(value, (int, float)) and name in FEWER:
            thing[name] = min(value, FEWER[name])
        elif isinstance(value, (int, float)) and name in LONGER:
            thing[name] = max(value, LONGER[name])
        _thin(value)


def _put(rng: random.Random, document: dict, holder: dict, name: str, member: str, beside: dict) -> dict | None:
    """Put a thing of a kind by chance into a document, where one fits."""
    before = holder.get(name)
    kind = rng.choice(kinds_of(*member.split(".")))
    for _, one in zip(range(60), samples_of(member, kind, document, GIVEN), strict=False):
        if "makes" in one:
            one["makes"] = rng.choice(["copies", "wires", "more"])
        holder[name] = one | beside
        if _valid(document):
            return holder[name]
    if before is None:
        del holder[name]
    else:
        holder[name] = before
    return None


def _valid(document: dict) -> bool:
    try:
        parse_shot(document)
    except BadDocument:
        return False
    return True


HEAVY = (
    "/frames",
    "/rate",
    "/picture",
    "subdivisions",
    "segments",
    "face_size",
    "fineness",
    "/times",
    "settled",
    "rings",
)
"""Settings that are left alone here: they may make a shot long or heavy. Each is edited once elsewhere."""


def _varied(rng: random.Random, document: dict, times: int) -> dict:
    for _ in range(times):
        document = edited(rng, document)
    return document


def edited(rng: random.Random, document: dict) -> dict:
    """The document after one edit by chance: another value, a key, a link, an order, or something removed."""
    places = [
        (pointer, schema, value)
        for pointer, schema, value in places_of(document)
        if not any(one in pointer for one in HEAVY)
    ]
    for _ in range(40):
        if rng.random() < 0.12:
            changed = _without_something(rng, document)
        else:
            pointer, schema, value = rng.choice(places)
            others = [other for _, other in zip(range(4), other_values(schema, value, document), strict=False)]
            if not others:
                continue
            changed = with_value(document, pointer, rng.choice(others))
        if changed != document and _valid(changed):
            return whole(changed)
    return document


def _without_something(rng: random.Random, document: dict) -> dict:
    changed = copy.deepcopy(document)
    collections = [field["sources"] for field in changed["fields"].values()]
    collections += [item["recipe"]["steps"] for item in changed["items"].values() if item["kind"] == "shape"]
    collections += [changed["groups"]["near"]["members"]] if "near" in changed["groups"] else []
    full = [one for one in collections if one]
    if full:
        chosen = rng.choice(full)
        del chosen[rng.choice(sorted(chosen))]
    return changed


@pytest.mark.parametrize("batch", range(BATCHES))
def test_a_live_evaluator_answers_as_a_fresh_one(batch):
    stale = []
    for shot in range(batch, SHOTS, BATCHES):
        rng = random.Random(shot)
        of_demo = shot % 8 == 5
        before = [demo_shot(rng) if of_demo else made_up_shot(rng)]
        warm = Process()
        warm.answer(before[0], rng.sample(FRAMES, 2))
        for edit in range(EDITS):
            document = rng.choice(before) if rng.random() < 0.15 else edited(rng, before[-1])
            before.append(document)
            frames, detail = rng.sample(FRAMES, 1), rng.choice(DETAILS)
            if warm.answer(document, frames, detail) != Process().answer(document, frames, detail):
                stale.append((shot, edit))
                break
    assert stale == []
