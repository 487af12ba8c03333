"""Eaten as a field: held against fronts that are known in closed form, on the shape itself and on others, wherever both stand."""

from __future__ import annotations

from copy import deepcopy

import numpy as np
import pytest
from shots import evaluator, parse_shot

from windsock.core.fields.elements import rest_elements
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal

SPEED, VOXEL = 0.1, 0.02
BOX = {"kind": "box", "width": 0.4, "height": 1.0, "depth": 0.4, "divisions": 24}
BLACK_TO_WHITE = {"stops": {"a": {"at": 0, "colour": "#000000"}, "b": {"at": 1, "colour": "#FFFFFF"}}}
TURNED = {"place": [2.0, 1.0, -3.0], "turn": [20.0, 130.0, 50.0]}


def eaten(
    source: dict | None = None, erode: dict | None = None, *after: dict, item: dict | None = None, **shot
) -> dict:
    """A block eaten from its lower end upward, and a rod that stands in it; field E says what is eaten, L where it starts."""
    bottom = {"kind": "across", "rank": 0, "controller": "foot", "soft": 0.1, "at": 0.05}
    steps = {
        "eat": {"kind": "erode", "rank": 0, "way": "seeds", "seeds": "low", "speed": SPEED, "voxel": VOXEL}
        | (erode or {})
    }
    steps |= {f"after{place}": {"rank": place + 1} | step for place, step in enumerate(after)}
    parts = {name: {"name": name, "rank": rank} for rank, name in enumerate(("body", "opened", "copies", "embers"))}
    rod = {"kind": "box", "width": 0.05, "height": 0.9, "depth": 0.05, "divisions": 24}
    field = {"name": "n", "band": 0.0, "level": 0.5}
    return {
        "name": "A block",
        "items": {
            "block": {
                "kind": "shape",
                "name": "Block",
                "rank": 0,
                "geometry": BOX,
                "recipe": {"parts": parts, "steps": steps},
            }
            | (item or {}),
            "foot": {"kind": "controller", "name": "Foot", "rank": 2, "parent": "block", "place": [0.0, -0.45, 0.0]},
            "rod": {"kind": "shape", "name": "Rod", "rank": 1, "geometry": rod} | (item or {}),
        },
        "fields": {
            "low": field | {"letter": "L", "rank": 0, "sources": {"s": bottom}},
            "eaten": field
            | {"letter": "E", "rank": 1, "sources": {"s": {"kind": "eaten", "rank": 0} | (source or {})}},
        },
        "frames": {"first": 0, "last": 240},
    } | shot


def values(document: dict, frame: float, item: str = "block", one=None) -> tuple[np.ndarray, np.ndarray]:
    """The places at rest of the points of a shape, and what is eaten there."""
    engine = one or evaluator()
    scene = engine.scene(parse_shot(document), frame)
    elements = rest_elements(engine.at_rest(scene, item).value, scene.placement(item))
    return elements.rest, engine.field_values(scene, "eaten", elements)


def line_at(seconds: float) -> float:
    """How high the front is: the field that it starts from is at its level at -0.45."""
    return -0.45 + SPEED * seconds


@pytest.mark.parametrize("item", [{}, TURNED, {"scale": [1.0, 2.0, 1.0]}], ids=["plain", "turned", "twice as high"])
def test_it_is_1_behind_the_front_and_0_ahead_of_it(item):
    """Travel is in metres of the world, as the place of the foot is: in a block twice as high both are half as many of its own."""
    places, found = values(eaten(item=item), 96)
    size = item.get("scale", [1.0, 1.0])[1]
    line = (-0.45 + 0.4) / size
    assert (found[places[:, 1] < line - VOXEL] == 1).all()
    assert (found[places[:, 1] > line + 2 * VOXEL] == 0).all()


def test_it_falls_ahead_over_the_way_that_is_said():
    places, found = values(eaten({"soft": 0.2}), 96)
    share = np.clip(1 - (places[:, 1] - line_at(4)) / 0.2, 0, 1)
    assert found == pytest.approx(3 * share**2 - 2 * share**3, abs=0.06)


def test_it_is_nothing_before_the_front_begins():
    assert not values(eaten({"soft": 0.2}), 0)[1].any()
    assert not values(eaten(erode={"on": False}), 96)[1].any()
    # Nothing makes the part that it takes.
    assert not values(eaten(erode={"part": "copies"}), 96)[1].any()


def test_of_another_shape_places_count_where_they_lie_in_that():
    """Both stand turned alike; then the rod is shifted along the block by 0.1 m."""
    for item, shift in ((TURNED, 0.0), (None, 0.1)):
        document = eaten({"shape": "block"}, item=item)
        if shift:
            document["items"]["rod"]["place"] = [0.0, shift, 0.0]
        places, found = values(document, 96, "rod")
        height = places[:, 1] + shift
        assert (found[height < line_at(4) - VOXEL] == 1).all()
        assert (found[height > line_at(4) + 2 * VOXEL] == 0).all()


def test_of_the_shape_that_asks_a_shape_that_nothing_eats_has_none():
    assert not values(eaten(), 96, "rod")[1].any()


def test_what_is_opened_is_eaten_and_what_is_far_ahead_is_not():
    shade = {"kind": "shade", "field": "eaten", "laid": "everywhere", "ramp": BLACK_TO_WHITE}
    drawn = drawn_parts(eaten({"soft": 0.1}, None, shade, shade | {"part": "opened"}), 96)
    opened, body = drawn["opened"], drawn["body"]
    assert opened.colour is not None
    assert body.colour is not None
    assert opened.colour[:, 0].min() > 0.95
    assert body.colour[body.points[:, 1] > line_at(4) + 0.12].max() == 0


def drawn_parts(document: dict, frame: float) -> dict[str, Mesh]:
    return {
        one.part: one.body.mesh for one in evaluator().frame(parse_shot(document), frame).draw if one.item == "block"
    }


def test_copies_in_the_solid_come_where_the_front_is_and_stay_where_they_are():
    scatter = {
        "kind": "scatter",
        "on_what": "volume",
        "field": "eaten",
        "zone": "value",
        "count": 3000,
        "vary": 0.0,
        "makes": "copies",
    }
    document = eaten({}, None, scatter | {"part": "opened"})
    shown = {}
    for frame in (48, 96):
        drawn = drawn_parts(document, frame)["copies"]
        body = next(one.body for one in evaluator().frame(parse_shot(document), frame).draw if one.part == "copies")
        there = body.copies.size[:, 1] > 0
        assert 0 < there.sum() < 3000
        assert drawn.rest[there, 1].max() < line_at(frame / 24) + 2 * VOXEL
        shown[frame] = {
            int(number): place for number, place in zip(drawn.number[there], drawn.rest[there], strict=True)
        }
    assert set(shown[48]) <= set(shown[96])
    for number, place in shown[48].items():
        np.testing.assert_array_equal(place, shown[96][number])


def test_a_live_evaluator_answers_as_a_fresh_one_after_any_change_of_what_eats():
    base, warm = eaten({"soft": 0.1}), evaluator()
    changes = [
        lambda shot: shot["items"]["block"]["recipe"]["steps"]["eat"].update(speed=0.2),
        lambda shot: shot["items"]["block"]["recipe"]["steps"]["eat"].update(run="backwards"),
        lambda shot: shot["items"]["block"]["recipe"]["steps"]["eat"].update(on=False),
        lambda shot: shot["items"]["block"]["recipe"]["steps"].update(eat={"kind": "refine", "rank": 0}),
        lambda shot: shot["items"]["block"]["geometry"].update(height=0.7),
        lambda shot: shot["fields"]["low"].update(level=0.9),
        lambda shot: shot["items"]["block"].update(
            place={"keys": {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 90, "value": [1, 0, 0]}}}
        ),
        lambda shot: shot["items"]["block"]["recipe"].update(retime={"frame": 30.0}),
        lambda shot: shot["fields"]["eaten"]["sources"]["s"].update(shape="block"),
    ]
    for change in changes:
        changed = deepcopy(base)
        change(changed)
        for document in (base, changed, base):
            for item in ("block", "rod"):
                np.testing.assert_array_equal(values(document, 40.5, item, warm)[1], values(document, 40.5, item)[1])


def test_an_earlier_front_is_asked_through_another_field():
    document = eaten()
    document["fields"]["then"] = document["fields"]["eaten"] | {
        "letter": "T",
        "rank": 2,
        "sources": {"s": {"kind": "another", "rank": 0, "field": "eaten", "lag": 1.0}},
    }
    engine = evaluator()
    scene = engine.scene(parse_shot(document), 96)
    elements = rest_elements(engine.at_rest(scene, "block").value, scene.placement("block"))
    np.testing.assert_array_equal(engine.field_values(scene, "then", elements), values(eaten(), 72)[1])


@pytest.mark.parametrize("setting", ["field", "seeds"])
def test_what_eats_cannot_go_by_what_it_eats(setting):
    with pytest.raises(Refusal, match="have a step after Erode listen to it"):
        parse_shot(eaten(None, {setting: "eaten"}))


def test_a_step_before_what_eats_cannot_go_by_it_but_one_after_can():
    push = {"kind": "push", "field": "eaten"}
    parse_shot(eaten(None, None, push))
    with pytest.raises(Refusal, match="a later step eats"):
        parse_shot(eaten(None, None, push | {"rank": -1}))


def test_of_two_steps_that_eat_one_can_be_asked():
    """Then a step may stand between both, and what the second eats does not count."""
    again = {"kind": "erode", "speed": 5 * SPEED, "voxel": VOXEL, "makes": "copies"}
    document = eaten({"step": "eat"}, None, {"kind": "push", "field": "eaten", "distance": 0.0}, again)
    np.testing.assert_array_equal(values(document, 48)[1], values(eaten(), 48)[1])
    both = eaten({}, None, {"kind": "push"}, again)
    assert values(both, 48)[1].sum() > values(document, 48)[1].sum() + 50
    with pytest.raises(Refusal, match="or let the field ask what another step eats"):
        parse_shot(eaten({}, None, {"kind": "push", "field": "eaten"}, again))


def test_shapes_that_eat_by_what_the_other_eats_are_refused():
    document = eaten({"shape": "block"})
    document["items"]["rod"]["recipe"] = {
        "parts": {"body": {"name": "b", "rank": 0}, "opened": {"name": "o", "rank": 1}},
        "steps": {"eat": {"kind": "erode", "rank": 0, "field": "eaten"}},
    }
    parse_shot(document)
    document["fields"]["other"] = document["fields"]["eaten"] | {
        "letter": "O",
        "rank": 3,
        "sources": {"s": {"kind": "eaten", "rank": 0, "shape": "rod"}},
    }
    document["items"]["block"]["recipe"]["steps"]["eat"]["field"] = "other"
    with pytest.raises(Refusal, match="in a circle"):
        parse_shot(document)
