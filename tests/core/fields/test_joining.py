"""The joining words. Sources: Zadeh 1965 for and, or, not; W3C Compositing and Blending Level 1, section 9.1."""

from __future__ import annotations

from typing import get_args

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from windsock.core.fields.joining import Word, joined

VALUES = np.linspace(0, 1, 21)
BEFORE, VALUE = (grid.ravel() for grid in np.meshgrid(VALUES, VALUES))


def multiply(backdrop, source):
    return backdrop * source


def screen(backdrop, source):
    return backdrop + source - backdrop * source


def hard_light(backdrop, source):
    return multiply(backdrop, 2 * source) if source <= 0.5 else screen(backdrop, 2 * source - 1)


def overlay(backdrop, source):
    """The specification: B(cb, cs) = HardLight(cs, cb)."""
    return hard_light(source, backdrop)


EXPECTED = {
    "and": min,
    "or": max,
    "times": multiply,
    "plus": lambda b, v: b + v,
    "less": lambda b, v: b - v,
    "except": lambda b, v: b * (1 - v),
    "mixed with": lambda b, v: (b + v) / 2,
    "roughened by": overlay,
    "lifted by": screen,
    "apart from": lambda b, v: abs(b - v),
}


@pytest.mark.parametrize("word", get_args(Word))
def test_each_word_is_its_formula(word):
    expected = [EXPECTED[word](b, v) for b, v in zip(BEFORE, VALUE, strict=True)]
    np.testing.assert_allclose(joined(word, BEFORE, VALUE), expected, atol=1e-12)


@pytest.mark.parametrize("word", ["and", "or", "times", "plus", "mixed with", "lifted by", "apart from"])
def test_words_that_commute_do(word):
    np.testing.assert_allclose(joined(word, BEFORE, VALUE), joined(word, VALUE, BEFORE), atol=1e-15)


@pytest.mark.parametrize(
    ("word", "neutral"),
    [
        ("and", 1),
        ("or", 0),
        ("times", 1),
        ("plus", 0),
        ("less", 0),
        ("except", 0),
        ("lifted by", 0),
        ("apart from", 0),
        ("roughened by", 0.5),
    ],
)
def test_the_neutral_value_changes_nothing(word, neutral):
    np.testing.assert_allclose(joined(word, VALUES, np.full_like(VALUES, neutral)), VALUES, atol=1e-12)


@given(st.floats(0, 1), st.floats(0, 1))
def test_de_morgan(one, other):
    b, v = np.array([one]), np.array([other])
    np.testing.assert_allclose(1 - joined("and", b, v), joined("or", 1 - b, 1 - v))


@given(st.floats(0, 1))
def test_roughening_leaves_0_and_1(value):
    v = np.array([value])
    assert joined("roughened by", np.zeros(1), v)[0] == 0
    assert joined("roughened by", np.ones(1), v)[0] == 1
