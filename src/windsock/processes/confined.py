"""How processes are run that should be able to do little: a clean environment, no new privileges, no network.

None of them gets the database's address or password. Debian's util-linux (always there) takes the network away where the
system lets it.
"""

from __future__ import annotations

import ctypes
import os
import shutil
import subprocess
from functools import cache

PASSED_ON = ("PATH", "HOME", "LANG", "LC_ALL", "TZ", "TMPDIR", "PYTHONPATH", "LD_LIBRARY_PATH", "VIRTUAL_ENV")
PASSED_ON_PREFIXES = ("NUMBA_", "OPENBLAS_", "OMP_", "MKL_", "TBB_")
NO_NEW_PRIVILEGES = 38
"""PR_SET_NO_NEW_PRIVS of prctl(2)."""

LIBC = ctypes.CDLL(None, use_errno=True)


def clean_environment(**more: str) -> dict[str, str]:
    """What a process needs to find its programs and kernels, and no more."""
    kept = {
        name: value for name, value in os.environ.items() if name in PASSED_ON or name.startswith(PASSED_ON_PREFIXES)
    }
    return kept | more


def without_privileges() -> None:
    """In a child, before it runs its program: neither it nor its children can gain rights."""
    LIBC.prctl(NO_NEW_PRIVILEGES, 1, 0, 0, 0)


@cache
def offline() -> tuple[str, ...]:
    """The words before a command that run it without a network; none where the system does not let us."""
    tool = shutil.which("unshare")
    if tool is None:
        return ()
    words = (tool, "--net") if os.geteuid() == 0 else (tool, "--map-root-user", "--net")
    tried = subprocess.run([*words, "true"], capture_output=True, check=False)
    return words if tried.returncode == 0 else ()
