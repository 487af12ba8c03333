"""Shade: what each channel becomes, where, and that geometry stays."""

from __future__ import annotations

import numpy as np
import pytest

from tests.shots import cut_ball, evaluator, parsed
from windsock.core.evaluate.measured import PosedMesh
from windsock.core.geometry.colour import linear_from_hex

RED, BLUE = np.array(linear_from_hex("#FF0000")), np.array(linear_from_hex("#0000FF"))


def ramp(kind="smooth", **ends) -> dict:
    low, high = (
        ends.get("low", {"colour": "#FF0000", "value": 0.0}),
        ends.get("high", {"colour": "#0000FF", "value": 1.0}),
    )
    return {"kind": kind, "stops": {"a": {"at": 0.0} | low, "b": {"at": 1.0} | high}}


def shaded(*steps: dict, frame: float = 50, overall: str | None = None, look: dict | None = None):
    """The ball's part and the field's values, with shades in place of the cut."""
    document = cut_ball(field={"band": 0.4})
    recipe = document["items"]["ball"]["recipe"]
    recipe["steps"] = {
        f"s{place}": {"kind": "shade", "rank": place, "field": "front", "ramp": ramp(), "laid": "everywhere"} | step
        for place, step in enumerate(steps)
    }
    recipe["overall"] = overall
    document["items"]["ball"]["look"] = look or {}
    shot = parsed(document)
    engine = evaluator()
    drawn = engine.frame(shot, frame).draw[0]
    scene = engine.scene(shot, frame)
    mesh = drawn.subject.mesh
    values = engine.field_on(scene, "front", PosedMesh(mesh, drawn.subject.key, drawn.matrix, drawn.subject))
    return drawn.body, values


def test_base_colour_goes_through_the_ramp_in_linear_light():
    part, values = shaded({"zone": "value"})
    np.testing.assert_allclose(part.mesh.colour, RED + (BLUE - RED) * values[:, None], atol=1e-6)
    assert (part.mesh.points == shaded()[0].mesh.points).all()


def test_laid_by_the_field_nothing_changes_where_the_zone_is_empty():
    look = {"base_colour": "#00FF00"}
    part, values = shaded({"zone": "band", "laid": "by the field"}, look=look)
    band = np.maximum(0, 1 - 2 * np.abs(values - 0.5) / 0.4)[:, None]
    green = np.array(linear_from_hex("#00FF00"))
    np.testing.assert_allclose(part.mesh.colour, green + (RED + (BLUE - RED) * band - green) * band, atol=1e-6)
    np.testing.assert_array_equal(
        part.mesh.colour[band[:, 0] == 0], np.float32(green)[None].repeat((band == 0).sum(), 0)
    )


def test_emission_is_the_ramp_times_its_strength_over_what_the_look_gives_off():
    look = {"emission": 0.5, "emission_colour": "#FFFFFF"}
    part, values = shaded({"channel": "emission", "strength": 4.0, "amount": 0.25}, look=look)
    expected = 0.5 + (4 * (RED + (BLUE - RED) * values[:, None]) - 0.5) * 0.25
    np.testing.assert_allclose(part.mesh.emission, expected, atol=1e-6)


@pytest.mark.parametrize("channel", ["roughness", "metallic", "transmission"])
@pytest.mark.parametrize("zone", ["inside", "outside"])
def test_numbers_go_through_the_values_of_the_stops(channel, zone):
    part, values = shaded({"channel": channel, "zone": zone, "ramp": ramp(low={"value": 0.2}, high={"value": 0.7})})
    inside = np.clip((values - 0.5) / 0.4 + 0.5, 0, 1)
    expected = 0.2 + 0.5 * (inside if zone == "inside" else 1 - inside)
    np.testing.assert_allclose(getattr(part.mesh, channel), expected, atol=1e-6)


def test_several_shades_work_in_their_order():
    first = {"channel": "roughness", "zone": "value", "ramp": ramp(low={"value": 1.0}, high={"value": 1.0})}
    second = {"channel": "roughness", "zone": "value", "laid": "by the field", "ramp": ramp(high={"value": 0.0})}
    part, values = shaded(first, second)
    np.testing.assert_allclose(part.mesh.roughness, 1 - values, atol=1e-6)
    turned, _ = shaded(second, first)
    np.testing.assert_array_equal(turned.mesh.roughness, 1)


def test_opacity_is_blended_with_backs_hidden_or_cut():
    fade = {"channel": "opacity", "zone": "outside"}
    part, values = shaded(fade)
    np.testing.assert_allclose(part.mesh.opacity, 1 - np.clip((values - 0.5) / 0.4 + 0.5, 0, 1), atol=1e-6)
    assert (part.alpha, part.backs) == ("blend", "hidden")
    cut, _ = shaded(fade | {"edge": "cut"})
    assert (cut.alpha, cut.backs) == ("cut", "shown")


def test_undriven_it_is_the_top_of_the_ramp_everywhere():
    part, _ = shaded({"field": None})
    np.testing.assert_array_equal(part.mesh.colour, np.float32(BLUE)[None].repeat(len(part.mesh.points), 0))


def test_a_curve_stands_between_the_zone_and_the_ramp():
    curve = {"points": {"a": {"x": 0.0, "y": 0.0, "easing": {"kind": "hold"}}, "b": {"x": 0.5, "y": 1.0}}}
    part, values = shaded({"channel": "roughness", "curve": curve})
    np.testing.assert_array_equal(part.mesh.roughness, values >= 0.5)


def test_the_overall_field_counts_on_top_and_alone_drives_what_nothing_drives():
    look = {"roughness": 1.0}
    lowered = {"channel": "roughness", "zone": "inside", "ramp": ramp(low={"value": 0.0}, high={"value": 0.0})}
    part, values = shaded(lowered, overall="front", look=look)
    np.testing.assert_allclose(part.mesh.roughness, 1 - values, atol=1e-6)
    undriven, values = shaded({"channel": "metallic", "field": None, "zone": "value"}, overall="front")
    np.testing.assert_allclose(undriven.mesh.metallic, values, atol=1e-6)


def test_a_cut_compares_the_field_times_the_overall_one_with_the_level():
    """v * v >= 0.5 where v >= sqrt(1/2): the cut moves to that level, exactly."""
    plain = cut_ball(field={"level": float(np.sqrt(0.5))})
    squared = cut_ball()
    squared["items"]["ball"]["recipe"]["overall"] = "front"
    one, other = (evaluator().frame(parsed(document), 50).draw[0].body.mesh for document in (plain, squared))
    np.testing.assert_array_equal(one.faces, other.faces)
    np.testing.assert_allclose(one.points, other.points, atol=2e-5)


def test_what_shade_gave_is_carried_to_the_points_that_a_later_cut_makes():
    document = cut_ball()
    document["items"]["ball"]["recipe"]["steps"]["shade"] = {
        "kind": "shade", "rank": -1, "field": "front", "channel": "metallic", "laid": "everywhere", "ramp": ramp(),
    }  # fmt: skip
    mesh = evaluator().frame(parsed(document), 50).draw[0].body.mesh
    edge = mesh.number < 0
    assert edge.sum() > 20
    np.testing.assert_allclose(mesh.metallic[edge], 0.5, atol=0.02)


def test_draft_and_final_are_the_same():
    document = cut_ball(field={"band": 0.4})
    recipe = document["items"]["ball"]["recipe"]["steps"]
    recipe["glow"] = {
        "kind": "shade",
        "rank": 1,
        "field": "front",
        "zone": "band",
        "channel": "emission",
        "ramp": ramp(),
    }
    one, other = (evaluator().frame(parsed(document), 50, detail).draw[0].body.mesh for detail in ("draft", "final"))
    np.testing.assert_array_equal(one.emission, other.emission)
    np.testing.assert_array_equal(one.points, other.points)
