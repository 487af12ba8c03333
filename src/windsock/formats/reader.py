"""What every kind of file declares that can be imported."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from windsock.core.geometry.clip import Clip
from windsock.core.geometry.drawing import Drawing
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.panorama import Panorama
from windsock.formats.font import Font

Held = Mesh | Clip | Drawing | Font | Panorama
"""What a file holds."""


@dataclass(frozen=True)
class Reader:
    """A kind of file. ending: of its name. called: what such files are, in words. read: from bytes to what is held; raises
    Refusal."""

    ending: str
    called: str
    read: Callable[[bytes], Held]
