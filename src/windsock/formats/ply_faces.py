"""Faces of binary PLY files that have different numbers of corners: as triangles, which all readers take."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.geometry.mesh import FACE_LIMIT
from windsock.core.refusals import Refusal

SIZES = {
    **dict.fromkeys(("char", "int8"), "i1"),
    **dict.fromkeys(("uchar", "uint8"), "u1"),
    **dict.fromkeys(("short", "int16"), "i2"),
    **dict.fromkeys(("ushort", "uint16"), "u2"),
    **dict.fromkeys(("int", "int32"), "i4"),
    **dict.fromkeys(("uint", "uint32"), "u4"),
    **dict.fromkeys(("float", "float32"), "f4"),
    **dict.fromkeys(("double", "float64"), "f8"),
}


MOST_CORNERS = 100_000
"""Of one face."""


@dataclass
class Element:
    """One element of a header: how many there are, its plain properties' types in order, and its lists as (place among the
    properties, type of the count, type of the entries)."""

    name: str
    count: int
    plain: list[str]
    lists: list[tuple[int, str, str]]


def with_triangles(content: bytes) -> bytes:
    """The file with its faces as triangles, where it is binary and any of its faces has more or fewer corners.

    Faces are fans about their first corner; what is said of single faces, and what comes behind them, is left out. A file of
    another layout stays as it is. Raises Refusal where faces go beyond the end of the file.
    """
    end = content.find(b"end_header")
    start = content.find(b"\n", end) + 1
    order, elements = _header(content[:end].decode("ascii", errors="replace"))
    names = [element.name for element in elements]
    if not order or "face" not in names:
        return content
    place = names.index("face")
    face = elements[place]
    if len(face.lists) != 1 or any(element.lists for element in elements[:place]):
        return content
    for element in elements[:place]:
        start += element.count * sum(np.dtype(kind).itemsize for kind in element.plain)
    found = _scanned(content, start, face, order)
    if found is None:
        return content
    counts, corners = found
    faces = _fans(counts, corners)
    if len(faces) > FACE_LIMIT:
        raise Refusal(
            f"The file has {len(faces):,} triangles; the limit is {FACE_LIMIT:,}. Nothing was imported. Reduce it before "
            "writing it."
        )
    rows = np.zeros(len(faces), dtype=[("count", "u1"), ("corners", f"{order}i4", (3,))])
    rows["count"], rows["corners"] = 3, faces
    header = _with_faces(content[: content.find(b"\n", end) + 1], len(faces))
    return header + content[content.find(b"\n", end) + 1 : start] + rows.tobytes()


def _header(text: str) -> tuple[str, list[Element]]:
    """The byte order, nothing for text, and the elements in order."""
    order, elements = "", list[Element]()
    for line in text.split("\n"):
        words = line.split()
        if words[:1] == ["format"] and len(words) > 1:
            order = {"binary_little_endian": "<", "binary_big_endian": ">"}.get(words[1], "")
        elif words[:1] == ["element"] and len(words) == 3 and words[2].isascii() and words[2].isdigit():
            elements.append(Element(words[1], int(words[2]), [], []))
        elif words[:1] == ["property"] and elements:
            kinds = [SIZES.get(word, "") for word in words[1:-1] if word != "list"]
            if len(words) < 3 or not all(kinds) or len(kinds) != (2 if words[1] == "list" else 1):
                return "", []
            if words[1] == "list":
                elements[-1].lists.append((len(elements[-1].plain), kinds[0], kinds[1]))
            else:
                elements[-1].plain.append(kinds[0])
    return order, elements


def _scanned(
    content: bytes, start: int, face: Element, order: str
) -> tuple[NDArray[np.int64], NDArray[np.int64]] | None:
    """(f,) corners of each face, and all corners one after another; None for triangles alone."""
    at, count_kind, entry_kind = face.lists[0]
    if count_kind[0] == "f" or entry_kind[0] == "f":
        return None
    before = sum(np.dtype(kind).itemsize for kind in face.plain[:at])
    behind = sum(np.dtype(kind).itemsize for kind in face.plain[at:])
    width, size = np.dtype(count_kind).itemsize, np.dtype(entry_kind).itemsize
    endian = "little" if order == "<" else "big"
    offset = start
    counts: list[int] = []
    starts: list[int] = []
    for _ in range(face.count):
        offset += before
        corners = int.from_bytes(content[offset : offset + width], endian)
        counts.append(corners)
        starts.append(offset + width)
        offset += width + corners * size + behind
        if offset > len(content) or corners > MOST_CORNERS:
            raise Refusal(
                "Faces of the file have more corners than it holds. Nothing was imported. Write it again from where it was made."
            )
    counted = np.array(counts, dtype=np.int64)
    if (counted == 3).all():
        return None
    kind = np.dtype(order + entry_kind)
    each = [np.frombuffer(content, kind, count=count, offset=at) for count, at in zip(counts, starts, strict=True)]
    return counted, np.concatenate(each).astype(np.int64)


def _fans(counts: NDArray[np.int64], corners: NDArray[np.int64]) -> NDArray[np.int64]:
    """(t, 3) triangles of faces with (f,) so many of the corners each."""
    first = np.cumsum(counts) - counts
    triangles = np.maximum(counts - 2, 0)
    face = np.repeat(np.arange(len(counts)), triangles)
    step = np.arange(len(face)) - np.repeat(np.cumsum(triangles) - triangles, triangles)
    start = first[face]
    return np.stack([corners[start], corners[start + step + 1], corners[start + step + 2]], axis=1)


def _with_faces(header: bytes, count: int) -> bytes:
    """The header with the faces as triangles, and without what comes behind them."""
    lines: list[bytes] = []
    for line in header.split(b"\n"):
        if line.split()[:2] == [b"element", b"face"]:
            return b"\n".join(
                [*lines, b"element face %d" % count, b"property list uchar int vertex_indices", b"end_header", b""]
            )
        lines.append(line)
    return header
