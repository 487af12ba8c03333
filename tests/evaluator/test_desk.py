"""The desk: newer wishes replace older ones, also in the middle of their work, and documents are sent once."""

from __future__ import annotations

import threading
import time

import numpy as np
import pytest
from histories import MOVING, around, subject_shot
from shots import cut_ball

from windsock.evaluator.desk import Desk
from windsock.evaluator.disk import FolderStore
from windsock.protocol.requests import ActivityRequest, CancelRequest, FrameRequest


def heavy() -> dict:
    """A shot whose past takes seconds to find."""
    document = subject_shot(
        {"kind": "sphere", "subdivisions": 6},
        {"one": around(0.4, 0.2), "two": {"sources": {"s": {"kind": "spread", "seeds": "one"}}}},
        place=MOVING,
        frames={"first": 0, "last": 480},
    )
    steps = {"s": {"kind": "cut_away", "rank": 0, "field": "two"}}
    document["items"]["it"]["recipe"] = {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": steps}
    return document


def whole(content) -> bytes:
    return b"".join(content)


def under_way(desk: Desk, browser: str) -> list[dict]:
    for _ in range(100):
        reply, _ = desk.answer(ActivityRequest())
        told: dict = reply.data  # type: ignore[assignment]
        if browser in told:
            return told[browser]
    raise AssertionError("nothing was under way")


@pytest.mark.parametrize("how", ["a newer wish", "stopped by hand"])
def test_work_that_is_no_longer_wanted_ends_in_its_middle(tmp_path, how):
    desk = Desk(tmp_path)
    answers = []

    def ask() -> None:
        request = FrameRequest(document=heavy(), frame=100, browser="b", view="current", wish=1)
        answers.append(desk.answer(request)[0])

    thread = threading.Thread(target=ask)
    thread.start()
    (work,) = under_way(desk, "b")
    assert work["says"] == "Finding when the field comes to each point"
    assert under_way(desk, "b")[0]["share"] < 1
    if how == "a newer wish":
        quick = FrameRequest(document=cut_ball(), frame=3, browser="b", view="current", wish=2)
        _, content = desk.answer(quick)
        assert content
    else:
        desk.answer(CancelRequest(browser="b"))
    thread.join(10)
    assert answers[0].cancelled
    late = FrameRequest(document=cut_ball(), frame=3, browser="b", view="current", wish=1)
    assert desk.answer(late)[0].cancelled == (how == "a newer wish")


def test_another_browser_is_answered_while_one_waits_for_long_work(tmp_path):
    desk = Desk(tmp_path)
    long = FrameRequest(document=heavy(), frame=100, browser="a", view="current", wish=1)
    thread = threading.Thread(target=desk.answer, args=(long,))
    thread.start()
    under_way(desk, "a")
    _, content = desk.answer(FrameRequest(document=cut_ball(), frame=3, browser="b", view="current", wish=1))
    assert content
    assert thread.is_alive()
    desk.answer(CancelRequest(browser="a"))
    thread.join(10)


def test_a_document_is_sent_once_and_a_patch_goes_on_top(tmp_path):
    desk = Desk(tmp_path)
    named = FrameRequest(base="ball 0", frame=40, browser="b")
    assert desk.answer(named)[0].missing_document
    assert desk.answer(named.model_copy(update={"document": cut_ball()}))[1]
    plain = whole(desk.answer(named)[1])
    patch = FrameRequest.model_validate(
        {"kind": "frame", "patch": [{"op": "replace", "path": "/fields/front/level", "value": 0.2}]}
    ).patch
    patched = whole(desk.answer(named.model_copy(update={"patch": patch}))[1])
    assert patched != plain
    assert whole(desk.answer(named)[1]) == plain
    wrong = FrameRequest.model_validate(
        {"kind": "frame", "patch": [{"op": "replace", "path": "/fields/front/level", "value": 7}]}
    ).patch
    assert "outside 0" in desk.answer(named.model_copy(update={"patch": wrong}))[0].refused


def test_the_past_is_found_again_by_another_process(tmp_path):
    one, other = Desk(tmp_path, tmp_path / "history"), Desk(tmp_path, tmp_path / "history")
    document = heavy() | {"frames": {"first": 0, "last": 48}}
    request = FrameRequest(document=document, frame=40, browser="b")
    first = whole(one.answer(request)[1])
    assert list((tmp_path / "history").glob("*/*"))
    again = whole(other.answer(request)[1])
    assert again[-1000:] == first[-1000:]
    assert (
        b'"node":"front one it","sort":"front","item":"it","step":"","field":"one","kind":"solved","milliseconds":0'
        in again
    )


def test_the_folder_stays_within_its_budget(tmp_path):
    store = FolderStore(tmp_path, 200_000)
    for number in range(60):
        store.put(f"key {number}", {"values": np.arange(1000.0) + number})
        time.sleep(0.002)
    assert sum(path.stat().st_size for path in tmp_path.glob("*/*")) <= 230_000
    kept = store.get("key 59")
    assert kept is not None
    assert kept["values"][0] == 59
    assert store.get("key 0") is None


def test_what_would_take_very_long_is_said_and_not_begun(tmp_path):
    desk = Desk(tmp_path)
    document = heavy() | {"frames": {"first": 0, "last": 9000}}
    document["items"]["it"]["geometry"]["subdivisions"] = 7
    named = FrameRequest(base="long 0", document=document, frame=40, browser="b")
    assert desk.answer(named)[0].long > 20
    dragged = FrameRequest.model_validate(
        {"kind": "frame", "patch": [{"op": "replace", "path": "/fields/one/level", "value": 0.4}]}
    ).patch
    refused = desk.answer(named.model_copy(update={"patch": dragged}))[0]
    assert "once you let go" in refused.refused
