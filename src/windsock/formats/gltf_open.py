"""The two forms of a glTF 2.0 file, opened: JSON and buffers in one binary file, or JSON that names or holds its buffers."""

from __future__ import annotations

import base64
import binascii
import json
import struct
from collections.abc import Callable
from typing import Any

from windsock.core.refusals import Refusal
from windsock.formats.gltf_data import Data

BUFFER_LIMIT = 256 * 1024 * 1024
"""Bytes of all buffers of a file."""

BUFFER_COUNT = 1000

Beside = Callable[[str], bytes]
"""Gives the bytes of a file beside the JSON, by its uri. Raises Refusal where there is none."""

LISTS = ("accessors", "buffers", "meshes", "nodes", "animations", "skins", "bufferViews", "extensionsRequired")


def opened_glb(content: bytes) -> Data:
    """A GLB file, which has all within. Raises Refusal."""
    if len(content) < 20 or content[:4] != b"glTF":
        raise Refusal(_unreadable("GLB"))
    version, length = struct.unpack_from("<II", content, 4)
    chunk, kind = struct.unpack_from("<I4s", content, 12)
    if version != 2 or length != len(content) or kind != b"JSON" or chunk > len(content) - 20:
        raise Refusal(_unreadable("GLB"))
    root = _json_of(content[20 : 20 + chunk], "GLB")

    def beside(name: str) -> bytes:
        if not name.startswith("data:"):
            raise Refusal("The file refers to other files. Nothing was imported. Write it as one GLB file.")
        return _within(name)

    return Data(root, _buffers(root, beside, _binary(content[20 + chunk :])), beside)


def _alone(name: str) -> bytes:
    raise Refusal(
        f"The file refers to “{name[:60]}” beside it. Nothing was imported. Write it as one GLB file, or drop a zip of all its files."
    )


def opened_gltf(content: bytes, files: Beside = _alone) -> Data:
    """A glTF file as JSON; one that names no other file where none is given. Raises Refusal."""
    root = _json_of(content, "glTF")

    def beside(name: str) -> bytes:
        return _within(name) if name.startswith("data:") else files(name)

    return Data(root, _buffers(root, beside, None), beside)


def _binary(rest: bytes) -> bytes:
    if len(rest) < 8:
        return b""
    binary, kind = struct.unpack_from("<I4s", rest)
    return rest[8 : 8 + binary] if kind == b"BIN\0" else b""


def _json_of(text: bytes, kind: str) -> dict[str, Any]:
    try:
        root = json.loads(text)
        sound = isinstance(root, dict) and all(isinstance(root.get(name, []), list) for name in LISTS)
        sound = sound and all(isinstance(entry, dict) for name in LISTS[:-1] for entry in root.get(name, []))
    except (ValueError, RecursionError):
        raise Refusal(_unreadable(kind)) from None
    if not sound or not str(root.get("asset", {"version": "2.0"}).get("version", "2.0")).startswith("2"):
        raise Refusal(_unreadable(kind))
    return root


def _buffers(root: dict[str, Any], beside: Beside, binary: bytes | None) -> list[bytes]:
    """The bytes of each buffer. binary: those of the first one where it names nothing."""
    if len(root.get("buffers", [])) > BUFFER_COUNT:
        raise Refusal(
            f"The file has more than {BUFFER_COUNT:,} buffers. Nothing was imported. Write it again with one."
        )
    found: list[bytes] = []
    for place, buffer in enumerate(root.get("buffers", [])):
        if "uri" in buffer:
            found.append(beside(str(buffer["uri"])))
        else:
            found.append(binary if place == 0 and binary is not None else b"")
        if sum(map(len, found)) > BUFFER_LIMIT:
            raise Refusal(
                f"The file has more than {BUFFER_LIMIT // 2**20} MB of data. Nothing was imported. Reduce it."
            )
    return found


def _within(uri: str) -> bytes:
    """The bytes that a data URI (RFC 2397) holds as base64."""
    head, comma, text = uri.partition(",")
    if not comma or not head.endswith(";base64"):
        raise Refusal(
            "The file holds data in a form that is not read here. Nothing was imported. Write it as one GLB file."
        )
    try:
        return base64.b64decode(text.encode("ascii"), validate=True)
    except (ValueError, binascii.Error):
        raise Refusal(
            "Data in the file is damaged: it is not sound base64. Nothing was imported. Write it again from where it was made."
        ) from None


def _unreadable(kind: str) -> str:
    return f"The file is not a whole {kind} file of version 2. Nothing was imported. Write it again from where it was made, and drop it here."
