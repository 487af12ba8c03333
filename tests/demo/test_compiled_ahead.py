"""Nobody waits for the compiler: what a start has compiled is all that demo shots and starters call."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from windsock.commands.machine import ensure_kernels
from windsock.core.kernels.compiled import compiled, compiled_here


def test_no_kernel_of_a_demo_shot_or_a_starter_is_compiled_after_the_start(tmp_path):
    ensure_kernels()
    command = [sys.executable, str(Path(__file__).with_name("everything.py")), str(tmp_path)]
    made = subprocess.run(command, capture_output=True, text=True, check=False)
    assert made.returncode == 0, made.stderr[-3000:]
    assert made.stdout.split() == []


def test_a_kernel_that_is_compiled_is_listed():
    @compiled
    def doubled(number: int) -> int:
        return number * 2

    assert doubled(4) == 8
    assert any("doubled" in one for one in compiled_here())
