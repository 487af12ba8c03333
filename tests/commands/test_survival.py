"""What is saved survives: the server, the evaluator and the database killed, stopped and started."""

from __future__ import annotations

import subprocess
import threading
import time
from pathlib import Path

import pytest
from conftest import Client, kill, make_reachable, recover, start_stack
from shots import cut_ball

from windsock.commands.cluster import Cluster
from windsock.commands.stack import Stack


@pytest.fixture
def own_stack(tmp_path_factory):
    folder = tmp_path_factory.mktemp("survival")
    make_reachable(folder)
    made = start_stack(folder)
    yield made
    made.stop()


def wait_for(check, seconds: float = 120.0):
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        found = check()
        if found:
            return found
        time.sleep(0.1)
    raise AssertionError("it did not happen in time")


def frame_status(client: Client, shot: str) -> int:
    return client.post(f"/api/shots/{shot}/frame", {"revision": 0, "frame": 40}).status


def test_the_evaluator_killed(own_stack: Stack):
    client = Client(own_stack.address)
    shot = client.new_shot(cut_ball())
    assert frame_status(client, shot) == 200
    kill(own_stack, "evaluator")
    away = client.post(f"/api/shots/{shot}/frame", {"revision": 0, "frame": 40})
    assert away.status == 503
    assert "unharmed" in away.json["detail"]
    assert client.edit(shot, 0, "/fields/front/level", 0.4).status == 200
    recover(own_stack)
    assert wait_for(lambda: frame_status(client, shot) == 200)


def test_the_database_stopped_and_started(own_stack: Stack):
    client = Client(own_stack.address)
    shot = client.new_shot(cut_ball())
    client.get(f"/api/shots/{shot}")
    own_stack.cluster.stop()
    away = client.edit(shot, 0, "/fields/front/level", 0.4, key="sent-again-1")
    assert away.status == 503
    assert "sent again by itself" in away.json["detail"]
    assert frame_status(client, shot) == 200
    recover(own_stack)
    for _ in range(2):
        assert wait_for(lambda: client.edit(shot, 0, "/fields/front/level", 0.4, key="sent-again-1").status == 200)
    assert client.get(f"/api/shots/{shot}").json["revision"] == 1


@pytest.mark.parametrize("victim", ["web", "database"])
def test_killed_during_edits_every_edit_that_was_answered_is_there(own_stack: Stack, victim):
    client = Client(own_stack.address)
    shot = client.new_shot(cut_ball())
    answered: list[float] = []

    def work() -> None:
        for number in range(1, 2000):
            value = number / 4000
            try:
                if client.edit(shot, number - 1, "/fields/front/level", value).status != 200:
                    return
            except OSError:
                return
            answered.append(value)

    for _ in range(3):
        answered.clear()
        thread = threading.Thread(target=work)
        shot = client.new_shot(cut_ball())
        thread.start()
        wait_for(lambda: len(answered) > 12)
        kill(own_stack, victim)
        thread.join()
        recover(own_stack)
        address = f"/api/shots/{shot}"
        wait_for(lambda address=address: client.get(address).status == 200)
        state = client.get(address).json
        # One more may have been kept whose answer did not arrive; none that was answered may lack.
        assert state["revision"] in (len(answered), len(answered) + 1)
        assert state["document"]["fields"]["front"]["level"] >= answered[-1]


def test_a_database_that_a_killed_start_left_running_is_taken_over(own_stack: Stack):
    client = Client(own_stack.address)
    shot = client.new_shot(cut_ball())
    again = Cluster(own_stack.cluster.programs, own_stack.data)
    again.make()
    again.start()
    own_stack.cluster.process.wait(20)
    own_stack.cluster = again
    own_stack.web.stop()
    own_stack.web.wait()
    own_stack._make_processes()
    assert own_stack.web.start()
    assert client.get(f"/api/shots/{shot}").status == 200


def test_half_a_cluster_is_made_anew(tmp_path_factory):
    folder = tmp_path_factory.mktemp("half")
    make_reachable(folder)
    (folder / "cluster.new999").mkdir()
    (folder / "cluster.new999" / "PG_VERSION").write_text("15")
    stack = start_stack(folder)
    try:
        assert Client(stack.address).get("/api/projects").status == 200
        assert not list(folder.glob("cluster.new*"))
    finally:
        stack.stop()


def test_nothing_is_left_running(tmp_path_factory):
    folder = tmp_path_factory.mktemp("gone")
    make_reachable(folder)
    stack = start_stack(folder)
    stack.stop()
    listed = subprocess.run(["ps", "-eo", "args"], capture_output=True, text=True, check=True).stdout
    assert str(Path(folder)) not in listed
