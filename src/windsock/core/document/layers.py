"""Layers: what of a shot is pictured together, and apart from the rest."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from windsock.core.declarations import Declared, ItemId, Name, Rank

Role = Literal["shown", "matte", "held_out", "glow_only"]
"""How an item is in a layer. shown: as it is; matte: white where it is; held_out: a hole is where it is; glow_only: itself it is
not seen, but its glow is."""


class InLayer(Declared):
    """An item's place in a layer."""

    rank: Rank = 0.0
    role: Annotated[Role, Field(description="How it is seen there")] = "shown"


class PictureLayer(Declared):
    """Items that are pictured together, with nothing behind them. All others are not seen there, but light, shade and mirror
    as ever."""

    name: Name
    rank: Rank
    items: Annotated[dict[ItemId, InLayer], Field(max_length=256)] = {}
