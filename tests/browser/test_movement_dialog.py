"""Movement from a file in the page: chosen, fitted, laid on an item, and taken back."""

from __future__ import annotations

from conftest import Client
from hands import Hands
from selenium.webdriver.common.by import By

TABLE = "frame,x,y,z,turn x,turn y,turn z\n" + "".join(
    f"{frame},{frame / 40},0,{(frame - 40) ** 2 / 4000},0,{3 * frame},0\n" for frame in range(81)
)


def place(client: Client, shot: str) -> object:
    return client.get(f"/api/shots/{shot}").json["document"]["items"]["sock"]["place"]


def test_an_item_moves_as_a_file_says(hands: Hands, client: Client, sock: str, tmp_path):
    file = tmp_path / "gust.csv"
    file.write_text(TABLE)
    hands.open(f"/shots/{sock}")
    hands.until(lambda: hands.frame_shown == 36)
    hands.item("Sock")
    hands.open_card("/items/sock/geometry")
    hands.press("Place, turn, stretch, carrier")
    hands.press("a file says")
    before = place(client, sock)
    hands.find('[role="dialog"] input[type="file"]').send_keys(str(file))
    hands.until(lambda: "goes on for 80 frames, from frame" in hands.text())
    fine = hands.chrome.find_element(By.CSS_SELECTOR, '[role="dialog"] li').text
    hands.press("1 mm and 0.1°")
    hands.press("1 cm and 1°", "option")
    hands.until(lambda: hands.chrome.find_element(By.CSS_SELECTOR, '[role="dialog"] li').text != fine)
    hands.chrome.find_element(By.XPATH, "//label[contains(., 'It turns as well')]").click()
    hands.until(lambda: "how it is turned" not in hands.text())
    hands.press("Give it this movement")
    hands.until(lambda: "moves as gust.csv says" in hands.text())
    keys = hands.until(lambda: isinstance(laid := place(client, sock), dict) and laid)["keys"].values()
    assert [min(key["frame"] for key in keys), max(key["frame"] for key in keys)] == [0, 80]
    assert 3 <= len(keys) < 30
    hands.press("Undo\n: movement from gust.csv")
    hands.until(lambda: place(client, sock) == before)
