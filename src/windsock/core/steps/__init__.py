"""The steps of a recipe, one file each."""

from typing import Annotated

from pydantic import Field

from windsock.core.steps.bend import Bend
from windsock.core.steps.coat import Coat
from windsock.core.steps.cut_away import CutAway
from windsock.core.steps.erode import Erode
from windsock.core.steps.follow_through import FollowThrough
from windsock.core.steps.fracture import Fracture
from windsock.core.steps.imprint import Imprint
from windsock.core.steps.jumble import Jumble
from windsock.core.steps.lie_along import LieAlong
from windsock.core.steps.meld import Meld
from windsock.core.steps.morph import Morph
from windsock.core.steps.pair import Pair
from windsock.core.steps.push import Push
from windsock.core.steps.refine import Refine
from windsock.core.steps.release import Release
from windsock.core.steps.ride import Ride
from windsock.core.steps.ripple import Ripple
from windsock.core.steps.scatter import Scatter
from windsock.core.steps.shade import Shade
from windsock.core.steps.shed import Shed
from windsock.core.steps.shells import Shells
from windsock.core.steps.shift import Shift
from windsock.core.steps.slice import Slice
from windsock.core.steps.smooth import Smooth
from windsock.core.steps.taper import Taper
from windsock.core.steps.trail import Trail
from windsock.core.steps.twist import Twist
from windsock.core.steps.wave import Wave
from windsock.core.steps.wire import Wire

AnyStep = (
    CutAway | Slice | Erode | Fracture | Shift | Jumble | Release | Scatter | Shed | Shells | Trail | Meld | Coat | Wire | Shade
    | Push | Bend | Twist | Taper | LieAlong | Ride | Morph | Pair | Wave | Ripple | Imprint | Smooth | Refine | FollowThrough
)  # fmt: skip
"""In the order in which they are offered."""

Step = Annotated[AnyStep, Field(discriminator="kind")]
