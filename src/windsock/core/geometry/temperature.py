"""The colours of light by its temperature."""

from __future__ import annotations

import numpy as np

XYZ = np.array(
    [[0.4123908, 0.3575843, 0.1804808], [0.2126390, 0.7151687, 0.0721923], [0.0193308, 0.1191948, 0.9505322]]
)
"""CIE XYZ of linear Rec. 709 red, green and blue (ITU-R BT.709, D65)."""


def linear_of_temperature(kelvin: float) -> tuple[float, float, float]:
    """Linear Rec. 709 components of light of a temperature, of brightness 1. What no display can show is as near as it can."""
    x, y = white_at(kelvin)
    light = np.maximum(np.linalg.solve(XYZ, np.array([x / y, 1.0, (1 - x - y) / y])), 0)
    red, green, blue = (float(one) for one in light / float(XYZ[1] @ light))
    return red, green, blue


def white_at(kelvin: float) -> tuple[float, float]:
    """x and y (CIE 1931) of daylight from 4000 K on (CIE 015:2018), of a black body below, by the cubic of Kim et al. (2002)
    moved so that both meet."""
    if kelvin >= 4000:
        x = _daylight_x(kelvin)
        return x, -3.0 * x * x + 2.870 * x - 0.275
    x, y = _black_body(kelvin)
    from_x, from_y = _black_body(4000.0)
    to_x = _daylight_x(4000.0)
    near = (kelvin - 1667.0) / (4000.0 - 1667.0)
    return x + near * (to_x - from_x), y + near * (-3.0 * to_x * to_x + 2.870 * to_x - 0.275 - from_y)


def _daylight_x(kelvin: float) -> float:
    t = 1e3 / kelvin
    if kelvin <= 7000:
        return -4.6070 * t**3 + 2.9678 * t**2 + 0.09911 * t + 0.244063
    return -2.0064 * t**3 + 1.9018 * t**2 + 0.24748 * t + 0.237040


def _black_body(kelvin: float) -> tuple[float, float]:
    t = 1e3 / kelvin
    x = -0.2661239 * t**3 - 0.2343589 * t**2 + 0.8776956 * t + 0.179910
    if kelvin < 2222:
        return x, -1.1063814 * x**3 - 1.34811020 * x**2 + 2.18555832 * x - 0.20219683
    return x, -0.9549476 * x**3 - 1.37418593 * x**2 + 2.09137015 * x - 0.16748867
