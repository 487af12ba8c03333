"""The shapes that can be built, one file each. `build` makes the mesh of any of them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from pydantic import Field

from windsock.core.geometry.mesh import Mesh
from windsock.core.shapes.box import Box, build_box
from windsock.core.shapes.imported import Imported, place_imported
from windsock.core.shapes.plane import Plane, build_plane
from windsock.core.shapes.revolve import Revolve, build_revolve
from windsock.core.shapes.ring import Ring, build_ring
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.shapes.tube import Tube, build_tube
from windsock.core.timing.parameter import Moment

Geometry = Annotated[Sphere | Box | Plane | Ring | Tube | Revolve | Imported, Field(discriminator="kind")]
AnyGeometry = Sphere | Box | Plane | Ring | Tube | Revolve | Imported

Assets = Callable[[str], Mesh]
"""Gives the mesh of an imported file by its content hash; raises MissingAsset where it is not known."""


def build(geometry: AnyGeometry, at: Moment, assets: Assets) -> Mesh:
    """The mesh of a shape at a moment, in the item's space."""
    if isinstance(geometry, Sphere):
        return build_sphere(geometry, at)
    if isinstance(geometry, Box):
        return build_box(geometry, at)
    if isinstance(geometry, Plane):
        return build_plane(geometry, at)
    if isinstance(geometry, Ring):
        return build_ring(geometry, at)
    if isinstance(geometry, Tube):
        return build_tube(geometry, at)
    if isinstance(geometry, Revolve):
        return build_revolve(geometry, at)
    return place_imported(geometry, assets(geometry.asset))
