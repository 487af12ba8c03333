"""Light, held against closed forms."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import rendered as small

from windsock.picture import sky, tracing
from windsock.picture.reflecting import albedo_table
from windsock.picture.scene import Inside, Lamp, Lens, SideLook, Sun, Surroundings

WHITE = {"colour": [[1.0, 1.0, 1.0]]}


@pytest.fixture
def uniform(monkeypatch):
    """A sky that is 1 everywhere."""
    monkeypatch.setattr(tracing, "sky_map", lambda kind: np.ones((32, 64, 3), dtype=np.float32))


@pytest.mark.parametrize(("roughness", "metallic"), [(0.1, 0), (0.5, 0), (1, 0), (0.1, 1), (0.5, 1)])
def test_a_white_ball_in_a_uniform_light_is_not_seen(uniform, roughness, metallic):
    """The furnace test (common practice): what takes nothing away returns all that falls on it."""
    one = small.ball(2.0, roughness=[roughness], metallic=[metallic], **WHITE)
    light = small.rendered(small.scene(one, sky=1.0), passes=16).light
    assert light[24:40, 24:40].mean() == pytest.approx(1.0, abs=0.015)
    assert light.mean() == pytest.approx(1.0, abs=0.015)


def test_a_coat_over_black_sends_back_what_the_table_says(uniform):
    one = small.sheet(8.0, colour=[[0.0, 0.0, 0.0]], roughness=[0.1])
    light = small.rendered(small.scene(one, sky=1.0, lens=small.ahead(5)), passes=16).light
    # Head on a coat of an index of 1.5 sends back ((1.5 - 1) / (1.5 + 1))² = 0.04 (Fresnel).
    assert light.mean() == pytest.approx(0.04, abs=5e-4)


def test_a_rough_coat_scatters_once_what_its_closed_form_says():
    """Head on, of a width of 1, the integral of G2 / G1 over the seen normals can be done by hand: 1 - ln 2."""
    scale, bias = albedo_table()[-1, -1]
    assert scale + bias == pytest.approx(1 - np.log(2), abs=2e-3)


def test_a_face_square_to_parallel_light_is_its_colour_over_pi():
    """Lambert's law; the coat takes its own share of the light first."""
    one = small.sheet(8.0, colour=[[0.6, 0.3, 0.1]])
    sun = Sun((0, -0.6, -0.8), (np.pi, np.pi, np.pi))
    light = small.rendered(small.scene(one, suns=(sun,), lens=small.ahead(20)), passes=4).light.mean(axis=(0, 1))
    assert light == pytest.approx(np.array([0.6, 0.3, 0.1]) * 0.8, rel=0.08, abs=0.02)


def test_the_shadow_of_an_edge_is_as_soft_as_the_light_is_wide():
    """A light of w degrees, h metres above: from full light to full shadow are 2 h tan(w/2) metres (similar triangles)."""
    ground = small.sheet(20.0, **WHITE)
    roof = small.sheet(4.0, z=1.0, middle=(-2.0, 0.0), backs="shown", colour=[[0, 0, 0]])
    sun = Sun((0, 0, -1), (3, 3, 3), degrees=20.0)
    # From beneath the light nothing of the ground beside the edge is hidden but by the roof's own width.
    lens = small.ahead(0.72)
    light = small.rendered(small.scene(ground, roof, suns=(sun,), lens=lens, size=(256, 16)), passes=64).light
    row = light.mean(axis=(0, 2))
    x = ((np.arange(256) + 0.5) / 256 - 0.5) * 2 * np.tan(np.radians(0.36)) * 10 * 16
    soft = np.tan(np.radians(10))
    # Past the roof's edge a part of the light's disc is hidden: the segment of a circle.
    past = np.clip(x / soft, -1, 1)
    hidden = (np.arccos(past) - past * np.sqrt(1 - past**2)) / np.pi
    seen = x > 0.01
    assert row[seen] / row[x > 0.5].mean() == pytest.approx(1 - hidden[seen], abs=0.06)


def test_what_glows_lights_what_is_near_by_its_area():
    """A small square of radiance L, r metres in front: E = L A / r² (inverse square law), and L of the wall is E c / pi."""
    wall = small.sheet(0.1, colour=[[1.0, 1.0, 1.0]])
    lamp = small.surface(
        [(-0.05, -0.05, 2), (-0.05, 0.05, 2), (0.05, 0.05, 2), (0.05, -0.05, 2)],
        [(0, 1, 2), (0, 2, 3)],
        emission=[[40.0, 40.0, 40.0]],
    )
    lens = Lens((1.0, 0, 0, 1, 0, 1, 0, 0, 0, 0, 1, 10, 0, 0, 0, 1), 14.0)
    light = small.rendered(small.scene(wall, lamp, lens=lens, size=(256, 256)), passes=32).light
    seen = small.rendered(small.scene(wall, lens=lens, size=(256, 256)), passes=1, exact=True).opacity > 0.99
    expected = 40 * 0.01 / 4 / np.pi
    assert seen.sum() > 20
    assert light[seen].mean() == pytest.approx(expected, rel=0.1)


def test_glow_from_point_to_point_is_seen_as_it_is():
    rising = np.array([[0, 0, 0], [4, 4, 4], [4, 4, 4], [0, 0, 0]], dtype=float)
    one = small.sheet(4.0, emission=rising, colour=[[0, 0, 0]])
    light = small.rendered(small.scene(one, lens=small.ahead(15)), passes=8).light[..., 0].mean(axis=0)
    x = ((np.arange(64) + 0.5) / 64 - 0.5) * 2 * np.tan(np.radians(7.5)) * 10
    assert light == pytest.approx((x + 2), abs=0.05)


def test_a_picture_is_laid_on_by_u_v_and_its_mask_lets_through(uniform):
    """u to the right and v up: the corners of a picture of four colours are where they belong."""
    corners = np.array([[[1, 0, 0], [0, 1, 0]], [[0, 0, 1], [1, 1, 1]]], dtype=np.float32)
    uv = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], dtype=np.float32)
    laid = {"uv": uv, "pixels": corners.repeat(32, 0).repeat(32, 1), "wrap": ("clamp", "clamp")}
    for glow in ([[0.0, 0.0, 0.0]], [[0.002, 0.002, 0.002]]):
        one = small.surface(small.sheet(4.0).points, [(0, 1, 2), (0, 2, 3)], emission=glow)
        one = replace(one, **laid)
        layers = small.rendered(small.scene(one, sky=1.0, lens=small.ahead(21.5), size=(64, 64)), passes=16)
        assert layers.albedo[4, 4] == pytest.approx([1, 0, 0], abs=0.01)
        if glow[0][0] == 0:
            assert layers.light[4, 4].argmax() == 0
            assert layers.light[4, 60].argmax() == 1
            assert layers.light[60, 4].argmax() == 2
            assert layers.light[60, 60].min() > 0.9
    half = np.ones((2, 2, 1), dtype=np.float32)
    half[:, 0] = 0
    masked = replace(one, emission=np.zeros((1, 3), np.float32), mask=half.repeat(32, 0).repeat(32, 1))
    layers = small.rendered(small.scene(masked, sky=1.0, lens=small.ahead(21.5), size=(64, 64)), passes=8)
    assert layers.opacity[:, 4:28].max() == 0
    assert layers.opacity[4:60, 36:60].min() == 1
    assert layers.light[4:60, 4:28].mean() == pytest.approx(1, abs=0.01)


def test_opacity_lets_the_sky_through_and_hidden_backs_do(uniform):
    black = {"colour": [[0, 0, 0]], "roughness": [1.0]}
    half = small.rendered(small.scene(small.sheet(20.0, opacity=[0.25], **black), sky=1.0), passes=16)
    assert half.light.mean() == pytest.approx(0.75 + 0.25 * 0.05, abs=0.02)
    assert half.opacity == pytest.approx(0.25, abs=1e-6)
    behind = small.sheet(20.0, backs="hidden", **black)
    turned = type(behind)(**{**vars(behind), "normals": -behind.normals, "faces": behind.faces[:, ::-1].copy()})
    gone = small.rendered(small.scene(turned, sky=1.0), passes=4)
    assert gone.light == pytest.approx(1.0, abs=1e-4)
    assert gone.opacity.max() == 0
    own = SideLook(np.array([1, 0, 0], np.float32), 1.0, 0.0, np.zeros(3, np.float32))
    red = small.rendered(small.scene(type(behind)(**{**vars(turned), "backs": own}), sky=1.0), passes=16)
    assert red.light[..., 0].mean() > 0.95 > 0.1 > red.light[..., 1].mean()


def test_clear_glass_in_a_uniform_light_is_not_seen(uniform):
    clear = {"transmission": [1.0], "roughness": [0.0], "colour": [[1.0, 1.0, 1.0]]}
    for one in (small.ball(2.0, **clear), small.sheet(4.0, **clear)):
        light = small.rendered(small.scene(one, sky=1.0), passes=16).light
        assert light.mean() == pytest.approx(1.0, abs=0.02)


def test_a_sheet_of_glass_shows_what_is_straight_behind_it_and_a_body_bends_it():
    lamp = small.sheet(1.0, z=-4.0, middle=(1.0, 0.0), emission=[[1, 1, 1]], colour=[[0, 0, 0]])
    clear = {"transmission": [1.0], "roughness": [0.0], "colour": [[1.0, 1.0, 1.0]]}

    def where(*things):
        dark = Surroundings("day", 0.0, behind=(0.0, 0.0, 0.0))
        scene = replace(small.scene(*things, lamp, lens=small.ahead(20)), surroundings=dark)
        light = small.rendered(scene, passes=16).light[..., 0]
        return (light * np.arange(64)).sum() / light.sum()

    alone = where()
    assert where(small.sheet(8.0, **clear)) == pytest.approx(alone, abs=0.3)
    assert abs(where(small.ball(2.0, **clear)) - alone) > 3


def test_far_things_fade_as_in_the_page():
    one = small.sheet(400.0, z=-70.0, colour=[[0, 0, 0]])
    light = small.rendered(small.scene(one), passes=1).light
    part = (80 - 30) / 100
    share = part * part * (3 - 2 * part)
    assert light.mean(axis=(0, 1)) == pytest.approx(share * sky.SKIES["day"].faded, abs=0.01)


def test_the_sky_is_the_right_way_round():
    """What is straight ahead, above and beside the lens is what the sky is said to be there."""
    layers = small.rendered(small.scene(sky=1.0, lens=small.ahead(60), size=(32, 32)), passes=16)
    place = ((np.arange(32) + 0.5) / 32 - 0.5) * 2 * np.tan(np.radians(30))
    towards = np.stack(
        [np.broadcast_to(place, (32, 32)), np.broadcast_to(-place[:, None], (32, 32)), np.full((32, 32), -1.0)], -1
    ).reshape(-1, 3)
    towards /= np.linalg.norm(towards, axis=1, keepdims=True)
    expected = sky.sky_towards("day", towards).reshape(32, 32, 3)
    assert np.abs(layers.light - expected).mean() < 0.01


def test_the_same_scene_is_the_same_bytes():
    one = small.scene(small.ball(2.0), suns=(Sun((0, -0.6, -0.8), (3, 3, 3), 1.0),), sky=1.0)
    first, second = (small.rendered(one, passes=2, denoised=True).light for _ in range(2))
    assert first.tobytes() == second.tobytes()


def test_what_was_built_for_another_scene_is_the_same_bytes():
    """A live renderer answers as one that has rendered nothing before."""
    from windsock.picture.meshes import BuiltMeshes

    lamp = small.sheet(1.0, z=1.0, middle=(1.5, 0.0), emission=[[2, 2, 2]])
    one = small.scene(small.ball(1.0), lamp, suns=(Sun((0, -0.6, -0.8), (3, 3, 3)),), sky=1.0)
    other = small.scene(lamp, small.sheet(3.0), small.ball(1.0), sky=0.5)
    built = BuiltMeshes()
    for scene in (one, other, one):
        warm = small.rendered(scene, passes=2, built=built)
        fresh = small.rendered(scene, passes=2)
        assert warm.light.tobytes() == fresh.light.tobytes()
        assert warm.emission.tobytes() == fresh.emission.tobytes()


def lamp(place, light=(4.0, 4.0, 4.0), turn=None, **more):
    """A lamp that shines along -Z, moved and turned."""
    matrix = np.eye(4)
    if turn is not None:
        matrix[:3, :3] = turn
    matrix[:3, 3] = place
    return Lamp(tuple(matrix.ravel().tolist()), light, **more)


@pytest.mark.parametrize("radius", [0.0, 0.1])
@pytest.mark.parametrize("away", [1.0, 2.0])
def test_a_point_lights_by_the_square_of_how_far_it_is(radius, away):
    """Inverse square law and Lambert's: E = I / r², and what a white face sends back is E / pi."""
    wall = small.sheet(0.1, **WHITE)
    one = replace(small.scene(wall, lens=small.ahead(0.5), size=(32, 32)), lamps=(lamp((0, 0, away), radius=radius),))
    layers = small.rendered(one, passes=16, exact=True)
    seen = layers.opacity > 0.99
    assert seen.all()
    assert layers.light.mean() == pytest.approx(4 / away**2 / np.pi, rel=0.03)


def test_an_area_lights_one_side_as_its_form_factor_says():
    """A square of radiance L over a small face on its axis: the form factor of parallel rectangles to a point (Howell's catalogue,
    B-4: four corners of F = 1 / (2 pi) (A / sqrt(1 + A²) atan(B / sqrt(1 + A²)) + the same with A and B exchanged))."""
    wall, wide, high, away = small.sheet(0.05, **WHITE), 2.0, 1.0, 1.5
    a, b = wide / 2 / away, high / 2 / away
    corner = (
        a / np.sqrt(1 + a * a) * np.arctan(b / np.sqrt(1 + a * a))
        + b / np.sqrt(1 + b * b) * np.arctan(a / np.sqrt(1 + b * b))
    ) / (2 * np.pi)
    radiance = 4 / (wide * high)
    base = small.scene(wall, lens=small.ahead(0.25), size=(32, 32))
    one = replace(base, lamps=(lamp((0, 0, away), across=(wide, high)),))
    assert small.rendered(one, passes=32).light.mean() == pytest.approx(radiance * 4 * corner, rel=0.03)
    turned = replace(base, lamps=(lamp((0, 0, away), turn=np.diag([-1.0, 1, -1]), across=(wide, high)),))
    assert small.rendered(turned, passes=4).light.max() == 0


@pytest.mark.parametrize("more", [{"radius": 0.5}, {"across": (2.0, 2.0)}])
def test_lamps_are_not_seen_and_hide_nothing(more):
    wall = small.sheet(8.0, emission=[[0.25, 0.25, 0.25]], colour=[[0, 0, 0]])
    near = lamp((0, 0, 5), light=(0.5, 0.5, 0.5), turn=np.diag([-1.0, 1, -1]), **more)
    one = replace(small.scene(wall, lens=small.ahead(15), size=(48, 48)), lamps=(near,))
    layers = small.rendered(one, passes=4, exact=True)
    assert layers.light == pytest.approx(0.25, abs=0.02)
    assert layers.opacity == pytest.approx(1)
    assert layers.depth == pytest.approx(10, abs=1e-3)


@pytest.mark.parametrize("more", [{"radius": 1e-9}, {"across": (0.0, 0.0)}, {"across": (0.0, 3.0)}])
def test_lamps_of_no_size_light_all_the_same(more):
    wall = small.sheet(0.1, **WHITE)
    one = replace(small.scene(wall, lens=small.ahead(0.5), size=(16, 16)), lamps=(lamp((0, 0, 4), **more),))
    light = small.rendered(one, passes=8).light
    assert np.isfinite(light).all()
    assert light.mean() == pytest.approx(4 / 16 / np.pi, rel=0.25)


@pytest.mark.parametrize("strength", [0.0, 0.5, 1.0, 3.0])
def test_behind_all_is_a_colour_where_the_sky_is_not_seen(strength, uniform):
    """Also through what half fades, and at edges: no light of the sky is left there, and none is missing."""
    half = small.sheet(2.0, opacity=[0.5], colour=[[0, 0, 0]])
    told = Surroundings("day", strength, behind=(0.2, 0.1, 0.4))
    one = replace(small.scene(half, lens=small.ahead(20)), surroundings=told)
    light = small.rendered(one, passes=32).light
    assert light[2:6, 2:6] == pytest.approx(np.broadcast_to([0.2, 0.1, 0.4], (4, 4, 3)), abs=1e-3)
    lit = light[26:38, 26:38].mean(axis=(0, 1))
    gloss = lit - np.array([0.1, 0.05, 0.2])
    assert gloss == pytest.approx(gloss[0], abs=0.05)  # what its coat mirrors has the colour of the sky
    assert gloss.max() < 0.15 * max(strength, 0.1)


def test_surroundings_are_turned_about_the_vertical(monkeypatch):
    """Bright ahead, towards -Z: a quarter turn brings that to -X, as it brings a thing there."""
    ahead = np.zeros((64, 128, 3), np.float32)
    ahead[:, :8] = ahead[:, -8:] = 1  # columns go from -Z round by +X
    monkeypatch.setattr(tracing, "sky_map", lambda kind: ahead)
    faces = {
        "left": (0, 0, 1, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 0, 1),
        "ahead": (1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1),
    }
    for turn, bright in ((0.0, "ahead"), (90.0, "left")):
        for side, matrix in faces.items():
            lens = Lens(tuple(float(one) for one in matrix), 10.0)
            scene = replace(small.scene(lens=lens, size=(8, 8)), surroundings=Surroundings("day", 1.0, turn))
            assert small.rendered(scene, passes=1).light.mean() == pytest.approx(float(side == bright), abs=0.02)


def test_the_middle_of_a_picture_of_all_round_is_ahead():
    """Red ahead, green to the right, blue behind, grey to the left; a quarter turn brings what is ahead to the left."""
    light = np.zeros((64, 128, 3), np.float16)
    light[:, 48:80] = [1, 0, 0]
    light[:, 80:112] = [0, 1, 0]
    light[:, 112:] = light[:, :16] = [0, 0, 1]
    light[:, 16:48] = 0.5
    sides = {  # the camera looks along the -Z of these
        "ahead": (1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1),
        "right": (0, 0, -1, 0, 0, 1, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1),
        "behind": (-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1),
        "left": (0, 0, 1, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 0, 1),
    }

    def seen(side, turn):
        lens = Lens(tuple(float(one) for one in sides[side]), 10.0)
        told = Surroundings("day", 0.5, turn, light=light)
        return small.rendered(replace(small.scene(lens=lens, size=(8, 8)), surroundings=told), passes=1).light[4, 4]

    colours = {"ahead": [1, 0, 0], "right": [0, 1, 0], "behind": [0, 0, 1], "left": [0.5, 0.5, 0.5]}
    for side, colour in colours.items():
        assert seen(side, 0.0) == pytest.approx(colour, abs=0.02), side
    assert seen("left", 90.0) == pytest.approx([1, 0, 0], abs=0.02)


def from_above(degrees: float) -> Lens:
    """A lens 10 m from the origin, so many degrees from the vertical, that looks at it."""
    away = np.array([np.sin(np.radians(degrees)), np.cos(np.radians(degrees)), 0.0])
    right = np.array([0.0, 0.0, -1.0])
    matrix = np.eye(4)
    matrix[:3, :3] = np.column_stack([right, np.cross(away, right), away])
    matrix[:3, 3] = 10 * away
    return Lens(tuple(matrix.ravel().tolist()), 1.0)


def lit_from_above(monkeypatch):
    """A sky that is 1 above and 0 below."""
    halves = np.zeros((32, 64, 3), dtype=np.float32)
    halves[:16] = 1
    monkeypatch.setattr(tracing, "sky_map", lambda kind: halves)


def fresnel(degrees: float, index: float) -> tuple[float, float]:
    """What a surface sends back of light without polarisation (Fresnel's equations), and the cosine within (Snell's law)."""
    cosine = np.cos(np.radians(degrees))
    inside = np.sqrt(1 - (np.sin(np.radians(degrees)) / index) ** 2)
    across = (cosine - index * inside) / (cosine + index * inside)
    along = (inside - index * cosine) / (inside + index * cosine)
    return float((across**2 + along**2) / 2), float(inside)


@pytest.mark.parametrize(("degrees", "index"), [(0.0, 1.5), (30.0, 1.31), (45.0, 1.5), (60.0, 2.42), (75.0, 1.4)])
def test_a_pane_of_glass_sends_back_what_fresnel_says(monkeypatch, degrees, index):
    """Both sides of a pane send light to and fro, which adds up to 2 r / (1 + r) (Stokes 1862)."""
    lit_from_above(monkeypatch)
    pane = pane_of_glass(Inside(index))
    light = small.rendered(small.scene(pane, sky=1.0, lens=from_above(degrees)), passes=32).light.mean()
    once, _ = fresnel(degrees, index)
    assert light == pytest.approx(2 * once / (1 + once), rel=0.03, abs=0.002)


@pytest.mark.parametrize("degrees", [0.0, 60.0])
def test_a_pane_takes_light_by_its_thickness_along_the_bent_way(monkeypatch, degrees):
    """Beer and Lambert: what is left is a power of the way, that is the thickness over the cosine within (Snell). The sky is 1 all
    round: what comes is what is sent back, and what is left of the rest."""
    monkeypatch.setattr(tracing, "sky_map", lambda kind: np.ones((8, 16, 3), dtype=np.float32))
    pane = pane_of_glass(Inside(1.5, (0.5, 0.1, 1.0), thickness=0.2))
    light = small.rendered(small.scene(pane, sky=1.0, lens=from_above(degrees)), passes=32).light.mean(axis=(0, 1))
    once, cosine = fresnel(degrees, 1.5)
    back = 2 * once / (1 + once)
    expected = back + (1 - back) * np.array([0.5, 0.1, 1.0]) ** (0.2 / cosine)
    assert light == pytest.approx(expected, rel=0.02)


def test_a_body_takes_light_by_the_way_within(uniform):
    """Beer and Lambert: two metres straight through what leaves half, a quarter and nine tenths of light after each metre. With an
    index of 1 nothing is sent back."""
    body = replace(box(4.0, 4.0, 2.0), inside=Inside(1.0, (0.5, 0.25, 0.9)))
    light = small.rendered(small.scene(body, sky=1.0, lens=small.ahead(2.0)), passes=4).light.mean(axis=(0, 1))
    assert light == pytest.approx([0.25, 0.0625, 0.81], rel=0.02)


@pytest.mark.parametrize("index", [1.31, 1.5, 2.0])
def test_a_plate_shifts_what_is_behind_it_as_snell_says(index):
    """Through a plate of thickness t, met at an angle a, light goes on in parallel, shifted by t sin a (1 - cos a / (n cos b)), with b
    the angle within (any textbook of optics, from memory)."""
    lamp = small.sheet(0.4, z=-4.0, emission=[[1, 1, 1]], colour=[[0, 0, 0]])

    def where(*things):
        dark = Surroundings("day", 0.0, behind=(0.0, 0.0, 0.0))
        scene = replace(small.scene(*things, lamp, lens=small.ahead(12)), surroundings=dark)
        light = small.rendered(scene, passes=24).light[..., 0]
        return (light * np.arange(64)).sum() / light.sum()

    angle, thick = np.radians(40.0), 1.5
    plate = box(12.0, 6.0, thick)
    turn = np.array([[np.cos(angle), 0, np.sin(angle)], [0, 1, 0], [-np.sin(angle), 0, np.cos(angle)]], np.float32)
    plate = replace(plate, points=plate.points @ turn.T, normals=plate.normals @ turn.T, inside=Inside(index))
    seen = 0.0
    for _ in range(20):
        # Where it is seen to the side, the plate is met at another angle.
        met = angle + seen
        within = np.sqrt(1 - (np.sin(met) / index) ** 2)
        shift = thick * np.sin(met) * (1 - np.cos(met) / (index * within))
        seen = np.arcsin(shift / 14)
    pixels = np.tan(seen) / (2 * np.tan(np.radians(6))) * 64
    assert abs(where(plate) - where()) == pytest.approx(pixels, rel=0.02)


def test_frosted_glass_in_a_uniform_light_is_not_seen_and_blurs_what_is_behind(uniform):
    """A furnace for what is rough; how rough it is may differ from place to place."""
    dull = {"transmission": [1.0], "colour": [[1.0, 1.0, 1.0]]}
    frosted = small.sheet(4.0, roughness=[0.6], **dull)
    assert small.rendered(small.scene(frosted, sky=1.0), passes=16).light.mean() == pytest.approx(1.0, abs=0.03)
    lamp = small.sheet(0.5, z=-2.0, emission=[[1, 1, 1]], colour=[[0, 0, 0]])

    def spread(pane):
        dark = Surroundings("day", 0.0, behind=(0.0, 0.0, 0.0))
        scene = replace(small.scene(pane, lamp, lens=small.ahead(20)), surroundings=dark)
        light = small.rendered(scene, passes=32).light[..., 0]
        across = np.arange(64) - (light * np.arange(64)).sum() / light.sum()
        return np.sqrt((light * across**2).sum() / light.sum())

    clear, half, full = (spread(small.sheet(8.0, roughness=[one], **dull)) for one in (0.0, 0.25, 0.5))
    assert clear * 1.5 < half < full
    uneven = small.surface(small.sheet(8.0).points, [(0, 1, 2), (0, 2, 3)], roughness=[0.25, 0.5, 0.5, 0.25], **dull)
    assert half < spread(uneven) < full
    body = small.ball(1.0, roughness=np.linspace(0.2, 0.6, len(small.ball(1.0).points)), **dull)
    assert 0.7 < small.rendered(small.scene(body, sky=1.0), passes=8).light.mean() <= 1.01


def pane_of_glass(inside: Inside):
    """A level square of clear glass."""
    corners = [(-4, 0, 4), (4, 0, 4), (4, 0, -4), (-4, 0, -4)]
    pane = small.surface(corners, [(0, 1, 2), (0, 2, 3)], transmission=[1.0], roughness=[0.0], **WHITE)
    return replace(pane, inside=inside)


def box(wide: float, high: float, deep: float):
    """A box of clear glass about the origin, its corners each of three faces."""
    import trimesh

    made = trimesh.creation.box((wide, high, deep))
    corners = made.vertices[made.faces].reshape(-1, 3)
    normals = np.repeat(made.face_normals, 3, axis=0)
    faces = np.arange(len(corners)).reshape(-1, 3)
    return small.surface(corners, faces, normals, transmission=[1.0], roughness=[0.0], **WHITE)
