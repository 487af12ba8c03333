"""Patches and their inverses."""

from __future__ import annotations

import copy
import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shots import cut_ball

from windsock.core.document.patches import BadPatch, Operation, difference, inverse, patched, touches
from windsock.core.document.shot import parse_shot

DOCUMENT = parse_shot(cut_ball()).model_dump(mode="json")
PATHS = [
    "/name",
    "/fields/front/level",
    "/fields/front",
    "/items/ball/look/opacity",
    "/items/ball",
    "/fields/new",
    "/items/ball/recipe/steps/cut",
    "/fields/front/sources/more",
]
OPERATIONS = st.builds(
    lambda op, path, value: Operation(op=op, path=path, value=value),
    st.sampled_from(["add", "replace", "remove"]),
    st.sampled_from(PATHS),
    st.one_of(st.floats(0, 1), st.text(max_size=4), st.dictionaries(st.sampled_from("abc"), st.integers(), max_size=2)),
)


@settings(max_examples=200, deadline=None)
@given(st.lists(st.lists(OPERATIONS, min_size=1, max_size=3), max_size=6))
def test_any_edits_undone_in_turn_give_the_first_document(edits):
    state = copy.deepcopy(DOCUMENT)
    undo = []
    for patch in edits:
        try:
            back = inverse(state, patch)
            after = patched(state, patch)
        except BadPatch:
            continue
        undo.append(back)
        state = after
    for back in reversed(undo):
        state = patched(state, back)
    assert json.dumps(state, sort_keys=True) == json.dumps(DOCUMENT, sort_keys=True)


def test_a_patch_leaves_the_old_document_alone():
    before = copy.deepcopy(DOCUMENT)
    patched(DOCUMENT, [Operation(op="replace", path="/name", value="Other")])
    assert before == DOCUMENT


@pytest.mark.parametrize(
    ("op", "path"),
    [("replace", "/nothing"), ("remove", "/fields/none"), ("add", "/no/where"), ("replace", "/items/ball/place/0")],
)
def test_what_does_not_fit_is_refused(op, path):
    patch = [Operation(op=op, path=path, value=1)]
    with pytest.raises(BadPatch, match="Nothing was changed"):
        inverse(DOCUMENT, patch)


def test_pointers_that_concern_the_same_value():
    assert touches("/a/b", "/a/b")
    assert touches("/a", "/a/b")
    assert touches("/a/b/c", "/a/b")
    assert not touches("/a/b", "/a/bc")


DOCUMENTS = st.recursive(
    st.one_of(
        st.none(),
        st.booleans(),
        st.integers(-3, 3),
        st.text("ab/~", max_size=3),
        st.lists(st.integers(0, 2), max_size=3),
    ),
    lambda inner: st.dictionaries(st.text("ab/~", min_size=1, max_size=3), inner, max_size=4),
    max_leaves=12,
)


@settings(max_examples=200, deadline=None)
@given(st.dictionaries(st.sampled_from("xyz"), DOCUMENTS), st.dictionaries(st.sampled_from("xyz"), DOCUMENTS))
def test_a_difference_takes_one_document_to_the_other_and_its_inverse_back(before, after):
    patch = difference(before, after)
    there = patched(before, patch) if patch else before
    assert json.dumps(there, sort_keys=True) == json.dumps(after, sort_keys=True)
    assert (patch == []) == (json.dumps(before, sort_keys=True) == json.dumps(after, sort_keys=True))
    if patch:
        assert json.dumps(patched(there, inverse(before, patch)), sort_keys=True) == json.dumps(before, sort_keys=True)


def test_a_difference_of_very_many_values_goes_by_branches():
    before = {"items": {f"i{one}": {"x": 0, "y": 0} for one in range(300)}, "name": "a"}
    after = {"items": {f"i{one}": {"x": 1, "y": 1} for one in range(300)}, "name": "a"}
    patch = difference(before, after)  # type: ignore[arg-type]
    assert [operation.path for operation in patch] == ["/items"]
    assert patched(before, patch) == after  # type: ignore[arg-type]
