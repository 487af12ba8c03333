"""What every finishing step declares, and what it knows of the picture that it works on."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Annotated, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, JsonValue

from windsock.core.declarations import Declared, FieldId, Id, ItemId, Quantity, Rank
from windsock.core.timing.parameter import Moment, NumberParameter

Floats = NDArray[np.float32]
Worked = NDArray[np.float32] | NDArray[np.float64]

LUMA = np.array([0.2126, 0.7152, 0.0722], dtype=np.float32)
"""The share of red, green and blue in brightness (ITU-R BT.709)."""


@dataclass(frozen=True)
class Glass:
    """The lens that a picture was seen through. focal: its length in metres; height: of the picture on the sensor, in metres;
    f_number: 0 where all is sharp."""

    focal: float
    height: float
    f_number: float = 0.0


@dataclass(frozen=True, eq=False)
class Seen:
    """What is known of a picture beside its light. at: its moment. emission: (height, width, 3) what things give off.

    Only where a step needs them: covers: (height, width) how far each part of each item covers the pixels; depths: (rays, height,
    width) metres along the lens to what some rays of each pixel meet, infinite where nothing is; values: (height, width) of each
    field, times how far what it was measured on covers. far_off: metres along the lens to an item.
    """

    at: Moment
    emission: Floats
    covers: Mapping[tuple[str, str], Floats] = field(default_factory=dict[tuple[str, str], Floats])
    depths: Floats | None = None
    values: Mapping[str, Floats] = field(default_factory=dict[str, Floats])
    glass: Glass = Glass(0.035, 0.024)
    far_off: Callable[[str], float] = lambda item: 1.0


class DepthRange(Declared):
    """What lies between two distances from the camera."""

    near: Annotated[NumberParameter, Quantity("From so far off", unit="m", low=0, high=100_000, drag=0.05)] = 0.0
    far: Annotated[NumberParameter, Quantity("To so far off", unit="m", low=0, high=100_000, drag=0.05)] = 8.0
    soft: Annotated[
        NumberParameter, Quantity("Metres over which it fades at both ends", unit="m", low=0, high=10_000, drag=0.02)
    ] = 1.0


class FinishBase(Declared):
    """A step on the finished picture. It counts by `amount`, and where it is: on an item or one part of it, by a field's value
    on what is seen, in a range of depth; `outside` has it everywhere else. With several of them it is where all are."""

    begins: ClassVar[Mapping[str, JsonValue]] = {"depth": DepthRange().model_dump(mode="json")}

    after_view: ClassVar[bool] = False
    """Whether it works on the picture as a display shows it, from 0 to 1, after the view transform; else on linear light."""

    rank: Rank
    on: Annotated[bool, Field(description="A step that is off is passed over")] = True
    amount: Annotated[NumberParameter, Quantity("How much the step counts", low=0, high=1, drag=0.005)] = 1.0
    item: Annotated[ItemId | None, Field(description="The item that it is on; None: on all that is seen")] = None
    part: Annotated[Id | None, Field(description="The one part of the item that it is on")] = None
    field: Annotated[FieldId | None, Field(description="The field by whose value it counts")] = None
    depth: Annotated[DepthRange | None, Field(description="The distances that it is on")] = None
    outside: Annotated[bool, Field(description="Whether it is everywhere but there")] = False

    @classmethod
    def named(cls) -> str:
        """Its kind in words: `Colour fringe`."""
        return cls.kind_name().replace("_", " ").capitalize()

    @classmethod
    def in_words(cls) -> dict[str, JsonValue]:
        return {"called": cls.named(), "says": cls.says, "after_view": cls.after_view}

    def chosen(self, setting: str, value: JsonValue) -> dict[str, JsonValue]:
        """A part is that of one item: another item has others."""
        return super().chosen(setting, value) | ({"part": None} if setting == "item" else {})

    def released(self, setting: str) -> dict[str, JsonValue]:
        """Without what it was on it would be on everything: it goes off instead."""
        return {setting: None, "on": False} | ({"part": None} if setting == "item" else {})

    @property
    def is_everywhere(self) -> bool:
        """Whether it is on all of the picture alike."""
        return self.item is None and self.field is None and self.depth is None

    def needs_depth(self) -> bool:
        """Whether it has to know how far off things are."""
        return self.depth is not None

    def mask(self, seen: Seen) -> Floats | None:
        """(height, width) how far it counts in each pixel, 0..1; None where that is in full everywhere."""
        if self.is_everywhere:
            return None
        mask = np.ones(seen.emission.shape[:2], dtype=np.float32)
        if self.item is not None:
            own = [
                cover for (item, part), cover in seen.covers.items() if item == self.item and self.part in (None, part)
            ]
            mask *= np.minimum(sum(own, np.zeros_like(mask)), 1)
        if self.field is not None:
            mask *= np.clip(seen.values.get(self.field, np.zeros_like(mask)), 0, 1)
        if self.depth is not None and seen.depths is not None:
            near, far, soft = seen.at(self.depth.near), seen.at(self.depth.far), max(seen.at(self.depth.soft), 1e-6)
            within = np.minimum((seen.depths - near) / soft + 0.5, (far - seen.depths) / soft + 0.5)
            mask *= np.clip(within, 0, 1).mean(axis=0).astype(np.float32)
        return 1 - mask if self.outside else mask

    def finished(self, light: Floats, seen: Seen) -> Floats:
        """(height, width, 3) the picture after the step. Where it counts in part it is so far between before and after."""
        amount = np.float32(seen.at(self.amount))
        if not self.on or amount <= 0:
            return light
        mask = self.mask(seen)
        if mask is not None and not mask.any():
            return light
        made = self.worked(light, seen, mask).astype(np.float32, copy=False)
        if mask is None or self.spreads_beyond():
            if amount == 1:
                return made
            mask = np.ones((1, 1), dtype=np.float32)
        share = (amount * mask)[..., None]
        return (light + share * (made - light)).astype(np.float32, copy=False)

    def quick_stops(self, at: Moment) -> float:
        """Stops that it makes all of the picture brighter, as a quick picture shows it too."""
        del at
        return 0.0

    def quick_glow(self, at: Moment) -> float:
        """How strong the glow is about all that shines, as a quick picture shows it too."""
        del at
        return 0.0

    def spreads_beyond(self) -> bool:
        """Whether what it takes from where it is may show elsewhere: it looks after that itself."""
        return False

    def worked(self, light: Floats, seen: Seen, mask: Floats | None) -> Worked:
        """(height, width, 3) what it makes of a picture, in full."""
        raise NotImplementedError
