"""Killed with -9 at random again and again, some at once: no saved edit lost, no job lost or doubled, no half file."""

from __future__ import annotations

import io
import os
import random
import secrets
import threading
import time
import zipfile

from conftest import VICTIMS, Client, kill, make_reachable, recover, start_stack
from shots import cut_ball

KILLS = int(os.environ.get("WINDSOCK_KILLS", "14"))
"""A long run sets WINDSOCK_KILLS to a hundred."""


class Hand:
    """Edits a shot on and on, and knows the last value that was answered as saved."""

    def __init__(self, client: Client, shot: str) -> None:
        self.client, self.shot = client, shot
        self.revision, self.answered = 0, 0.5
        self.ended = threading.Event()
        self.thread = threading.Thread(target=self.work)
        self.thread.start()

    def work(self) -> None:
        rng = random.Random(9)
        while not self.ended.is_set():
            value, key = round(rng.random(), 6), secrets.token_hex(8)
            while not self.ended.is_set():
                try:
                    answer = self.client.edit(self.shot, self.revision, "/fields/front/level", value, key=key)
                except OSError:
                    time.sleep(0.05)
                    continue
                if answer.status == 200:
                    self.revision, self.answered = answer.json["revision"], value
                    break
                assert answer.status in (503, 500), answer.body
                time.sleep(0.05)


def patiently(ask, seconds: float = 180.0):
    deadline = time.monotonic() + seconds
    while True:
        try:
            found = ask()
            if found is not None:
                return found
        except OSError:
            pass
        assert time.monotonic() < deadline, "it did not come back in time"
        time.sleep(0.1)


def test_kills_at_random(tmp_path_factory):
    folder = tmp_path_factory.mktemp("kills")
    make_reachable(folder)
    stack = start_stack(folder)
    client = Client(stack.address)
    rng = random.Random(20)
    hand = Hand(client, client.new_shot(cut_ball()))
    exported = client.new_shot(cut_ball())
    begun: dict[str, str] = {}
    try:
        killed = turn = 0
        while killed < KILLS:
            turn += 1
            if turn % 4 == 1:
                key = secrets.token_hex(8)
                wish = {"key": key, "revision": 0, "format": "ply", "first": 0, "last": 60}
                for _ in range(2):
                    answer = patiently(lambda wish=wish: ok(client.post(f"/api/shots/{exported}/exports", wish)))
                    assert begun.setdefault(key, answer["id"]) == answer["id"]
            time.sleep(rng.random() * 0.4)
            for victim in rng.sample(VICTIMS, rng.randint(2, 4)):
                kill(stack, victim)
                killed += 1
            recover(stack)
            if turn % 3 == 0:
                wish = {"revision": 0, "frame": float(turn)}
                patiently(lambda wish=wish: client.post(f"/api/shots/{exported}/frame", wish).status == 200 or None)
        hand.ended.set()
        hand.thread.join()
        state = patiently(lambda: ok(client.get(f"/api/shots/{hand.shot}")))
        # One more may have been kept whose answer did not arrive.
        assert state["revision"] in (hand.revision, hand.revision + 1)
        if state["revision"] == hand.revision:
            assert state["document"]["fields"]["front"]["level"] == hand.answered
        assert hand.revision > KILLS

        def all_done() -> list[dict] | None:
            jobs = client.get("/api/jobs").json["jobs"]
            return jobs if all(one["state"] == "done" for one in jobs) else None

        jobs = patiently(all_done, 240)
        assert sorted(one["id"] for one in jobs) == sorted(begun.values())
        for one in jobs:
            with zipfile.ZipFile(io.BytesIO(client.get(f"/api/jobs/{one['id']}/file").body)) as bundle:
                assert bundle.testzip() is None
                assert len(bundle.namelist()) == 61
        assert not [path for path in (folder / "exports").rglob("frame_*") if path.is_file()]
    finally:
        hand.ended.set()
        stack.stop()


def ok(answer) -> dict | None:
    return answer.json if answer.status in (200, 201) else None
