"""A coat, a cut and a skin as a designer makes them: each step is added, what it does is chosen, and the picture follows."""

from __future__ import annotations

from conftest import Client
from hands import Hands, apart

from windsock.demo.blank import blank_shot


def recipe_of(client: Client, shot: str) -> dict:
    return client.get(f"/api/shots/{shot}").json["document"]["items"]["ball"]["recipe"]


def test_a_coat_spreads_and_takes_away_what_is_beneath(hands: Hands, client: Client):
    shot = client.new_shot(blank_shot("Coated"))
    hands.open(f"/shots/{shot}")
    hands.item("Ball")
    bare = hands.still_picture()
    hands.choose("Add a step", "Coat")
    hands.saved(1)
    hands.until(lambda: "once" in hands.text())
    hands.go_to(60)
    some = hands.until(lambda: apart(now := hands.still_picture(), bare) > 0.5 and now)
    hands.press("By")
    hands.press("by a share", "option")
    hands.saved(2)
    recipe = recipe_of(client, shot)
    (key,) = recipe["steps"]
    hands.type_value(f"/items/ball/recipe/steps/{key}/share", "1")
    hands.saved(3)
    hands.until(lambda: apart(hands.still_picture(), some) > 0.5)
    hands.press("More of the step")
    hands.press("Beneath")
    hands.press("is taken away", "option")
    hands.saved(4)
    recipe = recipe_of(client, shot)
    step = recipe["steps"][key]
    assert (step["kind"], step["by"], step["beneath"], step["makes"] in recipe["parts"]) == (
        "coat",
        "share",
        "gone",
        True,
    )
    assert hands.complaints() == []


def test_a_slice_takes_a_slab_and_keeps_its_cap_with_the_shape(hands: Hands, client: Client):
    shot = client.new_shot(blank_shot("Sliced"))
    hands.open(f"/shots/{shot}")
    hands.item("Ball")
    whole = hands.still_picture()
    hands.choose("Add a step", "Slice")
    hands.saved(1)
    sliced = hands.until(lambda: apart(now := hands.still_picture(), whole) > 0.2 and now)
    hands.press("Takes")
    hands.press("all but what is within", "option")
    hands.saved(2)
    hands.until(lambda: apart(hands.still_picture(), sliced) > 0.5)
    hands.press("More of the step")
    hands.press("The cap is")
    hands.press("one with the shape", "option")
    hands.saved(3)
    (step,) = recipe_of(client, shot)["steps"].values()
    assert (step["kind"], step["zone"], step["makes"]) == ("slice", "outside", None)
    assert hands.complaints() == []


def test_a_skin_is_laid_over_a_shape(hands: Hands, client: Client):
    shot = client.new_shot(blank_shot("Melded"))
    hands.open(f"/shots/{shot}")
    hands.item("Ball")
    bare = hands.still_picture()
    hands.choose("Add a step", "Meld")
    hands.saved(1)
    hands.until(lambda: apart(hands.still_picture(), bare) > 0.2)
    (step,) = recipe_of(client, shot)["steps"].values()
    assert step["kind"] == "meld"
    assert hands.complaints() == []
