"""Ready looks, laid where a look is."""

from __future__ import annotations

import pytest
from shots import cut_ball

from windsock.core.changing import Bounds, planned
from windsock.core.changing.looks import READY, LayLook
from windsock.core.document.patches import patched
from windsock.core.document.shot import parse_shot
from windsock.core.refusals import Refusal


def laid(document: dict, of: str, look: str) -> dict:
    shot = parse_shot(document)
    edit = planned(LayLook(of=of, look=look), shot)
    after = patched(shot.model_dump(mode="json"), edit.patch)
    parse_shot(after)
    return after  # pyright: ignore


@pytest.mark.parametrize("name", READY)
def test_each_is_laid_whole_and_backs_stay(name):
    document = cut_ball()
    document["items"]["ball"]["look"] = {"emission": 3.0, "backs": "hidden"}
    look = laid(document, "/items/ball/look", name)["items"]["ball"]["look"]
    # What is not measured is taken to be two metres large.
    assert look == READY[name].on(2.0).model_dump(mode="json") | {"backs": "hidden"}


def test_the_colour_of_the_inside_goes_by_the_size_of_what_it_is_laid_on():
    shot = parse_shot(cut_ball())
    laying = LayLook(of="/items/ball/look", look="sea-glass")
    assert laying.measured(shot) == "ball"
    assert LayLook(of="/name", look="sea-glass").measured(shot) is None

    def deep(size: float) -> float:
        edit = planned(laying, shot, Bounds((0, 0, 0), (size, size / 2, size / 3)))
        return edit.patch[0].value["attenuation_distance"]  # pyright: ignore

    assert deep(0.1) == pytest.approx(deep(10) / 100)
    assert deep(10) == pytest.approx(9)


def test_how_thick_a_sheet_is_stays():
    document = cut_ball()
    document["items"]["ball"]["look"] = {"thickness": 0.02}
    assert laid(document, "/items/ball/look", "clear-glass")["items"]["ball"]["look"]["thickness"] == 0.02


def test_looks_of_backs_and_copies_are_laid_too_and_what_is_no_look_is_not():
    document = cut_ball()
    document["items"]["ball"]["recipe"]["steps"]["cut"] |= {"backs": "second look"}
    after = laid(document, "/items/ball/recipe/steps/cut/back_look", "brass")
    assert after["items"]["ball"]["recipe"]["steps"]["cut"]["back_look"]["metallic"] == 1
    for of, look, words in (("/items/ball", "brass", "no look here"), ("/items/ball/look", "gold", "no look “gold”")):
        with pytest.raises(Refusal, match=words):
            planned(LayLook(of=of, look=look), parse_shot(document))
