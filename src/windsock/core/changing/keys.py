"""Values given to parameters, and keys set and taken away."""

from __future__ import annotations

import json
from typing import Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import JsonValue, TypeAdapter, ValidationError

from windsock.core.changing.change import ChangeBase
from windsock.core.changing.order import Pointer
from windsock.core.changing.planned import Bounds, PlannedEdit, Slot
from windsock.core.declarations import Id
from windsock.core.refusals import Refusal
from windsock.core.timing.parameter import Finite, KeyedNumber, KeyedVector, Vector

NEAR = 1e-6
"""Frames within which a key stands on a frame."""

DIGITS = 5

Value = Finite | Vector
KEYED: TypeAdapter[KeyedNumber | KeyedVector] = TypeAdapter(KeyedNumber | KeyedVector)


class SetValue(ChangeBase):
    """Give a parameter a value at the frame. A keyed one gets a key there, or all of its keys are moved alike."""

    kind: Literal["set_value"] = "set_value"
    at: Pointer
    value: Value | None = None
    whole_curve: bool = False

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        given = give_value(edit, self.at, self.value, self.whole_curve)
        edit.says = f"{_spoken(self.at)} {_in_words(given)}"


class SetKey(ChangeBase):
    """Key a parameter at the frame, with the value that it has there; a constant becomes keyed."""

    kind: Literal["set_key"] = "set_key"
    at: Pointer

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        keyed, now = parameter_at(edit, self.at)
        edit.says = f"key of {_spoken(self.at)} at {edit.at_frame:g}"
        if keyed is None:
            edit.put(self.at, {"keys": {"k1": _key(edit.at_frame, now)}})
        else:
            _set_key(edit, self.at, keyed, now)


class RemoveKey(ChangeBase):
    """Take a key away; without its last key a parameter is constant, and as it was there."""

    kind: Literal["remove_key"] = "remove_key"
    at: Pointer
    key: Id

    def plan(self, edit: PlannedEdit, bounds: Bounds) -> None:
        del bounds
        keyed, _ = parameter_at(edit, self.at)
        if keyed is None or self.key not in keyed.keys:
            raise Refusal("The key is no longer there. Nothing was changed. Look at the shot as it is now.")
        edit.says = f"no key of {_spoken(self.at)} at {keyed.keys[self.key].frame:g}"
        if len(keyed.keys) == 1:
            edit.put(self.at, _plain(keyed.keys[self.key].value))
        else:
            edit.remove(f"{self.at}/keys/{self.key}")


def give_value(edit: PlannedEdit, at: str, value: Value | None, whole_curve: bool = False) -> Value:
    """Give the parameter at a JSON Pointer a value at the frame, that which it has where there is none; the value."""
    keyed, now = parameter_at(edit, at)
    given = now if value is None else value
    if len(_parts(given)) != len(_parts(now)):
        raise Refusal(f"This value takes {len(_parts(now))} numbers. Nothing was changed. Give as many.")
    if keyed is None:
        _put(edit, at, given)
    elif whole_curve:
        for key, one in keyed.keys.items():
            apart = tuple(own - number for own, number in zip(_parts(one.value), _parts(now), strict=True))
            _put(edit, f"{at}/keys/{key}/value", _moved(given, apart), apart)
    else:
        _set_key(edit, at, keyed, given)
    return given


def parameter_at(edit: PlannedEdit, at: str) -> tuple[KeyedNumber | KeyedVector | None, float | Vector]:
    """The keys of the parameter at a JSON Pointer, None for a constant, and what it is at the frame. Raises Refusal where
    there is no parameter."""
    plain = edit.at(at)
    moment = edit.shot.moment(edit.at_frame)
    if isinstance(plain, dict):
        try:
            keyed = KEYED.validate_json(json.dumps(plain))
        except ValidationError:
            raise Refusal("This is not a value that can be set or keyed. Nothing was changed. Choose one.") from None
        return keyed, moment(keyed)
    if isinstance(plain, bool) or not isinstance(plain, (int, float, list)):
        raise Refusal("This is not a value that can be set or keyed. Nothing was changed. Choose one.")
    return None, cast(Vector, tuple(cast(list[float], plain))) if isinstance(plain, list) else plain


def move_parameter(
    edit: PlannedEdit, at: str, by: Vector, linear: NDArray[np.float64] | None, whole_curve: bool
) -> None:
    """Add to the vector at a JSON Pointer what a (3, 3) matrix makes of `by`, or without one multiply each of its numbers by
    that. A keyed one gets a key at the frame, or all its keys are moved alike."""
    keyed, now = parameter_at(edit, at)
    if keyed is None:
        _move(edit, at, now, by, linear)
    elif whole_curve:
        for key, one in keyed.keys.items():
            _move(edit, f"{at}/keys/{key}/value", one.value, by, linear)
    else:
        there = key_on(keyed, edit.at_frame)
        if there is None:
            _move(edit, at, now, by, linear, keyed)
        else:
            _move(edit, f"{at}/keys/{there}/value", now, by, linear)


def _move(
    edit: PlannedEdit,
    at: str,
    own: float | Vector,
    by: Vector,
    linear: NDArray[np.float64] | None,
    keyed: KeyedNumber | KeyedVector | None = None,
) -> None:
    """Move the value at a JSON Pointer; a keyed one there gets a key."""
    numbers = np.array(_parts(own), dtype=np.float64)
    times = np.diag(numbers) if linear is None else linear
    plus = np.zeros(3) if linear is None else numbers
    moved = times @ np.array(by) + plus
    rounded: Vector = (float(moved[0].round(DIGITS)), float(moved[1].round(DIGITS)), float(moved[2].round(DIGITS)))
    within = "" if keyed is None else "/value"
    edit.slots.append(Slot(len(edit.patch), within, tuple(plus.tolist()), tuple(map(tuple, times.tolist()))))
    if keyed is None:
        edit.put(at, _plain(rounded))
    else:
        edit.add(f"{at}/keys", "k", keyed.keys, _key(edit.at_frame, rounded))


def key_on(keyed: KeyedNumber | KeyedVector, frame: float) -> str | None:
    """The id of the key that stands on a frame, None where none does."""
    return next((key for key, one in keyed.keys.items() if abs(one.frame - frame) < NEAR), None)


def _set_key(edit: PlannedEdit, at: str, keyed: KeyedNumber | KeyedVector, value: float | Vector) -> None:
    there = key_on(keyed, edit.at_frame)
    if there is not None:
        _put(edit, f"{at}/keys/{there}/value", value)
        return
    edit.slots.append(Slot(len(edit.patch), "/value", tuple(0.0 for _ in _parts(value))))
    edit.add(f"{at}/keys", "k", keyed.keys, _key(edit.at_frame, value))


def _put(edit: PlannedEdit, at: str, value: float | Vector, plus: tuple[float, ...] | None = None) -> None:
    edit.slots.append(Slot(len(edit.patch), "", plus or tuple(0.0 for _ in _parts(value))))
    edit.put(at, _plain(value))


def _key(frame: float, value: float | Vector) -> JsonValue:
    return {"frame": frame, "value": _plain(value), "easing": {"kind": "ease"}}


def _plain(value: float | Vector) -> JsonValue:
    return [*value] if isinstance(value, tuple) else value


def _parts(value: float | Vector) -> tuple[float, ...]:
    return value if isinstance(value, tuple) else (value,)


def _moved(value: float | Vector, apart: tuple[float, ...]) -> float | Vector:
    moved = tuple(number + by for number, by in zip(_parts(value), apart, strict=True))
    return cast(Vector, moved) if isinstance(value, tuple) else moved[0]


def _spoken(at: str) -> str:
    return at.rpartition("/")[2].replace("_", " ")


def _in_words(value: float | Vector) -> str:
    return ", ".join(f"{number:.4g}" for number in _parts(value))
