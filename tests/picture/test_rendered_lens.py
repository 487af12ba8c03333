"""Where things are seen, how sharp, and what is read of them."""

from __future__ import annotations

import numpy as np
import pytest
import rendered as small

from windsock.picture.scene import Lens


def turned_lens(degrees=40.0, **more) -> Lens:
    """Somewhere, looking askew."""
    from windsock.core.geometry.placement import placement

    matrix = placement((3.0, 2.0, 6.0), (-15.0, 25.0, 10.0), (1.0, 1.0, 1.0))
    return Lens(tuple(matrix.ravel().tolist()), degrees, **more)


def test_known_points_are_where_the_pinhole_matrix_has_them():
    """x' = x f / z about the middle, f from the angle of view (the pinhole camera)."""
    lens, size = turned_lens(), (320, 180)
    for point in ([0.0, 0.0, 0.0], [1.0, 0.5, -2.0], [-1.5, 1.0, 1.0]):
        spot = small.ball(0.05)
        spot = type(spot)(**{**vars(spot), "points": (spot.points + point).astype(np.float32)})
        layers = small.rendered(small.scene(spot, lens=lens, size=size), passes=1, exact=True)
        rows, columns = np.nonzero(layers.opacity > 0)
        weight = layers.opacity[rows, columns]
        seen = np.linalg.inv(lens.to_world) @ [*point, 1.0]
        high = size[1] / 2 / np.tan(np.radians(20))
        expected = size[0] / 2 + seen[0] / -seen[2] * high, size[1] / 2 - seen[1] / -seen[2] * high
        assert np.average(columns + 0.5, weights=weight) == pytest.approx(expected[0], abs=0.3)
        assert np.average(rows + 0.5, weights=weight) == pytest.approx(expected[1], abs=0.3)


def test_depth_normal_and_place_of_a_plane_are_exact():
    lens = turned_lens()
    layers = small.rendered(small.scene(small.sheet(60.0, z=-1.0), lens=lens, size=(64, 36)), passes=1, exact=True)
    assert layers.depth is not None
    assert layers.position is not None
    met = layers.depth > 0
    assert met.mean() > 0.5
    assert layers.position[met][:, 2] == pytest.approx(-1.0, abs=1e-4)
    axis = -lens.to_world[:3, 2]
    told = (layers.position[met] - lens.to_world[:3, 3]) @ axis
    assert layers.depth[met] == pytest.approx(told, abs=1e-4)
    assert layers.normal[layers.opacity > 0.999] == pytest.approx(
        np.tile([0, 0, 1], ((layers.opacity > 0.999).sum(), 1)), abs=1e-5
    )
    assert layers.depth.dtype == np.float32
    assert (layers.depth[~met] == 0).all()


def test_a_point_out_of_focus_is_a_disc_of_the_thin_lens():
    """An aperture of radius r, sharp at f: a point at d is a disc whose edge goes through r |1 - f/d| at the distance f
    (similar triangles; the circle of confusion of the thin lens)."""
    radius, focus, depth = 0.2, 10.0, 16.0
    spot = small.sheet(0.02, z=10 - depth, emission=[[1000, 1000, 1000]])
    lens = small.ahead(10.0, radius=radius, focus=focus)
    light = small.rendered(small.scene(spot, lens=lens, size=(128, 128)), passes=128).light[..., 0]
    at_focus = radius * abs(1 - focus / depth)
    pixels = at_focus / (2 * np.tan(np.radians(5)) * focus) * 128
    rows, columns = np.nonzero(light > 0.15 * light.max())
    found = np.sqrt(len(rows) / np.pi)
    assert found == pytest.approx(pixels, rel=0.08)
    assert columns.mean() + 0.5 == pytest.approx(64, abs=0.6)


def test_what_is_in_focus_is_sharp_and_the_aperture_takes_no_light():
    one = small.sheet(4.0, emission=[[1, 1, 1]], colour=[[0, 0, 0]])
    open_, closed = (
        small.rendered(small.scene(one, lens=small.ahead(40, radius=radius, focus=10.0)), passes=16).light
        for radius in (0.3, 0.0)
    )
    assert np.abs(open_ - closed).mean() < 0.02


def test_what_is_in_front_covers_and_a_cut_is_there_or_is_not():
    near = small.sheet(2.0, z=2.0, item="near", opacity=[0.4])
    far = small.sheet(6.0, item="far")
    layers = small.rendered(small.scene(near, far, lens=small.ahead(20)), passes=1, exact=True)
    assert layers.identity is not None
    covered = {named.item: layers.identity.covered([one])[32, 32] for one, named in enumerate(layers.identity.named)}
    assert covered["near"] == pytest.approx(0.4, abs=1e-6)
    assert covered["far"] == pytest.approx(0.6, abs=1e-6)
    assert layers.depth is not None
    assert layers.depth[32, 32] == pytest.approx(10, abs=1e-4)
    cut = small.sheet(2.0, z=2.0, item="near", opacity=[0.4], cut=True)
    assert small.rendered(small.scene(cut, lens=small.ahead(5)), passes=1).opacity.max() == 0
