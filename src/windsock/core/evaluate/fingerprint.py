"""Cache keys: a hash of all that a result depends on, the core's own source and the numeric libraries included."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from functools import cache
from importlib import metadata, resources
from importlib.resources.abc import Traversable

import orjson

OPTIONS = orjson.OPT_SORT_KEYS | orjson.OPT_NON_STR_KEYS | orjson.OPT_SERIALIZE_NUMPY
LIBRARIES = ("numpy", "numba", "scipy", "manifold3d", "libigl")


def fingerprint(*parts: object) -> str:
    """A hash of plain data (as JSON), in hexadecimal."""
    text = orjson.dumps([code_fingerprint(), parts], option=OPTIONS)
    return hashlib.blake2b(text, digest_size=16).hexdigest()


@cache
def code_fingerprint(room: str = "windsock.core", libraries: tuple[str, ...] = LIBRARIES) -> str:
    """A hash of a room's source and of the versions of libraries: of the core's and the numeric ones, if none are named."""
    digest = hashlib.blake2b(digest_size=16)
    for name, source in sorted(_sources(resources.files(room), "")):
        digest.update(name.encode() + b"\0" + source)
    for library in libraries:
        digest.update(f"{library}={metadata.version(library)}".encode())
    return digest.hexdigest()


def _sources(folder: Traversable, prefix: str) -> Iterator[tuple[str, bytes]]:
    for entry in folder.iterdir():
        if entry.is_dir():
            yield from _sources(entry, f"{prefix}{entry.name}/")
        elif entry.name.endswith(".py"):
            yield prefix + entry.name, entry.read_bytes()
