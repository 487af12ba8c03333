"""What of a shot is rendered, and from where."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from pydantic import TypeAdapter
from shots import cut_ball, evaluator

from windsock.core.changing import Change, planned
from windsock.core.document.patches import patched
from windsock.core.document.shot import parse_shot
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.look import Look
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.refusals import Refusal, TooMuch
from windsock.picture import staging
from windsock.picture.scene import Scene, SideLook
from windsock.picture.staging import staged


def scene(document: dict, frame: float = 0, size=(160, 90)) -> Scene:
    shot = parse_shot(document)
    return staged(shot, evaluator().frame(shot, frame), *size)


def lit(*lights: dict, **camera) -> dict:
    document = cut_ball()
    document["items"] |= {f"light{number}": light for number, light in enumerate(lights)}
    document["items"]["eye"] = {"kind": "camera", "name": "Eye", "rank": 9, "place": [0, 0, 8], "angle": 40} | camera
    return document | {"camera": "eye"}


def light(rank: int, **more) -> dict:
    return {"kind": "light", "name": f"Light {rank}", "rank": rank} | more


def test_every_light_shines_as_it_is_told():
    sun_like = light(3, turn=[-90, 0, 0], strength=2, colour="#FF8040", width=3)
    point = light(4, shines="point", place=[1, 2, 3], radius=0.2, temperature=2700)
    area = light(5, shines="area", wide=2, high=0.5)
    found = scene(lit(sun_like, point, area, light(6, strength=0)))
    (sun,) = found.suns
    assert sun.towards == pytest.approx((0, -1, 0), abs=1e-9)
    assert sun.light == pytest.approx(2 * np.array(linear_from_hex("#FF8040")))
    assert sun.degrees == 3
    first, second = found.lamps
    assert (first.radius, first.across, second.across) == (0.2, None, (2, 0.5))
    assert first.matrix[3::4] == (1, 2, 3, 1)
    # As warm as a lamp, and as bright as without a temperature.
    white = light(4, shines="point", colour="#FFFFFF", temperature=2700)
    (warm,) = scene(lit(white)).lamps
    assert warm.light[0] > warm.light[1] > warm.light[2]
    assert np.dot(warm.light, (0.2126, 0.7152, 0.0722)) == pytest.approx(3, rel=1e-3)


def test_the_lens_is_the_camera_and_sees_the_whole_picture_in_any_size():
    document = lit(aperture=4, focus=3) | {"picture": {"width": 160, "height": 90}}
    wide, square = scene(document).lens, scene(document, size=(90, 90)).lens
    assert wide.degrees == pytest.approx(40)
    tangent = np.tan(np.radians(20)) * 160 / 90
    assert square.degrees == pytest.approx(np.degrees(2 * np.arctan(tangent)))
    # The focal length by the sensor, over the f-number, is the opening's width.
    focal = 36 * 90 / 160 / 2 / np.tan(np.radians(20))
    assert wide.radius == pytest.approx(focal / 1000 / 4 / 2)
    assert wide.focus == 3
    assert scene(lit(aperture=4, focus_on="ball")).lens.focus == pytest.approx(8)
    assert scene(lit()).lens.radius == 0


def test_what_is_kept_sharp_is_an_item_that_is_there():
    with pytest.raises(Refusal, match="keeps “nobody” sharp"):
        parse_shot(lit(focus_on="nobody"))
    shot = parse_shot(lit(focus_on="ball"))
    edit = planned(TypeAdapter(Change).validate_python({"kind": "remove_item", "item": "ball"}), shot)
    left = parse_shot(patched(lit(focus_on="ball"), edit.patch))
    assert left.items["eye"].focus_on is None


def test_a_surface_has_what_the_page_shows_of_it():
    document = cut_ball()
    look = {
        "base_colour": "#204060",
        "roughness": 0.3,
        "metallic": 0.6,
        "emission": 2.0,
        "opacity": 0.5,
        "transmission": 0.25,
        "index": 1.33,
        "attenuation_colour": "#80FFBC",
        "attenuation_distance": 0.5,
        "thickness": 0.01,
    }
    document["items"]["ball"] |= {"look": look, "place": [1, 2, 3], "scale": [2, 1, 1]}
    document["items"]["ball"]["recipe"]["steps"] = {}
    (one,) = scene(document).surfaces
    assert (one.item, one.part) == ("ball", "body")
    assert one.points.mean(axis=0) == pytest.approx([1, 2, 3], abs=0.01)
    assert np.ptp(one.points[:, 0]) == pytest.approx(4, abs=0.02)
    assert np.linalg.norm(one.normals, axis=1) == pytest.approx(1, abs=1e-5)
    assert one.colour == pytest.approx(np.array([linear_from_hex("#204060")]), abs=1e-6)
    assert [
        float(values[0]) for values in (one.roughness, one.metallic, one.opacity, one.transmission)
    ] == pytest.approx([0.3, 0.6, 0.5, 0.25])
    assert (one.inside.index, one.inside.thickness) == (1.33, 0.01)
    # A metre is twice the distance after which white light has that colour.
    assert one.inside.left == pytest.approx(np.square(linear_from_hex("#80FFBC")), abs=1e-6)
    assert one.emission == pytest.approx(2 * np.array([linear_from_hex("#FFB070")]), abs=1e-6)
    # Outward still, stretched as it is.
    away = one.points - one.points.mean(axis=0)
    assert (np.einsum("ij,ij->i", away, one.normals) > 0).all()


def test_points_bring_their_own_and_copies_are_faces():
    document = cut_ball(step={"kind": "shade", "channel": "emission", "zone": "inside", "strength": 3.0})
    (one,) = scene(document, 60).surfaces
    assert len(one.emission) == len(one.points)
    assert one.emission.max() > 1
    document = cut_ball(step={"kind": "scatter", "field": None, "by": "spacing", "spacing": 0.3})
    document["items"]["ball"]["recipe"]["parts"]["copies"] = {"name": "Copies", "rank": 1}
    shot = parse_shot(document)
    drawn = evaluator().frame(shot, 0).draw
    found = scene(document).surfaces
    assert sum(len(surface.faces) for surface in found) == sum(item.body.faces() for item in drawn)


def test_more_copies_than_are_rendered_are_refused_with_what_fits(monkeypatch):
    document = cut_ball(step={"kind": "scatter", "field": None, "by": "spacing", "spacing": 0.3})
    document["items"]["ball"]["recipe"]["parts"]["copies"] = {"name": "Copies", "rank": 1}
    drawn = evaluator().frame(parse_shot(document), 0).draw
    total = sum(item.body.faces() for item in drawn if isinstance(item.body, CopiesPart))
    monkeypatch.setattr(staging, "FACE_LIMIT", total // 2)
    with pytest.raises(
        TooMuch, match=rf"The copies have {total:,} faces .* Nothing was rendered. Have (49|50) % of them"
    ):
        scene(document)


def test_a_back_with_a_look_of_its_own_is_told():
    document = cut_ball()
    shot = parse_shot(document)
    frame = evaluator().frame(shot, 60)
    own = [
        replace(item, body=replace(item.body, backs=Look(base_colour="#FF0000", roughness=0.2))) for item in frame.draw
    ]
    (one,) = staged(shot, replace(frame, draw=own), 32, 32).surfaces
    assert isinstance(one.backs, SideLook)
    assert one.backs.colour == pytest.approx([1, 0, 0])
    assert one.backs.roughness == pytest.approx(0.2)
