"""Shade: drives a channel of the look by a field through a ramp.

The channels are those of the glTF 2.0 material: base colour, emission, opacity, roughness, metallic, and transmission of
KHR_materials_transmission. Colours are blended in linear light.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from windsock.core.declarations import Quantity
from windsock.core.fields.elements import Values
from windsock.core.fields.zones import Zone
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.look import Look
from windsock.core.parts.part import Part
from windsock.core.ramp import Ramp, Stop
from windsock.core.steps.given import StepInputs
from windsock.core.steps.step import Leaves, WeightedStep
from windsock.core.timing.parameter import NumberParameter

At = Callable[[NumberParameter], float]
Channel = Literal["base_colour", "emission", "opacity", "roughness", "metallic", "transmission"]

WARM = Ramp(stops={"s1": Stop(at=0, colour="#3A1204"), "s2": Stop(at=1, colour="#FF9A3C")})


class Shade(WeightedStep):
    """Give a channel of the look what the ramp is at the zone's weight.

    `laid` everywhere: the channel is what the ramp says, at every place. Laid by the field: it comes over what was there
    as far as the zone's weight is, so that where that is 0 nothing changes. Emission is the ramp's colour times
    `strength`. Opacity below 1 is blended, with back faces hidden; or cut, so that a place is there or is not.
    """

    says = "Lets a field rule colour, glow or another channel"
    wish = "Change how it looks"

    undriven = (
        "No field drives this, so the whole shape is the upper end of the ramp. "
        "Choose a field in place of “everywhere”."
    )

    kind: Literal["shade"] = "shade"
    channel: Channel = "base_colour"
    zone: Zone = "value"
    ramp: Ramp = WARM
    laid: Annotated[Literal["everywhere", "by the field"], Field(description="Where the ramp counts")] = "by the field"
    strength: Annotated[NumberParameter, Quantity("Strength of the emission", low=0, high=100, drag=0.02)] = 2.0
    edge: Annotated[Literal["blended", "cut"], Field(description="How an opacity below 1 is shown")] = "blended"

    @property
    def leaves(self) -> Leaves:
        return "places"

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part with its channel changed; points, faces and all else stay. Copies have one value each."""
        at, drive = given.at, given.drive
        count = len(part.mesh.points)
        place = np.ones(count) if drive is None else drive.zone(self.zone, self.curve)
        weight = np.full(count, at(self.amount))
        if drive is not None and drive.overall is not None:
            weight = weight * drive.overall
        if self.laid == "by the field":
            weight = weight * place
        mesh, look = part.mesh, part.look
        if self.channel == "base_colour":
            colour = _mixed(_colour(mesh, look), self.ramp.colours(place), weight)
            # A picture gives way to the colours as far as they count.
            before = np.ones(count, dtype=np.float32) if mesh.pictured is None else mesh.pictured
            left = None if mesh.pictures is None else (before * np.clip(1 - weight, 0, 1)).astype(np.float32)
            return replace(part, mesh=replace(mesh, colour=colour, pictured=left))
        if self.channel == "emission":
            light = self.ramp.colours(place) * at(self.strength)
            return replace(part, mesh=replace(mesh, emission=_mixed(_emission(mesh, look, at), light, weight)))
        values = self.ramp.values(place)
        if self.channel == "opacity":
            opacity = _mixed(np.ones(count) if mesh.opacity is None else mesh.opacity, values, weight)
            alpha = "cut" if self.edge == "cut" else part.alpha
            backs = "hidden" if part.backs == "shown" and self.edge == "blended" else part.backs
            return replace(part, mesh=replace(mesh, opacity=opacity), alpha=alpha, backs=backs)
        before = _number(mesh, look, self.channel, at)
        return replace(part, mesh=replace(mesh, **{self.channel: _mixed(before, values, weight)}))


def _mixed(before: Values | Floats, given: Values, weight: Values) -> Floats:
    share = weight if given.ndim == 1 else weight[:, None]
    return (before + (given - before) * share).astype(np.float32)


def _colour(mesh: Mesh, look: Look) -> Values:
    base = np.array(linear_from_hex(look.base_colour))
    if mesh.colour is None:
        return np.tile(base, (len(mesh.points), 1))
    return np.where(np.isnan(mesh.colour), base, mesh.colour)


def _emission(mesh: Mesh, look: Look, at: At) -> Values | Floats:
    if mesh.emission is not None:
        return mesh.emission
    return np.tile(np.array(linear_from_hex(look.emission_colour)) * at(look.emission), (len(mesh.points), 1))


def _number(
    mesh: Mesh, look: Look, channel: Literal["roughness", "metallic", "transmission"], at: At
) -> Values | Floats:
    """(n,) the channel as it is before, of the points or else of the look."""
    own = {"roughness": mesh.roughness, "metallic": mesh.metallic, "transmission": mesh.transmission}[channel]
    given = {"roughness": look.roughness, "metallic": look.metallic, "transmission": look.transmission}[channel]
    return np.full(len(mesh.points), at(given)) if own is None else own
