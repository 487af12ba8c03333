"""`./windsock test`"""

from __future__ import annotations

import os
import subprocess
import sys
import time

from windsock.commands.machine import (
    FRONTEND,
    ROOT,
    compiling_kernels,
    ensure_browser,
    ensure_frontend,
    ensure_picture_packages,
    ensure_postgres,
)
from windsock.commands.say import complain, say

AT_ONCE = ["-q", "-n", "2", "--dist", "loadfile", "--durations", "60"]
"""Two files of tests at a time, each with processes of its own."""


def test(words: list[str]) -> int:
    """Run every check, then the tests, as many at once as there are cores. Arguments go to pytest, and then only pytest runs."""
    with compiling_kernels():
        ensure_postgres()
        ensure_browser()
        ensure_picture_packages()
        ensure_frontend()
        if not words and not _checked():
            return 1
    return subprocess.run(
        [sys.executable, "-m", "pytest", *(words or AT_ONCE)], cwd=ROOT, env=os.environ, check=False
    ).returncode


def _checked() -> bool:
    """Whether nothing is amiss with the code as it is written."""
    tools = FRONTEND / "node_modules" / ".bin"
    checks: list[tuple[str, list[str], str]] = [
        ("Python lint", [sys.executable, "-m", "ruff", "check", "."], "."),
        ("Python format", [sys.executable, "-m", "ruff", "format", "--check", "."], "."),
        ("Python types", [str(tools / "pyright"), "--pythonpath", sys.executable], "."),
        ("TypeScript types", [str(tools / "tsc"), "--noEmit"], "frontend"),
        ("TypeScript lint", [str(tools / "biome"), "check", "src"], "frontend"),
    ]
    for name, command, folder in checks:
        started = time.monotonic()
        done = subprocess.run(command, cwd=ROOT / folder, capture_output=True, text=True, check=False)
        say(f"{name}: {'fine' if done.returncode == 0 else 'FAILED'} ({time.monotonic() - started:.0f} s)")
        if done.returncode:
            complain((done.stdout + done.stderr)[-6000:])
            return False
    return True
