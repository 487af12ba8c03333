"""What goes wrong with one process, file or job stays with it, and is said in words."""

from __future__ import annotations

import errno
import json
import os
import socket
import time
from pathlib import Path

import pytest
from conftest import VICTIMS, Client, kill, recover
from shots import cut_ball
from sqlalchemy import text
from sqlalchemy.exc import OperationalError

from windsock.commands.cluster import Cluster, data_folder, programs_for
from windsock.commands.machine import ensure_postgres
from windsock.commands.say import Trouble
from windsock.commands.start import refuse_held_port
from windsock.evaluator.desk import Desk
from windsock.evaluator.process import answered
from windsock.jobs import worker as working
from windsock.jobs.worker import UNFORESEEN, Worker
from windsock.processes.confined import offline
from windsock.protocol.requests import FrameRequest
from windsock.store import jobs
from windsock.store.database import Database, NewerDatabase, migrate
from windsock.store.models import Job, ShotRow
from windsock.web.app import create_app


@pytest.fixture(scope="module")
def database(stack) -> Database:
    return Database(stack.cluster.address)


def test_a_worker_that_dies_again_and_again_takes_nobody_with_it(stack, client):
    shot = client.new_shot(cut_ball())
    others = [process.pid for process in (*stack.evaluators, stack.web)]
    for died in range(11):
        recover(stack)
        # As often as it has died within the last two minutes, without the pauses that come of it.
        stack.worker._stops = [time.monotonic()] * died
        kill(stack, "worker")
        stack.watch()
        assert client.post(f"/api/shots/{shot}/frame", {"revision": 0, "frame": 3}).status == 200
    # By now it is given a rest, and the page is told.
    stack.watch()
    assert not stack.worker.running()
    assert "worker" in json.loads((stack.data / "away.json").read_text())[0]
    deadline = time.monotonic() + 60
    while not (away := client.get("/api/events").json["away"]):
        assert time.monotonic() < deadline
        time.sleep(0.1)
    assert "Exports go on by themselves" in away[0]
    assert [process.pid for process in (*stack.evaluators, stack.web)] == others
    recover(stack)
    assert json.loads((stack.data / "away.json").read_text()) == []


@pytest.mark.parametrize("victim", VICTIMS)
def test_each_process_comes_back_by_itself(stack, client, victim):
    shot = client.new_shot(cut_ball())
    for _ in range(2):
        kill(stack, victim)
        recover(stack)
        deadline = time.monotonic() + 120
        while client.post(f"/api/shots/{shot}/frame", {"revision": 0, "frame": 3}).status != 200:
            assert time.monotonic() < deadline
            time.sleep(0.05)


def new_job(database: Database, key: str, kind: str = "export", document: object = None) -> str:
    settings = {"format": "ply", "first": 0, "last": 3, "step": 1}
    wanted = jobs.NewJob(key, kind, "a", "nowhere", "A job", document or cut_ball(), settings, 4)  # type: ignore[arg-type]
    with database.session() as session:
        return jobs.make_job(session, key, wanted).id


def job(database: Database, job_id: str) -> Job:
    with database.session() as session:
        row = session.get(Job, job_id)
        assert row is not None
        return row


def test_a_job_that_meets_something_unforeseen_fails_in_words_and_can_be_deleted(
    stack, database, tmp_path, monkeypatch
):
    def broken(*_: object) -> None:
        raise KeyError("nobody thought of this")

    monkeypatch.setattr(working, "export_frames", broken)
    key = f"unforeseen-{os.getpid()}"
    new_job(database, key)
    Worker(database, tmp_path / "cache", tmp_path / "exports").do(key)
    found = job(database, key)
    assert (found.state, found.says) == ("failed", UNFORESEEN)
    with database.session() as session:
        jobs.forget(session, key)


def test_a_job_that_kills_its_worker_has_failed_after_three_tries(database):
    """Each worker takes it and is not heard of again; one that gets further begins to count anew."""
    key = f"deadly-{os.getpid()}"
    new_job(database, key)

    def taken(worker: str, done: int = 0) -> bool:
        with database.session() as session:
            row = jobs.claim(session, key, worker)
            if row is not None and done:
                jobs.tell(session, key, worker, done, "going on")
        with database.session() as session:  # six seconds later
            session.execute(text("UPDATE jobs SET changed = changed - interval '10 s' WHERE id = :id"), {"id": key})
        return row is not None

    assert all(taken(f"w{number}") for number in range(2))
    assert taken("w3", done=2)
    assert all(taken(f"v{number}") for number in range(3))
    assert not taken("w9")
    found = job(database, key)
    assert found.state == "failed"
    assert "begun 3 times" in found.says
    with database.session() as session:
        jobs.resume(session, key)
    assert taken("w10")
    with database.session() as session:
        session.execute(text("DELETE FROM jobs WHERE id = :id"), {"id": key})


@pytest.mark.parametrize("version", [1, 99])
def test_a_shot_that_cannot_be_read_is_listed_as_such_and_can_be_taken_away(stack, client, database, version):
    shot = client.new_shot(cut_ball())
    with database.session() as session:
        row = session.get(ShotRow, shot)
        assert row is not None
        row.document = {**cut_ball(), "schema_version": version, "of_tomorrow": {"unknown": 1}}
        row.read_by = ""
    listed = [one for project in client.get("/api/projects").json["projects"] for one in project["shots"]]
    (told,) = [one for one in listed if one["id"] == shot]
    assert not told["readable"]
    assert told["name"] == "A ball"
    answer = client.get(f"/api/shots/{shot}")
    assert answer.status == 422
    assert "cannot read the shot" in answer.json["detail"]
    file = client.get(f"/api/shots/{shot}/document.json")
    assert json.loads(file.body)["of_tomorrow"] == {"unknown": 1}
    assert client.ask("DELETE", f"/api/shots/{shot}").status == 204


def test_a_newer_database_is_left_alone(stack, database):
    address = stack.cluster.address
    with database.session() as session:
        now = session.execute(text("SELECT version_num FROM alembic_version")).scalar_one()
        session.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    try:
        with pytest.raises(NewerDatabase):
            migrate(address)
    finally:
        with database.session() as session:
            session.execute(text("UPDATE alembic_version SET version_num = :now"), {"now": now})
    migrate(address)


def test_a_missing_secret_and_other_programs_are_said(tmp_path):
    with pytest.raises(Trouble, match=r"is gone or cannot be read\. The database itself is unharmed"):
        _ = Cluster(tmp_path, tmp_path).address
    (tmp_path / "cluster").mkdir()
    with pytest.raises(Trouble, match="holds no database"):
        programs_for(tmp_path / "cluster", ensure_postgres())
    (tmp_path / "cluster" / "PG_VERSION").write_text("9\n")
    with pytest.raises(Trouble, match="apt-get install postgresql-9"):
        programs_for(tmp_path / "cluster", ensure_postgres())
    own = ensure_postgres().parent.name
    (tmp_path / "cluster" / "PG_VERSION").write_text(f"{own}\n")
    assert programs_for(tmp_path / "cluster", ensure_postgres().parents[1] / "99" / "bin") == ensure_postgres()


def test_a_folder_that_is_there_stays_as_it_is(tmp_path):
    folder = tmp_path / "shared"
    folder.mkdir()
    folder.chmod(0o1777)
    data_folder(folder)
    assert folder.stat().st_mode & 0o7777 == 0o1777
    (tmp_path / "file").write_text("")
    with pytest.raises(Trouble, match="cannot be made"):
        data_folder(tmp_path / "file" / "data")


def test_a_port_that_another_one_holds_is_said(stack):
    with pytest.raises(Trouble, match=r"is taken .* another Wind Sock"):
        refuse_held_port(stack.port)
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    refuse_held_port(port)


def test_the_evaluator_knows_no_password_and_can_do_little(stack):
    pid = stack.evaluators[-1].pid
    told = Path(f"/proc/{pid}/environ").read_bytes()
    assert b"WINDSOCK_DATABASE" not in told
    assert (stack.data / "secret").read_bytes() not in told
    assert "NoNewPrivs:\t1" in Path(f"/proc/{pid}/status").read_text()
    if offline():
        lines = Path(f"/proc/{pid}/net/dev").read_text().splitlines()[2:]
        assert [line.split(":")[0].strip() for line in lines] == ["lo"]


def test_an_evaluator_without_a_folder_works_on_and_one_that_fails_says_so(tmp_path, caplog):
    (tmp_path / "history").write_text("a file, not a folder")
    document = cut_ball()
    document["fields"]["front"]["memory"] = {"kind": "hold"}
    desk = Desk(tmp_path / "assets", tmp_path / "history")
    reply, content = desk.answer(FrameRequest(document=document, frame=30))
    assert reply.refused == ""
    assert len(b"".join(bytes(part) for part in content)) > 1000
    assert "are not kept" in caplog.text

    class Broken(Desk):
        def answer(self, request: FrameRequest, gone=None):
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    reply, _ = answered(FrameRequest().model_dump_json().encode(), Broken(tmp_path), lambda: False)
    assert "No space left on device" in reply.refused
    assert "unharmed" in reply.refused
    assert "a file" in caplog.text


class Full(Exception):
    """As the database's driver tells that the disk is full."""

    sqlstate = "53100"


class Refused(Exception):
    sqlstate = "22P05"


@pytest.mark.parametrize(
    ("fault", "status", "words"),
    [
        (OSError(errno.ENOSPC, "No space left on device"), 507, "no room left"),
        (OSError(errno.EACCES, "Permission denied"), 500, "Permission denied"),
        (Full(), 507, "no room left"),
        (Refused(), 422, "does not take a value"),
    ],
)
def test_full_disks_and_values_that_are_not_taken_are_not_told_to_be_sent_again(fault, status, words, tmp_path):
    app = create_app("postgresql+psycopg://nobody@127.0.0.1:1/none", [tmp_path], tmp_path, tmp_path)

    @app.get("/api/broken")
    def broken():
        raise fault if isinstance(fault, OSError) else OperationalError("statement", {}, fault)

    answer = app.test_client().get("/api/broken")
    assert answer.status_code == status
    assert words in answer.json["detail"]
    assert "again by itself" not in answer.json["detail"]


def test_names_of_other_browsers_are_not_told(stack):
    one, other = Client(stack.address), Client(stack.address)
    shot = one.new_shot(cut_ball())
    one.edit(shot, 0, "/name", "Mine")
    time.sleep(1)
    for path in ("/api/events", f"/api/shots/{shot}", f"/api/shots/{shot}/history", "/api/projects", "/api/jobs"):
        assert one.browser.encode() not in other.get(path).body
