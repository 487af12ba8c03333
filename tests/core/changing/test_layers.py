"""Layers: what a change of them does to a shot."""

from __future__ import annotations

import pytest
from shots import cut_ball

from windsock.core.changing import planned
from windsock.core.changing.layers import AddLayer, PictureInLayer, RemoveLayer
from windsock.core.changing.removing import RemoveItem
from windsock.core.document.patches import patched
from windsock.core.document.shot import BadDocument, parse_shot
from windsock.core.refusals import Refusal


def done(document: dict, change) -> dict:
    shot = parse_shot(document)
    after = patched(shot.model_dump(mode="json"), planned(change, shot).patch)
    parse_shot(after)
    return after  # pyright: ignore


def roles(document: dict) -> dict[str, str]:
    shot = parse_shot(document)
    return {key: shot.role_of(key) for key in shot.items}


def test_a_layer_is_added_pictured_changed_and_removed():
    document = done(cut_ball(), AddLayer(items=["ball", "ball"]))
    assert document["pictured"] == "layer"
    assert roles(document) == {"ball": "shown"} | dict.fromkeys(set(document["items"]) - {"ball"}, "unseen")
    other = next(key for key in document["items"] if key != "ball")
    document = done(document, PictureInLayer(layer="layer", item=other, role="held_out"))
    document = done(document, PictureInLayer(layer="layer", item="ball", role="glow_only"))
    told = document["layers"]["layer"]["items"]
    assert {key: one["role"] for key, one in told.items()} == {"ball": "glow_only", other: "held_out"}
    assert told["ball"]["rank"] < told[other]["rank"]
    document = done(document, PictureInLayer(layer="layer", item=other, role=None))
    assert list(document["layers"]["layer"]["items"]) == ["ball"]
    second = done(document, AddLayer(items=[]))
    assert second["pictured"] == "layer-2"
    assert done(second, RemoveLayer(layer="layer"))["pictured"] == "layer-2"
    gone = done(second, RemoveLayer(layer="layer-2"))
    assert gone["pictured"] is None
    assert set(roles(gone).values()) == {"shown"}


def test_what_is_removed_leaves_its_layers_and_that_is_said():
    document = done(cut_ball(), AddLayer(items=["ball"]))
    edit = planned(RemoveItem(item="ball"), parse_shot(document))
    assert "the layer Layer" in (edit.warning or "")
    assert done(document, RemoveItem(item="ball"))["layers"]["layer"]["items"] == {}


def test_what_is_not_there_is_refused():
    document = cut_ball()
    with pytest.raises(Refusal, match="no longer in the shot"):
        planned(PictureInLayer(layer="none", item="ball", role=None), parse_shot(document))
    with pytest.raises(Refusal, match="no longer in the shot"):
        planned(AddLayer(items=["none"]), parse_shot(document))
    with pytest.raises(BadDocument, match="pictures show the layer “fore”"):
        parse_shot(document | {"pictured": "fore"})
    layer = {"name": "Fore", "rank": 0, "items": {"none": {}}}
    with pytest.raises(BadDocument, match="the layer Fore has “none”"):
        parse_shot(document | {"layers": {"fore": layer}})
