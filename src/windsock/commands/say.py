"""How commands speak."""

from __future__ import annotations

import sys


class Trouble(Exception):
    """What keeps a command from being done, in people's words."""


def say(text: str) -> None:
    """A line of progress."""
    print(text, flush=True)


def complain(text: str) -> None:
    """A line about what went wrong."""
    print(text, file=sys.stderr, flush=True)
