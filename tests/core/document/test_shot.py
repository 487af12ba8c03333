"""The document: what is valid, what is refused, and in which words."""

from __future__ import annotations

import copy
import json
from pathlib import Path

import jsonschema
import pytest
from shots import cut_ball

from windsock.core.document.schema import shot_schema
from windsock.core.document.shot import BadDocument, parse_shot
from windsock.demo.blank import blank_shot
from windsock.demo.fog_over_the_light import fog_over_the_light

DOCS = Path(__file__).parents[3] / "docs"
QUANTITIES = [
    ("items", "ball", "geometry", "radius"),
    ("items", "ball", "look", "roughness"),
    ("items", "ball", "look", "emission"),
    ("fields", "front", "level"),
    ("fields", "front", "band"),
    ("fields", "front", "sources", "s", "reach"),
    ("fields", "front", "sources", "s", "soft"),
    ("fields", "front", "sources", "s", "amount"),
    ("items", "ball", "recipe", "steps", "cut", "amount"),
    ("environment", "strength"),
]


def whole(document: dict) -> dict:
    return parse_shot(document).model_dump(mode="json")


def put(document: dict, path: tuple[str, ...], value: object) -> dict:
    changed = copy.deepcopy(document)
    holder = changed
    for name in path[:-1]:
        holder = holder[name]
    holder[path[-1]] = value
    return changed


@pytest.mark.parametrize(
    "document", [cut_ball(), fog_over_the_light(), blank_shot("New")], ids=["ball", "demo", "blank"]
)
def test_a_document_goes_out_whole_and_comes_back_the_same(document):
    once = whole(document)
    assert whole(json.loads(json.dumps(once))) == once
    jsonschema.validate(once, shot_schema())


@pytest.mark.parametrize("path", QUANTITIES, ids=lambda path: path[-1])
@pytest.mark.parametrize(
    "value", [float("nan"), float("inf"), -float("inf"), -1.0, 1e300, "1", None, True, [], {}, {"keys": {}}], ids=repr
)
def test_wrong_numbers_are_refused_everywhere(path, value):
    with pytest.raises(BadDocument, match="Nothing was changed"):
        parse_shot(put(whole(cut_ball()), path, value))


@pytest.mark.parametrize("name", ["subdivisions", "segments", "rings"])
@pytest.mark.parametrize("value", [10**9, -1, 2.5, float("nan")])
def test_wrong_counts_are_refused(name, value):
    with pytest.raises(BadDocument):
        parse_shot(put(whole(cut_ball()), ("items", "ball", "geometry", name), value))


def test_a_number_from_json_that_is_too_large_to_be_one_is_refused():
    document = json.loads(json.dumps(whole(cut_ball())).replace('"level": 0.5', '"level": 1e400'))
    with pytest.raises(BadDocument):
        parse_shot(document)


def test_bounds_hold_for_keys_too():
    keyed = {"keys": {"a": {"frame": 0, "value": 0.5}, "b": {"frame": 9, "value": 7.0}}}
    with pytest.raises(BadDocument, match="outside 0 to 1"):
        parse_shot(put(whole(cut_ball()), ("fields", "front", "level"), keyed))


@pytest.mark.parametrize(
    ("path", "value", "words"),
    [
        (("fields", "front", "sources", "s", "controller"), "nobody", "not a controller"),
        (("fields", "front", "sources", "s", "controller"), "ball", "not a controller"),
        (("items", "ball", "recipe", "steps", "cut", "field"), "nothing", "not in the shot"),
        (("items", "ball", "recipe", "steps", "cut", "part"), "flakes", "does not have"),
        (("camera",), "fog", "not a camera"),
        (("frames",), {"first": 10, "last": 2}, "before the first"),
        (("surprise",), 1, "not permitted"),
        (("name",), "", "at least 1"),
    ],
)
def test_unknown_references_and_things_are_named(path, value, words):
    with pytest.raises(BadDocument, match=words):
        parse_shot(put(whole(cut_ball()), path, value))


@pytest.mark.parametrize("data", [None, [], "shot", 5, {"name": "x", "items": []}, {"name": "x", "schema_version": 99}])
def test_what_is_no_shot_is_refused(data):
    with pytest.raises(BadDocument):
        parse_shot(data)


def test_deep_nesting_is_refused_and_does_not_crash():
    deep: dict = {}
    for _ in range(5000):
        deep = {"a": deep}
    with pytest.raises(BadDocument):
        parse_shot({"name": "x", "items": deep})


def test_the_published_schema_is_the_one_of_the_code():
    assert json.loads((DOCS / "shot.schema.json").read_text()) == json.loads(json.dumps(shot_schema()))


def test_every_quantity_of_the_schema_says_its_unit_and_bounds():
    definitions = shot_schema()["$defs"]
    quantities = [p for d in definitions.values() for p in d.get("properties", {}).values() if "x-quantity" in p]
    assert len(quantities) > 30
    for one in quantities:
        assert one["description"]
        assert one["x-quantity"]["low"] < one["x-quantity"]["high"]


def numbers_in(thing: object, path: tuple[str, ...] = ()) -> list[tuple[str, ...]]:
    if isinstance(thing, dict):
        return [found for key, value in thing.items() for found in numbers_in(value, (*path, key))]
    return [path] if isinstance(thing, (int, float)) and not isinstance(thing, bool) else []


def every_kind() -> dict:
    document = whole(fog_over_the_light())  # type: ignore[arg-type]
    document["items"]["file"] = copy.deepcopy(document["items"]["lamp"]) | {
        "geometry": {"kind": "imported", "asset": "0" * 64}
    }
    return whole(document)


@pytest.mark.parametrize("value", [float("nan"), float("inf"), 1e300, "1"], ids=repr)
def test_no_number_anywhere_takes_what_is_no_number(value):
    document = every_kind()
    places = numbers_in(document)
    assert len(places) > 200
    for path in places:
        with pytest.raises(BadDocument):
            parse_shot(put(document, path, value))


def test_refusals_speak_of_places_as_people_do():
    with pytest.raises(BadDocument, match="ball, geometry, radius: it should be a finite number") as caught:
        parse_shot(put(whole(cut_ball()), ("items", "ball", "geometry", "radius"), float("nan")))
    assert caught.value.places[0][0] == "/items/ball/geometry/radius"
    assert len(caught.value.places) == 1
