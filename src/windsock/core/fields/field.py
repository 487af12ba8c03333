"""A field: a number for every place on a subject, told as a sentence of sources."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field as Limits
from pydantic import StringConstraints, model_validator

from windsock.core.declarations import Declared, Id, Name, Quantity, Rank, in_order
from windsock.core.fields import AnySource, Source
from windsock.core.fields.elements import Values
from windsock.core.fields.joining import joined
from windsock.core.fields.memory import Memory
from windsock.core.fields.source import FrontOf
from windsock.core.timing.parameter import KeyedNumber, Moment, NumberParameter

Letter = Annotated[str, StringConstraints(pattern=r"^[A-Z]{1,2}$")]


class Field(Declared):
    """Sources joined by words, with the level at which its edge lies and the band about it."""

    letter: Letter
    name: Name
    rank: Rank
    level: Annotated[NumberParameter, Quantity("Value at which the edge lies", low=0, high=1, drag=0.0025)] = 0.5
    band: Annotated[NumberParameter, Quantity("Width about the level", low=0, high=100, drag=0.0025)] = 0.1
    band_in: Annotated[Literal["values", "metres"], Limits(description="What the band is counted in")] = "values"
    memory: Annotated[Memory | None, Limits(description="Whether it remembers; None: not at all")] = None
    sources: Annotated[dict[Id, Source], Limits(max_length=32)]

    @model_validator(mode="after")
    def _band_fits(self) -> Self:
        widths = self.band.numbers() if isinstance(self.band, KeyedNumber) else [self.band]
        if self.band_in == "values" and max(widths) > 1:
            raise ValueError(
                f"the band of field {self.letter} is wider than all values: at most 1, or count it in metres"
            )
        return self

    def items(self) -> tuple[str, ...]:
        """The ids of the items that its sources measure from."""
        return tuple(sorted({item for source in self.sources.values() for item in source.items()}))

    def groups(self) -> tuple[str, ...]:
        """The ids of the groups whose shapes its sources measure from."""
        return tuple(sorted({group for source in self.sources.values() for group in source.groups()}))

    def fronts_of(self) -> set[FrontOf]:
        """The fronts that its sources ask after."""
        return {front for source in self.sources.values() for front in source.fronts_of()}

    def fields(self) -> tuple[str, ...]:
        """The ids of the fields that its sources measure from."""
        return tuple(sorted({field for source in self.sources.values() for field in source.fields()}))


Measure = Callable[[str, AnySource], Values]
"""Given its id, gives the (n,) values of one source: measured now, or kept from before."""


def measure(field: Field, count: int, at: Moment, source_values: Measure) -> Values:
    """(count,) the values of the field's sentence, 0..1, without what it remembers. Without sources it is 0 everywhere."""
    values = np.zeros(count)
    for _, result in _clauses(field, count, at, source_values):
        values = result
    return values


def explain(field: Field, at: Moment, source_values: Measure) -> list[tuple[str, float, float]]:
    """For one element: each source's id, its own value and the result up to and including it."""
    return [(key, float(own[0]), float(values[0])) for (key, own), values in _clauses(field, 1, at, source_values)]


def _clauses(
    field: Field, count: int, at: Moment, source_values: Measure
) -> Iterator[tuple[tuple[str, Values], Values]]:
    """Walks the sentence: yields ((source id, its own values), the result so far)."""
    before = np.zeros(count)
    for place, (key, source) in enumerate(in_order(field.sources)):
        own = np.clip(source_values(key, source), 0.0, 1.0)
        if source.curve is not None:
            own = source.curve(own)
        if source.inverted:
            own = 1 - own
        amount = at(source.amount)
        after = own if place == 0 else joined(source.word, before, own)
        # In place: the work is all memory.
        mixed = after - before
        mixed *= amount
        mixed += before
        before = np.clip(mixed, 0.0, 1.0, out=mixed)
        yield (key, own), before
