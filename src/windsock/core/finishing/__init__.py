"""The steps of finishing a picture, one file each."""

from typing import Annotated

from pydantic import Field

from windsock.core.finishing.colour_fringe import ColourFringe
from windsock.core.finishing.depth_of_field import DepthOfField
from windsock.core.finishing.exposure import Exposure
from windsock.core.finishing.fade_to_colour import FadeToColour
from windsock.core.finishing.glow import Glow
from windsock.core.finishing.grade import Grade
from windsock.core.finishing.grain import Grain
from windsock.core.finishing.sharpen import Sharpen
from windsock.core.finishing.tone_curve import ToneCurve
from windsock.core.finishing.vignette import Vignette
from windsock.core.finishing.white_balance import WhiteBalance

AnyFinish = (
    Glow
    | DepthOfField
    | Exposure
    | WhiteBalance
    | Grade
    | ToneCurve
    | Vignette
    | ColourFringe
    | Grain
    | Sharpen
    | FadeToColour
)
"""In the order in which they are offered."""

Finish = Annotated[AnyFinish, Field(discriminator="kind")]

FIRST: dict[str, AnyFinish] = {"glow": Glow(rank=0)}
"""The chain of a new shot."""
