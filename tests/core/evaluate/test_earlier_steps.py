"""What was and what is looked over see all that earlier steps do, by the same functions as the frame itself."""

from __future__ import annotations

import numpy as np
import pytest
from processes import Process
from shots import evaluator, parsed

from windsock.core.document.shot import Shot
from windsock.core.evaluate.coverage import cover
from windsock.core.parts.pieces_part import PiecesPart

MOVES = {"keys": {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 12, "value": [1.5, 0, 0]}}}
BALL = {"kind": "sphere", "radius": 0.5, "subdivisions": 3}
LOOSE = {"kind": "follow_through", "field": "loose", "swings": 2.0, "damping": 0.2}


def shot_of(steps: list[dict], **ball: object) -> Shot:
    around = {"kind": "around", "controller": "fog", "reach": 0.8, "soft": 0.6}
    height = {"kind": "surface", "reading": "height", "low": -0.5, "high": 0.5, "measured": "rest"}
    named = {f"s{rank}": step | {"rank": rank} for rank, step in enumerate(steps)}
    item = {"kind": "shape", "name": "It", "rank": 0, "geometry": BALL, "recipe": {"steps": named}}
    sources = {"near": {"s": around}, "loose": {"s": height}}
    fields = {
        name: {"letter": letter, "name": name, "rank": 0, "level": 0.5, "band": 0.2, "sources": sources[name]}
        for name, letter in (("near", "A"), ("loose", "B"))
    }
    fog = {"kind": "controller", "name": "Fog", "rank": 1, "place": [1.2, 0, 0]}
    return parsed({"name": "Any", "frames": {"last": 24}, "items": {"it": item | ball, "fog": fog}, "fields": fields})


def points(shot: Shot, frame: float) -> np.ndarray:
    (item,) = evaluator().frame(shot, frame).draw
    mesh = item.body.mesh
    return mesh.points @ item.matrix[:3, :3].T + item.matrix[:3, 3]


@pytest.mark.parametrize("frame", [3, 8, 12.5, 20])
def test_what_is_moved_by_a_step_swings_as_what_is_moved_by_its_item(frame):
    by_step = shot_of([{"kind": "shift", "move": MOVES, "zone": "value"}, LOOSE])
    by_item = shot_of([LOOSE], place=MOVES)
    np.testing.assert_allclose(points(by_step, frame), points(by_item, frame), atol=2e-5)
    stiff = points(shot_of([{"kind": "shift", "move": MOVES, "zone": "value"}]), frame)
    if frame < 20:
        assert np.abs(points(by_step, frame) - stiff).max() > 0.05


@pytest.mark.parametrize("earlier", [[], [{"kind": "shift", "move": MOVES}], [LOOSE]])
def test_a_strip_says_what_the_frames_say_after_any_step_that_moves_things(earlier):
    place = {} if earlier and earlier != [LOOSE] else {"place": MOVES}
    shot = shot_of([*earlier, {"kind": "shade", "field": "near"}], **place)
    one = evaluator()
    strip = cover(one, shot, "near", "it")
    assert strip.inside.max() > 0.05
    for frame in (0, 7, 12, 20):
        reading = one.frame(shot, frame).steps[-1].reading
        assert reading is not None
        said = (strip.inside[frame], strip.band[frame])
        assert said == pytest.approx((reading.coverage.inside, reading.coverage.band), abs=1e-9)


def test_a_strip_of_pieces_counts_their_middles():
    cells = {"kind": "fracture", "count": 20}
    shot = shot_of([cells, {"kind": "shift", "move": MOVES}, {"kind": "jumble", "field": "near"}])
    one = evaluator()
    strip = cover(one, shot, "near", "it")
    for frame in (0, 8, 14):
        reading = one.frame(shot, frame).steps[-1].reading
        assert reading is not None
        assert strip.inside[frame] == pytest.approx(reading.coverage.inside, abs=1e-9)


def test_the_middles_of_pieces_swing_with_their_points():
    cells = {"kind": "fracture", "count": 12}
    shot = shot_of([cells, LOOSE], place=MOVES)
    stiff = shot_of([cells], place=MOVES)
    (swung,), (plain,) = (evaluator().frame(one, 8).draw for one in (shot, stiff))
    assert isinstance(swung.body, PiecesPart)
    assert isinstance(plain.body, PiecesPart)
    assert swung.body.mesh.piece is not None
    moved = swung.body.mesh.points - plain.body.mesh.points
    middles = swung.body.pieces.places.points - plain.body.pieces.places.points
    assert np.abs(middles).max() > 0.05
    for piece in range(len(middles)):
        of_piece = moved[swung.body.mesh.piece == piece]
        assert (middles[piece] >= of_piece.min(axis=0) - 1e-5).all()
        assert (middles[piece] <= of_piece.max(axis=0) + 1e-5).all()


def test_pieces_that_a_step_has_moved_swing_behind():
    """Pieces that are all moved alike swing as the whole does, but for how their points lie between those of the shape."""
    cells = {"kind": "fracture", "count": 12}
    broken = shot_of([cells, {"kind": "shift", "move": MOVES, "zone": "value"}, LOOSE])
    stiff = shot_of([cells, {"kind": "shift", "move": MOVES, "zone": "value"}])
    assert np.abs(points(broken, 8) - points(stiff, 8)).max() > 0.05
    by_item = shot_of([cells, LOOSE], place=MOVES)
    np.testing.assert_allclose(points(broken, 8), points(by_item, 8), atol=2e-3)


def test_what_a_cut_leaves_that_is_always_the_same_is_broken_moved_and_swings():
    """A half of the ball, broken and moved by a step, swings as the same pieces carried by the item do."""
    half = {"kind": "cut_away", "field": "loose"}
    cells = {"kind": "fracture", "count": 12}
    by_step = shot_of([half, cells, {"kind": "shift", "move": MOVES, "zone": "value"}, LOOSE])
    stiff = shot_of([half, cells, {"kind": "shift", "move": MOVES, "zone": "value"}])
    by_item = shot_of([half, cells, LOOSE], place=MOVES)
    assert np.abs(points(by_step, 8) - points(stiff, 8)).max() > 0.02
    np.testing.assert_allclose(points(by_step, 8), points(by_item, 8), atol=2e-3)
    for frame in (3, 14, 8):
        np.testing.assert_array_equal(points(by_step, frame), points(by_step, frame))


SPLIT = {"kind": "refine", "field": "near", "zone": "band"}


@pytest.mark.parametrize(
    "step", [{"kind": "refine"}, {"kind": "fracture", "count": 8}, {"kind": "cut_away", "field": "loose"}]
)
def test_what_changes_points_after_a_step_that_a_history_passes_over_is_passed_over_too(step):
    shot = shot_of([SPLIT, step, LOOSE], place=MOVES)
    stiff = shot_of([SPLIT, step], place=MOVES)
    one = evaluator()
    for frame in (3, 12, 8):
        (item,) = one.frame(shot, frame).draw
        (plain,) = one.frame(stiff, frame).draw
        assert len(item.body.mesh.points) == len(plain.body.mesh.points)
        np.testing.assert_array_equal(item.body.mesh.points, evaluator().frame(shot, frame).draw[0].body.mesh.points)
    assert np.abs(points(shot, 8) - points(stiff, 8)).max() > 0.05


def test_a_whole_shape_is_let_go_alike_whichever_frame_was_asked_for_first():
    document = shot_of([SPLIT, {"kind": "release", "field": "near"}], place=MOVES).model_dump(mode="json")
    document["fields"]["near"]["memory"] = {"kind": "hold"}
    shot = parsed(document)
    warm = evaluator()
    for frame in (2, 18, 7, 12):
        (item,) = warm.frame(shot, frame).draw
        np.testing.assert_array_equal(item.body.mesh.points, evaluator().frame(shot, frame).draw[0].body.mesh.points)


def test_what_a_march_passed_over_counts_as_soon_as_it_does_the_same_throughout():
    """A cut that moves leaves the points of the march alone; once it stands still, the march begins with what it leaves."""
    moves = {"keys": {"a": {"frame": 0, "value": [9, 0, 0]}, "b": {"frame": 12, "value": [0, 0, 0]}}}
    around = {"kind": "around", "rank": 0, "controller": "post", "reach": 2.0, "soft": 1.0}

    def document(place: object) -> dict:
        steps = {
            "cut": {"kind": "cut_away", "rank": 0, "field": "front"},
            "swing": {"kind": "follow_through", "rank": 1},
        }
        box = {"kind": "box", "divisions": 4}
        it = {"kind": "shape", "name": "It", "rank": 0, "geometry": box, "recipe": {"steps": steps}}
        post = {"kind": "controller", "name": "Post", "rank": 1, "place": place}
        field = {"letter": "A", "name": "Front", "rank": 0, "sources": {"s": around}}
        frames = {"first": 0, "last": 12}
        return {"name": "Any", "frames": frames, "items": {"it": it, "post": post}, "fields": {"front": field}}

    warm = Process()
    for place in (moves, [0.5, 0.5, 0.5], moves, [0.0, 0.0, 0.0], [1.5, 0.0, 0.0]):
        assert warm.answer(document(place), [12]) == Process().answer(document(place), [12]), place
