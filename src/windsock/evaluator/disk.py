"""The cache folder beneath memory: what took history to find, as files with a checksum. A damaged one counts as not there."""

from __future__ import annotations

import hashlib
import json
import logging
import os
from collections.abc import Mapping
from contextlib import suppress
from mmap import ACCESS_COPY, mmap
from pathlib import Path
from threading import Lock, get_ident

import numpy as np
from numpy.typing import NDArray

log = logging.getLogger("windsock.evaluator")

MAGIC = b"windsock arrays 1\n"
CHECKSUM = 32


class FolderStore:
    """Arrays by key in a folder, within a budget of bytes; what was not used for longest goes first.

    Every process may use the same folder: files are written beside and renamed, so one is whole or not there.
    """

    def __init__(self, folder: Path, budget: int) -> None:
        self.folder = folder
        self.budget = budget
        self._written = 0
        self._lock = Lock()
        self._told: set[int | None] = set()

    def get(self, key: str) -> Mapping[str, NDArray[np.float64]] | None:
        """The arrays under a key, or None. A file that is not as it was written is removed."""
        path = self._path(key)
        try:
            # All processes have it in memory once. A private view may be written to, as what was just made: kernels would be
            # compiled again for what may not.
            with path.open("rb") as file:
                content = mmap(file.fileno(), 0, access=ACCESS_COPY)
        except (OSError, ValueError):  # there is none, or an empty one
            return None
        arrays = _decoded(content)
        if arrays is None:
            with suppress(OSError):
                path.unlink(missing_ok=True)
            return None
        with suppress(OSError):
            os.utime(path)
        return arrays

    def put(self, key: str, arrays: Mapping[str, NDArray[np.float64]]) -> None:
        """Keep arrays under a key. A full disk only means that they are not kept."""
        path = self._path(key)
        beside = path.with_name(f".{path.name}.{os.getpid()}-{get_ident()}")
        content = _encoded(arrays)
        if len(content) > self.budget // 4:
            return
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            beside.write_bytes(content)
            beside.rename(path)
        except OSError as fault:
            self._unwritable(fault)
            with suppress(OSError):
                beside.unlink(missing_ok=True)
            return
        with self._lock:
            self._written += len(content)
            if self._written > self.budget // 16:
                self._written = 0
                self._trim()

    def _unwritable(self, fault: OSError) -> None:
        """Said once for each cause: work goes on without what would be kept."""
        if fault.errno not in self._told:
            self._told.add(fault.errno)
            log.warning("histories are not kept in %s: %s", self.folder, fault.strerror)

    def _path(self, key: str) -> Path:
        name = hashlib.blake2b(key.encode(), digest_size=16).hexdigest()
        return self.folder / name[:2] / name

    def _trim(self) -> None:
        found: list[tuple[float, int, Path]] = []
        for path in self.folder.glob("*/*"):
            try:
                status = path.stat()
            except OSError:
                continue
            found.append((status.st_mtime, status.st_size, path))
        total = sum(size for _, size, _ in found)
        for _, size, path in sorted(found):
            if total <= self.budget:
                break
            with suppress(OSError):
                path.unlink(missing_ok=True)
                total -= size


def _encoded(arrays: Mapping[str, NDArray[np.float64]]) -> bytes:
    plain = {name: np.ascontiguousarray(array) for name, array in arrays.items()}
    head = json.dumps([[name, array.dtype.str, array.shape] for name, array in plain.items()]).encode()
    body = b"".join([len(head).to_bytes(4, "little"), head, *(array.tobytes() for array in plain.values())])
    return MAGIC + hashlib.blake2b(body, digest_size=CHECKSUM).digest() + body


def _decoded(content: mmap) -> dict[str, NDArray[np.float64]] | None:
    start = len(MAGIC) + CHECKSUM
    body = memoryview(content)[start:]
    if content[: len(MAGIC)] != MAGIC or len(body) < 4:
        return None
    if hashlib.blake2b(body, digest_size=CHECKSUM).digest() != content[len(MAGIC) : start]:
        return None
    length = int.from_bytes(body[:4], "little")
    place = 4 + length
    arrays: dict[str, NDArray[np.float64]] = {}
    for name, kind, shape in json.loads(bytes(body[4:place])):
        count = int(np.prod(shape))
        array = np.frombuffer(body, dtype=np.dtype(kind), count=count, offset=place)
        arrays[name] = array.reshape(shape)
        place += array.nbytes
    return arrays
