"""What is kept: a change of the last step, and a late frame of a march."""

from __future__ import annotations

import time
from functools import partial
from itertools import count
from pathlib import Path
from statistics import median

from bench.measuring import Bench, clocked, side_by_side
from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.keeping import Keeper
from windsock.demo.fog_over_the_light import fog_over_the_light
from windsock.demo.loading import SHOTS
from windsock.demo.the_sock_itself import the_sock_itself
from windsock.evaluator.assets import AssetFolder


def fresh() -> Evaluator:
    return Evaluator(AssetFolder(Path("nowhere"), Cache(0)), Keeper(Cache(2**31)))


def three_cuts(level: float) -> Shot:
    """A ball of 80,000 faces, cut away three times by fields of their own about moving controllers."""
    fields, steps, items = {}, {}, {}
    for place in range(3):
        name, letter = f"f{place}", "ABC"[place]
        around = {"kind": "around", "controller": f"c{place}", "reach": 0.9, "soft": 0.5}
        noise = {"kind": "noise", "rank": 1, "word": "roughened by", "size": 0.3, "octaves": 4, "space": "world"}
        own = level if place == 2 else 0.5
        fields[name] = {
            "letter": letter,
            "name": name,
            "rank": place,
            "level": own,
            "sources": {"a": around, "n": noise},
        }
        steps[name] = {"kind": "cut_away", "rank": place, "field": name}
        spot = [[-1.2, 0, 0], [0, 1.2, 0], [0, 0, 1.2]][place]
        items[f"c{place}"] = {"kind": "controller", "name": f"C{place}", "rank": place + 1, "place": spot}
    recipe = {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": steps}
    ball = {
        "kind": "shape",
        "name": "Ball",
        "rank": 0,
        "geometry": {"kind": "sphere", "subdivisions": 6},
        "recipe": recipe,
    }
    return parse_shot({"name": "Three", "items": {"ball": ball} | items, "fields": fields})


def edit_one() -> Bench:
    levels = count(1)
    kept = fresh()
    kept.frame(three_cuts(0.5), 0)

    def ours() -> float:
        shot = three_cuts(0.5 + next(levels) / 1000)
        return clocked(lambda: kept.frame(shot, 0))()

    def reference() -> float:
        shot = three_cuts(0.5 + next(levels) / 1000)
        one = fresh()
        one.at_rest(one.scene(shot, 0), "ball")
        return clocked(lambda: one.frame(shot, 0))()

    mine, full = side_by_side(ours, reference)
    return Bench(
        "edit-one", mine, full, 0.15, "a changed level of the last of three cuts, against evaluating all three"
    )


def follow_any() -> Bench:
    shot = parse_shot(the_sock_itself())
    kept = fresh()
    kept.frame(shot, 124)
    frames = count(1)

    def ours() -> float:
        # Ever another late frame, far from the one before: from the nearest checkpoint.
        frame = 70 + (next(frames) * 37) % 54 + 0.5
        started = time.perf_counter()
        kept.frame(shot, frame)
        return time.perf_counter() - started

    def reference() -> float:
        frame = 70 + (next(frames) * 37) % 54 + 0.5
        one = fresh()
        for item in ("sock", "sea", "quay", "mast"):
            one.at_rest(one.scene(shot, 0), item)
        return clocked(lambda: one.frame(shot, frame))()

    mine, stepped = side_by_side(ours, reference)
    return Bench(
        "follow-any", mine, stepped, 0.1, "a random late frame of demo 07, against stepping there from the start"
    )


def drag() -> list[Bench]:
    """A frame of each demo shot while the level of its first field is dragged, against 100 ms."""
    spent = {name: _dragged(make()) for name, make in SHOTS.items()}
    worst = max(spent, key=lambda name: spent[name])
    listed = ", ".join(f"{name} {1000 * seconds:.0f} ms" for name, seconds in spent.items())
    return [
        Bench("drag", spent[worst], 0.1, 1.5, f"a dragged level's picture, the slowest demo shot: {worst} ({listed})"),
        Bench("drag-median", median(spent.values()), 0.1, 0.5, "the same, the median of the demo shots"),
    ]


def _dragged(document: dict) -> float:
    shot = parse_shot(document)
    key = min(shot.fields, key=lambda name: shot.fields[name].rank)
    level = shot.moment(shot.opening_frame)(shot.fields[key].level)
    driven = (
        item
        for item, shape in shot.items.items()
        if isinstance(shape, Shape) and any(step.field == key for step in shape.recipe.steps.values())
    )
    chosen = frozenset([next(driven, "")])
    kept, spent = fresh(), []
    kept.frame(shot, shot.opening_frame, looked_at=chosen)
    for step in range(1, 9):
        document["fields"][key]["level"] = level + 0.003 * step
        changed = parse_shot(document)
        seen = partial(kept.frame, changed, shot.opening_frame, "dragged", looked_at=chosen)
        spent.append(clocked(seen)())
    return median(spent[2:])


def frame_overhead() -> Bench:
    """What a frame of demo 01 takes with hardly any faces, against what its faces add."""
    full, thin = fog_over_the_light(), fog_over_the_light()
    _thin(thin["items"])
    frames = count(1)
    evaluators = [(fresh(), parse_shot(document)) for document in (full, thin)]

    def spent(which: int) -> float:
        one, shot = evaluators[which]
        return clocked(lambda: one.frame(shot, 40 + (next(frames) * 0.377) % 40))()

    whole, overhead = side_by_side(lambda: spent(0), lambda: spent(1), rounds=61)
    return Bench(
        "frame-overhead",
        overhead,
        whole - overhead,
        0.3,
        "a frame of demo 01 with few faces, against what its faces add",
    )


FEWER = {"segments": 6, "subdivisions": 1, "divisions": 2, "columns": 4, "rows": 4}
LONGER = {"ring_height": 0.8, "spacing": 0.9}


def _thin(thing: dict) -> None:
    for name, value in thing.items():
        if isinstance(value, dict):
            _thin(value)
        elif isinstance(value, (int, float)):
            thing[name] = min(value, FEWER[name]) if name in FEWER else max(value, LONGER.get(name, value))
