"""What is sent of a frame is what the published description says, neither more nor less."""

from __future__ import annotations

import json

import pytest
from pydantic import TypeAdapter
from shots import Files, cut_ball

from windsock.core.document.shot import parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.frame import Evaluator, Heat
from windsock.core.evaluate.keeping import Keeper
from windsock.demo.loading import SHOTS
from windsock.evaluator.bundle import Bundler
from windsock.protocol.manifest import FrameManifest

MANIFEST = TypeAdapter(FrameManifest)


def sent(document: dict, frame: float) -> dict:
    shot = parse_shot(document)
    evaluator = Evaluator(Files(), Keeper(Cache(2**29)))
    field, item = next(iter(shot.fields)), next(key for key, one in shot.items.items() if one.kind == "shape")
    made = evaluator.frame(shot, frame, heat=Heat(field, item))
    length, text, *_ = Bundler(Cache(2**28)).bundle(shot, made, set())
    assert int.from_bytes(length, "little") == len(text)
    return json.loads(bytes(text))


def as_sent(told: object) -> object:
    return json.loads(json.dumps(told))


@pytest.mark.parametrize("name", ["the-sock-itself", "sign-off", "beacon-sweep"])
def test_frames_of_demo_shots_are_sent_as_described(name):
    manifest = sent(SHOTS[name](), 40)
    assert as_sent(MANIFEST.validate_python(manifest)) == manifest


def test_what_is_sent_names_the_nodes_that_cost_something():
    costs = sent(cut_ball(), 3)["costs"]
    step = next(cost for cost in costs if cost["sort"] == "step")
    assert (step["item"], step["step"], step["kind"]) == ("ball", "cut", "immediate")
    field = next(cost for cost in costs if cost["sort"] == "field")
    assert (field["item"], field["field"]) == ("ball", "front")


def test_a_wrong_manifest_is_told_from_a_right_one():
    manifest = sent(cut_ball(), 3)
    assert as_sent(MANIFEST.validate_python(manifest | {"more": 1})) != manifest | {"more": 1}
    del manifest["items"][0]["arrays"]["points"]
    with pytest.raises(ValueError, match="points"):
        MANIFEST.validate_python(manifest)


def test_what_lets_light_through_says_how_far_light_goes_inside():
    """A body what it is in the mean (four thirds of a ball's radius, Cauchy), a sheet what its look says; in its own space."""
    document = cut_ball()
    ball = document["items"]["ball"]
    ball["recipe"]["steps"] = {}
    assert sent(document, 0)["items"][0]["thickness"] == 0
    ball |= {"look": {"transmission": 0.5, "thickness": 0.02}, "scale": [2, 2, 2]}
    assert sent(document, 0)["items"][0]["thickness"] == pytest.approx(4 / 3, rel=0.01)
    ball["geometry"] = {"kind": "plane", "width": 2, "depth": 2}
    assert sent(document, 0)["items"][0]["thickness"] == pytest.approx(0.01)
