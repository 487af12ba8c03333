"""Curve: which brightness becomes which."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from windsock.core.finishing.finish import FinishBase, Floats, Seen, Worked
from windsock.core.timing.curve import Curve, CurvePoint
from windsock.core.timing.easing import Bezier

STEPS = 1024
"""A curve is looked up between so many places."""


def _more_contrast() -> Curve:
    return Curve(
        points={
            "dark": CurvePoint(x=0, y=0, easing=Bezier(handles=(0.4, 0.2, 0.6, 0.8))),
            "bright": CurvePoint(x=1, y=1),
        }
    )


class ToneCurve(FinishBase):
    """Take what a display shows, from 0 to 1, through a curve: all three colours or one of them."""

    says = "Which brightness becomes which"
    wish = "Brightness and colour"
    after_view = True

    kind: Literal["tone_curve"] = "tone_curve"
    of: Annotated[Literal["all colours", "red", "green", "blue"], Field(description="What goes through it")] = (
        "all colours"
    )
    curve: Curve = _more_contrast()

    @classmethod
    def named(cls) -> str:
        return "Curve"

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        del seen, mask
        table = self.curve(np.linspace(0, 1, STEPS + 1)).astype(np.float32)
        place = np.clip(light, 0, 1) * np.float32(STEPS)
        low = np.minimum(place.astype(np.int32), STEPS - 1)
        made = table[low] + np.diff(table)[low] * (place - low)
        if self.of == "all colours":
            return made
        channel = ("red", "green", "blue").index(self.of)
        only = light.copy()
        only[..., channel] = made[..., channel]
        return only
