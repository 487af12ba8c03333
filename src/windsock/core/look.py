"""The look of a thing: the channels of the glTF 2.0 material that are in use, and those of its extensions for what light goes
through: KHR_materials_transmission, KHR_materials_ior and KHR_materials_volume."""

from __future__ import annotations

from typing import Annotated, Literal

from windsock.core.declarations import Colour, Declared, Quantity
from windsock.core.timing.parameter import NumberParameter


class Look(Declared):
    """Base colour, roughness, metallic, emission, transmission and opacity, and whether faces are seen from behind.

    What lets light through bends it by its index of refraction where it is a body, and takes from it on the way: white light
    has the attenuation colour after the attenuation distance (Beer and Lambert). A sheet is as thick as its thickness says.
    """

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
    index: Annotated[
        NumberParameter,
        Quantity("Index of refraction: how much light is bent that goes through", low=1, high=3, drag=0.005),
    ] = 1.5
    attenuation_colour: Colour = "#FFFFFF"
    attenuation_distance: Annotated[
        NumberParameter,
        Quantity(
            "How far white light goes inside until it has the colour of the inside",
            unit="m",
            low=0.0001,
            high=10_000,
            drag=0.01,
        ),
    ] = 1.0
    thickness: Annotated[
        NumberParameter,
        Quantity(
            "How thick it is where it is a sheet; a closed body is as thick as it is",
            unit="m",
            low=0,
            high=100,
            drag=0.001,
        ),
    ] = 0.003
    opacity: Annotated[NumberParameter, Quantity("How opaque the surface is", low=0, high=1, drag=0.005)] = 1.0
    backs: Literal["shown", "hidden"] = "shown"
