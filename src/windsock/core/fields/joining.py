"""The words that join the clauses of a field.

Sources: and, or, not: L. A. Zadeh, "Fuzzy Sets", 1965. roughened by (overlay), lifted by (screen), apart from
(difference): W3C Compositing and Blending Level 1. The others are arithmetic.
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.blending import overlaid

Values = NDArray[np.float64]
Word = Literal["and", "or", "times", "plus", "less", "except", "mixed with", "roughened by", "lifted by", "apart from"]

JOINS: dict[Word, tuple[str, str]] = {
    "and": ("Only where both are", "The lower of the two"),
    "times": ("Only where both are", "The two multiplied: weak where either is"),
    "or": ("Where either is", "The higher of the two"),
    "plus": ("Where either is", "Their sum: more where both are"),
    "lifted by": ("Where either is", "Raised towards 1, never beyond"),
    "except": ("Where it is not", "Left out where this one is"),
    "less": ("Where it is not", "This one taken off"),
    "apart from": ("Where it is not", "How far the two differ"),
    "roughened by": ("Some of both", "Raised and lowered by this one, least at 0 and 1: for a noise"),
    "mixed with": ("Some of both", "Half of each"),
}
"""Each word: what someone wishes for who chooses it, and what comes of the two values."""


def joined(word: Word, before: Values, value: Values) -> Values:
    """(n,) what the word makes of the result before and a further value, both (n,) in 0..1; not yet clamped."""
    match word:
        case "and":
            return np.minimum(before, value)
        case "or":
            return np.maximum(before, value)
        case "times":
            return before * value
        case "plus":
            return before + value
        case "less":
            return before - value
        case "except":
            return before * (1 - value)
        case "mixed with":
            return (before + value) / 2
        case "roughened by":
            return overlaid(np.ascontiguousarray(before), np.ascontiguousarray(value))
        case "lifted by":
            return before + value - before * value
        case "apart from":
            return np.abs(before - value)
