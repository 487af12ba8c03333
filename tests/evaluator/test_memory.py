"""What an evaluator holds stays within what it may hold."""

from __future__ import annotations

import gc
from dataclasses import dataclass

import pytest

from windsock.core.evaluate.cache import Cache
from windsock.demo.loading import SHOTS
from windsock.evaluator import process
from windsock.evaluator.desk import BLOCK_BYTES, CACHE_BYTES, Desk
from windsock.protocol.requests import FrameRequest

FEW = 50
"""Objects that libraries leave behind."""


@pytest.mark.parametrize("name", ["hoarfrost", "beacon-sweep", "the-sock-itself"])
def test_a_frame_leaves_nothing_to_be_looked_for(name: str, tmp_path):
    """Arrays that wait for the garbage collector, which seldom comes, were more than all that is kept."""
    desk, document = Desk(tmp_path / "assets"), SHOTS[name]()
    for frame in (40.0, 41.0):
        desk.answer(FrameRequest(base=name, document=document, frame=frame))
    gc.collect()
    gc.disable()
    try:
        desk.answer(FrameRequest(base=name, document=document, frame=42.0))
        assert gc.collect() < FEW
    finally:
        gc.enable()


@dataclass
class Growing:
    """Holds more each time that it is asked."""

    nbytes_before: int = 0

    @property
    def nbytes(self) -> int:
        self.nbytes_before += 10
        return self.nbytes_before


def test_what_grows_as_it_is_used_does_not_make_room_for_more():
    cache = Cache(100)
    for place in range(200):
        cache.put(str(place), Growing())
    assert cache.held == 100
    assert sum(cache.get(str(place)) is not None for place in range(200)) == 10


@pytest.mark.parametrize(("gigabytes", "count"), [(4, 2), (4, 1), (16, 2), (64, 4)])
def test_the_memory_is_shared_out_by_what_the_machine_has(gigabytes: int, count: int, monkeypatch: pytest.MonkeyPatch):
    pages = {"SC_PAGE_SIZE": 4096, "SC_PHYS_PAGES": gigabytes * 2**30 // 4096}
    monkeypatch.setattr(process.os, "sysconf", pages.__getitem__)
    together = count * sum(process.shared_out(count))
    assert together == pytest.approx(min(CACHE_BYTES + BLOCK_BYTES, gigabytes * 2**30 / 4), rel=1e-6)
