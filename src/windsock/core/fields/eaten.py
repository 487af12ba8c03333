"""Eaten: where the front of a step that eats or grows a shape has been."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from windsock.core.declarations import Id, ItemId, Quantity
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.falloff import smoothstep
from windsock.core.fields.source import FrontOf, Scene, SourceBase
from windsock.core.geometry.placement import moved
from windsock.core.timing.parameter import NumberParameter

ON_FRONT = 0.25
"""Voxels ahead of the front within which a place is on it: what it has opened lies there but for rounding."""


class EatenField(SourceBase):
    """1 where the front has been that a step of a shape lets through it, falling to 0 ahead of it.

    It is asked in the whole solid, at places as they rest, so that on the subject itself it stays with what moves. Of another shape, places
    of the world count as they lie in that shape's space now. Of several such steps the furthest counts, or one is said. 0 before a front has begun, and where
    it never comes.
    """

    says = "Where it has been eaten, or has grown"
    wish = "From what is there"

    offered = "Eaten until now"

    kind: Literal["eaten"] = "eaten"
    shape: Annotated[ItemId | None, Field(description="The shape that is eaten; None: the one it is measured on")] = (
        None
    )
    step: Annotated[Id | None, Field(description="The step of its recipe that eats; None: all that do")] = None
    soft: Annotated[
        NumberParameter, Quantity("Way ahead of the front over which it falls to 0", unit="m", low=0, high=1e4)
    ] = 0.0

    def fronts_of(self) -> tuple[FrontOf, ...]:
        return (FrontOf(self.shape, self.step),)

    def briefly(self, name: Callable[[str], str]) -> str:
        return "eaten" if self.shape is None else f"eaten of {name(self.shape)}"

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        subject, soft = elements.subject.item, scene.at(self.soft)
        item, made = self.shape or subject, np.zeros(len(elements))
        fronts = scene.fronts(item, self.step, subject)
        if not fronts:
            return made
        own = item == subject
        places = elements.rest if own else moved(elements.posed, np.linalg.inv(scene.placement(item)))
        for front in fronts:
            # No further ahead than it has come, so that it does not begin all at once; and no narrower than it is known.
            width = max(min(soft, front.come), front.voxel)
            ahead = front.ahead(places) - ON_FRONT * front.voxel
            np.maximum(made, smoothstep(np.clip(1 - ahead / width, 0, 1)), out=made)
        return made
