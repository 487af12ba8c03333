"""Movement that was made elsewhere, and the keys of an item that follow it."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import JsonValue

from windsock.core.geometry.placement import turned_apart
from windsock.core.refusals import Refusal
from windsock.core.timing.thinning import Away, straight, thinned

Reals = NDArray[np.float64]
Setting = Literal["place", "turn", "scale"]

KEY_LIMIT = 1000
"""Keys of one value."""

WITHIN_SCALE = 0.001
"""How far keys may be off in stretch: factors."""


@dataclass(frozen=True, eq=False)
class Movement:
    """Where a thing is at moments of its own.

    times: (n,) growing, in seconds or in frames; places: (n, 3) in units of where it comes from; turns: (n, 3) degrees about X,
    then Y, then Z, without jumps; scales: (n, 3) factors.
    """

    name: str
    clock: Literal["seconds", "frames"]
    times: Reals
    places: Reals
    turns: Reals
    scales: Reals

    @property
    def moves(self) -> list[Setting]:
        """What of it changes."""
        found: list[Setting] = ["place"]
        if float(np.ptp(self.turns, axis=0).max()) > 1e-3:
            found.append("turn")
        if float(np.ptp(self.scales, axis=0).max()) > 1e-4:
            found.append("scale")
        return found


@dataclass(frozen=True, eq=False)
class Movements:
    """All that moves in a file."""

    things: tuple[Movement, ...]

    @property
    def nbytes(self) -> int:
        return sum(one.times.nbytes + 3 * one.places.nbytes for one in self.things)


@dataclass(frozen=True)
class Keyed:
    """The keys of a setting. count: how many. off: how far they are off at most, in metres, degrees or factors."""

    value: JsonValue
    count: int
    off: float


@dataclass(frozen=True)
class Fit:
    """How movement is laid. begins: the frame of its first moment. unit: metres in one of its own. within: metres, and
    within_turn: degrees that keys may be off."""

    begins: float
    unit: float
    within: float
    within_turn: float


def keyed_movement(movement: Movement, takes: Collection[Setting], fit: Fit, fps: float) -> dict[Setting, Keyed]:
    """The keys of each setting that is taken. Raises Refusal where it takes too many."""
    pace = fps if movement.clock == "seconds" else 1.0
    frames: Reals = (fit.begins + (movement.times - movement.times[0]) * pace).round(6)
    held: dict[Setting, tuple[Reals, float, Away]] = {
        "place": (movement.places * fit.unit, fit.within, _apart),
        "turn": (movement.turns, fit.within_turn, turned_apart),
        "scale": (movement.scales, WITHIN_SCALE, _apart),
    }
    return {setting: _keyed(setting, frames, *held[setting]) for setting in held if setting in takes}


def _keyed(setting: str, frames: Reals, values: Reals, within: float, away: Away) -> Keyed:
    kept = thinned(frames, values, within, away, KEY_LIMIT)
    if kept is None:
        raise Refusal(
            f"The {setting} needs more than {KEY_LIMIT:,} keys to be as near as that. Nothing was changed. "
            "Let the keys be off by more, or shorten the movement."
        )
    off = float(away(straight(frames[kept], values[kept], frames), values).max())
    listed = zip(frames[kept].tolist(), values[kept].tolist(), strict=True)
    keys: dict[str, JsonValue] = {
        f"k{number}": {"frame": frame, "value": value, "easing": {"kind": "linear"}}
        for number, (frame, value) in enumerate(listed, 1)
    }
    return Keyed({"keys": keys}, len(kept), off)


def _apart(one: Reals, other: Reals) -> Reals:
    return np.sqrt(np.square(one - other).sum(axis=1))
