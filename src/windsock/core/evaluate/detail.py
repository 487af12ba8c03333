"""Draft and final: the one place that says how they differ.

Draft may only take larger cells of volumes and fewer copies, in stable subsets; never other faces, refinement, pieces or
seeds. No step has volumes or copies yet, so nothing reads the detail and both are the same to the byte.
"""

from __future__ import annotations

from typing import Literal

Detail = Literal["draft", "final"]
