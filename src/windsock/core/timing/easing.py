"""Easings: how a value goes from one key to the next.

The cubic Bezier is that of CSS Easing Functions Level 1 (W3C): from (0, 0) to (1, 1), handles (x1, y1) and (x2, y2),
x within 0..1, y free, so that a value may overshoot.
"""

from __future__ import annotations

from typing import Annotated, Literal, TypeVar

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import Declared

Share = Annotated[float, Field(ge=0, le=1)]
Overshoot = Annotated[float, Field(ge=-10, le=10)]

Along = TypeVar("Along", float, NDArray[np.float64])

EASE_HANDLES = (0.42, 0.0, 0.58, 1.0)


class Hold(Declared):
    """The value stays until the next key."""

    kind: Literal["hold"] = "hold"

    @classmethod
    def in_words(cls) -> dict[str, JsonValue]:
        return {"called": "held"}


class Linear(Declared):
    """The value goes in a straight line."""

    kind: Literal["linear"] = "linear"

    @classmethod
    def in_words(cls) -> dict[str, JsonValue]:
        return {"called": "straight", "handles": [0.0, 0.0, 1.0, 1.0]}


class Ease(Declared):
    """The value starts and ends gently."""

    kind: Literal["ease"] = "ease"

    @classmethod
    def in_words(cls) -> dict[str, JsonValue]:
        return {"called": "eased", "handles": [*EASE_HANDLES]}


class Bezier(Declared):
    """The value follows a cubic Bezier with these handles."""

    kind: Literal["bezier"] = "bezier"
    handles: tuple[Share, Overshoot, Share, Overshoot]

    @classmethod
    def in_words(cls) -> dict[str, JsonValue]:
        return {"called": "shaped by hand", "handles": [*EASE_HANDLES]}


Easing = Annotated[Hold | Linear | Ease | Bezier, Field(discriminator="kind")]


def eased(easing: Hold | Linear | Ease | Bezier, share: float) -> float:
    """How far the value has come (0 at the key, 1 at the next) when `share` (0..1) of the time has passed."""
    if isinstance(easing, Hold):
        return 0.0
    if isinstance(easing, Linear):
        return share
    return cubic_bezier(_handles(easing), share)


def eased_each(easing: Hold | Linear | Ease | Bezier, shares: NDArray[np.float64]) -> NDArray[np.float64]:
    """The same for (n,) shares of the time, to about 1e-12."""
    if isinstance(easing, Hold):
        return np.zeros(len(shares))
    if isinstance(easing, Linear):
        return shares
    x1, y1, x2, y2 = _handles(easing)
    low, high, along = np.zeros(len(shares)), np.ones(len(shares)), np.clip(shares, 0, 1)
    for _ in range(64):
        error = _coordinate(x1, x2, along) - shares
        if np.abs(error).max(initial=0) < 1e-12:
            break
        low, high = np.where(error < 0, along, low), np.where(error < 0, high, along)
        slope = _slope(x1, x2, along)
        step = along - error / np.where(slope > 1e-9, slope, np.inf)
        along = np.where((low < step) & (step < high), step, 0.5 * (low + high))
    return _coordinate(y1, y2, along)


def _handles(easing: Ease | Bezier) -> tuple[float, float, float, float]:
    return easing.handles if isinstance(easing, Bezier) else EASE_HANDLES


def cubic_bezier(handles: tuple[float, float, float, float], share: float) -> float:
    """y of the curve where its x is `share`. x is monotonic, so bisection always finds it; Newton makes it quick."""
    x1, y1, x2, y2 = handles
    if share <= 0.0:
        return 0.0
    if share >= 1.0:
        return 1.0
    low, high, along = 0.0, 1.0, share
    for _ in range(64):
        error = _coordinate(x1, x2, along) - share
        if abs(error) < 1e-12:
            break
        low, high = (along, high) if error < 0 else (low, along)
        slope = _slope(x1, x2, along)
        step = along - error / slope if slope > 1e-9 else low - 1.0
        along = step if low < step < high else 0.5 * (low + high)
    return _coordinate(y1, y2, along)


def _coordinate(first: float, second: float, along: Along) -> Along:
    rest = 1.0 - along
    return 3.0 * rest * rest * along * first + 3.0 * rest * along * along * second + along**3


def _slope(first: float, second: float, along: Along) -> Along:
    rest = 1.0 - along
    return 3.0 * rest * rest * first + 6.0 * rest * along * (second - first) + 3.0 * along * along * (1.0 - second)
