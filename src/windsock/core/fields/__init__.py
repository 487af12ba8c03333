"""Fields and what they measure: the sources, one file each."""

from typing import Annotated

from pydantic import Field

from windsock.core.fields.across import Across
from windsock.core.fields.another import AnotherField
from windsock.core.fields.around import Around
from windsock.core.fields.chance import Chance
from windsock.core.fields.contact import Contact
from windsock.core.fields.crests import Crests
from windsock.core.fields.eaten import EatenField
from windsock.core.fields.near import Near
from windsock.core.fields.noise import Noise
from windsock.core.fields.spread import Spread
from windsock.core.fields.surface import Surface
from windsock.core.fields.time import Time
from windsock.core.fields.within import Within

AnySource = (
    Around | Across | Within | Near | Crests | Contact | Surface | EatenField | Noise | Time | Chance | Spread | AnotherField
)  # fmt: skip
"""In the order in which they are offered."""

Source = Annotated[AnySource, Field(discriminator="kind")]
