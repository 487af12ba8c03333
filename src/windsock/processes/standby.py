"""Processes that stand by: they load everything, then wait for their turn, so that another takes over at once."""

from __future__ import annotations

import sys

GO = "go"


def wait_for_turn() -> None:
    """Return when whoever started this process says so on its standard input; end where that one is gone."""
    if sys.stdin is None or sys.stdin.isatty():
        return
    print("standing by", flush=True)
    if sys.stdin.readline().strip() != GO:
        sys.exit(0)
