"""Keys as CSV (RFC 4180), out and in: a line for each key of each keyed value."""

from __future__ import annotations

import csv
import json
from io import StringIO

from pydantic import JsonValue, ValidationError

from windsock.core.document.patches import NOTHING, Operation, value_at
from windsock.core.document.shot import Shot
from windsock.core.evaluate.plan import Plan
from windsock.core.refusals import Refusal
from windsock.core.timing.parameter import KeyedNumber, KeyedVector

HEAD = ["value", "frame", "x", "y", "z", "easing", "x1", "y1", "x2", "y2"]
"""`value` is the JSON Pointer of the keyed value; y and z are empty for a number; the last four are a Bezier's handles."""

SIZE_LIMIT = 4 * 2**20
ROW_LIMIT = 20_000
VALUE_LIMIT = 100


def write_keys(shot: Shot) -> str:
    """All keys of a shot."""
    out = StringIO()
    writer = csv.writer(out)
    writer.writerow(HEAD)
    for pointer, keyed in sorted(Plan(shot).keyed().items()):
        for key in sorted(keyed.keys.values(), key=lambda one: one.frame):
            numbers = list(key.value) if isinstance(key.value, tuple) else [key.value, "", ""]
            handles = list(getattr(key.easing, "handles", ("", "", "", "")))
            writer.writerow([pointer, _short(key.frame), *map(_short, numbers), key.easing.kind, *map(_short, handles)])
    return out.getvalue()


def read_keys(text: str, document: JsonValue) -> list[Operation]:
    """The edit that gives the named values of a document these keys. Raises Refusal with the line that is wrong."""
    if len(text) > SIZE_LIMIT:
        raise Refusal("The file is larger than 4 MB. Nothing was changed. Bring keys in parts.")
    found: dict[str, dict[str, JsonValue]] = {}
    try:
        rows = list(csv.reader(StringIO(text.lstrip("\ufeff")), strict=True))
    except csv.Error as fault:
        raise Refusal(f"The file is not CSV ({fault}). Nothing was changed. Save it as CSV with commas.") from None
    if not rows or [cell.strip().lower() for cell in rows[0]] != HEAD:
        raise Refusal(
            f"The first line must be {','.join(HEAD)}. Nothing was changed. Export keys once to see how they look."
        )
    if len(rows) > ROW_LIMIT:
        raise Refusal(f"The file has more than {ROW_LIMIT:,} lines. Nothing was changed. Bring keys in parts.")
    for number, row in enumerate(rows[1:], 2):
        if not any(cell.strip() for cell in row):
            continue
        pointer, key = _key(row, number, document)
        keys = found.setdefault(pointer, {})
        keys[f"k{len(keys) + 1}"] = key
    if not found:
        raise Refusal("The file has no keys. Nothing was changed.")
    if len(found) > VALUE_LIMIT:
        raise Refusal(
            f"The file has keys for more than {VALUE_LIMIT} values. Nothing was changed. Bring them in parts."
        )
    patch: list[Operation] = []
    for pointer, keys in found.items():
        vector = any(isinstance(key, dict) and isinstance(key["value"], list) for key in keys.values())
        try:
            (KeyedVector if vector else KeyedNumber).model_validate_json(_json({"keys": keys}))
        except ValidationError as fault:
            says = fault.errors()[0]["msg"].removeprefix("Value error, ")
            raise Refusal(
                f"The keys of {pointer}: {says}. Nothing was changed. Mend the file and bring it again."
            ) from None
        patch.append(Operation(op="replace", path=pointer, value={"keys": keys}))
    return patch


def _key(row: list[str], number: int, document: JsonValue) -> tuple[str, JsonValue]:
    def wrong(says: str) -> Refusal:
        return Refusal(f"Line {number}: {says} Nothing was changed. Mend the file and bring it again.")

    cells = [cell.strip() for cell in row] + [""] * (len(HEAD) - len(row))
    if len(row) > len(HEAD):
        raise wrong(f"it has {len(row)} cells instead of {len(HEAD)}.")
    pointer, easing = cells[0], cells[5] or "ease"
    there = value_at(document, pointer) if pointer.startswith("/") else NOTHING
    size = _size(there)
    if size == 0:
        raise wrong(f"“{pointer[:80]}” is not a value of this shot that can have keys.")
    try:
        frame = float(cells[1])
        numbers = [float(cell) for cell in cells[2 : 2 + size]]
        handles = [float(cell) for cell in cells[6:10]] if easing == "bezier" else []
    except ValueError:
        raise wrong("a number is missing or is not a number.") from None
    if easing not in ("hold", "linear", "ease", "bezier"):
        raise wrong(f"“{easing[:20]}” is not an easing: hold, linear, ease or bezier.")
    written: dict[str, JsonValue] = {"kind": easing}
    if handles:
        written["handles"] = list[JsonValue](handles)
    value: JsonValue = numbers[0] if size == 1 else list[JsonValue](numbers)
    return pointer, {"frame": frame, "value": value, "easing": written}


def _size(there: object) -> int:
    """How many numbers a value has that may have keys; 0 where it may not."""
    if isinstance(there, dict) and isinstance(keys := there.get("keys"), dict) and keys:
        first = next(iter(keys.values()))
        there = first.get("value") if isinstance(first, dict) else None
    if isinstance(there, (int, float)) and not isinstance(there, bool):
        return 1
    if isinstance(there, list) and len(there) == 3 and all(isinstance(one, (int, float)) for one in there):
        return 3
    return 0


def _short(value: object) -> object:
    return f"{value:.9g}" if isinstance(value, float) else value


def _json(value: JsonValue) -> str:
    return json.dumps(value)
