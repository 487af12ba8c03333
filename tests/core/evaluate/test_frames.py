"""Any frame, any order, same answer; nothing stale; nothing too large."""

from __future__ import annotations

import copy
import random
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from shots import cut_ball, evaluator, parsed

from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.coverage import cover
from windsock.core.evaluate.frame import Evaluator, Frame
from windsock.core.evaluate.keeping import Keeper
from windsock.core.evaluate.watch import Watch
from windsock.core.refusals import Cancelled, TooMuch
from windsock.demo.fog_over_the_light import fog_over_the_light

NOISY = cut_ball()
NOISY["fields"]["front"]["sources"]["n"] = {"kind": "noise", "rank": 1, "word": "roughened by", "size": 0.4}


def bytes_of(frame: Frame) -> list[bytes]:
    meshes = [item.body.mesh for item in frame.draw]
    return [array.tobytes() for mesh in meshes for array in (mesh.points, mesh.faces, mesh.normals, mesh.number)]


@pytest.mark.parametrize("document", [NOISY, fog_over_the_light()], ids=["ball", "demo"])
def test_frames_in_any_order_are_identical(document):
    shot = parsed(document)
    frames = [0, 17, 38, 44, 58, 71, 90, 119]
    fresh = {frame: bytes_of(evaluator().frame(shot, frame)) for frame in frames}
    one = evaluator()
    shuffled = frames * 2
    random.Random(1).shuffle(shuffled)
    for frame in [*frames, *reversed(frames), *shuffled]:
        assert bytes_of(one.frame(shot, frame)) == fresh[frame]
    small = evaluator(budget=200_000)
    for frame in shuffled:
        assert bytes_of(small.frame(shot, frame)) == fresh[frame]
    with ThreadPoolExecutor(2) as pool:
        assert list(pool.map(lambda frame: bytes_of(one.frame(shot, frame)), shuffled)) == [
            fresh[frame] for frame in shuffled
        ]


def test_what_did_not_change_is_kept_and_what_did_is_not():
    one = evaluator()
    shot = parsed(NOISY)
    assert not one.frame(shot, 40).steps[0].reused
    assert one.frame(shot, 40).steps[0].reused
    assert not one.frame(shot, 41).steps[0].reused
    changed = copy.deepcopy(NOISY)
    changed["fields"]["front"]["level"] = 0.45
    assert not one.frame(parsed(changed), 40).steps[0].reused
    renamed = copy.deepcopy(NOISY)
    renamed["items"]["ball"]["name"] = "Buoy"
    assert one.frame(parsed(renamed), 40).steps[0].reused


def test_readings_are_shares_of_the_surface():
    """A plane through the middle of the ball: half of it is inside."""
    document = cut_ball(source={"reach": 1001.0, "soft": 2.0}, field={"band": 0.1})
    document["items"]["fog"]["place"] = [1000.0, 0, 0]
    reading = evaluator().frame(parsed(document), 0).steps[0].reading
    assert reading is not None
    told = reading.coverage
    assert told.inside + told.band + told.outside == pytest.approx(1)
    # The value is (1 + x) / 2 up to the bulge of a 1000 m ball: the band of 0.1 is 0.2 m of 2 m along x (Archimedes).
    assert told.band == pytest.approx(0.1, abs=0.01)
    assert sum(reading.histogram) == pytest.approx(1)
    assert np.std(reading.histogram) < 0.01


def test_the_strip_says_what_the_frames_say():
    shot = parsed(cut_ball(field={"band": 0.05}))
    one = evaluator()
    strip = cover(one, shot, "front", "ball")
    assert len(strip) == 120
    for frame in (0, 30, 45, 80):
        reading = one.frame(shot, frame).steps[0].reading
        assert reading is not None
        assert strip[frame] == reading.coverage


def test_too_many_faces_are_refused_before_the_work():
    for geometry in (
        {"kind": "sphere", "build": "latitude", "segments": 4096, "rings": 4096},
        {"kind": "plane", "columns": 2048, "rows": 2048},
    ):
        with pytest.raises(TooMuch, match="limit is 3,000,000"):
            evaluator().frame(parsed(cut_ball(geometry)), 0)
    crowd = cut_ball({"kind": "sphere", "subdivisions": 8})
    for number in range(2):
        crowd["items"][f"more{number}"] = copy.deepcopy(crowd["items"]["ball"])
    with pytest.raises(TooMuch, match="all its shapes together"):
        evaluator().frame(parsed(crowd), 0)


def test_work_that_is_no_longer_wanted_stops_between_nodes():
    watch = Watch()
    watch.cancel()
    with pytest.raises(Cancelled):
        Evaluator(lambda _: pytest.fail("no file"), Keeper(Cache(10)), watch).frame(parsed(NOISY), 0)


def test_the_cache_stays_within_its_budget_and_drops_what_was_not_used():
    cache = Cache(1000)
    for number in range(5):
        cache.put(str(number), np.zeros(300, dtype=np.uint8))
        cache.get("0")
    assert cache.held <= 1000
    assert cache.get("0") is not None
    assert cache.get("1") is None
    cache.put("large", np.zeros(2000, dtype=np.uint8))
    assert cache.get("large") is None


def test_keyed_values_are_told_by_pointer():
    shot = parsed(cut_ball())
    told = evaluator().frame(shot, 50).plan.keyed()
    assert {pointer: shot.moment(50)(keyed) for pointer, keyed in told.items()} == {"/items/fog/place": (1.0, 0.0, 0.0)}
