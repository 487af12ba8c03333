"""Errors of the core that a person can act on. Their texts are shown as they are."""

from __future__ import annotations


class Refusal(Exception):
    """Something that is not done, and why: what is wrong, what is unharmed, what to do."""


class TooMuch(Refusal):
    """A request that would need more memory or elements than allowed, refused before the work."""


class MissingAsset(Refusal):
    """An imported file that is not at hand."""

    def __init__(self, asset: str) -> None:
        super().__init__(
            "A file that this shot uses is not here. The shot is unharmed. Import the file again, or remove the shape."
        )
        self.asset = asset


class Cancelled(Exception):
    """The work was stopped because a newer wish replaced it."""
