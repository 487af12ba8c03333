"""Follow through against the damped harmonic oscillator, at every frame rate and whatever was asked for before."""

from __future__ import annotations

import copy

import numpy as np
import pytest
from histories import subject_shot
from shots import evaluator, parsed

from windsock.core.geometry.mesh import smooth_normals

BALL = {"kind": "sphere", "radius": 0.5, "subdivisions": 2}
SWINGS, DAMPING = 1.25, 0.3


def swinging(fps: int = 24, field: dict | None = None, **settings) -> dict:
    """A ball that jumps 1 m along x at half a second (within a thousandth of a frame), and then swings."""
    step = {"kind": "follow_through", "rank": 0, "swings": SWINGS, "damping": DAMPING} | settings
    document = subject_shot(BALL, {"f": field} if field else {}, place=[0.0, 0.0, 0.0])
    document |= {"rate": {"numerator": fps, "denominator": 1}, "frames": {"first": 0, "last": 6 * fps}}
    jump = 0.5 * fps
    document["items"]["it"] |= {
        "place": {
            "keys": {
                "k1": {"frame": 0, "value": [0, 0, 0], "easing": {"kind": "hold"}},
                "k2": {"frame": jump, "value": [1, 0, 0], "easing": {"kind": "hold"}},
            }
        },
        "recipe": {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": {"follow": step}},
    }
    if field:
        step["field"] = "f"
    return document


def middle(document: dict, seconds: float, one=None) -> float:
    """x of the ball's middle in the world after its recipe."""
    shot = parsed(document)
    item = (one or evaluator()).frame(shot, seconds * shot.rate.fps).draw[0]
    return float(item.body.mesh.points[:, 0].mean() + item.matrix[0, 3])


def answer(seconds: float) -> float:
    """The step response of the damped oscillator (any textbook), from the tick before the jump on."""
    passed = max(0.0, seconds)
    omega = 2 * np.pi * SWINGS
    turning = omega * np.sqrt(1 - DAMPING**2)
    swing = np.cos(turning * passed) + DAMPING * omega / turning * np.sin(turning * passed)
    return 1 - np.exp(-DAMPING * omega * passed) * swing


@pytest.mark.parametrize("fps", [24, 25, 30, 60])
def test_overshoot_period_and_decrement(fps):
    """The jump takes one tick of 1/120 s, straight; so it counts as made in the middle of that tick."""
    document, one = swinging(fps), evaluator()
    begin = 0.5 - 0.5 / 120
    turning = 2 * np.pi * SWINGS * np.sqrt(1 - DAMPING**2)
    peaks = [begin + np.pi * n / turning for n in (1, 2, 3)]
    away = [middle(document, second, one) - 1 for second in peaks]
    overshoot = np.exp(-DAMPING * np.pi / np.sqrt(1 - DAMPING**2))
    np.testing.assert_allclose(away, [overshoot, -(overshoot**2), overshoot**3], atol=1e-3)
    assert np.log(away[0] / away[2]) == pytest.approx(2 * np.pi * DAMPING / np.sqrt(1 - DAMPING**2), rel=0.01)


def test_it_is_the_same_at_equal_seconds_whatever_the_frame_rate():
    for second in (0.75, 1.2, 2.031):
        found = [middle(swinging(fps), second) for fps in (24, 25, 30, 60)]
        np.testing.assert_allclose(found, answer(second - 0.5 + 0.5 / 120), atol=1e-3)
        assert np.ptp(found) < 1e-6


def test_any_frame_in_any_order_is_the_same_to_the_byte():
    shot = parsed(swinging(25))
    frames = [13, 40, 40.5, 77, 139]
    fresh = {frame: evaluator().frame(shot, frame).draw[0].body.mesh.points.tobytes() for frame in frames}
    one = evaluator()
    for frame in [77, 40.5, 139, 13, 40, 77, 13]:
        assert one.frame(shot, frame).draw[0].body.mesh.points.tobytes() == fresh[frame]


def test_before_it_moves_nothing_moves_and_in_the_end_it_rests():
    assert middle(swinging(), 0.45) == pytest.approx(0, abs=1e-6)
    assert middle(swinging(damping=1.0), 6.0) == pytest.approx(1, abs=1e-4)


def test_where_the_field_is_zero_it_is_rigid_and_the_looser_the_further_behind():
    half = {"sources": {"s": {"kind": "around", "controller": "fog", "reach": 0.9, "soft": 0.5, "inverted": True}}}
    document = swinging(field=half)
    low_end = copy.deepcopy(document["items"]["it"]["place"])
    for key in low_end["keys"].values():
        key["value"][1] = -0.5
    document["items"]["fog"]["place"] = low_end
    shot = parsed(document)
    item = evaluator().frame(shot, 12.5).draw[0]
    mesh = item.body.mesh
    shift = mesh.points[:, 0] - mesh.rest[:, 0]
    low, high = mesh.rest[:, 1] < -0.42, mesh.rest[:, 1] > 0.3
    assert np.abs(shift[low]).max() < 0.02
    assert shift[high].max() < -0.3


def test_normals_follow_the_shape():
    half = {"sources": {"s": {"kind": "around", "controller": "fog", "reach": 0.9, "soft": 0.8, "inverted": True}}}
    document = swinging(field=half)
    document["items"]["fog"]["place"] = [0, -0.5, 0]
    mesh = evaluator().frame(parsed(document), 15).draw[0].body.mesh
    np.testing.assert_allclose(np.linalg.norm(mesh.normals, axis=1), 1, atol=1e-5)
    exact = smooth_normals(mesh.points, mesh.faces, mesh.number)
    assert np.einsum("ij,ij->i", exact, mesh.normals).min() > 0.95


def test_a_cut_after_it_sees_where_the_points_are_and_one_before_it_is_carried_along():
    document = swinging(field={"sources": {"s": {"kind": "around", "controller": "fog", "reach": 0.6, "soft": 0.4}}})
    steps = document["items"]["it"]["recipe"]["steps"]
    steps["follow"]["field"] = None
    steps["cut"] = {"kind": "cut_away", "rank": -1, "field": "f"}
    document["items"]["fog"]["place"] = [1.4, 0, 0]
    shot, one = parsed(document), evaluator()
    cut_first = one.frame(shot, 13).draw[0].body.mesh
    assert len(cut_first.faces) > 0
    # All of it is equally loose: the cut ball is moved as a whole.
    shift = cut_first.points - cut_first.rest
    np.testing.assert_allclose(shift - shift[0], 0, atol=1e-6)


def test_two_in_a_row_follow_one_another():
    document = swinging()
    steps = document["items"]["it"]["recipe"]["steps"]
    steps["again"] = steps["follow"] | {"rank": 1}
    once, twice = middle(swinging(), 0.6), middle(document, 0.6)
    assert twice < once - 0.05


def steady(**settings) -> dict:
    """The ball going along x at 1 m/s from the start on."""
    document = swinging(**settings)
    linear = {"kind": "linear"}
    document["items"]["it"]["place"] = {
        "keys": {
            "k1": {"frame": 0, "value": [0, 0, 0], "easing": linear},
            "k2": {"frame": 240, "value": [10, 0, 0], "easing": linear},
        }
    }
    return document


def test_at_a_steady_speed_it_lags_by_that_of_its_damper_and_hangs_back_by_its_drag():
    """The particular solution of the oscillator for a ramp: 2 zeta / omega seconds behind; the drag adds its own seconds."""
    behind = 2 * DAMPING / (2 * np.pi * SWINGS)
    assert middle(steady(), 4.5) == pytest.approx(4.5 - behind, abs=2e-3)
    assert middle(steady(drag=0.2), 4.5) == pytest.approx(4.5 - behind - 0.2, abs=2e-3)
    one = evaluator()
    assert middle(steady(drag=0.2), 4.5, one) == middle(steady(drag=0.2), 4.5)
    assert middle(steady(drag=0.1), 4.5, one) == middle(steady(drag=0.1), 4.5)


@pytest.mark.parametrize("stretch", [0.0, 0.5, 1.0])
def test_a_mast_held_at_its_foot_keeps_its_length(stretch):
    half = {"sources": {"s": {"kind": "across", "controller": "fog", "axis": "y", "soft": 2.0, "inverted": True}}}
    document = swinging(field=half, stretch=stretch)
    document["items"]["it"]["geometry"] = {"kind": "tube", "radius": 0.02, "wall": 0.01, "height": 2.0, "segments": 8}
    document["items"]["fog"]["place"] = [0, 1, 0]
    shot = parsed(document)
    item = evaluator().frame(shot, 13).draw[0]
    mesh = item.body.mesh
    foot = np.array([0.0, -1.0, 0.0])
    stiff, now = (np.linalg.norm(places - foot, axis=1) for places in (mesh.rest, mesh.points))
    lean = np.abs(mesh.points - mesh.rest).max()
    assert lean > 0.5
    longer = float((now / np.maximum(stiff, 0.1)).max())
    if stretch == 0:
        assert longer == pytest.approx(1, abs=0.01)
    else:
        assert longer > 1 + 0.1 * stretch
    low = mesh.rest[:, 1] < -0.999
    assert np.abs((mesh.points - mesh.rest)[low]).max() < 1e-6
