"""Draft and final, and what is shown while a value is dragged: the one place that says how they differ.

Draft may only take larger voxels of volumes, and fewer copies, in stable subsets; never other faces, refinement, pieces or seeds. While a value is dragged, what is marched has fewer ticks as well (`timing/ticks.py`), and is
not quite where it will be.
"""

from __future__ import annotations

from typing import Literal

from windsock.core.kernels.chance import chance
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.parts.part import Part

Detail = Literal["dragged", "draft", "final"]

DRAFT_COPIES = 200_000
"""So many copies of a part are in a draft, about, where there are more: a coat of them still looks closed."""

SEED = 20_011


def drafted(part: Part) -> Part:
    """The part with about DRAFT_COPIES of its copies, by the number of each: a draft of more of them has these too."""
    if not isinstance(part, CopiesPart) or len(part.copies) <= DRAFT_COPIES:
        return part
    return part.only(chance(part.mesh.number, SEED) < DRAFT_COPIES / len(part.copies))
