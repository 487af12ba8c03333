"""Layers: items pictured together and apart from the rest, in the ways in which a composite needs them (common practice)."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.ndimage import minimum_filter
from shots import evaluator

from windsock.core.document.shot import parse_shot
from windsock.picture.quality import Quality
from windsock.picture.renderer import Renderer
from windsock.picture.still import Studio, by_layers

SIZE = 128, 128
SHARP = Quality(samples=32, noise=0, denoised=False)


@pytest.fixture(scope="module")
def renderer():
    one = Renderer()
    yield one
    one.close()


def ball(rank: int, place: list[float], radius: float = 0.5, **look) -> dict:
    geometry = {"kind": "sphere", "radius": radius, "subdivisions": 4}
    return {"kind": "shape", "name": f"Ball {rank}", "rank": rank, "geometry": geometry, "place": place, "look": look}


def seen(layers: dict, finishing: dict | None = None, **items: dict) -> dict:
    """Balls before a camera that sees 4 m of height where they are; Fore, 2 m nearer, covers a quarter of Back's width."""
    base = {
        "back": ball(0, [0, 0, 0], 1.0, base_colour="#3366cc"),
        "fore": ball(1, [0.6, 0, 2], 0.5, base_colour="#cc3322"),
        "eye": {"kind": "camera", "name": "Eye", "rank": 8, "place": [0, 0, 12], "angle": 18.925},
        "key": {"kind": "light", "name": "Key", "rank": 9, "turn": [-20, 0, 0], "strength": 3.0},
    }
    return {
        "name": "Apart",
        "picture": {"width": SIZE[0], "height": SIZE[1]},
        "items": base | items,
        "camera": "eye",
        "layers": layers,
        "finishing": finishing or {},
    }


def layer(rank: int = 0, **roles: str) -> dict:
    items = {key: {"rank": place, "role": role} for place, (key, role) in enumerate(roles.items())}
    return {"name": f"Layer {rank}", "rank": rank, "items": items}


def pictured(renderer, document: dict, quality: Quality = SHARP):
    studio = Studio(evaluator(), renderer, quality)
    return studio.still(parse_shot(document), 0, *SIZE, lambda what, share: None)


def apart(renderer, document: dict):
    studio = Studio(evaluator(), renderer, SHARP)
    return by_layers(studio, parse_shot(document), 0, *SIZE, lambda what, share: None)


def test_what_is_shown_and_what_is_held_out_of_it_make_the_whole_picture(renderer):
    """Each held out of the other, laid over each other (Porter and Duff 1984, plus): the picture with both."""
    document = seen({"one": layer(0, back="shown", fore="held_out"), "two": layer(1, fore="shown", back="held_out")})
    made, whole = apart(renderer, document), pictured(renderer, document | {"pictured": None, "layers": {}})
    one, two = (made[key].layers for key in ("one", "two"))
    covered = one.opacity + two.opacity
    np.testing.assert_allclose(covered, whole.layers.opacity, atol=1e-6)
    inside = whole.layers.opacity > 0.999
    both = one.light + two.light
    assert np.abs(both - whole.layers.light)[inside].mean() < 0.01
    # The hole is where the other one is before it.
    assert one.opacity[64, 64 + 24] == 0
    assert one.light[64, 64 + 24].max() == 0
    assert one.opacity[64, 64 - 16] == 1
    assert two.opacity[64, 64 - 16] == 0
    # Nothing is behind a layer.
    assert one.light[2, 2].max() == 0


def test_what_is_not_in_a_layer_shades_and_is_not_seen(renderer):
    floor = {"kind": "plane", "width": 8.0, "depth": 8.0}
    lies = {"kind": "shape", "name": "Floor", "rank": 3, "geometry": floor, "place": [0, -1, 0]}
    items = {
        "floor": lies,
        "key": {"kind": "light", "name": "Key", "rank": 9, "turn": [-90, 0, 0], "strength": 3.0, "width": 0.1},
        "eye": {"kind": "camera", "name": "Eye", "rank": 8, "place": [0, 11, 0.01], "turn": [-90, 0, 0], "angle": 18.9},
    }
    document = seen({"floor": layer(0, floor="shown")}, **items)
    shaded = apart(renderer, document)["floor"].layers
    without = seen({"floor": layer(0, floor="shown")}, **items)
    del without["items"]["back"], without["items"]["fore"]
    lit = apart(renderer, without)["floor"].layers
    np.testing.assert_allclose(shaded.opacity, lit.opacity, atol=1e-6)
    assert shaded.opacity[64, 64] == 1
    assert shaded.light[64, 64].mean() < 0.7 * lit.light[64, 64].mean()
    np.testing.assert_allclose(shaded.albedo[64, 64], lit.albedo[64, 64], atol=1e-5)


def test_a_matte_is_white_where_it_is_seen(renderer):
    document = seen({"matte": layer(0, back="matte", fore="held_out")})
    document["items"]["back"]["look"]["emission"] = 4.0
    made = apart(renderer, document)["matte"].layers
    inside = minimum_filter(made.opacity, 5) > 0.999
    assert inside.sum() > 1000
    np.testing.assert_allclose(made.light[inside], 1.0, atol=1e-6)
    # At its edge it is as bright as it covers, counted by other rays.
    edge = (made.opacity > 0) & (made.opacity < 1)
    assert np.abs(made.light[edge].mean(axis=-1) - made.opacity[edge]).mean() < 0.15
    assert made.emission.max() == 0


def test_what_only_glows_is_not_seen_itself(renderer):
    glow = {"glow": {"kind": "glow", "rank": 0}}
    lit = {"fore": ball(1, [0.6, 0, 2], 0.5, base_colour="#000000", emission=3.0, emission_colour="#ffaa33")}
    document = seen({"glow": layer(0, fore="glow_only"), "both": layer(1, fore="shown")}, glow, **lit)
    made = apart(renderer, document)
    alone, both = made["glow"], made["both"]
    assert alone.layers.light.max() == 0
    assert alone.layers.opacity.max() == 0
    # Its glow is that which it has when it is seen, and a hidden one behind another has none.
    spread = both.finished.light - both.layers.light
    np.testing.assert_allclose(alone.finished.light, spread, atol=0.05)
    assert alone.finished.light.sum() == pytest.approx(spread.sum(), rel=0.01)
    assert alone.finished.light.max() > 0.2
    behind = seen({"glow": layer(0, fore="glow_only", back="held_out")}, glow, **lit)
    behind["items"]["back"]["place"] = [0, 0, 6]
    assert apart(renderer, behind)["glow"].finished.light.max() < 0.05


def test_many_that_are_not_seen_are_gone_through(renderer):
    """Thirty sides one behind the other."""
    rows = {f"row{place}": ball(20 + place, [0, 0, 1.2 + 0.3 * place], 0.12) for place in range(15)}
    document = seen({"back": layer(0, back="shown")}, **rows)
    made = apart(renderer, document)["back"].layers
    alone = apart(renderer, seen({"back": layer(0, back="shown")}))["back"].layers
    np.testing.assert_allclose(made.opacity, alone.opacity, atol=1e-6)
    np.testing.assert_allclose(made.albedo, alone.albedo, atol=1e-4)
    assert made.light[64, 64].max() > 0
