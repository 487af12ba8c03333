"""Tracks and rings as a designer makes them: a step is added, shapes are chosen for it, and the mover is dragged."""

from __future__ import annotations

from conftest import Client
from hands import Hands

from windsock.demo.blank import blank_shot


def sand(client: Client) -> str:
    """A new shot with a sheet, and a ball that goes along it, half sunk in; its id."""
    document: dict = blank_shot("Sand")  # type: ignore[assignment]
    keys = {"a": {"frame": 0, "value": [-0.8, 0.15, 0]}, "b": {"frame": 40, "value": [0.8, 0.15, 0]}}
    document["items"]["ball"] |= {"place": {"keys": keys}, "geometry": {"kind": "sphere", "radius": 0.3}}
    document["items"]["sheet"] = {
        "kind": "shape", "name": "Sheet", "rank": -1,
        "geometry": {"kind": "plane", "width": 3.0, "depth": 2.0, "columns": 6, "rows": 4},
    }  # fmt: skip
    return client.new_shot(document)


def steps_of(client: Client, shot: str) -> list[dict]:
    return list(client.get(f"/api/shots/{shot}").json["document"]["items"]["sheet"]["recipe"]["steps"].values())


def test_a_track_is_laid_by_a_group_made_on_the_way_and_laid_again_where_the_ball_is_dragged(
    hands: Hands, client: Client
):
    shot = sand(client)
    hands.open(f"/shots/{shot}")
    hands.item("Sheet")
    hands.choose("Add a step", "Imprint")
    hands.saved(1)
    assert [step["kind"] for step in steps_of(client, shot)] == ["imprint"]
    # What it lacks is said; a group is made on the way.
    hands.go_to(40)
    smooth = hands.still_picture()
    hands.press("Group")
    hands.press("a new group", "option")
    hands.saved(2)
    group = steps_of(client, shot)[0]["group"]
    members = client.get(f"/api/shots/{shot}").json["document"]["groups"][group]["members"]
    if "ball" not in members:
        hands.choose("Shapes of the group", "With Ball")
        hands.saved(3)
    hands.until(lambda: hands.picture() != smooth)
    pressed = hands.still_picture()
    hands.item("Ball")
    hands.drag(hands.find('[data-handle="Z"]'), 20, 30)
    hands.until(lambda: hands.picture() != pressed)
    assert hands.complaints() == []
