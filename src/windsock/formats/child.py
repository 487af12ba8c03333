"""Reads one file in a process of its own, which may die of it: time, memory and writing are limited from outside.

`python -m windsock.formats.child WHAT KIND FILE RESULT`: writes to RESULT what the file holds, or the movement in it, or a
refusal's words to standard output with exit status 3.
"""

from __future__ import annotations

import resource
import sys
from pathlib import Path

from windsock.core.refusals import Refusal
from windsock.formats.importing import read_file
from windsock.formats.limits import READING_MEMORY, READING_SECONDS
from windsock.formats.movement import read_movements, store_movements
from windsock.formats.parsed import store

REFUSED = 3


def main() -> int:
    """Read under limits."""
    what, kind, source, result = sys.argv[1:5]
    seconds = int(READING_SECONDS)
    resource.setrlimit(resource.RLIMIT_AS, (READING_MEMORY, READING_MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (2 * seconds, 2 * seconds))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        content = Path(source).read_bytes()
        if what == "movement":
            store_movements(read_movements(content, kind), Path(result))
        else:
            store(read_file(content, kind), Path(result))
    except Refusal as refusal:
        print(refusal)
        return REFUSED
    except (MemoryError, RecursionError):
        print(
            "The file needs more memory to read than is allowed. Nothing was imported. Reduce it, and drop it here again."
        )
        return REFUSED
    return 0


if __name__ == "__main__":
    sys.exit(main())
