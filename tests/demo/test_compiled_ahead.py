"""Nobody waits for the compiler: what a start has compiled is all that demo shots and starters call."""

from __future__ import annotations

import secrets
import subprocess
import sys
from importlib.util import module_from_spec, spec_from_file_location
from pathlib import Path

from windsock.commands.machine import compiling_kernels
from windsock.core.kernels.compiled import compiled, compiled_here


def test_no_kernel_of_a_demo_shot_or_a_starter_is_compiled_after_the_start(tmp_path):
    with compiling_kernels():
        pass
    command = [sys.executable, str(Path(__file__).with_name("everything.py")), str(tmp_path)]
    made = subprocess.run(command, capture_output=True, text=True, check=False)
    assert made.returncode == 0, made.stderr[-3000:]
    assert made.stdout.split() == []


def test_a_kernel_that_is_compiled_is_listed(tmp_path):
    # In a file of its own, so that it was never compiled before.
    path = tmp_path / "doubling.py"
    path.write_text(f"# {secrets.token_hex(8)}\ndef doubled(number):\n    return number * 2\n")
    made = spec_from_file_location("doubling", path)
    assert made is not None
    assert made.loader is not None
    module = module_from_spec(made)
    made.loader.exec_module(module)
    assert compiled(module.doubled)(4) == 8
    assert any("doubling.doubled" in one for one in compiled_here())
