"""Any frame, any order, same answer; nothing stale; nothing too large."""

from __future__ import annotations

import copy
import random
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from shots import Files, cut_ball, cut_mesh, evaluator, parse_shot, parsed, recipe_shot

from windsock.core.document.shot import BadDocument
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.coverage import cover
from windsock.core.evaluate.frame import Evaluator, Frame
from windsock.core.evaluate.keeping import Keeper
from windsock.core.evaluate.probe import probe
from windsock.core.evaluate.watch import Watch
from windsock.core.refusals import Cancelled, Refusal, TooMuch
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
    assert len(strip.frames) == 120
    for frame in (0, 30, 45, 80):
        reading = one.frame(shot, frame).steps[0].reading
        assert reading is not None
        assert (strip.inside[frame], strip.band[frame]) == (reading.coverage.inside, reading.coverage.band)
        assert 0 <= strip.least[frame] <= strip.most[frame] <= 1


def test_a_strip_is_kept_under_all_that_it_depends_on():
    store = MemoryStore()
    document = cut_ball({"kind": "sphere", "subdivisions": 2})
    first = cover(evaluator(store=store), parsed(document), "front", "ball")
    puts = store.puts
    again = cover(evaluator(store=store), parsed(document), "front", "ball")
    assert store.puts == puts
    assert np.array_equal(first.inside, again.inside)
    for path, value in (
        (("fields", "front", "level"), 0.4),
        (("items", "ball", "place"), [0.5, 0, 0]),
        (("frames",), {"last": 60}),
    ):
        changed = copy.deepcopy(document)
        holder = changed
        for part in path[:-1]:
            holder = holder[part]
        holder[path[-1]] = value
        before = store.puts
        assert not np.array_equal(cover(evaluator(store=store), parsed(changed), "front", "ball").inside, first.inside)
        assert store.puts == before + 1


class MemoryStore:
    """A store in memory that counts what is put into it."""

    def __init__(self) -> None:
        self.kept: dict = {}
        self.puts = 0

    def get(self, key):
        return self.kept.get(key)

    def put(self, key, arrays):
        self.puts += 1
        self.kept[key] = dict(arrays)


def test_a_band_in_metres_is_as_wide_on_the_surface_whatever_the_slope():
    # The field falls from 1 to 0 over `soft` metres along x across a flat sheet: |grad v| = 1 / soft.
    sheet = {"kind": "plane", "width": 4.0, "depth": 4.0, "columns": 80, "rows": 4}
    for soft in (1.0, 2.5):
        source = {"kind": "across", "controller": "fog", "axis": "x", "soft": soft, "at": soft / 2}
        document = cut_ball(sheet, field={"band": 0.5, "band_in": "metres", "sources": {"s": source}})
        document["items"]["fog"]["place"] = [0.0, 0.0, 0.0]
        document["items"]["ball"]["recipe"]["steps"] = {
            "shade": {"kind": "shade", "rank": 0, "field": "front", "zone": "band", "channel": "opacity"}
        }
        one = evaluator()
        reading = one.frame(parsed(document), 0).steps[0].reading
        assert reading is not None
        # The level lies in the middle of the sheet: 0.5 m of 4 m, to half a cell of 5 cm at either side.
        assert reading.coverage.band == pytest.approx(0.5 / 4, abs=0.05 / 4 + 1e-9)
        strip = cover(one, parsed(document), "front", "ball", 200)
        assert strip.band[0] == pytest.approx(reading.coverage.band)
        cut = copy.deepcopy(document)
        cut["items"]["ball"]["recipe"]["steps"] = {
            "cut": {"kind": "cut_away", "rank": 0, "field": "front", "zone": "band"}
        }
        mesh = cut_mesh(cut)
        # The cut is exact: what is left ends 0.25 m to either side.
        assert np.min(np.abs(mesh.points[:, 0])) == pytest.approx(0.25, abs=1e-5)


def test_a_band_wider_than_all_values_is_refused_unless_it_is_in_metres():
    with pytest.raises(BadDocument, match="count it in metres"):
        parsed(cut_ball(field={"band": 2.0}))
    assert parsed(cut_ball(field={"band": 2.0, "band_in": "metres"})).fields["front"].band == 2.0


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
        Evaluator(Files(), Keeper(Cache(10)), watch).frame(parsed(NOISY), 0)


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


def test_the_strip_shows_the_field_as_its_listener_gets_it_where_the_shape_swings():
    swing = {
        "keys": {
            "k1": {"frame": 0, "value": [0, 0, 0], "easing": {"kind": "linear"}},
            "k2": {"frame": 12, "value": [1.0, 0, 0]},
        }
    }
    document = cut_ball({"kind": "sphere", "subdivisions": 3}, frames={"first": 0, "last": 30})
    document["items"]["ball"]["place"] = swing
    document["items"]["fog"]["place"] = [1.5, 0, 0]
    lag = {"kind": "follow_through", "rank": -1, "field": None, "swings": 2.0, "damping": 0.2}
    shade = {"kind": "shade", "rank": 0, "field": "front", "zone": "inside"}
    document["items"]["ball"]["recipe"]["steps"] = {"lag": lag, "shade": shade}
    one, shot = evaluator(), parsed(document)
    strip = cover(one, shot, "front", "ball")
    stiff = copy.deepcopy(document)
    stiff["items"]["ball"]["recipe"]["steps"]["lag"]["on"] = False
    differing = 0
    for frame in (4, 9, 13, 16, 24):
        reading = one.frame(shot, frame).steps[1].reading
        assert reading is not None
        # Areas are those of the resting ball, which all the points of a stiff shift keep.
        assert strip.inside[frame] == pytest.approx(reading.coverage.inside, abs=1e-3)
        differing += abs(strip.inside[frame] - cover(one, parsed(stiff), "front", "ball").inside[frame]) > 0.01
    assert differing >= 2


def test_a_shape_is_hidden_and_shown_by_keys_and_still_measured_from():
    document = cut_ball(
        {"kind": "sphere", "subdivisions": 3}, groups={"g": {"name": "G", "rank": 0, "members": {"other": {}}}}
    )
    hold = {"kind": "hold"}
    shown = {"keys": {"k1": {"frame": 0, "value": 0, "easing": hold}, "k2": {"frame": 10, "value": 1, "easing": hold}}}
    document["items"]["other"] = {
        "kind": "shape", "name": "Other", "rank": 3, "place": [1.5, 0, 0], "shown": shown, "geometry": {"kind": "sphere", "radius": 0.3},
    }  # fmt: skip
    document["fields"]["front"]["sources"] = {"n": {"kind": "near", "rank": 0, "group": "g", "reach": 1.0, "soft": 1.0}}
    one, shot = evaluator(), parsed(document)
    assert [item.item for item in one.frame(shot, 9).draw] == ["ball"]
    assert [item.item for item in one.frame(shot, 10).draw] == ["ball", "other"]
    before, after = (one.frame(shot, frame).steps[0].reading for frame in (9, 10))
    assert before is not None
    assert before == after
    with pytest.raises(Refusal, match="hidden at this frame"):
        probe(one, shot, 9, "front", "other", (0, 0, 0))


def test_a_retimed_recipe_is_that_of_the_other_frame_where_the_shape_stands_now():
    linear = {"kind": "linear"}
    keys = {
        "keys": {
            "a": {"frame": 0, "value": 0, "easing": linear},
            "b": {"frame": 50, "value": 80, "easing": linear},
            "c": {"frame": 100, "value": 0},
        }
    }
    document = recipe_shot({"kind": "fracture", "count": 12}, {"kind": "release", "field": "front", "floor": "none"})
    plain = parse_shot(document)
    document["items"]["ball"]["recipe"]["retime"] = {"frame": keys}
    retimed = parse_shot(document)
    one = evaluator()
    for frame, shown in ((25, 40), (50, 80), (75, 40), (100, 0)):
        then, now = one.frame(plain, shown).draw[0], one.frame(retimed, frame).draw[0]
        assert np.array_equal(then.body.mesh.points, now.body.mesh.points)
    # Put back together at the end: nothing is broken, and nothing inside is drawn.
    assert (now.body.mesh.origin >= 0).all()
