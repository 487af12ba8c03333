"""Imported files by content hash in a folder that processes share."""

from __future__ import annotations

import secrets
from pathlib import Path


class LaidOutFiles:
    """Puts files where the evaluator and the worker find them."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def lay_out(self, asset: str, kind: str, content: bytes) -> None:
        """Put a file here, whole or not at all."""
        self.folder.mkdir(parents=True, exist_ok=True)
        beside = self.folder / f".{asset}.{secrets.token_hex(4)}.part"
        beside.write_bytes(content)
        beside.rename(self.folder / f"{asset}.{kind}")

    def clear(self, asset: str) -> None:
        """Take away a file that is not wanted."""
        for path in self.folder.glob(f"{asset}.*"):
            path.unlink(missing_ok=True)
