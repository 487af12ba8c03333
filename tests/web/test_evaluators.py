"""Several evaluators answer as one: any of them may be killed, and what one has made another can use."""

from __future__ import annotations

import random
import struct
from pathlib import Path

import orjson
import pytest
from conftest import Client, make_reachable, recover, start_stack
from shots import cut_ball

from windsock.commands.stack import Stack
from windsock.protocol.client import EvaluatorAway
from windsock.protocol.evaluators import Evaluators
from windsock.protocol.requests import ActivityRequest, BlockRequest, CoverageRequest, FinishedRequest, FrameRequest


@pytest.fixture(scope="module")
def two(tmp_path_factory) -> Stack:
    folder = tmp_path_factory.mktemp("two")
    make_reachable(folder)
    made = start_stack(folder, evaluators=2)
    yield made
    made.stop()


def picture(client: Client, shot: str, revision: int, frame: float) -> tuple[list, bytes]:
    reply = client.post(f"/api/shots/{shot}/frame", {"revision": revision, "frame": frame})
    assert reply.status == 200, reply.json
    (length,) = struct.unpack_from("<I", reply.body)
    told = orjson.loads(reply.body[4 : 4 + length])
    return told["items"], reply.body[4 + length :]


def test_frames_are_the_same_whichever_is_killed(two: Stack):
    rng = random.Random(7)
    client = Client(two.address)
    document = cut_ball()
    document["fields"]["front"]["memory"] = {"kind": "hold"}
    shot = client.new_shot(document)
    levels = [0.5]
    for revision in range(8):
        recover(two)
        frame = rng.choice([3, 40, 77.5])
        before = picture(client, shot, revision, frame)
        killed = rng.choice(two.evaluators)
        assert killed.process is not None
        killed.process.kill()
        killed.process.wait()
        # The other answers at once, with the same bytes.
        assert picture(client, shot, revision, frame) == before
        levels.append(round(rng.uniform(0.2, 0.8), 3))
        assert client.edit(shot, revision, "/fields/front/level", levels[-1]).status == 200
    recover(two)
    fresh = client.new_shot(document | {"fields": {"front": document["fields"]["front"] | {"level": levels[-1]}}})
    assert picture(client, shot, len(levels) - 1, 40) == picture(client, fresh, 0, 40)


def test_each_question_goes_to_the_process_that_it_is_for():
    asked = Evaluators([Path("/nowhere/1"), Path("/nowhere/2"), Path("/nowhere/3")], patience=0)
    homes = {asked._order(FrameRequest(base=f"shot-{place} 0"))[0] for place in range(30)}
    assert homes == {0, 1, 2}
    for revision in range(5):
        # A shot has its results in one process, whatever its revision; work ahead leaves that one alone.
        home = asked._order(FrameRequest(base=f"shot {revision}"))[0]
        assert home == asked._order(FrameRequest(base="shot 0"))[0]
        assert asked._order(FrameRequest(base="shot 0", ahead=True))[0] != home
        rendered = FinishedRequest(base=f"shot {revision}", width=32, height=32, samples=4, ahead=True)
        assert asked._order(rendered)[0] == home
        assert asked._order(CoverageRequest(base="shot 0", field="f", item="i"))[0] != home
    first = asked._order(FrameRequest(base="shot 0", ahead=True))[0]
    with asked._counted(first):
        assert asked._order(FrameRequest(base="shot 0", ahead=True))[0] not in (first, home)


@pytest.mark.parametrize("request_", [FrameRequest(base="shot 0"), BlockRequest(name="0" * 24), ActivityRequest()])
def test_where_nobody_listens_that_is_said(request_):
    with pytest.raises(EvaluatorAway, match="comes back by itself"):
        Evaluators([Path("/nowhere/1"), Path("/nowhere/2")], patience=0).ask(request_)
