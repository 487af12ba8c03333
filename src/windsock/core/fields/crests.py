"""Crests: rings that run out from the shapes of a group over the subject, broken by chance."""

from __future__ import annotations

from math import inf
from typing import Annotated, Literal

import numpy as np

from windsock.core.declarations import GroupId, Quantity
from windsock.core.fields.elements import Elements, FinishedShape, Values
from windsock.core.fields.falloff import Fall, fallen, smoothstep
from windsock.core.fields.source import PlacedSource, Scene
from windsock.core.geometry.course import unit_rows
from windsock.core.geometry.placement import moved
from windsock.core.geometry.touching import gap_between
from windsock.core.kernels.noise import gradient_noise
from windsock.core.kernels.surface_distance import Surface, surface_distance
from windsock.core.timing.parameter import NumberParameter

RISES_OVER = 0.25
"""Share of a length over which crests rise from the shape: at it and within it is calm, so that nothing blinks there."""
BREAK = 6.0
"""How much steeper than the noise the ends of dashes are."""
FROM_CREST_TO_CREST = np.array([0.31, 0.87, 0.38])
"""Where in the noise the next crest's dashes are looked up: off the plane in which most rings lie."""


class Crests(PlacedSource):
    """1 on crests that run out from the group's shapes at a speed, one a length from the next, and 0 between them.

    The phase is the distance to the nearest surface of each shape, as its recipe leaves it, less the way that the crests have come
    since the shot began; of several shapes the highest counts. They fade before the reach, or end after so many crests.
    `breaks` cuts them into dashes of an angle about the shape's middle, which go along with their crest. A shape that is further
    than the gap from the subject, as that rests, sets off nothing. The subject itself does not count.
    """

    says = "Rings that run out from other shapes"
    wish = "Where it is"

    offered = "Crests from shapes"

    kind: Literal["crests"] = "crests"
    group: GroupId
    length: Annotated[NumberParameter, Quantity("From crest to crest", unit="m", low=0.0001, high=1e4)] = 0.3
    speed: Annotated[NumberParameter, Quantity("How fast crests run", unit="m/s", low=0, high=1e4)] = 0.3
    way: Literal["outward", "inward"] = "outward"
    reach: Annotated[NumberParameter, Quantity("Distance at which they end", unit="m", low=0, high=1e4)] = 1.5
    soft: Annotated[NumberParameter, Quantity("Way over which they fade before that", unit="m", low=0, high=1e4)] = 1.2
    fall: Fall = "smooth"
    count: Annotated[
        NumberParameter,
        Quantity("How many crests there are at most, 0 for as many as reach", low=0, high=1e4, drag=0.05),
    ] = 0.0
    hard: Annotated[NumberParameter, Quantity("How hard the edges of crests are", low=0, high=1, drag=0.005)] = 0.3
    breaks: Annotated[NumberParameter, Quantity("How far crests are broken into dashes", low=0, high=1, drag=0.005)] = (
        0.0
    )
    dash: Annotated[
        NumberParameter, Quantity("About how far a dash goes round", unit="°", low=0.1, high=360, drag=0.25)
    ] = 40.0
    across: Annotated[
        NumberParameter,
        Quantity("About how far dashes are alike from crest to crest", unit="m", low=0.0001, high=1e4),
    ] = 0.3
    gap: Annotated[
        NumberParameter, Quantity("Gap to this shape from which on one sets off nothing", unit="m", low=0, high=1e4)
    ] = 0.2
    seed: Annotated[int, Quantity("Which of the dashes", low=0, high=999_999, drag=0.1, whole=True)] = 1

    def groups(self) -> tuple[str, ...]:
        return (self.group,)

    def measure(self, elements: Elements, scene: Scene) -> Values:
        """(n,) values in 0..1."""
        places, values = self.places(elements, scene), np.zeros(len(elements))
        shapes = scene.group(self.group, elements.subject.item)
        if not shapes or len(places) == 0:
            return values
        mesh = elements.subject.mesh
        rests = Surface(moved(mesh.points, scene.placement(elements.subject.item)), mesh.faces)
        come = scene.travelled("speed") * (1 if self.way == "outward" else -1)
        for shape in shapes:
            strength = self._strength(rests, shape, scene)
            if strength > 0:
                np.maximum(values, strength * self._from(shape, places, come, scene), out=values)
        return values

    def _strength(self, rests: Surface, shape: FinishedShape, scene: Scene) -> float:
        """1 for a shape that touches the subject, 0 for one that is the gap away."""
        gap = scene.at(self.gap)
        away = gap_between(shape.surface, rests, max(gap, 1e-9))
        return 0.0 if away == inf else 1.0 if gap <= 0 else float(smoothstep(np.array([1 - min(away / gap, 1)]))[0])

    def _from(self, shape: FinishedShape, places: Values, come: float, scene: Scene) -> Values:
        """(n,) the crests of one shape, which have come so many metres."""
        at = scene.at
        length, count = max(at(self.length), 1e-9), at(self.count)
        reach = min(at(self.reach), count * length) if count > 0 else at(self.reach)
        away = np.minimum(surface_distance(places, shape.surface, reach, True), 1e12)
        made = fallen(away - reach, at(self.soft), self.fall)
        made *= smoothstep(np.clip(away / (RISES_OVER * length), 0, 1))
        seen = np.flatnonzero(made > 0)
        if len(seen) == 0:
            return made
        phase = (away[seen] - come) / length
        hard = min(at(self.hard), 1 - 1e-6)
        made[seen] *= np.clip(0.5 + 0.5 * np.cos(2 * np.pi * phase) / (1 - hard), 0, 1)
        breaks = at(self.breaks)
        if breaks > 0:
            made[seen] *= 1 - breaks * self._missing(shape, places[seen], away[seen] - come, scene)
        return made

    def _missing(self, shape: FinishedShape, places: Values, run: Values, scene: Scene) -> Values:
        """(n,) 1 between dashes, 0 on them. run: (n,) metres behind the first crest, which stay the same for what runs along."""
        low, high = shape.surface.box
        towards = unit_rows(places - (low + high) / 2)
        turns = max(np.radians(scene.at(self.dash)), 1e-6)
        cells = towards / turns + run[:, None] / max(scene.at(self.across), 1e-9) * FROM_CREST_TO_CREST
        return smoothstep(np.clip(0.5 - 0.5 * BREAK * gradient_noise(cells, self.seed, 2), 0, 1))
