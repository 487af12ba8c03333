"""The shapes that can be built, one file each. `build` makes the mesh of any of them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Protocol

from pydantic import Field

from windsock.core.geometry.clip import Clip
from windsock.core.geometry.course import Course
from windsock.core.geometry.drawing import Drawing
from windsock.core.geometry.lettering import Lettering
from windsock.core.geometry.mesh import Mesh
from windsock.core.shapes.box import Box, build_box
from windsock.core.shapes.extrude import Extrude, build_extrude
from windsock.core.shapes.imported import Imported, place_imported
from windsock.core.shapes.plane import Plane, build_plane
from windsock.core.shapes.revolve import Revolve, build_revolve
from windsock.core.shapes.ring import Ring, build_ring
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.shapes.sweep import Sweep, build_sweep
from windsock.core.shapes.text import Text, build_text
from windsock.core.shapes.tube import Tube, build_tube
from windsock.core.timing.parameter import Moment

Geometry = Annotated[
    Sphere | Box | Plane | Ring | Tube | Revolve | Text | Extrude | Sweep | Imported, Field(discriminator="kind")
]
AnyGeometry = Sphere | Box | Plane | Ring | Tube | Revolve | Text | Extrude | Sweep | Imported


class Assets(Protocol):
    """What came from files, each known by the SHA-256 of its bytes; raises MissingAsset where that is not known."""

    def mesh(self, asset: str) -> Mesh:
        """The mesh of an imported file."""
        ...

    def clip(self, asset: str) -> Clip | None:
        """The movement of an imported file, None where it stands still."""
        ...

    def drawing(self, asset: str) -> Drawing:
        """An imported drawing."""
        ...

    def lettering(self, font: str) -> Lettering:
        """A font, imported or shipped."""
        ...


def build(geometry: AnyGeometry, at: Moment, assets: Assets, course: Callable[[str], Course]) -> Mesh:
    """The mesh of a shape at a moment, in the item's space. course: the curve of a path of the shot, in its own space."""
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
    if isinstance(geometry, Text):
        return build_text(geometry, at, assets.lettering(geometry.font))
    if isinstance(geometry, Extrude):
        return build_extrude(geometry, at, assets.drawing(geometry.asset))
    if isinstance(geometry, Sweep):
        return build_sweep(geometry, at, course(geometry.path))
    clip = assets.clip(geometry.asset) if geometry.motion is not None else None
    return place_imported(geometry, assets.mesh(geometry.asset), clip, at)


def plays(geometry: AnyGeometry) -> bool:
    """Whether a shape moves by itself, as its file does."""
    return isinstance(geometry, Imported) and geometry.motion is not None


def made_from(geometry: AnyGeometry) -> list[str]:
    """The items of the shot, by id, that a shape is made from."""
    return [geometry.path] if isinstance(geometry, Sweep) else []
