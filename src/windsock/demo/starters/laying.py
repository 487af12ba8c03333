"""What every starter is made with: the shape it is laid on, and the edit that it becomes."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from pydantic import JsonValue

from windsock.core.document.items import Shape
from windsock.core.document.patches import Operation
from windsock.core.document.shot import Shot


@dataclass(frozen=True)
class Bounds:
    """Where a shape stands, in world metres: the middle and the size of the box about it."""

    centre: tuple[float, float, float]
    size: tuple[float, float, float]

    @property
    def largest(self) -> float:
        return max(*self.size, 1e-3)


@dataclass
class Laying:
    """Gathers the edit that lays a starter on a shape. field: the field that it is about."""

    shot: Shot
    item: str
    bounds: Bounds
    patch: list[Operation] = field(default_factory=list[Operation])
    field: str = ""

    @property
    def shape(self) -> Shape:
        shape = self.shot.items[self.item]
        assert isinstance(shape, Shape)
        return shape

    def frame(self, share: float) -> float:
        """The whole frame that lies so far into the shot, 0..1."""
        first, last = self.shot.frames.first, self.shot.frames.last
        return float(round(first + (last - first) * share))

    @property
    def seconds(self) -> float:
        """How long the shot lasts."""
        return max(self.shot.frames.last - self.shot.frames.first, 1) / self.shot.rate.fps

    def add_item(self, word: str, item: dict[str, JsonValue]) -> str:
        """Add an item named after a word; its id."""
        return self._add("/items", word, [*self.shot.items], len(self.shot.items), item)

    def add_group(self, word: str, members: Iterable[str]) -> str:
        """Add a group; its id."""
        group: dict[str, JsonValue] = {"members": {member: {"rank": place} for place, member in enumerate(members)}}
        return self._add("/groups", word, [*self.shot.groups], len(self.shot.groups), group)

    def add_field(self, word: str, field: dict[str, JsonValue]) -> str:
        """Add a field with the first free letter; its id."""
        taken = {one.letter for one in self.shot.fields.values()} | {
            str(operation.value["letter"])
            for operation in self.patch
            if operation.path.startswith("/fields/") and isinstance(operation.value, dict)
        }
        single = [chr(65 + place) for place in range(26)]
        letter = next(one for one in single + [f"A{one}" for one in single] if one not in taken)
        return self._add("/fields", word, [*self.shot.fields], len(self.shot.fields), {"letter": letter} | field)

    def add_part(self, word: str) -> str:
        """Add a part to the recipe; its id."""
        parts = self.shape.recipe.parts
        return self._add(f"/items/{self.item}/recipe/parts", word, [*parts], len(parts), {})

    def add_step(self, kind: str, step: dict[str, JsonValue]) -> str:
        """Add a step after those of the recipe; its id."""
        steps = self.shape.recipe.steps
        word = kind.replace("_", " ")
        return self._add(
            f"/items/{self.item}/recipe/steps", word, [*steps], self._next(steps.values()), {"kind": kind} | step, False
        )

    def _next(self, ranked: Iterable[object]) -> int:
        ranks = [float(getattr(one, "rank", 0)) for one in ranked]
        return int(max(ranks, default=-1)) + 1

    def _add(
        self, where: str, word: str, taken: list[str], rank: int, thing: dict[str, JsonValue], named: bool = True
    ) -> str:
        stem = word.lower().replace(" ", "-")
        here = [operation.path for operation in self.patch]
        number = 1
        while (key := stem if number == 1 else f"{stem}-{number}") in taken or f"{where}/{key}" in here:
            number += 1
        name: dict[str, JsonValue] = {"name": word if number == 1 else f"{word} {number}"} if named else {}
        rank += sum(path.startswith(f"{where}/") for path in here)
        self.patch.append(Operation(op="add", path=f"{where}/{key}", value=name | {"rank": rank} | thing))
        return key


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


def rounded(length: float) -> float:
    """A length of two digits."""
    return float(f"{length:.2g}")


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
    """A ready recipe. first: what to change first, once it is laid. lay: gathers its edit."""

    name: str
    says: str
    first: str
    lay: Callable[[Laying], None]
