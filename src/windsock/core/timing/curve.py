"""Curves: what becomes of a field's value on its way to a listener."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue, model_validator

from windsock.core.declarations import Declared, Id
from windsock.core.timing.easing import EASE_HANDLES, Bezier, Ease, Easing, Hold, Linear

Unit = Annotated[float, Field(ge=0, le=1)]

SAMPLES = 1025
"""Points at which a cubic Bezier between two curve points is tabulated; between them it is a chord (error below 1e-6)."""


class CurvePoint(Declared):
    """The value `y` that the value `x` becomes; `easing` rules the way to the next point."""

    x: Unit
    y: Unit
    easing: Easing = Linear()


class Curve(Declared):
    """Values of 0..1 to values of 0..1. Below its first point and above its last the curve is level."""

    points: Annotated[dict[Id, CurvePoint], Field(min_length=1, max_length=64)]

    @classmethod
    def in_words(cls) -> dict[str, JsonValue]:
        presets: JsonValue = {name: curve.model_dump(mode="json") for name, curve in presets_of_curves().items()}
        return {"presets": presets}

    @model_validator(mode="after")
    def _places_differ(self) -> Self:
        places = [point.x for point in self.points.values()]
        if len(set(places)) != len(places):
            raise ValueError("two points of one curve stand at the same value")
        return self

    def __call__(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """(n,) what the curve makes of (n,) values."""
        points = sorted(self.points.values(), key=lambda point: point.x)
        result = np.full(len(values), points[-1].y)
        result[values < points[0].x] = points[0].y
        for low, high in pairwise(points):
            within = (values >= low.x) & (values < high.x)
            share = (values[within] - low.x) / (high.x - low.x)
            result[within] = low.y + (high.y - low.y) * _eased(low.easing, share)
        return result


def _eased(easing: Hold | Linear | Ease | Bezier, share: NDArray[np.float64]) -> NDArray[np.float64]:
    if isinstance(easing, Hold):
        return np.zeros(len(share))
    if isinstance(easing, Linear):
        return share
    x1, y1, x2, y2 = easing.handles if isinstance(easing, Bezier) else EASE_HANDLES
    along = np.linspace(0, 1, SAMPLES)
    rest = 1 - along

    def coordinate(first: float, second: float) -> NDArray[np.float64]:
        return 3 * rest * rest * along * first + 3 * rest * along * along * second + along**3

    return np.interp(share, coordinate(x1, x2), coordinate(y1, y2))


def presets_of_curves() -> dict[str, Curve]:
    """Curves by the names under which they are chosen."""
    third, two_thirds = 0.3333, 0.6667
    return {
        "eased in and out": _curve((0, 0, Ease()), (1, 1)),
        "late, then quickly": _curve((0, 0, Bezier(handles=(0.6, 0, 1, 0.5))), (1, 1)),
        "early, then slowly": _curve((0, 0, Bezier(handles=(0, 0.5, 0.4, 1))), (1, 1)),
        "only its upper half": _curve((0, 0, Hold()), (0.5, 0), (1, 1)),
        "only its lower half": _curve((0, 0), (0.5, 1), (1, 1)),
        "up and down again": _curve((0, 0, Ease()), (0.5, 1, Ease()), (1, 0)),
        "in four steps": _curve((0, 0, Hold()), (0.25, third, Hold()), (0.5, two_thirds, Hold()), (0.75, 1, Hold())),
    }


def _curve(*points: tuple[float, float] | tuple[float, float, Hold | Ease | Bezier]) -> Curve:
    made: dict[str, CurvePoint] = {}
    for place, (x, y, *easing) in enumerate(points, start=1):
        made[f"p{place}"] = CurvePoint(x=x, y=y, easing=easing[0] if easing else Linear())
    return Curve(points=made)
