"""Files are read by a child process, so that one that crashes or never ends harms nothing."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path
from typing import Literal

from windsock.core.refusals import Refusal
from windsock.formats.child import REFUSED
from windsock.formats.limits import READING_SECONDS
from windsock.processes.confined import clean_environment, offline, without_privileges

What = Literal["content", "movement"]


def read_apart(source: Path, kind: str, result: Path, what: What = "content") -> None:
    """Have what a file holds, or the movement in it, read into `result`. Raises Refusal for what cannot be read, crashes the reader, or takes too long."""
    command = [*offline(), sys.executable, "-m", "windsock.formats.child", what, kind, str(source), str(result)]
    try:
        done = subprocess.run(
            command,
            capture_output=True,
            text=True,
            timeout=READING_SECONDS,
            check=False,
            env=clean_environment(),
            stdin=subprocess.DEVNULL,
            preexec_fn=without_privileges,
        )
    except subprocess.TimeoutExpired:
        raise Refusal(
            f"The file takes more than {READING_SECONDS:.0f} s to read. Nothing was imported. Reduce it, and drop it here again."
        ) from None
    if done.returncode == REFUSED:
        raise Refusal(done.stdout.strip()[:800])
    if done.returncode != 0 or not result.exists():
        raise Refusal(
            "The file broke the program that reads it, so it is damaged or too large. Nothing was imported, all else is unharmed. "
            "Write it again from where it was made."
        )
