"""How the system shares its cores between this process and others."""

from __future__ import annotations

import os
from contextlib import suppress
from pathlib import Path

REAL_TIME = (os.SCHED_FIFO, os.SCHED_RR)


def share_cores() -> None:
    """Take back what a library asked for on behalf of an administrator: that threads of this process run before everything
    else. What they start would do so too."""
    for thread in Path("/proc/self/task").iterdir():
        with suppress(OSError):  # it has ended, or it may not be changed
            if os.sched_getscheduler(int(thread.name)) in REAL_TIME:
                os.sched_setscheduler(int(thread.name), os.SCHED_OTHER, os.sched_param(0))
