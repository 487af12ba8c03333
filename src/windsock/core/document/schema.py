"""The JSON Schema of a shot, made from the declarations."""

from __future__ import annotations

from pydantic import JsonValue

from windsock.core.document.limits import BYTES, DEPTH, VALUES
from windsock.core.document.shot import SCHEMA_VERSION, Shot


def shot_schema() -> dict[str, JsonValue]:
    """JSON Schema (2020-12) of the document; `x-quantity` carries unit, bounds and the change for a pixel of drag, `x-limits`
    how large a whole document may be."""
    schema = Shot.model_json_schema(mode="validation")
    limits: JsonValue = {"bytes": BYTES, "values": VALUES, "depth": DEPTH}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **schema,
        "x-schema-version": SCHEMA_VERSION,
        "x-limits": limits,
    }
