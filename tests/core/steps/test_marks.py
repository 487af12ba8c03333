"""Places that are marked as the same: each goes onto the other exactly, what lies between follows; and they are found at rest."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from shots import evaluator, parse_shot, recipe_shot

from windsock.core.changing import planned
from windsock.core.changing.points import AddMark
from windsock.core.document.patches import patched
from windsock.core.document.shot import BadDocument
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.probe import rest_of
from windsock.core.geometry.clip import Clip, Pose
from windsock.core.kernels.marks import Marks
from windsock.core.refusals import Refusal
from windsock.evaluator.bundle import Bundler

BALL = {"kind": "sphere", "radius": 1.0, "subdivisions": 4}
BOX = {"kind": "box", "width": 1.6, "height": 1.2, "depth": 2.0, "divisions": 10}
CARRIED = {"place": [0.3, 0.4, -0.2], "turn": [20.0, 30.0, 0.0], "scale": [1.0, 1.5, 0.8]}
CORNERS = ([0.8, 0.6, 1.0], [-0.8, 0.6, 1.0], [0.8, -0.6, 1.0], [0.8, 0.6, -1.0], [-0.8, -0.6, -1.0])
RNG = np.random.default_rng(4)


def points_of(document: dict, item: str = "ball", frame: float = 0, one=None, part: str = "body"):
    """The points of a part in the world, and its mesh."""
    made = (one or evaluator()).frame(parse_shot(document), frame).draw
    found = next(item_ for item_ in made if (item_.item, item_.part) == (item, part))
    mesh = found.body.mesh
    return mesh.points.astype(np.float64) @ found.matrix[:3, :3].T + found.matrix[:3, 3], mesh


def rests(geometry: dict = BALL) -> np.ndarray:
    return points_of(recipe_shot(geometry=geometry))[1].rest.astype(np.float64)


def marked_shot(pairs, step: dict | None = None, own: dict | None = None, target: dict | None = None, **other) -> dict:
    marks = {f"m{k}": {"rank": k, "here": [*map(float, here)], "there": there} for k, (here, there) in enumerate(pairs)}
    wanted = {"kind": "morph", "target": "other", "way": "marks", "marks": marks} | (step or {})
    document = recipe_shot(wanted, geometry=BALL)
    document["items"]["ball"] |= own or {}
    document["items"]["other"] = {"kind": "shape", "name": "Other", "rank": 7, "geometry": target or BOX} | other
    return document


def corner_pairs(count: int = 5) -> list:
    """Corners of the box, each with the point of the ball that looks about the same way, but turned by a third about x=y=z."""
    rest = rests()
    towards = [np.roll(corner, 1) / np.linalg.norm(corner) for corner in CORNERS]
    return [
        (rest[np.argmax(rest @ way)], list(corner))
        for way, corner in zip(towards[:count], CORNERS[:count], strict=True)
    ]


@pytest.mark.parametrize("laid", ["standing", "middles", "boxes"])
@pytest.mark.parametrize("count", [1, 2, 3, 5])
def test_each_mark_goes_onto_the_other_one_and_all_else_onto_the_shape(laid, count):
    pairs = corner_pairs(count)
    own = {"place": [-1.0, 0.5, 0.2], "turn": [0.0, 45.0, 10.0], "scale": [1.2, 0.7, 1.0]}
    document = marked_shot(pairs, {"laid": laid}, own, **CARRIED)
    made, _ = points_of(document)
    goal, box = points_of(document, "other")
    for here, there in pairs:
        at = np.linalg.norm(rests() - here, axis=1).argmin()
        corner = np.linalg.norm(box.rest - there, axis=1).argmin()
        assert made[at] == pytest.approx(goal[corner], abs=3e-6)
    # In the box's own space nothing is off its surface.
    to_own = np.linalg.inv(_matrix(document, "other"))
    flat = np.abs(made @ to_own[:3, :3].T + to_own[:3, 3]) / [0.8, 0.6, 1.0]
    assert flat.max(axis=1) == pytest.approx(1, abs=1e-5)


def _matrix(document: dict, item: str) -> np.ndarray:
    return evaluator().frame(parse_shot(document), 0).placements[item]


def test_a_similarity_is_found_by_itself():
    """Umeyama 1991: marks that are moved, turned and stretched as one bring everything along, as a rotation of SciPy's does."""
    here, points = RNG.normal(size=(6, 3)), RNG.normal(size=(500, 3))
    turn = Rotation.from_rotvec([0.4, 2.2, -1.0])
    marks = Marks(here, 1.7 * turn.apply(here) + [1, 2, 3])
    assert marks.brought(points) == pytest.approx(1.7 * turn.apply(points) + [1, 2, 3], abs=1e-12)
    # Mirrored marks are not mirrored back by the similarity, but still reached.
    mirrored = Marks(here, here * [-1, 1, 1])
    assert mirrored.brought(here) == pytest.approx(here * [-1, 1, 1], abs=1e-12)


def test_a_turned_ball_is_taken_as_it_was_turned():
    """Three marks on a ball that is turned half round: what they do not say is turned with them."""
    turn = Rotation.from_euler("y", 180, degrees=True)
    rest = rests()
    chosen = rest[[3, 40, 333]]
    pairs = [(one, [*map(float, turn.apply(one))]) for one in chosen]
    made, _ = points_of(marked_shot(pairs, {"laid": "standing"}, target=BALL))
    assert made == pytest.approx(turn.apply(rest), abs=4e-3)  # its faces are not the same ones
    without, _ = points_of(marked_shot(pairs, {"laid": "standing", "way": "nearest"}, target=BALL))
    assert without == pytest.approx(rest, abs=1e-6)


@pytest.mark.parametrize(
    "pairs",
    [
        [],
        [([1, 0, 0], [0.8, 0, 0])] * 3,
        [([0, 0, 0], [0, 0, 0]), ([0, 0, 0], [5, 5, 5])],
        [([x, 0, 0], [0, x, 0]) for x in (-1.0, 0.0, 1.0)],
        [([1, 0, 0], [0.8, 0, 0]), ([-1, 0, 0], [0.8, 0, 0])],
    ],
    ids=["none", "thrice the same", "two at one place", "on a line", "two onto one"],
)
def test_marks_that_say_little_do_no_harm(pairs):
    made, _ = points_of(marked_shot(pairs))
    assert np.isfinite(made).all()
    assert np.abs(made).max() < 1.1


def test_a_pair_goes_by_the_marks_both_ways():
    pairs = corner_pairs()
    step = {"kind": "pair", "begins_at": 1.0, "lasts": 1.0, "makes": "more"}
    document = marked_shot(pairs, step, **CARRIED)
    document["items"]["ball"]["recipe"]["parts"]["more"] = {"name": "More", "rank": 1}
    one = evaluator()
    goal, box = points_of(document, "other", one=one)
    # Half way, both are half way on the same straight line between the marks.
    body, ball = points_of(document, frame=36, one=one)
    more, other = points_of(document, frame=36, one=one, part="more")
    plain, _ = points_of(recipe_shot(geometry=BALL))
    for here, told in pairs:
        corner = np.linalg.norm(box.rest - told, axis=1).argmin()
        half = (plain[np.linalg.norm(rests() - here, axis=1).argmin()] + goal[corner]) / 2
        assert body[np.linalg.norm(ball.rest - here, axis=1).argmin()] == pytest.approx(half, abs=3e-6)
        assert np.linalg.norm(more - half, axis=1).min() < 3e-6
    assert len(other.faces)


def test_a_warm_evaluator_follows_the_marks_and_what_they_are_on():
    keys = {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 20, "value": [2, 1, 0]}}
    first = marked_shot(corner_pairs(3), {"amount": 0.7}, place={"keys": keys})
    documents = [
        first,
        marked_shot(corner_pairs(5), {"amount": 0.7}, place={"keys": keys}),
        marked_shot(corner_pairs(5), {"amount": 0.7}, target=BOX | {"width": 2.5}, place={"keys": keys}),
        marked_shot(corner_pairs(5), {"amount": 0.7, "way": "nearest"}, place={"keys": keys}),
        marked_shot(corner_pairs(5), {"amount": 0.7}, {"turn": [0.0, 90.0, 0.0]}, place={"keys": keys}),
        first,
    ]
    warm, seen = evaluator(), []
    for document in documents:
        for frame in (20, 0, 7.5):
            made = points_of(document, frame=frame, one=warm)[0]
            assert made.tobytes() == points_of(document, frame=frame)[0].tobytes()
            seen.append(made.tobytes())
    assert len(set(seen)) == 15


def test_what_is_seen_is_found_at_rest_however_far_it_has_gone():
    pairs = corner_pairs()
    for amount in (0.0, 0.5, 1.0):
        document = marked_shot(pairs, {"amount": amount}, CARRIED)
        _, mesh = points_of(document)
        seen = tuple(map(float, mesh.points[77]))
        assert rest_of(evaluator(), parse_shot(document), 0, "ball", seen) == pytest.approx(mesh.rest[77], abs=2e-5)
    hidden = marked_shot(pairs, own={"shown": 0.0})
    with pytest.raises(Refusal, match="hidden"):
        rest_of(evaluator(), parse_shot(hidden), 0, "ball", (0, 0, 1))
    copies = recipe_shot({"kind": "scatter", "count": 9, "makes": "flakes"}, geometry=BALL, parts=("flakes",))
    with pytest.raises(Refusal, match="copies"):
        rest_of(evaluator(), parse_shot(copies), 0, "ball", (0, 0, 1), "flakes")


def test_a_mark_is_an_edit_and_only_where_marks_are_taken():
    shot = parse_shot(marked_shot(corner_pairs(2)))
    step = "/items/ball/recipe/steps/s1"
    edit = planned(AddMark(of=step, here=(1.0, 0.0, 0.0), there=(0.8, 0.0, 0.0)), shot)
    after = parse_shot(patched(shot.model_dump(mode="json"), edit.patch))
    marks = after.items["ball"].recipe.steps["s1"].marks
    assert list(marks) == ["m0", "m1", edit.key]
    assert (marks[edit.key].rank, marks[edit.key].here) == (2, (1.0, 0.0, 0.0))
    other = parse_shot(recipe_shot({"kind": "smooth"}, geometry=BALL))
    with pytest.raises(Refusal, match="takes no marks"):
        planned(AddMark(of=step, here=(0.0, 0.0, 0.0), there=(0.0, 0.0, 0.0)), other)
    full = parse_shot(marked_shot([([0, 0, 0], [0, 0, 0])] * 64))
    with pytest.raises(Refusal, match="at most 64 marks"):
        planned(AddMark(of=step, here=(0.0, 0.0, 0.0), there=(0.0, 0.0, 0.0)), full)
    with pytest.raises(BadDocument):
        parse_shot(marked_shot([([0, 0, 0], [0, 0, 0])] * 65))


def test_marks_are_told_where_they_are_seen():
    """On both shapes, as these stand at the frame; nothing of a shape that is hidden or not looked at."""
    pairs = corner_pairs(3)
    document = marked_shot(pairs, {"amount": 1.0}, **CARRIED)
    shot = parse_shot(document)
    bundler = Bundler(Cache(2**24))

    def told(looked_at=None, shot=shot) -> list[dict]:
        frame = evaluator().frame(shot, 0, looked_at=looked_at)
        return bundler._manifest(shot, frame)["marks"]

    found = told()
    assert [(one["mark"], one["on"]) for one in found] == [(f"m{k}", on) for on in ("ball", "other") for k in range(3)]
    here, there = found[:3], found[3:]
    for one, other in zip(here, there, strict=True):  # at the end both are at one place
        assert one["place"] == pytest.approx(other["place"], abs=3e-6)
    assert told(frozenset({"other"})) == []
    document["items"]["other"]["shown"] = 0.0
    assert [one["on"] for one in told(shot=parse_shot(document))] == ["ball"] * 3


def test_marks_on_a_moving_model_are_those_of_its_rest_pose():
    """A model from a file that is bent at the first frame already: the mark goes where its own place is then."""
    rest = rests()
    mesh = points_of(recipe_shot(geometry=BALL))[1]
    bent = rest.copy()
    bent[:, 0] += 0.8 * rest[:, 1]
    pose = Pose(bent.astype(np.float32), mesh.normals)
    held = Clip(mesh, np.array([0.0, 1.0]), (pose, pose))
    (here, there), *others = corner_pairs()
    document = marked_shot([(here, there), *others])
    document["items"]["ball"]["geometry"] = {"kind": "imported", "asset": "0" * 64, "motion": {}}
    made, _ = points_of(document, one=evaluator(held=held))
    goal, box = points_of(document, "other", one=evaluator(held=held))
    at = np.linalg.norm(rest - here, axis=1).argmin()
    assert made[at] == pytest.approx(goal[np.linalg.norm(box.rest - there, axis=1).argmin()], abs=3e-6)
