"""Sources whose values depend on what was before: a state at the points of the subject at rest, taken from tick to tick."""

from __future__ import annotations

from dataclasses import dataclass

from windsock.core.fields.elements import Elements
from windsock.core.fields.source import Scene, SourceBase
from windsock.core.timing.ticks import State


@dataclass(frozen=True, eq=False)
class SourceTick:
    """What a marched source may look at, at one moment: the m points of its subject at rest, where that stands then, and the
    shot. What it looks at is what its state depends on."""

    elements: Elements
    scene: Scene


class MarchedSource(SourceBase):
    """A source that measures what `scene.marched` gives. Its keyed settings are parameters here: `scene.at` of a tick says what
    they are then. A step between two ticks may be of any length."""

    def pre_roll(self) -> float:
        """Seconds before the first frame at which the march begins."""
        return 0.0

    def begin(self, tick: SourceTick) -> State:
        """The state at the start."""
        raise NotImplementedError

    def advance(self, state: State, before: SourceTick, now: SourceTick) -> State:
        """The state at `now`, from the state at `before`."""
        raise NotImplementedError
