"""The OpenAPI 3.1 description, as it is published."""

from __future__ import annotations

import json
import re

from pydantic import TypeAdapter

from windsock.protocol.manifest import FrameManifest

NESTED = re.compile(r"#/components/schemas/[A-Za-z]+\.([A-Za-z]+)")


def tidied(spec: dict | str) -> dict:
    """Models that several others hold appear once, under their own name; errors are problem details."""
    assert isinstance(spec, dict)
    schemas = spec.get("components", {}).get("schemas", {})
    spec["components"]["schemas"] = {name.rsplit(".", 1)[-1]: schema for name, schema in schemas.items()}
    spec["components"]["schemas"]["Problem"] = {
        "type": "object",
        "title": "Problem",
        "description": "Problem details (RFC 9457)",
        "required": ["type", "title", "status", "detail"],
        "properties": {
            "type": {"type": "string"},
            "title": {"type": "string"},
            "status": {"type": "integer"},
            "detail": {"type": "string"},
            "revision": {"type": "integer"},
            "clashes": {
                "type": "array",
                "items": {
                    "type": "object",
                    "required": ["path", "yours", "theirs"],
                    "properties": {"path": {"type": "string"}, "yours": {}, "theirs": {}},
                },
            },
            "places": {
                "type": "array",
                "items": {"type": "object", "properties": {"path": {"type": "string"}, "detail": {"type": "string"}}},
            },
        },
    }
    spec["components"]["schemas"] |= _manifest()
    text = NESTED.sub(r"#/components/schemas/\1", json.dumps(spec))
    described = json.loads(text)
    _problems_for_errors(described)
    return described


def _problems_for_errors(spec: dict) -> None:
    body = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
    for path in spec.get("paths", {}).values():
        for operation in path.values():
            if isinstance(operation, dict) and "responses" in operation:
                responses = {code: reply for code, reply in operation["responses"].items() if code[0] == "2"}
                operation["responses"] = responses | {
                    "default": {"description": "What went wrong, in words", "content": body}
                }


def _manifest() -> dict:
    """What a frame is sent as: no answer of the API is it whole, since blocks of bytes follow."""
    schema = TypeAdapter(FrameManifest).json_schema(ref_template="#/components/schemas/{model}")
    inner = schema.pop("$defs")
    return {**inner, "FrameManifest": schema}
