"""Release: projectiles with drag and bounces in closed form, never through the floor, the same in any order."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.optimize import brentq
from shots import evaluator, parse_shot, parts_of, recipe_shot

from windsock.core.kernels.flight import Flight, legs, states

CALM = Flight(up=-9.81, across=(0.0, 0.0), drag=0.0, whirl=0.0, bounce=0.5, friction=0.0, floor=True)


def flown(flight: Flight, height: float, rising: float, moving: tuple[float, float], seconds: np.ndarray) -> np.ndarray:
    """(t, 4) height, two places across and angle of one body."""
    starts, rows = legs(
        np.array([height]),
        np.array([rising]),
        np.zeros((1, 2)),
        np.array([moving]),
        np.array([1.0]),
        np.array([60.0]),
        flight,
    )
    return np.concatenate([states(starts, rows, np.array([second]), flight) for second in seconds])


@pytest.mark.parametrize("drag", [0.02, 0.4, 3.0])
def test_a_projectile_with_linear_drag(drag):
    """The textbook closed form: h = h0 + v_t t + (v0 - v_t)(1 - e^(-k t)) / k, v_t = -g / k."""
    t = np.linspace(0, 0.7, 8)
    found = flown(CALM._replace(drag=drag, floor=False), 2.0, 3.0, (4.0, -1.0), t)
    left = (1 - np.exp(-drag * t)) / drag
    assert found[:, 0] == pytest.approx(2 - 9.81 / drag * t + (3 + 9.81 / drag) * left, abs=1e-6)
    assert found[:, 1] == pytest.approx(4 * left, abs=1e-6)
    assert found[:, 2] == pytest.approx(-left, abs=1e-6)


def test_drag_whirl_and_a_slanting_pull_against_a_solver():
    """scipy's Runge-Kutta solver on v' = a - d v + w n x v as second route."""
    flight = Flight(up=-2.0, across=(0.7, -0.3), drag=0.6, whirl=2.5, bounce=0, friction=0, floor=False)

    def slope(_: float, y: np.ndarray) -> list[float]:
        h, x, z, v, s, u = y
        del h, x, z
        return [v, s, u, -2.0 - 0.6 * v, 0.7 - 0.6 * s - 2.5 * u, -0.3 - 0.6 * u + 2.5 * s]

    t = np.linspace(0, 3, 13)
    known = solve_ivp(slope, (0, 3), [1, 0, 0, 2, 1.5, -0.5], t_eval=t, rtol=1e-10, atol=1e-12).y.T
    assert flown(flight, 1.0, 2.0, (1.5, -0.5), t)[:, :3] == pytest.approx(known[:, :3], abs=1e-7)


@pytest.mark.parametrize("restitution", [0.5, 0.8])
def test_bounces_rise_to_h_e_to_the_2n(restitution):
    """Without drag the n-th bounce from height h rises to h e^(2n) (restitution as the ratio of speeds)."""
    t = np.linspace(0, 8, 160_001)
    height = flown(CALM._replace(bounce=restitution), 2.0, 0.0, (0, 0), t)[:, 0]
    peaks = height[1:-1][(height[1:-1] > height[:-2]) & (height[1:-1] >= height[2:])]
    for bounce, peak in enumerate(peaks[:4], 1):
        assert peak == pytest.approx(2 * restitution ** (2 * bounce), rel=1e-4)


@pytest.mark.parametrize("drag", [0.0, 0.8])
@pytest.mark.parametrize("whirl", [0.0, 4.0])
def test_never_below_the_floor_and_at_rest_in_the_end(drag, whirl):
    rng = np.random.default_rng(3)
    count = 300
    flight = Flight(-9.81, (0.4, 0.0), drag, whirl, 0.6, 0.3, True)
    height, rising = rng.uniform(0, 3, count), rng.uniform(-5, 5, count)
    starts, rows = legs(
        height, rising, np.zeros((count, 2)), rng.normal(size=(count, 2)), np.ones(count), np.full(count, 30.0), flight
    )
    for second in np.linspace(0, 30, 181):
        found = states(starts, rows, np.full(count, second), flight)
        assert found[:, 0].min() >= 0
        assert np.isfinite(found).all()
    late, later = (states(starts, rows, np.full(count, second), flight) for second in (29.0, 30.0))
    assert late == pytest.approx(later, abs=0.02)
    assert late[:, 0] == pytest.approx(0)


@pytest.mark.parametrize("drag", [0.0, 0.3, 2.0])
@pytest.mark.parametrize("whirl", [0.0, 3.0])
def test_every_hop_of_random_flights_ends_where_a_root_finder_has_it(drag, whirl):
    """scipy's Brent on the closed form of each leg as second route, for hops that end within the time asked for."""
    rng = np.random.default_rng(11)
    count, end = 700, 4.0
    flight = Flight(-9.0, (0.2, -0.1), drag, whirl, 0.8, 0.05, True)
    height, rising = rng.uniform(0, 3, count), rng.uniform(-4, 6, count)
    starts, rows = legs(
        height,
        rising,
        np.zeros((count, 2)),
        rng.normal(size=(count, 2)),
        np.ones(count),
        rng.uniform(1, end, count),
        flight,
    )

    def at(time: float, h: float, v: float) -> float:
        if drag == 0:
            return h + v * time - 4.5 * time**2
        return h - 9 / drag * time + (v + 9 / drag) * (1 - np.exp(-drag * time)) / drag

    hops = 0
    for body in range(count):
        for leg in range(starts[body], starts[body + 1] - 1):
            now, after = rows[leg], rows[leg + 1]
            if now[9] > 0 or (now[1] <= 0 and now[2] <= 0):
                continue
            apex = now[2] / 9 if drag == 0 else np.log1p(now[2] * drag / 9) / drag
            known = brentq(at, max(apex, 0), 20, args=(now[1], now[2]), xtol=1e-13)
            assert after[0] - now[0] == pytest.approx(known, abs=1e-9)
            hops += 1
    assert hops > 2000


def test_a_box_that_falls_bounces_as_high_as_it_should():
    """Half a metre over the ball about it; from 2.5 m with restitution 0.8 and pull 9, it is at 1.3 s on its way up again."""
    step = {"kind": "release", "speed": 0, "stray": 0, "drag": 0, "spin": 0, "pull": 9, "height": 0.5, "bounce": 0.8}
    for last in (96, 120):
        document = recipe_shot(
            step | {"friction": 0},
            geometry={"kind": "box", "width": 0.2, "height": 0.2, "depth": 0.2, "divisions": 1},
            frames={"first": 0, "last": last},
        )
        document["items"]["ball"]["place"] = [0, 2.5, 0]
        radius = 0.1 * 3**0.5
        fall = (2 * (2.0 - radius) / 9) ** 0.5
        for frame in (24, 31, 36):
            since = frame / 24 - fall
            known = 0.5 + radius + 0.8 * 9 * fall * since - 4.5 * since**2
            middle = parts_of(document, frame)["body"].mesh.points.astype(float).mean(axis=0)[1] + 2.5
            if frame / 24 > fall:
                assert middle == pytest.approx(known, abs=1e-4)


INCLINE = np.radians(30)


@pytest.mark.parametrize("friction", [0.0, 0.3, 0.5, 0.7])
def test_what_lies_on_a_slope_slides_as_the_slope_says(friction):
    """Coulomb: g (sin a - m cos a) down the slope where its tangent is over m; otherwise it stays (textbook mechanics)."""
    pull = 9.81
    flight = Flight(-pull * np.cos(INCLINE), (pull * np.sin(INCLINE), 0.0), 0.0, 0.0, 0.3, friction, True)
    t = np.linspace(0, 3, 13)
    slid = flown(flight, 0.0, 0.0, (0, 0), t)
    down = max(pull * (np.sin(INCLINE) - friction * np.cos(INCLINE)), 0)
    assert slid[:, 1] == pytest.approx(0.5 * down * t**2, abs=1e-6)
    assert np.abs(slid[:, [0, 2]]).max() == 0
    assert slid[:, 4] == pytest.approx(slid[:, 1])


@pytest.mark.parametrize(("drag", "whirl"), [(0.0, 0.0), (0.4, 0.0), (0.3, 2.0)])
@pytest.mark.parametrize("friction", [0.15, 0.8])
def test_sliding_across_a_slope_against_a_solver(drag, whirl, friction):
    """scipy's Runge-Kutta on v' = a - m N v / |v| + c v: the direction turns while it slides, and it may come to rest."""
    pull = 9.81
    drawn, pressed = pull * np.sin(INCLINE), pull * np.cos(INCLINE)
    flight = Flight(-pressed, (drawn, 0.0), drag, whirl, 0.0, friction, True)
    moving = (-1.0 / (1 - friction), 1.5 / (1 - friction))  # what the first touch leaves of it is -1, 1.5

    def slope(_: float, y: np.ndarray) -> list[float]:
        v = complex(y[2], y[3])
        gained = drawn - friction * pressed * v / max(abs(v), 1e-6) + complex(-drag, whirl) * v
        return [v.real, v.imag, gained.real, gained.imag]

    t = np.linspace(0, 1.2, 25)
    known = solve_ivp(slope, (0, 1.2), [0, 0, -1, 1.5], t_eval=t, rtol=1e-8, atol=1e-9, method="LSODA").y.T
    # Directions turn by about 0.06 in a leg, so that places are right to about its square.
    assert flown(flight, 0.0, 0.0, moving, t)[:, 1:3] == pytest.approx(known[:, :2], abs=3e-3)


def test_a_piece_rolls_down_a_tilted_floor_and_without_friction_only_slides():
    turned = []
    for friction in (0.0, 0.2):
        document = recipe_shot(
            {"kind": "fracture", "count": 3},
            {"kind": "release", "speed": 0, "stray": 0, "spin": 0, "drag": 0, "bounce": 0, "friction": friction}
            | {"floor": "controller", "plane": "fog"},
        )
        document["items"]["fog"] |= {"place": [0, -1.2, 0], "turn": [0, 0, -30]}
        one, shot = evaluator(), parse_shot(document)
        early, late = (one.frame(shot, frame).draw[0].body.pieces for frame in (48, 96))
        assert (late.places.points[:, 0] - early.places.points[:, 0]).min() > 1
        turned.append(np.abs(late.turn - early.turn).max())
    assert turned[0] < 1e-5
    assert turned[1] > 0.1


def test_a_pull_of_the_other_sign_lets_things_rise():
    found = flown(CALM._replace(up=3.0), 0.0, 0.0, (0, 0), np.array([1.0, 2.0]))
    assert found[:, 0] == pytest.approx([1.5, 6.0])


def test_each_goes_when_the_field_reaches_its_middle_and_any_frame_can_be_asked_for():
    one = evaluator()
    document = recipe_shot({"kind": "fracture", "count": 25}, {"kind": "release", "field": "front", "floor": "none"})
    shot = parse_shot(document)
    forward = [one.frame(shot, frame).draw[0].body.pieces for frame in (20, 55, 90)]
    other = evaluator()
    back = [other.frame(shot, frame).draw[0].body.pieces for frame in (90, 55, 20)]
    for a, b in zip(forward, reversed(back), strict=True):
        assert np.array_equal(a.places.points, b.places.points)
        assert np.array_equal(a.turn, b.turn)
    moved = [np.linalg.norm(piece.places.points - piece.places.rest, axis=1) > 1e-6 for piece in forward]
    assert moved[0].sum() < moved[1].sum() < moved[2].sum()
    assert (moved[1] | ~moved[0]).all()
    # The fog's reach of 1.5 m, soft over 1 m, has its level of 1/2 at 1 m: at frame 55 it stands at 3 - 4 * 0.55.
    reached = np.linalg.norm(forward[1].places.rest - np.array([3 - 4 * 0.55, 0, 0]), axis=1) < 1.0
    assert (reached == moved[1]).mean() > 0.95


@pytest.mark.parametrize("tilted", [False, True])
def test_pieces_lie_on_the_ball_about_them_over_a_floor(tilted):
    step: dict = {"speed": 2.0, "bounce": 0.4, "pull": 20.0}
    document = recipe_shot({"kind": "fracture", "count": 25}, {"kind": "release", "field": None} | step)
    document["items"]["ball"]["place"] = [0, 2, 0]
    normal, at = np.array([0, 1.0, 0]), np.zeros(3)
    if tilted:
        document["items"]["fog"] |= {"place": [0, 0.3, 0], "turn": [0, 0, 20]}
        document["items"]["ball"]["recipe"]["steps"]["s2"] |= {"floor": "controller", "plane": "fog"}
        normal, at = np.array([-np.sin(np.radians(20)), np.cos(np.radians(20)), 0]), np.array([0, 0.3, 0])
    one = evaluator()
    shot = parse_shot(document)
    for frame in (0, 3, 7, 15, 30, 60, 119):
        pieces = one.frame(shot, frame).draw[0].body.pieces
        world = pieces.places.points + np.array([0, 2, 0])
        over = (world - at) @ normal - pieces.radius
        assert over.min() > -1e-4
    assert over == pytest.approx(0, abs=2e-3)


def test_what_is_let_go_no_longer_rides_along():
    linear = {"kind": "linear"}
    keys = {"keys": {"a": {"frame": 0, "value": [0, 0, 0], "easing": linear}, "b": {"frame": 100, "value": [5, 0, 0]}}}
    document = recipe_shot(
        {"kind": "fracture", "count": 10},
        {"kind": "release", "field": None, "pull": 0, "speed": 0, "drag": 0, "floor": "none", "spin": 0},
    )
    document["items"]["ball"]["place"] = keys
    for frame in (0, 40, 80):
        pieces = parts_of(document, frame)["body"].pieces
        # Let go at the first frame, it goes on with the 5 m in 100 frames of 1/24 s that it was carried with.
        world = pieces.places.points[:, 0] + 0.05 * frame
        assert world == pytest.approx(pieces.places.rest[:, 0] + frame / 24 * 1.2, abs=2e-3)
