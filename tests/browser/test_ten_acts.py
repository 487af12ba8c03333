"""The way of a new user with a model from outside: in, laid with a starter, played and out again, in ten acts."""

from __future__ import annotations

import json
import subprocess
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
import trimesh
from conftest import Client
from hands import Hands
from selenium.webdriver import Keys

from windsock.core.document.items import Camera, Shape
from windsock.core.document.shot import parse_shot
from windsock.core.geometry.placement import moved

FRONTEND = Path(__file__).parents[2] / "frontend"


def rabbit(folder: Path, size: float) -> tuple[Path, np.ndarray]:
    """The Stanford bunny (npm `bunny`) as an OBJ file, so many metres high, and its (n, 3) points standing on the ground."""
    told = subprocess.run(
        ["node", "-e", "console.log(JSON.stringify(require('bunny')))"], cwd=FRONTEND, capture_output=True, check=True
    )
    found = json.loads(told.stdout)
    points = np.array(found["positions"])
    points *= size / np.ptp(points[:, 1])
    mesh = trimesh.Trimesh(points, found["cells"], process=False)
    file = folder / "rabbit.obj"
    file.write_text(mesh.export(file_type="obj"))  # type: ignore[arg-type]
    low, high = points.min(axis=0), points.max(axis=0)
    return file, points - [(low[0] + high[0]) / 2, low[1], (low[2] + high[2]) / 2]


def filled(client: Client, shot_id: str, points: np.ndarray, frame: float) -> float:
    """The share of the picture's height that the imported shape's points span, by the pinhole camera; all must be in it."""
    shot = parse_shot(client.get(f"/api/shots/{shot_id}").json["document"])
    (item,) = (key for key, one in shot.items.items() if isinstance(one, Shape) and one.name == "rabbit")
    assert shot.camera is not None
    at, camera = shot.moment(frame), shot.items[shot.camera]
    assert isinstance(camera, Camera)
    seen = moved(moved(points, shot.placement(item, at)), np.linalg.inv(shot.placement(shot.camera, at)))
    up = seen[:, 1] / -seen[:, 2] / np.tan(np.radians(at(camera.angle)) / 2)
    across = (
        seen[:, 0] / -seen[:, 2] / np.tan(np.radians(at(camera.angle)) / 2) * shot.picture.height / shot.picture.width
    )
    assert seen[:, 2].max() < 0
    assert max(np.abs(up).max(), np.abs(across).max()) <= 1
    return float(np.ptp(up)) / 2


def by_pointer(hands: Hands, file: Path) -> list[Callable[[], None]]:
    return [
        lambda: hands.choose("Add…", "Import a file…"),
        lambda: hands.find('input[type="file"]').send_keys(str(file)),
        lambda: hands.press("Add to the shot"),
        lambda: hands.choose("Lay a starter", "Dissolve with flakes"),
        lambda: hands.press("Play"),
        lambda: hands.press("Pause"),
        lambda: hands.press("Export"),
        lambda: hands.press("This frame as a file"),
        lambda: hands.press("The picture as PNG"),
    ]


def by_keys(hands: Hands, file: Path) -> list[Callable[[], None]]:
    def press(name: str) -> None:
        hands.tab_to(name)
        hands.keys(Keys.ENTER)

    return [
        lambda: hands.do("import a file"),
        lambda: hands.find('input[type="file"]').send_keys(str(file)),
        lambda: press("Add to the shot"),
        lambda: hands.do("lay a starter: dissolve with flakes"),
        lambda: hands.do("play or stop"),
        lambda: hands.do("play or stop"),
        lambda: hands.do("export"),
        lambda: press("This frame as a file"),
        lambda: press("The picture as PNG"),
    ]


@pytest.mark.parametrize(("size", "ways"), [(0.1, by_pointer), (10.0, by_keys)], ids=["0.1 m", "10 m, by keys"])
def test_a_model_from_outside_is_seen_laid_played_and_taken_away_in_ten_acts(
    hands: Hands, client: Client, chrome, tmp_path: Path, size, ways
):
    chrome.execute_cdp_cmd("Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(tmp_path)})
    file, points = rabbit(tmp_path, size)
    hands.open("/")
    hands.press("New shot")
    hands.until(lambda: hands.frame_shown == 0)
    shot = hands.chrome.current_url.rsplit("/", 1)[-1]
    acts = ways(hands, file)
    assert len(acts) + 1 <= 10

    def taken(ending: str) -> Path | None:
        return next((one for one in tmp_path.glob(f"*.{ending}") if one.stat().st_size), None)

    until = [
        lambda: hands.find('input[type="file"]'),
        lambda: f"{size:.2f} m high" in hands.text(),
        lambda: hands.revision == 1,
        lambda: hands.revision == 2,
        lambda: hands.frame_shown > 3,
        lambda: "playing" not in hands.find('[aria-label="Tracks"]').text,
        lambda: "Take away" in hands.text(),
        lambda: taken("glb"),
        lambda: taken("png"),
    ]
    for number, (act, done) in enumerate(zip(acts, until, strict=True)):
        act()
        hands.until(done)
        if number >= 2:
            hands.saved(1)
            share = filled(client, shot, points, hands.frame_shown)
            assert 0.25 <= share <= 0.9, f"after act {number + 2} it fills {share:.2f} of the picture's height"
    scene = trimesh.load_scene(str(taken("glb")))
    assert any(len(geometry.faces) > 1000 for geometry in scene.geometry.values())  # type: ignore[union-attr]
    assert hands.complaints() == []
