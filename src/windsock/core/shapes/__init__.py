"""The shapes that can be built, one file each."""

from typing import Annotated

from pydantic import Field

from windsock.core.shapes.box import Box
from windsock.core.shapes.extrude import Extrude
from windsock.core.shapes.imported import Imported
from windsock.core.shapes.plane import Plane
from windsock.core.shapes.revolve import Revolve
from windsock.core.shapes.ring import Ring
from windsock.core.shapes.sphere import Sphere
from windsock.core.shapes.sweep import Sweep
from windsock.core.shapes.text import Text
from windsock.core.shapes.tube import Tube

AnyGeometry = Sphere | Box | Plane | Ring | Tube | Revolve | Text | Extrude | Sweep | Imported
Geometry = Annotated[AnyGeometry, Field(discriminator="kind")]
