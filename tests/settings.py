"""Every setting of a document, from its schema: another value for each, and small things of every kind."""

from __future__ import annotations

import copy
from collections.abc import Iterator
from typing import Any

from windsock.core.document.schema import shot_schema
from windsock.core.document.shot import BadDocument, Shot, parse_shot

SCHEMA: dict[str, Any] = shot_schema()
ID = "^[A-Za-z0-9][A-Za-z0-9_-]{0,39}$"


def kinds_of(name: str, member: str) -> list[str]:
    """The kinds of a choice, such as the steps of a recipe."""
    told = SCHEMA["$defs"][name]["properties"][member]
    told = next(iter(told["patternProperties"].values())) if "patternProperties" in told else told
    return sorted(told["discriminator"]["mapping"])


def edits_of(document: dict, under: str = "") -> Iterator[tuple[str, dict]]:
    """Every setting below a pointer once: (its pointer, the document with another value that the schema allows).

    `document` has all its defaults. Settings that have no other valid value, such as the kind of a thing, are left out.
    """
    for pointer, schema, value in _leaves(SCHEMA, document, ""):
        if not pointer.startswith(under):
            continue
        for other in _others(schema, value, document):
            edited = with_value(document, pointer, other)
            if _valid(edited):
                yield pointer, edited
                break


def places_of(document: dict) -> Iterator[tuple[str, dict, object]]:
    """Every setting of a document that has all its defaults: its pointer, its schema and its value."""
    return _leaves(SCHEMA, document, "")


def other_values(schema: dict, value: object, document: dict) -> Iterator[object]:
    """Other values for a setting, the likeliest first. They may not be valid where they are."""
    return _others(schema, value, document)


def samples_of(member: str, kind: str, document: dict, given: dict) -> Iterator[dict]:
    """Small things of a kind, such as a step ("Recipe.steps"). given: what settings of these names are, where it has them."""
    owner, name = member.split(".")
    told = SCHEMA["$defs"][owner]["properties"][name]
    told = next(iter(told["patternProperties"].values())) if "patternProperties" in told else told
    reference = told["discriminator"]["mapping"][kind]
    properties = _resolved({"$ref": reference})["properties"]
    fitting = {setting: value for setting, value in given.items() if setting in properties}
    yield from samples({"$ref": reference}, document, **fitting)


def whole(document: dict) -> dict:
    """The document with all its defaults."""
    return parse_shot(document).model_dump(mode="json")


def with_value(document: dict, pointer: str, value: object) -> dict:
    """A copy of the document with one value in place of another."""
    edited = copy.deepcopy(document)
    *way, last = pointer.strip("/").split("/")
    thing: Any = edited
    for step in way:
        thing = thing[int(step)] if isinstance(thing, list) else thing[step]
    thing[int(last) if isinstance(thing, list) else last] = value
    return edited


def _valid(document: dict) -> Shot | None:
    try:
        return parse_shot(document)
    except BadDocument:
        return None


def _resolved(schema: dict) -> dict:
    """A schema with its references followed; what is said beside one stays."""
    told = dict(schema)
    while "$ref" in told or "allOf" in told:
        inner = SCHEMA["$defs"][told.pop("$ref").rsplit("/", 1)[-1]] if "$ref" in told else told.pop("allOf")[0]
        told = {**inner, **{name: value for name, value in told.items() if name != "description"}}
    return told


def _branch(schema: dict, value: object) -> dict:
    """The branch of a choice that a value is of."""
    told = _resolved(schema)
    beside = {name: told[name] for name in ("x-quantity",) if name in told}
    if "discriminator" in told:
        assert isinstance(value, dict)
        return _resolved({"$ref": told["discriminator"]["mapping"][value["kind"]]})
    for one in told.get("anyOf", []):
        branch = _resolved(one)
        if _is(value, branch):
            return branch | beside
    return told


def _is(value: object, schema: dict) -> bool:
    if "discriminator" in schema:
        return isinstance(value, dict)
    named = {"number": (int, float), "integer": int, "string": str, "array": list, "object": dict, "null": type(None)}
    kind = named.get(schema.get("type", ""), object)
    if isinstance(value, dict) and schema.get("type") == "object" and "properties" in schema:
        return set(value) <= set(schema["properties"])
    return isinstance(value, kind) and not (isinstance(value, bool) and schema.get("type") != "boolean")


def _leaves(schema: dict, value: object, pointer: str) -> Iterator[tuple[str, dict, object]]:
    """Each value that is set, with its schema: numbers, words and choices, and what is absent or keyed as a whole."""
    branch = _branch(schema, value)
    if isinstance(value, dict):
        if pointer and (branch.get("title") in ("KeyedNumber", "KeyedVector") or "anyOf" in _resolved(schema)):
            yield pointer, schema, value
        members = branch.get("properties")
        for name, inner in value.items():
            told = members.get(name) if members else next(iter(branch["patternProperties"].values()))
            if told is not None:
                yield from _leaves(told, inner, f"{pointer}/{name}")
    else:
        yield pointer, schema, value


def _others(schema: dict, value: object, document: dict) -> Iterator[object]:
    """Other values for a setting, the likeliest first."""
    branch = _branch(schema, value)
    told = _resolved(schema)
    for one in [branch, *(_resolved(one) for one in told.get("anyOf", []))]:
        quantity = one.get("x-quantity") or told.get("x-quantity")
        for other in _made(one | ({"x-quantity": quantity} if quantity else {}), value, document):
            if other != value:
                yield other


def _made(schema: dict, value: object, document: dict) -> Iterator[object]:
    """Values that a schema allows, different from one."""
    if "enum" in schema:
        place = schema["enum"].index(value) if value in schema["enum"] else -1
        yield from (schema["enum"][(place + 1 + step) % len(schema["enum"])] for step in range(len(schema["enum"])))
    elif "const" in schema or schema.get("type") == "null":
        yield schema.get("const")
    elif schema.get("type") == "boolean":
        yield not value
    elif schema.get("type") in ("number", "integer"):
        yield from _numbers(schema, value if isinstance(value, (int, float)) else 0.0)
    elif schema.get("type") == "array" and "prefixItems" in schema:
        old = value if isinstance(value, list) else [0.0] * len(schema["prefixItems"])
        low, high = _bounds(schema)
        yield [min(max(one * 1.25 + 0.2 * (place + 1), low), high) for place, one in enumerate(old)]
    elif schema.get("type") == "string":
        pattern = schema.get("pattern", "")
        if pattern == ID:
            yield from _ids(document)
        elif "0-9A-Fa-f]{6}" in pattern:
            yield "#3366CC" if value != "#3366CC" else "#AA5500"
        elif pattern.startswith("^[A-Z]"):
            yield "ZZ"
        else:
            yield "rounded"
            yield "Another"
    elif schema.get("type") == "object" or "discriminator" in schema:
        yield from samples(schema, document)


def _numbers(schema: dict, value: float) -> Iterator[float]:
    low, high = _bounds(schema)
    whole_number = schema.get("type") == "integer" or schema.get("x-quantity", {}).get("whole", False)
    for wanted in (value * 0.8 + 0.06, value * 1.3 + 0.1, value + 1, value - 1, low, high):
        other = min(max(wanted, low), high)
        yield (int(other) if schema.get("type") == "integer" else float(round(other))) if whole_number else other


def _bounds(schema: dict) -> tuple[float, float]:
    quantity = schema.get("x-quantity", {})
    return quantity.get("low", schema.get("minimum", -1e3)), quantity.get("high", schema.get("maximum", 1e3))


def _ids(document: dict) -> Iterator[str]:
    for collection in ("items", "fields", "groups"):
        yield from document[collection]
    for item in document["items"].values():
        yield from item.get("recipe", {}).get("parts", {})


def samples(schema: dict, document: dict, **given: object) -> Iterator[dict]:
    """Small things that a schema describes: what it requires is made up, the rest is left to its defaults."""
    told = _resolved(schema)
    if "discriminator" in told:
        for reference in told["discriminator"]["mapping"].values():
            yield from samples({"$ref": reference}, document)
        return
    if "patternProperties" in told and "properties" not in told:
        inner = next(iter(told["patternProperties"].values()))
        yield {f"k{place}": one for place, one in enumerate(_entries(inner, document))}
        return
    wanted = [name for name in told.get("required", []) if name not in given]
    kind = told["properties"].get("kind", {}).get("const")
    made: dict[str, object] = ({"kind": kind} if kind else {}) | given
    yield from _filled(told, wanted, made, document)


def _filled(schema: dict, wanted: list[str], made: dict[str, object], document: dict) -> Iterator[dict]:
    if not wanted:
        yield dict(made)
        return
    name, *rest = wanted
    told = _resolved(schema["properties"][name])
    for one in _made(told if "anyOf" not in told else _resolved(told["anyOf"][0]) | _beside(told), None, document):
        yield from _filled(schema, rest, made | {name: one}, document)


def _beside(schema: dict) -> dict:
    return {"x-quantity": schema["x-quantity"]} if "x-quantity" in schema else {}


def _entries(schema: dict, document: dict) -> list[dict]:
    """Two entries of a collection, such as keys or the points of a curve, with numbers that go up."""
    first = next(samples(schema, document))
    second = {name: value + 5 if name in ("frame", "rank") else value for name, value in first.items()}
    properties = _resolved(schema).get("properties", {})
    for name, value in second.items():
        if name not in ("frame", "rank") and isinstance(value, float):
            low, high = _bounds(_resolved(properties[name]))
            second[name] = min(max(value + 0.4, low), high)
        elif isinstance(value, list):
            second[name] = [one + 0.4 for one in value]
    return [first, second]
