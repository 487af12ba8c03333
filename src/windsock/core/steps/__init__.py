"""The steps of a recipe, one file each."""

from typing import Annotated

from pydantic import Field

from windsock.core.steps.cut_away import CutAway
from windsock.core.steps.follow_through import FollowThrough

AnyStep = CutAway | FollowThrough
Step = Annotated[AnyStep, Field(discriminator="kind")]
