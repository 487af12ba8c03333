"""What a frame has of a shape that is the same throughout the shot: put together once for each revision, then passed by."""

from __future__ import annotations

from dataclasses import dataclass, replace

from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.fingerprint import fingerprint
from windsock.core.evaluate.reports import ShapeReport, StepReport


@dataclass(frozen=True, eq=False)
class ShapeShown:
    """What a frame has of a shape: what is told of it and its steps, and what is drawn."""

    shape: ShapeReport
    steps: tuple[StepReport, ...]
    draw: tuple[DrawItem, ...]

    @property
    def nbytes(self) -> int:
        return sum(one.body.nbytes for one in self.draw)

    def key(self) -> str:
        """A hash of all of it."""
        drawn = [(one.key, one.subject.key, one.part, one.matrix.tolist()) for one in self.draw]
        return f"still {fingerprint(self.shape, self.steps, drawn)}"

    def found_again(self) -> ShapeShown:
        """The same as what took no time."""
        steps = tuple(replace(one, reused=True, milliseconds=0.0) for one in self.steps)
        return replace(self, shape=replace(self.shape, milliseconds=0.0), steps=steps)


class StillShapes:
    """The shapes of one shot that are the same at every frame, by a name for the shape and how it is shown, as far as that was found."""

    def __init__(self) -> None:
        self._keys: dict[str, str] = {}

    def get(self, name: str, cache: Cache) -> ShapeShown | None:
        """What a frame has of a shape, if it is the same throughout and still kept."""
        key = self._keys.get(name)
        found = None if key is None else cache.get(key)
        return found if isinstance(found, ShapeShown) else None

    def keep(self, name: str, shown: ShapeShown, cache: Cache) -> None:
        """Remember what a frame has of a shape that is the same throughout."""
        kept = shown.found_again()
        key = self._keys[name] = kept.key()
        cache.put(key, kept)
