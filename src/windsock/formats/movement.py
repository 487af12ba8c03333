"""Movement in: of the nodes of a glTF file, or of a table as CSV."""

from __future__ import annotations

import csv
import json
from collections.abc import Sequence
from io import BytesIO, StringIO
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.movement import Movement
from windsock.core.geometry.placement import turns_of
from windsock.core.refusals import Refusal
from windsock.formats.gltf_data import BROKEN, Channel, Data, Tree
from windsock.formats.gltf_open import opened_glb, opened_gltf
from windsock.formats.gltf_zip import opened_zip
from windsock.formats.limits import FILE_LIMIT

Reals = NDArray[np.float64]

KINDS = ("glb", "gltf", "zip", "csv")
"""Endings of files that movement is read from."""

RATE = 120.0
"""Moments in a second at which a node is looked at, and at those of its own keys."""

JUST_BEFORE = 1e-5
"""Seconds before a jump at which it is looked at as well."""

THING_LIMIT, SAMPLE_LIMIT = 200, 200_000
"""Things that move in a file, and moments of all of them."""

TIMES = ("seconds", "frame")
PLACE, TURN, SCALE = ("x", "y", "z"), ("turn x", "turn y", "turn z"), ("scale x", "scale y", "scale z")
WHAT_IS_READ = (
    "What is read: glTF with animation, and CSV with a head of seconds or frame, x, y, z, and if wanted name, turn x, "
    "turn y, turn z, scale x, scale y, scale z."
)


def read_movements(content: bytes, kind: str) -> list[Movement]:
    """What moves in a file. Raises Refusal in people's words."""
    if kind not in KINDS:
        raise Refusal(f"Movement is not read from files of the kind “{kind}”. Nothing was changed. {WHAT_IS_READ}")
    if not content or len(content) > FILE_LIMIT:
        raise Refusal(
            f"The file is empty or larger than {FILE_LIMIT // 2**20} MB. Nothing was changed. Write it again, or smaller."
        )
    if kind == "csv":
        return _from_table(content)
    return _from_nodes(_opened(content, kind))


def store_movements(movements: Sequence[Movement], path: Path) -> None:
    """Write movements, as one plain archive of arrays that can be loaded without trusting it."""
    head = json.dumps([[one.name, one.clock] for one in movements])
    arrays = {
        f"{part}{place}": getattr(one, part)
        for place, one in enumerate(movements)
        for part in ("times", "places", "turns", "scales")
    }
    with path.open("wb") as file:
        np.savez(file, allow_pickle=False, told=np.frombuffer(head.encode(), dtype=np.uint8), **arrays)


def restored_movements(path: Path) -> list[Movement]:
    """Read what `store_movements` has written."""
    with np.load(BytesIO(path.read_bytes()), allow_pickle=False) as held:
        arrays = {name: held[name] for name in held.files}
    return [
        Movement(name, clock, *(arrays[f"{part}{place}"] for part in ("times", "places", "turns", "scales")))
        for place, (name, clock) in enumerate(json.loads(arrays["told"].tobytes()))
    ]


def _opened(content: bytes, kind: str) -> Data:
    if kind == "glb":
        return opened_glb(content)
    return opened_zip(content) if kind == "zip" else opened_gltf(content)


def _from_nodes(data: Data) -> list[Movement]:
    """The movements of the nodes of a glTF file, in the space of its scene."""
    try:
        return _nodes_moved(data)
    except (TypeError, ValueError, KeyError, IndexError, AttributeError, AssertionError, OverflowError):
        raise Refusal(BROKEN) from None


def _nodes_moved(data: Data) -> list[Movement]:
    tree = Tree(data)
    channels = [one for one in tree.channels() if one.property != "weights" and len(one.seconds) > 1]
    driven = {one.node for one in channels}
    moving: list[int] = []
    for node, parent in tree.order:
        if node in driven or parent in driven:
            driven.add(node)
            moving.append(node)
    if not moving:
        raise Refusal("Nothing in the file is moved by an animation. Nothing was changed. Write it with its animation.")
    moving = moving[:THING_LIMIT]
    times = _moments(channels, len(moving))
    found = np.empty((len(moving), len(times), 4, 4))
    for place, seconds in enumerate(times.tolist()):
        matrices = tree.matrices({(one.node, one.property): one.at(seconds) for one in channels})
        found[:, place] = [matrices[node] for node in moving]
    if not np.isfinite(found).all():
        raise Refusal(BROKEN)
    return [_of_matrices(_called(tree, node), times, found[place]) for place, node in enumerate(moving)]


def _moments(channels: Sequence[Channel], things: int) -> Reals:
    """The moments to look at: those of all keys, and even ones between."""
    begins = min(float(one.seconds[0]) for one in channels)
    ends = max(float(one.seconds[-1]) for one in channels)
    keys = [one.seconds for one in channels] + [one.seconds - JUST_BEFORE for one in channels if one.how == "STEP"]
    told = np.unique(np.round(np.concatenate(keys), 6))
    told = told[told >= round(begins, 6)]
    most = SAMPLE_LIMIT // things
    if len(told) > most or not 0 < ends - begins < 1e5:
        raise Refusal(
            f"The movement has {len(told):,} keys over {ends - begins:.1f} s for {things} things, which is more than is read. "
            "Nothing was changed. Shorten it, or write fewer of its nodes."
        )
    even = min(int(np.ceil((ends - begins) * RATE)) + 1, most - len(told) + 2)
    return np.unique(np.round(np.concatenate([told, np.linspace(begins, ends, max(even, 2))]), 6))


def _of_matrices(name: str, times: Reals, matrices: Reals) -> Movement:
    """Movement of (n, 4, 4) matrices; one that mirrors is taken as if it did not."""
    scales = np.sqrt(np.square(matrices[:, :3, :3]).sum(axis=1))
    rotations = matrices[:, :3, :3] / np.maximum(scales, 1e-12)[:, None, :]
    rotations = rotations * np.where(np.linalg.det(rotations) < 0, -1.0, 1.0)[:, None, None]
    flat = (scales < 1e-9).any(axis=1)
    rotations[flat] = np.eye(3)
    return Movement(name, "seconds", times, matrices[:, :3, 3].copy(), turns_of(rotations), np.maximum(scales, 1e-4))


def _called(tree: Tree, node: int) -> str:
    name = str(tree.nodes[node].get("name") or f"node {node + 1}")
    return "".join(letter for letter in name if letter.isprintable())[:60] or f"node {node + 1}"


def _from_table(content: bytes) -> list[Movement]:
    """The movements of a table (RFC 4180): a line for each moment of each thing."""
    try:
        rows = list(csv.reader(StringIO(content.decode("utf-8-sig")), strict=True))
    except (csv.Error, UnicodeDecodeError) as fault:
        raise Refusal(f"The file is not CSV ({fault}). Nothing was changed. Save it as CSV with commas.") from None
    head = [cell.strip().lower() for cell in rows[0]] if rows else []
    clocks = [cell for cell in head if cell in TIMES]
    known = {*TIMES, *PLACE, *TURN, *SCALE, "name"}
    partly = any(0 < len(set(three) & set(head)) < 3 for three in (TURN, SCALE))
    if len(clocks) != 1 or not set(PLACE) <= set(head) or partly or set(head) - known or len(set(head)) < len(head):
        raise Refusal(
            "The first line must be seconds or frame, x, y, z, and if wanted name, turn x, turn y, turn z, scale x, scale y, scale z. "
            "Nothing was changed. Mend the file and choose it again."
        )
    if len(rows) > SAMPLE_LIMIT:
        raise Refusal(f"The file has more than {SAMPLE_LIMIT:,} lines. Nothing was changed. Take fewer moments.")
    columns = [clocks[0], *PLACE, *(TURN if TURN[0] in head else ()), *(SCALE if SCALE[0] in head else ())]
    things: dict[str, list[list[float]]] = {}
    for line, row in enumerate(rows[1:], 2):
        if any(cell.strip() for cell in row):
            cells = dict(zip(head, row, strict=False))
            listed = things.setdefault(cells.get("name", "").strip()[:60] or "Movement", [])
            listed.append(_numbers(cells, columns, line))
            if len(listed) > 1 and listed[-1][0] <= listed[-2][0]:
                raise _wrong(line, f"its {clocks[0]} is not after the one before.")
    if not things or len(things) > THING_LIMIT or min(map(len, things.values())) < 2:
        raise Refusal(
            f"The file must have two lines or more for each thing, and no more than {THING_LIMIT} things. Nothing was changed. "
            "Mend the file and choose it again."
        )
    return [_of_rows(name, clocks[0], columns, np.array(listed)) for name, listed in things.items()]


def _numbers(cells: dict[str, str], columns: Sequence[str], line: int) -> list[float]:
    try:
        numbers = [float(cells.get(column, "")) for column in columns]
    except ValueError:
        raise _wrong(line, "a number is missing or is not a number.") from None
    if not all(abs(number) <= 1e7 for number in numbers):
        raise _wrong(line, "a number is beyond ten million.")
    return numbers


def _wrong(line: int, says: str) -> Refusal:
    return Refusal(f"Line {line}: {says} Nothing was changed. Mend the file and choose it again.")


def _of_rows(name: str, clock: str, columns: Sequence[str], rows: Reals) -> Movement:
    def three(names: Sequence[str], missing: float) -> Reals:
        if names[0] not in columns:
            return np.full((len(rows), 3), missing)
        return rows[:, [columns.index(one) for one in names]]

    scales = np.clip(np.abs(three(SCALE, 1.0)), 1e-4, 1e4)
    return Movement(
        name, "frames" if clock == "frame" else "seconds", rows[:, 0], three(PLACE, 0.0), three(TURN, 0.0), scales
    )
