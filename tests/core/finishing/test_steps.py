"""Each finishing step against what it is named after, on pictures of a few pixels."""

from __future__ import annotations

from typing import get_args

import numpy as np
import pytest

from windsock.core.document.shot import parse_shot
from windsock.core.finishing import AnyFinish
from windsock.core.finishing.chain import on_light, on_shown, quick
from windsock.core.finishing.depth_of_field import DepthOfField, confusion
from windsock.core.finishing.finish import Glass, Seen
from windsock.core.finishing.white_balance import balancing
from windsock.core.geometry.temperature import XYZ, white_at
from windsock.core.timing.parameter import Moment

KINDS = {kind.kind_name(): kind for kind in get_args(AnyFinish)}
HIGH, WIDE = 48, 64


def seen(frame=0.0, **more):
    return Seen(Moment(frame, frame / 24), np.zeros((HIGH, WIDE, 3), np.float32), **more)


def picture(seed=1):
    return np.random.default_rng(seed).random((HIGH, WIDE, 3), dtype=np.float32) * 2


def step(kind, **settings):
    return KINDS[kind].model_validate({"rank": 0} | settings, strict=False)


def flat(*colour):
    return np.tile(np.array(colour, np.float32), (HIGH, WIDE, 1))


def test_exposure_doubles_the_light_a_stop():
    assert step("exposure", stops=2).finished(picture(), seen()) == pytest.approx(4 * picture())


@pytest.mark.parametrize(
    ("slope", "offset", "power", "saturation", "given", "wanted"),
    [
        # ASC CDL 1.2, out = (in slope + offset)^power, then luma + saturation (out - luma), worked out by hand.
        ((1, 1, 1), (0, 0, 0), (1, 1, 1), 1, (0.2, 0.5, 0.8), (0.2, 0.5, 0.8)),
        ((2, 1, 0.5), (0.1, 0, -0.1), (1, 2, 1), 1, (0.2, 0.5, 0.8), (0.5, 0.25, 0.3)),
        ((1, 1, 1), (-0.5, 0, 0), (0.5, 1, 1), 1, (0.2, 0.5, 0.8), (0.0, 0.5, 0.8)),
        ((1, 1, 1), (0, 0, 0), (1, 1, 1), 0, (0.2, 0.5, 0.8), (0.45788,) * 3),
        ((1, 1, 1), (0, 0, 0), (1, 1, 1), 2, (0.4, 0.5, 0.6), (0.307, 0.507, 0.707)),
    ],
)
def test_a_grade_is_that_of_the_colour_decision_list(slope, offset, power, saturation, given, wanted):
    if saturation == 2:
        luma = 0.2126 * 0.4 + 0.7152 * 0.5 + 0.0722 * 0.6
        wanted = [luma + 2 * (one - luma) for one in given]
    grade = step("grade", slope=slope, offset=offset, power=power, saturation=saturation)
    assert grade.finished(flat(*given), seen())[0, 0] == pytest.approx(wanted, abs=1e-5)


@pytest.mark.parametrize(
    ("kelvin", "x", "y"),
    [
        # CIE 015:2018: illuminants D50, D55, D65 and D75 at their temperatures times 1.4388 / 1.4380; and A (from memory).
        (5003, 0.3457, 0.3585),
        (5503, 0.3324, 0.3474),
        (6504, 0.3127, 0.3290),
        (7504, 0.2990, 0.3149),
        (2856, 0.4476, 0.4074),
    ],
)
def test_whites_are_where_their_temperatures_have_them(kelvin, x, y):
    assert white_at(kelvin) == pytest.approx((x, y), abs=2e-4 if kelvin > 4000 else 4e-3)


def test_whites_go_on_without_a_step_from_black_bodies_to_daylight():
    assert white_at(3999.999) == pytest.approx(white_at(4000.001), abs=1e-6)


def test_light_of_its_temperature_becomes_white_and_daylight_stays():
    x, y = white_at(3200)
    lit = np.linalg.inv(XYZ) @ np.array([x / y, 1, (1 - x - y) / y])
    white = balancing(3200, 0) @ lit
    assert white == pytest.approx(np.full(3, white.mean()), rel=2e-3)
    assert balancing(6504, 0) == pytest.approx(np.eye(3), abs=2e-3)
    warmer = step("white_balance", temperature=9000).finished(flat(0.5, 0.5, 0.5), seen())[0, 0]
    assert warmer[0] > warmer[2]
    magenta = step("white_balance", temperature=6504, tint=50).finished(flat(0.5, 0.5, 0.5), seen())[0, 0]
    assert magenta[1] < 0.5 < magenta[0]


def test_a_curve_is_read_at_what_is_shown():
    curve = {"points": {"a": {"x": 0.0, "y": 0.1}, "b": {"x": 1.0, "y": 0.6}}}
    shown = step("tone_curve", curve=curve).finished(flat(0.0, 0.5, 1.0), seen())[0, 0]
    assert shown == pytest.approx((0.1, 0.35, 0.6), abs=1e-5)
    red = step("tone_curve", curve=curve, of="red").finished(flat(0.5, 0.5, 1.0), seen())[0, 0]
    assert red == pytest.approx((0.35, 0.5, 1.0), abs=1e-5)


def test_a_vignette_leaves_the_middle_and_darkens_the_corners_by_its_stops():
    made = step("vignette", stops=2, start=30).finished(flat(1, 1, 1), seen())
    assert made[HIGH // 2, WIDE // 2] == pytest.approx(1)
    assert made[0, 0, 0] == pytest.approx(0.25, abs=0.02)
    assert made == pytest.approx(made[::-1, ::-1], abs=1e-6)
    round_one = step("vignette", stops=2, start=30, roundness=1).finished(flat(1, 1, 1), seen())
    assert round_one[0, WIDE // 2, 0] > made[0, WIDE // 2, 0]  # the short way out it is nearer to the middle


def test_a_fringe_moves_red_out_and_blue_in_and_leaves_green_and_the_middle():
    light = np.zeros((HIGH, WIDE, 3), np.float32)
    light[:, WIDE * 3 // 4] = 1
    made = step("colour_fringe", spread=10).finished(light, seen())

    def across(channel):
        row = made[HIGH // 2, :, channel]
        return (row * np.arange(WIDE)).sum() / row.sum()

    # 5 % of the way from the middle out, each.
    out = (WIDE * 3 // 4 - (WIDE - 1) / 2) * 0.05
    assert across(0) == pytest.approx(WIDE * 3 // 4 + out, abs=0.1)
    assert across(2) == pytest.approx(WIDE * 3 // 4 - out, abs=0.1)
    assert (made[..., 1] == light[..., 1]).all()


def test_grain_is_as_strong_as_said_goes_with_the_root_of_light_and_moves_or_stands():
    grain = step("grain", strength=0.1, size=0)
    bright, dark = (grain.finished(flat(level, level, level), seen()) for level in (1.0, 0.25))
    assert bright.mean() == pytest.approx(1, abs=0.01)
    assert bright.std() == pytest.approx(0.1, rel=0.05)
    assert dark.std() == pytest.approx(0.05, rel=0.05)
    again = grain.finished(flat(1, 1, 1), seen())
    assert (again == bright).all()
    assert (grain.finished(flat(1, 1, 1), seen(1)) != bright).any()
    stands = step("grain", moves=False)
    assert (stands.finished(flat(1, 1, 1), seen(1)) == stands.finished(flat(1, 1, 1), seen(2))).all()
    grey = step("grain", coloured=0).finished(flat(1, 1, 1), seen())
    assert grey[..., 0] == pytest.approx(grey[..., 2], abs=1e-6)
    other = step("grain", strength=0.1, size=0, seed=2).finished(flat(1, 1, 1), seen())
    assert (other != bright).any()


def test_sharpening_raises_an_edge_and_leaves_what_is_flat():
    light = flat(0.3, 0.3, 0.3)
    light[:, WIDE // 2 :] = 0.6
    made = step("sharpen", strength=1, reach=4).finished(light, seen())
    assert made[HIGH // 2, WIDE // 2, 0] > 0.65
    assert made[HIGH // 2, WIDE // 2 - 1, 0] < 0.25
    assert made[:, :8] == pytest.approx(0.3, abs=1e-3)
    assert made[:, -8:] == pytest.approx(0.6, abs=1e-3)


def test_a_fade_goes_to_its_colour():
    assert step("fade_to_colour", colour="#FF0000", share=100).finished(picture(), seen()) == pytest.approx(
        flat(1, 0, 0), abs=1e-6
    )
    assert step("fade_to_colour", share=25).finished(flat(1, 1, 1), seen()) == pytest.approx(0.75)


def test_a_glow_keeps_what_it_spreads_and_spreads_only_what_it_is_of():
    """What is added is the two shares of what shines: a Gaussian keeps the whole (on a picture that is wide enough for it)."""
    light = flat(0.1, 0.1, 0.1)
    emission = np.zeros_like(light)
    emission[24, 32] = 5
    glow = step("glow", reach=4)
    made = glow.finished(light, Seen(Moment(0, 0), emission))
    assert (made - light).sum() == pytest.approx((0.25 + 0.42) * emission.sum(), rel=0.02)
    assert (glow.finished(light, seen()) == light).all()
    bright = flat(0.1, 0.1, 0.1)
    bright[24, 32] = 3
    made = step("glow", of="what is bright", level=1, reach=4).finished(bright, seen())
    assert (made - bright).sum() == pytest.approx((0.25 + 0.42) * 3 * 2.0, rel=0.02)


@pytest.mark.parametrize(
    ("far", "sharp", "f_number", "focal"), [(10, 5, 2.0, 0.05), (2, 5, 1.4, 0.085), (np.inf, 3, 4, 0.035)]
)
def test_the_circle_of_confusion_is_that_of_a_thin_lens(far, sharp, f_number, focal):
    """Where the rays of a point meet the sensor: the lens equation, 1/f = 1/far + 1/behind, done for both distances."""
    behind, sensor = (1 / (1 / focal - 1 / one) for one in (far, sharp))
    wide = focal / f_number * abs(behind - sensor) / behind
    assert confusion(np.array([far]), sharp, f_number, focal)[0] == pytest.approx(wide, rel=1e-6)


def test_out_of_focus_a_point_is_a_disc_as_wide_as_the_circle_and_what_is_sharp_stays():
    light = np.full((200, 200, 3), 0.0, np.float32)
    light[100, 50] = light[100, 150] = 1
    depths = np.full((3, 200, 200), 5.0, np.float32)
    depths[:, :, 100:] = 10.0
    glass = Glass(0.1, 0.024)
    told = Seen(Moment(0, 0), np.zeros_like(light), depths=depths, glass=glass)
    made = DepthOfField(rank=0, f_number=2.0, focus=5.0).finished(light, told)
    assert made[100, 50] == pytest.approx(1, abs=1e-3)
    wide = confusion(np.array([10.0]), 5.0, 2.0, 0.1)[0] / 0.024 * 200
    place = np.arange(200)
    spread = made[:, 100:, 0]
    # The second moment of a disc of radius r along an axis is r^2 / 4.
    radius = 2 * np.sqrt((spread.sum(axis=1) * (place - 100) ** 2).sum() / spread.sum())
    assert spread.sum() == pytest.approx(1, rel=0.02)
    assert 2 * radius == pytest.approx(wide, rel=0.1)


def test_what_is_sharp_follows_an_item():
    light = picture()
    told = seen(depths=np.full((3, HIGH, WIDE), 7.0, np.float32), far_off=lambda item: {"ball": 7.0}[item])
    follows = step("depth_of_field", focus=1.0, focus_on="ball")
    assert follows.finished(light, told) == pytest.approx(light, abs=1e-5)


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("high", [1, 2, 33])
def test_each_works_on_pictures_of_any_size_and_changes_nothing_of_what_it_is_given(kind, high):
    light = np.random.default_rng(4).random((high, 17, 3), dtype=np.float32)
    before = light.copy()
    told = Seen(Moment(3.5, 0.1), light.copy(), depths=np.full((2, high, 17), np.inf, np.float32))
    made = step(kind).finished(light, told)
    assert made.shape == light.shape
    assert made.dtype == np.float32
    assert np.isfinite(made).all()
    assert (light == before).all()
    assert (step(kind).finished(light, told) == made).all()


@pytest.mark.parametrize("kind", KINDS)
def test_each_counts_where_it_is_and_by_its_amount(kind):
    light = np.clip(picture(3), 0, 1)
    light[5, 5] = 4
    half = np.zeros((HIGH, WIDE), np.float32)
    half[:, : WIDE // 2] = 1
    emission = np.zeros_like(light)
    emission[10, 10] = 3
    depths = np.where(half > 0, 2.0, 30.0).astype(np.float32)[None]
    told = Seen(Moment(0, 0), emission, {("ball", "body"): half}, depths, {"fog": half}, Glass(0.4, 0.024))
    made = step(kind).finished(light, told)
    assert (made != light).any()
    for where in ({"item": "ball"}, {"field": "fog"}, {"depth": {"near": 1.0, "far": 3.0, "soft": 0.0}}):
        own = step(kind, **where).finished(light, told)
        if kind != "glow":
            assert own[:, WIDE // 2 :] == pytest.approx(light[:, WIDE // 2 :])
            assert own[:, : WIDE // 2] == pytest.approx(made[:, : WIDE // 2], abs=1e-6)
            other = step(kind, outside=True, **where).finished(light, told)
            assert other[:, : WIDE // 2] == pytest.approx(light[:, : WIDE // 2])
        else:
            other = step(kind, outside=True, **where).finished(light, told)
            assert (other == light).all()  # all that shines is on the other side
    partly = step(kind, amount=0.25).finished(light, told)
    assert partly == pytest.approx(light + 0.25 * (made - light), abs=1e-5)
    assert (step(kind, on=False).finished(light, told) == light).all()


def test_a_depth_range_fades_at_both_ends_and_the_sky_is_beyond_all():
    depths = np.broadcast_to(np.linspace(0, 20, WIDE, dtype=np.float32), (1, HIGH, WIDE)).copy()
    depths[..., -1] = np.inf
    mask = step("fade_to_colour", depth={"near": 5.0, "far": 15.0, "soft": 2.0}).mask(seen(depths=depths))
    row, far = mask[0], depths[0, 0]
    assert np.interp(5, far[:-1], row[:-1]) == pytest.approx(0.5, abs=0.05)
    assert np.interp(15, far[:-1], row[:-1]) == pytest.approx(0.5, abs=0.05)
    assert row[np.searchsorted(far, 10)] == 1
    assert row[-1] == 0


def test_a_part_is_one_of_its_item():
    shards, body = (np.eye(HIGH, WIDE, k, dtype=np.float32) for k in (0, 3))
    told = seen(covers={("ball", "body"): body, ("ball", "shards"): shards, ("bell", "shards"): body})
    assert (step("fade_to_colour", item="ball", part="shards").mask(told) == shards).all()
    assert (step("fade_to_colour", item="ball").mask(told) == shards + body).all()


def test_the_chain_goes_by_its_order_and_what_is_shown_comes_last():
    shot = parse_shot(
        {
            "name": "Chain",
            "finishing": {
                "a": {"kind": "fade_to_colour", "rank": 2, "share": 50.0},
                "b": {"kind": "exposure", "rank": 1, "stops": 1.0},
                "c": {"kind": "tone_curve", "rank": 0, "curve": {"points": {"p": {"x": 0.0, "y": 0.3}}}},
            },
        }
    )
    assert on_light(shot.finishing, flat(1, 1, 1), seen()) == pytest.approx(1)
    assert on_shown(shot.finishing, flat(1, 1, 1), seen()) == pytest.approx(0.3)


def test_keys_rule_a_step_like_anything_else():
    keys = {"a": {"frame": 0, "value": 0.0, "easing": {"kind": "linear"}}, "b": {"frame": 10, "value": 100.0}}
    fade = step("fade_to_colour", share={"keys": keys})
    assert [float(fade.finished(flat(1, 1, 1), seen(frame))[0, 0, 0]) for frame in (0, 2.5, 10)] == pytest.approx(
        [1, 0.75, 0]
    )


def test_the_quick_picture_is_told_of_exposure_and_glow():
    chain = parse_shot(
        {
            "name": "Quick",
            "finishing": {
                "glow": {"kind": "glow", "rank": 0, "strength": 0.5, "amount": 0.5},
                "more": {"kind": "exposure", "rank": 1, "stops": 1.0},
                "some": {"kind": "exposure", "rank": 2, "stops": 3.0, "depth": {}},
                "off": {"kind": "exposure", "rank": 3, "stops": 3.0, "on": False},
            },
        }
    ).finishing
    assert quick(chain, Moment(0, 0)) == (1.0, 0.25)
