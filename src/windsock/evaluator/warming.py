"""Which kernels in which signatures are called: written down when they are compiled ahead, loaded before the first request."""

from __future__ import annotations

import os
import pickle
from collections.abc import Sequence
from pathlib import Path
from typing import cast

from windsock.core.evaluate.fingerprint import code_fingerprint
from windsock.core.kernels.compiled import Signature, have_ready


def warm_up() -> None:
    """Load every kernel that was compiled ahead. Without that they are loaded or compiled as they are called."""
    path = _list_path()
    if path is not None and path.exists():
        # Our own file, beside what numba keeps in the same way.
        have_ready(cast(Sequence[Signature], pickle.loads(path.read_bytes())))


def write_down(signatures: Sequence[Signature]) -> None:
    """Keep what `warm_up` is to load."""
    path = _list_path()
    if path is not None:
        path.parent.mkdir(parents=True, exist_ok=True)
        beside = path.with_suffix(".part")
        beside.write_bytes(pickle.dumps(signatures))
        beside.rename(path)


def _list_path() -> Path | None:
    """The list for this version of the core, in the folder of what is compiled."""
    folder = os.environ.get("NUMBA_CACHE_DIR")
    return None if folder is None else Path(folder) / f"signatures-{code_fingerprint()}"
