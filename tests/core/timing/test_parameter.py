"""Parameters over time."""

from __future__ import annotations

import pytest

from windsock.core.timing.easing import Hold, Linear
from windsock.core.timing.parameter import KeyedNumber, KeyedVector, Moment, NumberKey, VectorKey


def moment(frame: float) -> Moment:
    return Moment(frame=frame, seconds=frame / 24)


def keyed(*keys: tuple[float, float, object]) -> KeyedNumber:
    return KeyedNumber(keys={f"k{i}": NumberKey(frame=f, value=v, easing=e) for i, (f, v, e) in enumerate(keys)})


def test_a_constant_is_the_same_at_any_time():
    assert moment(-5)(0.25) == moment(1000)(0.25) == 0.25


def test_before_the_first_and_after_the_last_key_the_value_stays():
    value = keyed((10, 1.0, Linear()), (20, 3.0, Linear()))
    assert [moment(frame)(value) for frame in (0, 10, 15, 20, 99)] == [1.0, 1.0, 2.0, 3.0, 3.0]


def test_keys_count_by_frame_and_not_by_id():
    value = keyed((20, 3.0, Linear()), (10, 1.0, Linear()))
    assert moment(12.5)(value) == pytest.approx(1.5)


def test_a_held_value_stays_until_the_very_next_key():
    value = keyed((0, 1.0, Hold()), (10, 5.0, Hold()))
    assert moment(9.999)(value) == 1.0
    assert moment(10)(value) == 5.0


def test_the_components_of_a_vector_share_the_easing():
    value = KeyedVector(
        keys={
            "a": VectorKey(frame=0, value=(0.0, 10.0, -1.0), easing=Linear()),
            "b": VectorKey(frame=4, value=(4.0, 0.0, -1.0)),
        }
    )
    assert moment(1)(value) == pytest.approx((1.0, 7.5, -1.0))


def test_two_keys_on_one_frame_are_refused():
    with pytest.raises(ValueError, match="same frame"):
        keyed((3, 1.0, Linear()), (3, 2.0, Linear()))


def test_what_is_hashed_is_what_the_parameter_is_now():
    value = keyed((0, 0.0, Linear()), (10, 1.0, Linear()))
    assert moment(5).resolved({"level": value, "name": "x"}) == {"level": 0.5, "name": "x"}
