"""Crests from shapes: spacing and speed from a straight wall and from a point, in closed form; broken, hard, calm where nothing touches."""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot, points_as_elements

from windsock.core.geometry.touching import gap_between
from windsock.core.kernels.surface_distance import Surface

SHEET = {"kind": "plane", "width": 20.0, "depth": 20.0, "columns": 2, "rows": 2}
WALL = {"kind": "box", "width": 0.2, "height": 1.0, "depth": 20.0, "divisions": 1}
BALL = {"kind": "sphere", "radius": 0.05, "subdivisions": 3}
PLAIN = {"length": 0.5, "speed": 0.4, "reach": 6.0, "soft": 0.0, "hard": 0.0}


def crests(geometry: dict, settings: dict | None = None, **shape) -> dict:
    """Water with a shape in it, and a field of the crests that run from that."""
    source = {"kind": "crests", "group": "movers", "rank": 0} | PLAIN | (settings or {})
    return {
        "name": "Harbour",
        "items": {
            "water": {"kind": "shape", "name": "Water", "rank": 0, "geometry": SHEET},
            "mover": {"kind": "shape", "name": "Mover", "rank": 1, "geometry": geometry} | shape,
        },
        "fields": {"rings": {"letter": "A", "name": "Rings", "rank": 0, "sources": {"s": source}}},
        "groups": {"movers": {"name": "Movers", "rank": 0, "members": {"mover": {"rank": 0}}}},
    }


def values(document: dict, places: np.ndarray, frame: float = 0, one=None) -> np.ndarray:
    engine = one or evaluator()
    scene = engine.scene(parse_shot(document), frame)
    subject = engine.at_rest(scene, "water").value
    elements = points_as_elements(places)
    object.__setattr__(elements, "subject", subject)
    return engine.field_values(scene, "rings", elements)


def along_x(low: float = 0.0, high: float = 6.0, count: int = 6001) -> np.ndarray:
    places = np.zeros((count, 3))
    places[:, 0] = np.linspace(low, high, count)
    return places


def expected(away: np.ndarray, seconds: float, length: float = 0.5, speed: float = 0.4) -> np.ndarray:
    rise = np.clip(away / (0.25 * length), 0, 1)
    return (0.5 + 0.5 * np.cos(2 * np.pi * (away - speed * seconds) / length)) * rise**2 * (3 - 2 * rise)


@pytest.mark.parametrize("frame", [0, 7.5, 48])
def test_from_a_straight_wall_crests_stand_a_length_apart_and_go_at_their_speed(frame):
    places = along_x(0.11, 5.9)
    found = values(crests(WALL), places, frame)
    away = places[:, 0] - 0.1
    assert found == pytest.approx(expected(away, frame / 24), abs=1e-6)
    tops = away[1:-1][(found[1:-1] > found[:-2]) & (found[1:-1] > found[2:]) & (found[1:-1] > 0.99)]
    assert np.diff(tops) == pytest.approx(0.5, abs=2e-3)


def test_from_a_point_they_are_circles():
    rng = np.random.default_rng(1)
    angle, away = rng.uniform(0, 2 * np.pi, 500), rng.uniform(0.2, 5.0, 500)
    places = np.stack([away * np.cos(angle), np.zeros(500), away * np.sin(angle)], axis=1)
    assert values(crests(BALL), places, 20) == pytest.approx(expected(away - 0.05, 20 / 24), abs=0.02)


def test_keyed_speeds_carry_them_as_far_as_their_integral_outward_or_inward():
    keys = {"a": {"frame": 0, "value": 0.0, "easing": {"kind": "linear"}}, "b": {"frame": 48, "value": 1.0}}
    places = along_x(0.3, 5.0)
    found = values(crests(WALL, {"speed": {"keys": keys}}), places, 48)
    assert found == pytest.approx(expected(places[:, 0] - 0.1, 1.0, speed=1.0), abs=1e-5)
    inward = values(crests(WALL, {"way": "inward"}), places, 24)
    assert inward == pytest.approx(expected(places[:, 0] - 0.1, -1.0), abs=1e-6)


def test_they_end_at_the_reach_or_after_so_many_and_are_calm_at_the_shape():
    places = along_x(0.0, 6.0)
    away = np.maximum(places[:, 0] - 0.1, 0)
    few = values(crests(WALL, {"count": 3.0}), places)
    assert (few[away > 1.5] == 0).all()
    assert few[(away > 0.9) & (away < 1.1)].max() > 0.99
    assert (few[away == 0] == 0).all()
    for frame in (3, 11.5, 30):  # and stays so: nothing blinks within the shape
        assert (values(crests(WALL), places, frame)[away == 0] == 0).all()
    faded = values(crests(WALL, {"reach": 4.0, "soft": 4.0, "fall": "straight"}), places)
    assert faded == pytest.approx(expected(away, 0) * np.clip(1 - away / 4, 0, 1), abs=1e-6)


def test_hard_crests_are_nearly_all_on_or_off():
    places = along_x(0.4, 5.0)
    hard = values(crests(WALL, {"hard": 1.0}), places)
    assert np.isin(hard.round(3), (0.0, 1.0)).mean() > 0.99
    assert hard.mean() == pytest.approx(0.5, abs=0.05)


@pytest.mark.parametrize(("height", "strength"), [(0.0, 1.0), (0.04, 1.0), (0.15, 0.5), (0.25, 0.0), (3.0, 0.0)])
def test_what_is_lifted_off_the_water_sets_off_nothing(height, strength):
    """A gap of half of the reach of its touch leaves half of them: (0.2 - 0.1) / 0.2, level at both ends."""
    places = along_x(0.3, 3.0)
    ball = values(crests(BALL, place=[0.0, height, 0.0]), places).max()
    assert ball == pytest.approx(strength, abs=0.03)


def test_two_surfaces_that_cross_by_edges_alone_touch():
    square = np.array([[-1, 0, -1], [1, 0, -1], [1, 0, 1], [-1, 0, 1]], dtype=float)
    water = Surface(square * 5, np.array([[0, 1, 2], [0, 2, 3]]))
    post = np.array([[0.1, -1, 0.2], [0.3, -1, 0.2], [0.2, 2, 0.3]])
    needle = Surface(post, np.array([[0, 1, 2]]))
    assert gap_between(needle, water, 0.5) == 0
    assert gap_between(Surface(post + [0, 1.3, 0], needle.faces), water, 0.5) == pytest.approx(0.3)
    assert gap_between(Surface(post + [0, 2.0, 0], needle.faces), water, 0.5) == np.inf
    assert gap_between(Surface(post[:0], np.zeros((0, 3), dtype=int)), water, 0.5) == np.inf


def test_dashes_go_round_with_their_crest():
    """At any moment a crest has the gaps that it had before, at the same angles; broken wholly, about half of it is gone."""
    document = crests(BALL, {"breaks": 1.0, "dash": 30.0, "across": 0.5, "hard": 0.5})
    angle = np.linspace(0, 2 * np.pi, 720)

    def ring(frame: float) -> np.ndarray:
        away = 1.0 + 0.4 * frame / 24 + 0.05
        return values(document, away * np.stack([np.cos(angle), 0 * angle, np.sin(angle)], axis=1), frame)

    first = ring(0)
    assert first.max() > 0.95
    assert 0.2 < (first > 0.5).mean() < 0.8
    assert ring(30) == pytest.approx(first, abs=0.05)
    whole = crests(BALL, {"breaks": 0.0})
    assert values(whole, np.array([[1.05, 0, 0]])) == pytest.approx([1.0], abs=0.02)


def test_it_moves_turned_and_stretched_with_its_shape_and_is_the_same_warm():
    keys = {"a": {"frame": 0, "value": [0, 0, 0], "easing": {"kind": "linear"}}, "b": {"frame": 48, "value": [2, 0, 0]}}
    document = crests(BALL, place={"keys": keys})
    one, places = evaluator(), along_x(2.2, 5.0)
    for frame in (24, 0, 48, 13.25):
        made = values(document, places, frame, one)
        assert made.tobytes() == values(document, places, frame).tobytes()
        away = np.abs(places[:, 0] - frame / 24) - 0.05
        assert made == pytest.approx(expected(away, frame / 24), abs=0.02)
    wide = crests(BALL, scale=[20.0, 1.0, 1.0], turn=[0.0, 90.0, 0.0])  # a rod along z, a metre each way
    assert values(wide, along_x(0.3, 3.0)) == pytest.approx(expected(along_x(0.3, 3.0)[:, 0] - 0.05, 0), abs=0.05)


def test_the_highest_of_several_counts_and_the_water_itself_does_not():
    document = crests(BALL, place=[-1.0, 0.0, 0.0])
    document["items"]["other"] = document["items"]["mover"] | {"name": "Other", "rank": 2, "place": [1.0, 0.0, 0.3]}
    alone = values(document, along_x(-3, 3))
    document["groups"]["movers"]["members"] = {"other": {"rank": 0}}
    other = values(document, along_x(-3, 3))
    document["groups"]["movers"]["members"] = {name: {"rank": 0} for name in ("other", "mover", "water")}
    assert values(document, along_x(-3, 3)) == pytest.approx(np.maximum(alone, other))
    document["groups"]["movers"]["members"] = {}
    assert not values(document, along_x(-3, 3)).any()
