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
