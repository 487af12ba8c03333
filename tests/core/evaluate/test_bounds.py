"""Too much asked for, in more than ten ways: refused before the work, with the largest setting that would fit."""

from __future__ import annotations

import copy
import re
import resource

import numpy as np
import pytest
from histories import MOVING, subject_shot
from shots import cut_ball, evaluator, parsed, recipe_shot

from windsock.core.evaluate.bounds import FACE_LIMIT, estimate
from windsock.core.geometry.drawing import Drawing, Paint
from windsock.core.refusals import TooMuch

PROFILE = {"p1": {"rank": 0, "radius": 1.0, "height": 0.0}, "p2": {"rank": 1, "radius": 1.0, "height": 2.0}}

GEOMETRIES = {
    "sphere": ({"kind": "sphere", "build": "latitude", "segments": 4096, "rings": 4096}, ("segments", "rings")),
    "sheet": ({"kind": "plane", "columns": 2048, "rows": 2048}, ("columns", "rows")),
    "segments": ({"kind": "revolve", "profile": PROFILE, "segments": 4096, "ring_height": 0.005}, ("segments",)),
    "rings": ({"kind": "revolve", "profile": PROFILE, "segments": 64, "ring_height": 0.0011}, ()),
}


@pytest.mark.parametrize("name", ["sphere", "sheet", "segments"])
def test_the_setting_that_is_named_fits_and_is_about_the_largest(name):
    geometry, settings = GEOMETRIES[name]
    with pytest.raises(TooMuch) as refusal:
        evaluator().frame(parsed(cut_ball(geometry)), 0)
    assert "Nothing was changed" in str(refusal.value)
    told = re.search(r"changed\. (.*) would fit", str(refusal.value))
    assert told
    numbers = [int(number) for number in re.findall(r"\d+", told.group(1))]
    fitting = geometry | dict(zip(settings, numbers, strict=True))
    assert 0.9 * FACE_LIMIT < parsed(cut_ball(fitting)).items["ball"].geometry.face_count() <= FACE_LIMIT  # type: ignore[union-attr]


def many(count: int) -> dict:
    document = cut_ball({"kind": "sphere", "subdivisions": 8})
    for number in range(count):
        document["items"][f"more{number}"] = copy.deepcopy(document["items"]["ball"])
    return document


def steps(count: int) -> dict:
    document = cut_ball({"kind": "sphere", "subdivisions": 8})
    made = document["items"]["ball"]["recipe"]["steps"]
    for number in range(count):
        made[f"more{number}"] = {"kind": "follow_through", "rank": number + 2, "field": "front"}
    return document


def fields(count: int) -> dict:
    document = cut_ball({"kind": "sphere", "subdivisions": 8})
    sources = {f"n{n}": {"kind": "noise", "rank": n, "octaves": 10, "seed": n} for n in range(30)}
    for number in range(count):
        letter = f"{chr(65 + number // 26)}{chr(65 + number % 26)}"
        told = {"letter": letter, "name": letter, "rank": number, "sources": sources, "memory": {"kind": "hold"}}
        document["fields"][f"f{number}"] = told
        step = {"kind": "cut_away", "rank": number, "field": f"f{number}"}
        document["items"]["ball"]["recipe"]["steps"][f"s{number}"] = step
    return document


def long_shot(field: dict) -> dict:
    source = {"kind": "around", "controller": "fog", "reach": 1.0}
    document = subject_shot(
        {"kind": "sphere", "subdivisions": 2},
        {"one": {"sources": {"s": source}}, "two": {"sources": {"s": source}} | field},
        place=MOVING,
        frames={"first": 0, "last": 20_000},
        rate={"numerator": 2, "denominator": 1},
    )
    steps = {"s": {"kind": "cut_away", "rank": 0, "field": "two"}}
    document["items"]["it"]["recipe"] = {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": steps}
    return document


WAYS = {
    "many shapes": lambda: many(3),
    "many more shapes": lambda: many(100),
    "many steps": lambda: steps(12),
    "many fields": lambda: fields(40),
    "rings": lambda: cut_ball(
        GEOMETRIES["rings"][0] | {"profile": {k: p | {"height": p["height"] * 5000} for k, p in PROFILE.items()}}
    ),
    "a long memory": lambda: long_shot({"memory": {"kind": "fade", "seconds": 2.0}}),
    "a long age": lambda: long_shot({"sources": {"s": {"kind": "another", "field": "one", "zone": "age"}}}),
    "a long front": lambda: long_shot({"sources": {"s": {"kind": "spread", "seeds": "one"}}}),
    "sphere": lambda: cut_ball(GEOMETRIES["sphere"][0]),
    "sheet": lambda: cut_ball(GEOMETRIES["sheet"][0]),
    "segments": lambda: cut_ball(GEOMETRIES["segments"][0]),
}


@pytest.mark.parametrize("way", WAYS)
def test_it_is_refused_before_any_of_it_is_made(way):
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    with pytest.raises(TooMuch, match=r"would fit\.$"):
        evaluator().frame(parsed(WAYS[way]()), 0)
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 64 * 1024


def test_an_estimate_is_near_what_is_held():
    document = cut_ball({"kind": "sphere", "subdivisions": 6})
    one = evaluator(2**30)
    one.frame(parsed(document), 40)
    held = one.results.keeper.cache.held
    assert 0.4 * held < estimate(parsed(document)).bytes < 4 * held


@pytest.mark.parametrize(
    ("geometry", "says"),
    [
        ({"kind": "text", "words": "W" * 200, "size": 10.0, "face_size": 0.01}, r"Faces of .* m would fit"),
        ({"kind": "extrude", "asset": "a" * 64, "height": 100.0, "face_size": 0.01}, r"Faces of .* m would fit"),
        ({"kind": "sweep", "path": "path", "spacing": 0.0005, "sides": 512}, r"Sections .* m apart would fit"),
    ],
)
def test_what_new_shapes_would_need_is_refused_with_what_would_fit(geometry, says):
    points = {f"p{place}": {"rank": place, "place": [10 * place, 0, 0]} for place in range(3)}
    path = {"kind": "path", "name": "Path", "rank": 1, "points": points}
    shape = {"kind": "shape", "name": "Large", "rank": 0, "geometry": geometry}
    shot = parsed({"name": "Large", "items": {"path": path, "large": shape}})
    square = np.array([[0, 0], [1, 0], [1, 1], [0, 1.0]])
    with pytest.raises(TooMuch, match=says):
        evaluator(held=Drawing([Paint([square], None)])).frame(shot, 0)


@pytest.mark.parametrize("times", [4, 5])
def test_a_shape_that_is_refined_too_often_is_refused(times):
    shape = {"kind": "shape", "name": "Ball", "rank": 0, "geometry": {"kind": "sphere", "subdivisions": 5}}
    shot = parsed({"name": "Fine", "items": {"b": shape | {"fineness": {"times": times, "way": "squares"}}}})
    with pytest.raises(TooMuch, match="faces; the limit is"):
        evaluator().frame(shot, 0)


def test_voxels_that_are_too_fine_are_refused_before_anything_is_solved_but_not_of_what_a_cut_may_leave():
    erode = {"kind": "erode", "voxel": 0.0005, "makes": "opened"}
    with pytest.raises(TooMuch, match="would fit"):
        evaluator().to_find(parsed(recipe_shot(erode, parts=("opened",))), 0)
    with pytest.raises(TooMuch, match="would fit"):
        evaluator().to_find(parsed(recipe_shot({"kind": "push"}, erode, parts=("opened",))), 0)
    assert evaluator().to_find(parsed(recipe_shot({"kind": "cut_away"}, erode, parts=("opened",))), 0) > 60


def test_the_seconds_of_a_volume_count_its_field_and_the_shapes_stretch():
    erode = {"kind": "erode", "voxel": 0.02, "makes": "opened"}
    plain = recipe_shot(erode, parts=("opened",))
    driven = recipe_shot(erode | {"field": "front"}, parts=("opened",))
    stretched = recipe_shot(erode, parts=("opened",))
    stretched["items"]["ball"]["scale"] = [2, 2, 2]
    seconds = [evaluator().to_find(parsed(one), 0) for one in (plain, driven, stretched)]
    assert seconds[1] > 1.05 * seconds[0]
    assert seconds[2] == pytest.approx(8 * seconds[0], rel=0.3)
