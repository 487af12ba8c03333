"""Zips, opened with care: damaged, locked and bursting ones are refused in words."""

from __future__ import annotations

import zipfile
from io import BytesIO

from windsock.core.refusals import Refusal
from windsock.formats.limits import FILE_LIMIT

ENTRY_LIMIT = 20_000


def opened(content: bytes) -> zipfile.ZipFile:
    """A zip. Raises Refusal."""
    try:
        bundle = zipfile.ZipFile(BytesIO(content))
    except (zipfile.BadZipFile, NotImplementedError, ValueError, EOFError):
        raise Refusal("The file is not a whole zip. Nothing was imported. Pack it again, and drop it here.") from None
    if len(bundle.infolist()) > ENTRY_LIMIT:
        raise Refusal(f"The zip holds more than {ENTRY_LIMIT:,} files. Nothing was imported. Pack fewer.")
    return bundle


def unpacked(bundle: zipfile.ZipFile, entry: zipfile.ZipInfo, limit: int = FILE_LIMIT) -> bytes:
    """The bytes of one file of a zip, of `limit` at most. Raises Refusal."""
    try:
        with bundle.open(entry) as file:
            content = file.read(limit + 1)
    except (zipfile.BadZipFile, RuntimeError, NotImplementedError, EOFError, OSError, ValueError):
        raise Refusal(
            f"“{entry.filename[:60]}” in the zip is damaged or locked. Nothing was imported. Pack it again."
        ) from None
    except Exception as fault:  # noqa: BLE001 - unpackers raise errors of their own
        raise Refusal(
            f"“{entry.filename[:60]}” could not be unpacked ({type(fault).__name__}). Nothing was imported. Pack it again."
        ) from None
    if len(content) > limit:
        raise Refusal(
            f"“{entry.filename[:60]}” unpacks to more than {limit // 2**20} MB. Nothing was imported. Reduce it."
        )
    return content
