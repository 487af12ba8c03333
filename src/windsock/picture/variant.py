"""Mitsuba 3 in its LLVM variant, chosen once. Loaded in the rendering process only."""

from __future__ import annotations

from typing import Any

import drjit
import mitsuba

mi: Any = mitsuba  # its stubs do not say that it converts
dr: Any = drjit
mi.set_variant("llvm_ad_rgb")
