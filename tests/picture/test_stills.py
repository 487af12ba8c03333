"""Finished frames of shots, by the rendering process."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time

import numpy as np
import pytest
from shots import cut_ball, evaluator

from windsock.core.document.shot import parse_shot
from windsock.core.refusals import Cancelled, Refusal, TooMuch
from windsock.picture import renderer as renderers
from windsock.picture.quality import Quality, shutter_share
from windsock.picture.renderer import Renderer
from windsock.picture.still import KeptLayers, Studio

FAST = Quality(samples=8, noise=0, denoised=False)


def quiet(what, share):
    pass


@pytest.fixture(scope="module")
def renderer():
    one = Renderer()
    yield one
    one.close()


def moving_ball(shutter=0.0, **camera) -> dict:
    """A ball 1 m wide that goes 24 m a second along X, seen square on, 16 m of it."""
    return {
        "name": "Moving",
        "items": {
            "ball": {
                "kind": "shape",
                "name": "Ball",
                "rank": 0,
                "geometry": {"kind": "sphere", "radius": 0.5, "subdivisions": 4},
                "place": {
                    "keys": {
                        "a": {"frame": 0, "value": [-4.0, 0.0, 0.0], "easing": {"kind": "linear"}},
                        "b": {"frame": 8, "value": [4.0, 0.0, 0.0]},
                    }
                },
            },
            "eye": {"kind": "camera", "name": "Eye", "rank": 1, "place": [0, 0, 20], "angle": 22.62, "shutter": shutter}
            | camera,
        },
        "camera": "eye",
    }


def test_a_moving_thing_is_smeared_as_far_as_it_goes_while_the_shutter_is_open(renderer):
    """1 m a frame; half of the frame open: the ball's middle covers half a metre (the shutter angle, 180 of 360 degrees)."""
    for angle, travelled in ((180.0, 0.5), (360.0, 1.0)):
        studio = Studio(evaluator(), renderer, Quality(samples=64, noise=0, denoised=False, passes=True))
        layers = studio.still(parse_shot(moving_ball(angle)), 4, 320, 160, quiet).layers
        row = layers.opacity[79:81].mean(axis=0)
        metres = 2 * np.tan(np.radians(11.31)) * 20 / 160
        # Sixteen moments reach to within a sixteenth of both ends together. The area under the row is the ball's width; from the first to the last touch is that and the way.
        assert row.sum() * metres == pytest.approx(1.0, abs=0.05)
        touched = np.flatnonzero(row > 0)
        assert (touched[-1] - touched[0] + 1) * metres == pytest.approx(1.0 + travelled * 15 / 16, abs=0.11)
        assert np.average(np.arange(320) + 0.5, weights=row) == pytest.approx(160, abs=1.0)


def test_the_shutter_is_covered_evenly_by_any_number_of_passes():
    assert shutter_share(0) == 0.5
    for count in (4, 8, 16):
        shares = np.sort([shutter_share(number) for number in range(count)])
        assert np.diff(np.concatenate([[0], shares, [1]])).max() < 2.01 / count


def test_the_camera_keeps_an_item_sharp_and_exposes(renderer):
    def light(**camera):
        shot = parse_shot(moving_ball(**camera))
        return Studio(evaluator(), renderer, FAST).still(shot, 4, 96, 48, quiet)

    plain, brighter = light(), light(exposure=1.0)
    assert brighter.finished.light == pytest.approx(2 * plain.finished.light, rel=1e-4)
    sharp, soft = light(aperture=0.05, focus_on="ball"), light(aperture=0.05, focus=2.0)
    edge = [np.abs(np.diff(one.layers.opacity[24])).max() for one in (plain, sharp, soft)]
    assert edge[1] > 0.6 * edge[0] > 2 * edge[2]


def test_a_shot_without_a_camera_is_seen_whole(renderer):
    document = cut_ball()
    layers = Studio(evaluator(), renderer, FAST).still(parse_shot(document), 0, 96, 54, quiet).layers
    assert layers.opacity.max() == 1
    assert layers.opacity[0].max() == layers.opacity[:, 0].max() == 0


def test_an_empty_shot_is_its_sky(renderer):
    still = Studio(evaluator(), renderer, FAST).still(parse_shot({"name": "Nothing"}), 0, 32, 32, quiet)
    assert np.isfinite(still.finished.light).all()
    assert still.finished.light.min() > 0.05
    assert still.layers.opacity.max() == 0


def test_draft_of_noise_ends_early(renderer):
    passes = []
    shot = parse_shot(moving_ball())
    Studio(evaluator(), renderer, Quality(samples=64, noise=0.5)).still(
        shot, 4, 64, 32, lambda what, share: passes.append(share)
    )
    assert max(one for one in passes if one < 1) < 0.2


def test_too_large_a_picture_is_refused_before_it_is_begun(renderer):
    with pytest.raises(TooMuch, match="Take at most"):
        Studio(evaluator(), renderer, FAST).still(parse_shot(moving_ball()), 0, 100_000, 1000, quiet)


def test_a_rendering_is_cancelled_within_a_pass_and_the_next_one_goes_on():
    own = Renderer()
    studio = Studio(evaluator(), own, Quality(samples=4096, noise=0))
    began = time.monotonic()

    def told(what, share):
        if share > 0:
            raise Cancelled

    with pytest.raises(Cancelled):
        studio.still(parse_shot(moving_ball()), 4, 512, 512, told)
    assert time.monotonic() - began < 300
    again = Studio(evaluator(), own, FAST).still(parse_shot(moving_ball()), 4, 32, 32, quiet)
    assert again.layers.opacity.max() == 1
    own.close()


def test_a_renderer_that_is_killed_says_so_and_the_next_picture_is_made():
    own = Renderer()
    studio = Studio(evaluator(), own, Quality(samples=4096, noise=0))

    def kill():
        while own._process is None:
            time.sleep(0.05)
        time.sleep(1.5)
        os.kill(own._process.pid, signal.SIGKILL)

    threading.Thread(target=kill, daemon=True).start()
    with pytest.raises(Refusal, match="unharmed"):
        studio.still(parse_shot(moving_ball()), 4, 512, 512, quiet)
    assert Studio(evaluator(), own, FAST).still(parse_shot(moving_ball()), 4, 32, 32, quiet).layers.opacity.max() == 1
    own.close()


def test_without_what_renders_it_says_what_is_missing(monkeypatch):
    monkeypatch.setattr(renderers, "LLVM", "/nowhere/libLLVM.so.19*")
    with pytest.raises(Refusal, match="apt-get install libllvm19"):
        Studio(evaluator(), Renderer(), FAST).still(parse_shot(moving_ball()), 4, 32, 32, quiet)
    monkeypatch.setattr(renderers, "PACKAGES", ("nothing_of_that_name",))
    assert "nothing_of_that_name" in renderers.missing()


def test_the_same_frame_is_the_same_bytes_whatever_was_rendered_before(renderer):
    shot = parse_shot(moving_ball(shutter=180))
    first = Studio(evaluator(), renderer, FAST).still(shot, 4, 64, 32, quiet).finished.light
    Studio(evaluator(), renderer, FAST).still(parse_shot(cut_ball()), 4, 48, 32, quiet)
    fresh = Renderer()
    again = Studio(evaluator(), fresh, FAST).still(shot, 4, 64, 32, quiet).finished.light
    fresh.close()
    assert first.tobytes() == again.tobytes()


def test_all_else_runs_before_what_renders_is_installed():
    """The application starts first; what renders is installed beside it."""
    hidden = "mitsuba", "drjit", "pyoidn", "OpenEXR", "av", "mmh3"
    program = (
        f"import sys\nfor name in {hidden}: sys.modules[name] = None\n"
        "import windsock.web.server, windsock.evaluator.process, windsock.jobs.worker, windsock.commands.start\n"
        "import windsock.commands.picture, windsock.commands.film\n"
    )
    subprocess.run([sys.executable, "-c", program], check=True)


class Held(dict):
    """A store of arrays."""

    def put(self, key, arrays):
        self[key] = {name: values.copy() for name, values in arrays.items()}


def test_what_was_rendered_is_finished_anew_and_not_rendered_again(renderer, monkeypatch):
    """With another chain, in the same process or after it by way of a store; what the chain needs and was not read is rendered."""
    store, plain = Held(), parse_shot(moving_ball())
    brighter = parse_shot(
        moving_ball() | {"finishing": {"more": {"kind": "exposure", "rank": 0, "stops": 1.0, "item": "ball"}}}
    )
    darker = parse_shot(
        moving_ball() | {"finishing": {"less": {"kind": "exposure", "rank": 0, "stops": -1.0, "item": "ball"}}}
    )
    asked = []
    rendering = renderer.layers
    monkeypatch.setattr(renderer, "layers", lambda *given: asked.append(1) or rendering(*given))

    def made(shot, kept):
        return Studio(evaluator(), renderer, FAST, kept).still(shot, 4, 64, 32, quiet).finished

    kept = KeptLayers(store)
    first = made(plain, kept)
    assert (made(plain, kept).shown == first.shown).all()
    assert len(asked) == 1
    more = made(brighter, kept)  # what covers what was not asked for
    assert len(asked) == 2
    for other in (kept, KeptLayers(store)):
        less = made(darker, other)
        assert len(asked) == 2
        seen = np.abs(more.light - first.light) > 1e-3
        assert (less.light[seen] < first.light[seen]).all()
        assert (made(brighter, other).light == more.light).all()
    # A fresh one is the same, byte for byte.
    assert (made(brighter, KeptLayers()).light == more.light).all()
    assert len(asked) == 3


@pytest.mark.parametrize("shutter", [0.0, 180.0])
def test_a_change_that_a_frame_does_not_see_renders_nothing(renderer, monkeypatch, shutter):
    asked = []
    rendering = renderer.layers
    monkeypatch.setattr(renderer, "layers", lambda *given: asked.append(1) or rendering(*given))
    plain, later, now = moving_ball(shutter), moving_ball(shutter), moving_ball(shutter)
    # The way after the frame, and the way before it.
    later["items"]["ball"]["place"]["keys"]["c"] = {"frame": 20, "value": [0.0, 3.0, 0.0]}
    now["items"]["ball"]["place"]["keys"]["a"]["value"] = [-4.0, 0.5, 0.0]
    kept = KeptLayers()

    def made(shot, frame, kept=kept):
        return Studio(evaluator(), renderer, FAST, kept).still(parse_shot(shot), frame, 64, 32, quiet).finished.shown

    first = made(plain, 4)
    assert (made(later, 4) == first).all()
    assert len(asked) == 1
    other = made(now, 4)
    assert len(asked) == 2
    assert (other != first).any()
    assert (made(later, 4) == first).all()
    # Another moment, and the same picture where nothing moves any more.
    still = made(plain, 30)
    assert (made(plain, 31) == still).all()
    assert len(asked) == 3
    assert (made(later, 4, KeptLayers()) == first).all()
    assert (made(now, 4, KeptLayers()) == other).all()


def test_a_part_of_a_picture_is_as_it_is_in_the_whole(renderer):
    """The same pixels, at four times the coarse picture's size: what lies in the part is read there, what does not, coarsely."""
    shot = moving_ball()
    shot["items"]["ball"]["look"] = {"base_colour": "#cc2200", "emission": 2.0, "emission_colour": "#ffaa00"}
    shot["finishing"] = {
        "glow": {"kind": "glow", "rank": 0},
        "dark": {"kind": "exposure", "rank": 1, "stops": -2.0, "item": "ball", "outside": True},
    }
    sharp = Quality(samples=64, noise=0, denoised=False)
    studio = Studio(evaluator(), renderer, sharp, KeptLayers())
    parsed_shot = parse_shot(shot)
    whole = studio.still(parsed_shot, 4, 1280, 640, quiet)
    part = studio.still(parsed_shot, 4, 1280, 640, quiet, (0.45, 0.4, 0.55, 0.6))
    assert part.shown.shape == (128, 128, 3)
    seen = whole.finished.shown[256:384, 576:704]
    assert np.abs(part.shown - seen).mean() < 0.004
    # What covers the pixels, counted by itself.
    there = part.layers.identity.covered([0])[256:384, 576:704]
    np.testing.assert_allclose(there, whole.layers.identity.covered([0])[256:384, 576:704], atol=1e-6)
    beside = part.layers.identity.covered([0]).sum() / whole.layers.identity.covered([0]).sum()
    assert beside == pytest.approx(1, abs=0.03)
    # What was rendered is kept, and a part of another size is another.
    assert (studio.still(parsed_shot, 4, 1280, 640, quiet, (0.45, 0.4, 0.55, 0.6)).shown == part.shown).all()
    assert studio.still(parsed_shot, 4, 640, 320, quiet, (0.45, 0.4, 0.55, 0.6)).shown.shape == (64, 64, 3)
    assert studio.still(parsed_shot, 4, 640, 320, quiet, (0.999, 0.999, 1, 1)).shown.shape == (1, 1, 3)
