"""The steps of a recipe, one file each."""

from typing import Annotated

from pydantic import Field

from windsock.core.steps.cut_away import CutAway
from windsock.core.steps.follow_through import FollowThrough
from windsock.core.steps.fracture import Fracture
from windsock.core.steps.jumble import Jumble
from windsock.core.steps.refine import Refine
from windsock.core.steps.release import Release
from windsock.core.steps.scatter import Scatter
from windsock.core.steps.shade import Shade
from windsock.core.steps.shed import Shed
from windsock.core.steps.shift import Shift
from windsock.core.steps.wire import Wire

AnyStep = CutAway | Fracture | Shift | Jumble | Release | Scatter | Shed | Wire | Shade | Refine | FollowThrough
"""In the order in which they are offered."""

Step = Annotated[AnyStep, Field(discriminator="kind")]
