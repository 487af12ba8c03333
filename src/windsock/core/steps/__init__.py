"""The steps of a recipe, one file each."""

from typing import Annotated

from pydantic import Field

from windsock.core.steps.cut_away import CutAway
from windsock.core.steps.follow_through import FollowThrough
from windsock.core.steps.refine import Refine
from windsock.core.steps.shade import Shade
from windsock.core.steps.wire import Wire

AnyStep = CutAway | FollowThrough | Refine | Shade | Wire
Step = Annotated[AnyStep, Field(discriminator="kind")]
