"""The box about where a field is in its band, against circles on a ball that geometry gives."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.optimize import brentq
from shots import cut_ball, evaluator, parsed

from windsock.core.evaluate.standing import band_box
from windsock.core.refusals import Refusal

FINE = {"kind": "sphere", "radius": 1.0, "subdivisions": 5}


def circle(apart: float, far: float) -> tuple[float, float]:
    """How far along the line to a controller `apart` metres away, and how wide, the circle is on the unit ball whose places are
    `far` from it (the law of cosines)."""
    along = (1 + apart**2 - far**2) / (2 * apart)
    return along, float(np.sqrt(1 - along**2))


@pytest.mark.parametrize("frame", [40, 45.5])
@pytest.mark.parametrize("band", [0.0, 0.2])
def test_the_box_is_about_the_circles_between_which_the_band_lies(frame, band):
    # The value falls from 1 to 0 between 0.5 m and 1.5 m from the controller, straight: it is 1/2 at 1 m.
    shot = parsed(cut_ball(geometry=FINE, field={"band": band}))
    apart = 3 - 4 * frame / 100
    box = band_box(evaluator(), shot, frame, "front", [])
    near, far = (circle(apart, 1 + side * band / 2) for side in (-1, 1))
    low, high = min(near[0], far[0]), max(near[0], far[0])
    wide = 1.0 if low < 0 < high else max(near[1], far[1])
    centre, size = np.array(box["centre"]), np.array(box["size"])
    np.testing.assert_allclose(centre, [(low + high) / 2, 0, 0], atol=0.02)
    np.testing.assert_allclose(size, [high - low, 2 * wide, 2 * wide], atol=0.03)


def test_it_is_on_the_named_shape_as_it_is_turned_and_stretched_or_on_all_that_listen():
    document = cut_ball(geometry=FINE, field={"band": 0.1})
    second = {**document["items"]["ball"], "name": "Second", "rank": 2, "place": [0, 0.8, 0], "parent": "fog"}
    document["items"]["second"] = second
    document["items"]["ball"] |= {"turn": [0, 90, 0], "scale": [3, 1, 1]}
    shot, at = parsed(document), evaluator()
    one, other, both = (band_box(at, shot, 70, "front", items) for items in (["ball"], ["second"], []))
    # The ball is an ellipsoid now, 3 m along Z. Where it meets the ball of 1.05 m about the controller, at 0.2 m on X, the two
    # equations less one another give x = (1 - 1.05² + 0.2² + 8 z² / 9) / 0.4; it is furthest along Z where y is 0.
    far = brentq(lambda z: (1 - 1.05**2 + 0.04 + 8 * z**2 / 9) / 0.4 - np.sqrt(1 - z**2 / 9), 0, 2)
    assert one["size"][2] == pytest.approx(2 * far, abs=0.01)  # type: ignore[index]
    # The second is carried: it moves with the controller, and its band is on all its lower half.
    assert other["centre"][0] == pytest.approx(0.2, abs=0.02)  # type: ignore[index]
    ends = [np.array(box["centre"]) + side * np.array(box["size"]) / 2 for box in (one, other) for side in (-1, 1)]
    np.testing.assert_allclose(np.array(both["size"]), np.max(ends, axis=0) - np.min(ends, axis=0), atol=1e-3)


def test_where_the_band_is_nowhere_it_is_said_in_words():
    with pytest.raises(Refusal, match=r"band of A Front is on no shape at frame 0: .*another frame"):
        band_box(evaluator(), parsed(cut_ball()), 0, "front", [])
    with pytest.raises(Refusal, match="no longer in the shot"):
        band_box(evaluator(), parsed(cut_ball()), 0, "gone", [])


def test_of_a_retimed_recipe_it_is_where_the_shape_is_seen_now():
    document = cut_ball(geometry=FINE)
    document["items"]["ball"]["place"] = {
        "keys": {
            "a": {"frame": 60, "value": [0, 0, 0], "easing": {"kind": "linear"}},
            "b": {"frame": 100, "value": [0, 10, 0]},
        }
    }
    document["items"]["ball"]["recipe"]["retime"] = {"frame": 55}
    shot = parsed(document)
    box = band_box(evaluator(), shot, 80, "front", [])
    # The recipe stays at frame 55, where the band is the circle about 0.8 m; by frame 80 the shape has gone 5 m up.
    np.testing.assert_allclose(np.array(box["centre"]), [circle(0.8, 1.0)[0], 5, 0], atol=0.02)
