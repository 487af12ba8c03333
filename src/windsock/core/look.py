"""The look of a thing: the channels of the glTF 2.0 material that are in use."""

from __future__ import annotations

from typing import Annotated, Literal

from windsock.core.declarations import Colour, Declared, Quantity
from windsock.core.timing.parameter import NumberParameter


class Look(Declared):
    """Base colour, roughness, metallic, emission, transmission and opacity, and whether faces are seen from behind."""

    base_colour: Colour = "#C9C4B8"
    roughness: Annotated[NumberParameter, Quantity("How dull the surface is", low=0, high=1, drag=0.005)] = 0.7
    metallic: Annotated[NumberParameter, Quantity("How metallic the surface is", low=0, high=1, drag=0.005)] = 0.0
    emission_colour: Colour = "#FFB070"
    emission: Annotated[NumberParameter, Quantity("Strength of the light it gives off", low=0, high=100, drag=0.02)] = (
        0.0
    )
    transmission: Annotated[
        NumberParameter, Quantity("How much light goes through the surface", low=0, high=1, drag=0.005)
    ] = 0.0
    opacity: Annotated[NumberParameter, Quantity("How opaque the surface is", low=0, high=1, drag=0.005)] = 1.0
    backs: Literal["shown", "hidden"] = "shown"
