"""Changes of a shot's time."""

from __future__ import annotations

from math import floor
from typing import Annotated, Literal, cast

from pydantic import Field, JsonValue

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.planned import Bounds, PlannedEdit
from windsock.core.document.items import Shape

MOST = 240_000


class ChangeRate(ChangeBase):
    """Change the frame rate; keys, range and opening frame keep their seconds, to whole frames where they have to be."""

    kind: Literal["change_rate"] = "change_rate"
    numerator: Annotated[int, Field(ge=1, le=MOST)]
    denominator: Annotated[int, Field(ge=1, le=MOST)] = 1

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        rate, frames = edit.shot.rate, edit.shot.frames
        factor = (self.numerator / self.denominator) * (rate.denominator / rate.numerator)
        plain = edit.shot.model_dump(mode="json")
        edit.put("/rate", {"numerator": self.numerator, "denominator": self.denominator})
        for name in ("items", "fields", "finishing"):
            if plain[name]:
                edit.put(f"/{name}", _at_rate(plain[name], factor))
        for item, shape in edit.shot.items.items():
            for step_id, step in shape.recipe.steps.items() if isinstance(shape, Shape) else ():
                for setting, value in step.at_rate(factor).items():
                    edit.put(f"/items/{item}/recipe/steps/{step_id}/{setting}", value)
        edit.put("/frames", {"first": _whole(frames.first * factor), "last": _whole((frames.last + 1) * factor) - 1})
        edit.put("/opening_frame", _whole(edit.shot.opening_frame * factor))
        edit.says = f"{self.numerator / self.denominator:g} frames a second"


def _at_rate(thing: JsonValue, factor: float) -> JsonValue:
    """Plain data with its keys at so many times their frames; a retime's values are frames too."""
    if not isinstance(thing, dict):
        return thing
    keys = _keys_of(thing)
    if keys is not None:
        return {"keys": {name: key | {"frame": cast(float, key["frame"]) * factor} for name, key in keys.items()}}
    made = {name: _at_rate(value, factor) for name, value in thing.items()}
    retime = made.get("retime")
    if isinstance(retime, dict):
        made["retime"] = {"frame": _valued(retime["frame"], factor)}
    return made


def _keys_of(thing: dict[str, JsonValue]) -> dict[str, dict[str, JsonValue]] | None:
    """The keys of a keyed parameter; None where it is something else, perhaps with a thing of that name in it."""
    keys = thing.get("keys")
    if len(thing) != 1 or not isinstance(keys, dict):
        return None
    keyed = all(isinstance(key, dict) and "frame" in key for key in keys.values())
    return cast(dict[str, dict[str, JsonValue]], keys) if keyed else None


def _whole(frame: float) -> int:
    """The nearest whole frame, the later one of two."""
    return floor(frame + 0.5)


def _valued(frame: JsonValue, factor: float) -> JsonValue:
    if not isinstance(frame, dict):
        return cast(float, frame) * factor
    keys = cast(dict[str, dict[str, JsonValue]], frame["keys"])
    return {"keys": {name: key | {"value": cast(float, key["value"]) * factor} for name, key in keys.items()}}
