"""Looks kept in the project by hand, and laid in another of its shots."""

from __future__ import annotations

from conftest import Client
from hands import Hands
from selenium.webdriver import Keys
from test_closer import red_ball


def test_a_look_is_kept_in_one_shot_and_laid_in_another(hands: Hands, client: Client):
    project = client.post("/api/projects", {"name": "Looks"}).json["id"]
    bright, plain = red_ball(), red_ball()
    bright["items"]["ball"]["look"] = {"base_colour": "#226644", "roughness": 0.15, "emission": 2.0}
    one, other = (
        client.post(f"/api/projects/{project}/shots", {"document": document}).json["id"] for document in (bright, plain)
    )
    hands.open(f"/shots/{one}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("Ball")
    hands.press("Keep it: this look, in the project")
    hands.until(lambda: hands.focused == "Name of the look")
    hands.keys(*"Buoy lamp", Keys.ENTER)
    hands.until(lambda: len(client.get(f"/api/projects/{project}/looks").json["looks"]) == 1)
    hands.open(f"/shots/{other}")
    hands.until(lambda: hands.frame_shown == 0)
    hands.item("Ball")
    hands.choose("A look", "Buoy lamp")
    hands.saved(1)
    laid = client.get(f"/api/shots/{other}").json["document"]["items"]["ball"]["look"]
    assert (laid["base_colour"], laid["roughness"], laid["emission"]) == ("#226644", 0.15, 2.0)
    hands.press("Keep it: this look, in the project")
    hands.press("Let go of the look Buoy lamp")
    hands.until(lambda: client.get(f"/api/projects/{project}/looks").json["looks"] == [])
    assert hands.complaints() == []
