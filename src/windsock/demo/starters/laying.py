"""What every starter is made with: the shape it is laid on, and the edit that it becomes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from pydantic import JsonValue

from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.changing.recipes import rounded


@dataclass(kw_only=True)
class Laying(PlannedEdit):
    """The edit that lays a starter on a shape, in the shape's own size."""

    item: str
    bounds: Bounds

    def frame(self, share: float) -> float:
        """The whole frame that lies so far into the shot, 0..1."""
        first, last = self.shot.frames.first, self.shot.frames.last
        return float(round(first + (last - first) * share))

    @property
    def seconds(self) -> float:
        """How long the shot lasts."""
        return max(self.shot.frames.last - self.shot.frames.first, 1) / self.shot.rate.fps

    def add_part(self, word: str) -> str:
        """Add a part to the recipe; its id."""
        return self.add_part_to(self.item, word)

    def add_step(self, kind: str, step: dict[str, JsonValue]) -> str:
        """Add a step after those of the recipe; its id."""
        return self.add_step_to(self.item, kind, step)


def ramp(*stops: tuple[float, str]) -> JsonValue:
    """A smooth ramp: each stop a place and a colour."""
    return {
        "kind": "smooth",
        "stops": {f"s{place}": {"at": at, "colour": colour} for place, (at, colour) in enumerate(stops)},
    }


def keyed(*placed: tuple[float, JsonValue], easing: str = "ease") -> JsonValue:
    """Keys at frames with values."""
    return {
        "keys": {
            f"k{place}": {"frame": frame, "value": value, "easing": {"kind": easing}}
            for place, (frame, value) in enumerate(placed, 1)
        }
    }


def crossing(laying: Laying, name: str, soft: float, grain: float, until: float = 0.92) -> dict[str, JsonValue]:
    """The sources of a noisy front that crosses a shape from the side, along a controller of this name that is keyed.

    soft, grain: how soft the front is and how large the cells of its noise are, in sizes of the shape; until: the share of
    the shot at which it is across.
    """
    size, (x, y, z) = laying.bounds.largest, laying.bounds.centre
    half = size * (0.55 + soft)
    controller = laying.add_item(
        name,
        {
            "kind": "controller",
            "turn": [0, 0, -90],
            "place": keyed((laying.frame(0.06), [x - half, y, z]), (laying.frame(until), [x + half, y, z])),
        },
    )
    across: JsonValue = {
        "kind": "across", "rank": 0, "controller": controller, "axis": "y", "soft": rounded(size * soft), "fall": "smooth",
        "measured": "rest",
    }  # fmt: skip
    noise: JsonValue = {
        "kind": "noise",
        "rank": 1,
        "word": "roughened by",
        "size": rounded(size * grain),
        "octaves": 4,
        "contrast": 45,
    }
    return {"front": across, "noise": noise}


EMBER = ramp((0.0, "#7A1502"), (0.45, "#FF5A10"), (0.8, "#FFB347"), (1.0, "#FFF3CF"))


@dataclass(frozen=True)
class Starter:
    """A ready recipe. first: what to change first, once it is laid. wish: what someone wishes for who chooses it. lay: gathers
    its edit."""

    name: str
    says: str
    first: str
    wish: str
    lay: Callable[[Laying], None]
