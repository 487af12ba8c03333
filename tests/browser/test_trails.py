"""A trail as a designer makes it: the step is added to what moves, and what it is the way of is chosen."""

from __future__ import annotations

from conftest import Client
from hands import Hands, apart

from windsock.demo.blank import blank_shot


def test_what_moves_leaves_its_way_and_what_stands_still_is_told(hands: Hands, client: Client):
    document: dict = blank_shot("Trails")  # type: ignore[assignment]
    keys = {"a": {"frame": 0, "value": [-1.2, 1, 0]}, "b": {"frame": 40, "value": [1.2, 1, 0]}}
    document["items"]["ball"] |= {"place": {"keys": keys}, "geometry": {"kind": "sphere", "radius": 0.3}}
    shot = client.new_shot(document)
    hands.open(f"/shots/{shot}")
    hands.item("Ball")
    hands.go_to(40)
    bare = hands.still_picture()
    hands.choose("Add a step", "Trail")
    hands.saved(1)
    points = hands.until(lambda: apart(now := hands.still_picture(), bare) > 0.05 and now)
    hands.press("Of")
    hands.press("of the whole", "option")
    hands.saved(2)
    hands.until(lambda: hands.still_picture() != points)
    recipe = client.get(f"/api/shots/{shot}").json["document"]["items"]["ball"]["recipe"]
    (step,) = recipe["steps"].values()
    assert (step["kind"], step["of"], step["makes"] in recipe["parts"]) == ("trail", "whole", True)
    assert hands.complaints() == []
