"""Recipes with several parts: what works on copies and pieces whole, what is told of them, what rides along."""

from __future__ import annotations

import numpy as np
import pytest
from shots import evaluator, parse_shot, parts_of, recipe_shot

from windsock.core.evaluate.probe import probe
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Refusal

FOG = np.array([3 - 4 * 0.6, 0, 0])
"""Where the fog stands at frame 60: its field has its level, 1/2, a metre from there."""

LAID = {"kind": "scatter", "count": 600, "vary": 0, "soft": 0}


def test_copies_inside_are_cut_away_whole():
    every = parts_of(recipe_shot(LAID, parts=("copies",)), 60)["copies"]
    left = parts_of(recipe_shot(LAID, {"kind": "cut_away", "part": "copies", "field": "front"}, parts=("copies",)), 60)
    outside = np.linalg.norm(every.mesh.points - FOG, axis=1) > 1
    assert left["copies"].mesh.number.tolist() == every.mesh.number[outside].tolist()
    assert len(left["body"].mesh.faces) == 5120
    faded = recipe_shot(
        LAID,
        {"kind": "cut_away", "part": "copies", "field": "front", "edge": "fading"},
        field={"band": 0.5},
        parts=("copies",),
    )
    opacity = parts_of(faded, 60)["copies"].mesh.opacity
    assert opacity is not None
    assert 0 < opacity.min() < 0.5
    assert opacity.max() == 1


def test_pieces_go_one_by_one_or_along_an_exact_edge():
    broken = {"kind": "fracture", "count": 30}
    whole = parts_of(recipe_shot(broken, {"kind": "cut_away", "field": "front", "edge": "piece by piece"}), 60)["body"]
    inside = np.linalg.norm(whole.pieces.places.rest - FOG, axis=1) <= 1
    assert 0 < inside.sum() < 30
    assert set(np.unique(whole.mesh.piece[whole.mesh.faces])) == set(np.flatnonzero(~inside))
    exact = parts_of(recipe_shot(broken, {"kind": "cut_away", "field": "front"}), 60)["body"]
    used = exact.mesh.points[np.unique(exact.mesh.faces)]
    assert np.linalg.norm(used - FOG, axis=1).min() > 0.97


def test_each_copy_has_one_colour_by_the_field_at_its_middle():
    ramp = {"stops": {"a": {"at": 0, "colour": "#000000"}, "b": {"at": 1, "colour": "#FFFFFF"}}}
    shade = {"kind": "shade", "part": "copies", "field": "front", "laid": "everywhere", "ramp": ramp}
    copies = parts_of(recipe_shot(LAID, shade, parts=("copies",)), 60)["copies"]
    value = np.clip(1.5 - np.linalg.norm(copies.mesh.points - FOG, axis=1), 0, 1)
    assert copies.mesh.colour[:, 0] == pytest.approx(value, abs=1e-4)


def test_chance_and_order_are_those_of_the_piece():
    source = {"kind": "chance", "seed": 4}
    document = recipe_shot(
        {"kind": "fracture", "count": 40}, {"kind": "shift", "field": "front", "zone": "value", "move": [0, 1, 0]}
    )
    document["fields"]["front"]["sources"]["s"] = source
    lifted = parts_of(document)["body"].pieces
    height = lifted.places.points[:, 1] - lifted.places.rest[:, 1]
    assert len(np.unique(height.round(4))) == 40
    assert height.min() >= 0
    assert height.max() <= 1


def test_wires_about_copies_are_a_part_beside_them():
    wire = {
        "kind": "wire",
        "part": "copies",
        "makes": "wires",
        "width": 0.01,
        "edges": "sharp",
        "look": {"emission": 2.0},
    }
    parts = parts_of(recipe_shot(LAID, wire, parts=("copies", "wires")))
    assert set(parts) == {"body", "copies", "wires"}
    assert parts["wires"].look.emission == 2.0
    assert len(parts["wires"].copies) == len(parts["copies"].copies) == 600
    model = parts["wires"].copies.models[0].mesh
    # Copies are 0.06 m large: wires of 0.01 m about a form that is one metre large.
    assert wire_width(model) == pytest.approx(0.01 / 0.06, rel=0.1)


def wire_width(tubes: Mesh) -> float:
    """How wide four-sided tubes are: twice the way from the middle of an end's corners to one of them."""
    end = tubes.points[:4].astype(float)
    return float(2 * np.linalg.norm(end - end.mean(axis=0), axis=1).mean())


def test_wires_are_as_wide_as_said_about_copies_of_every_size():
    wire = {"kind": "wire", "part": "copies", "width": 0.004, "edges": "sharp"}
    varied = LAID | {"vary": 0.6, "what": "blocks"}
    before = parts_of(recipe_shot(varied, parts=("copies",)))["copies"].copies
    shot = parse_shot(recipe_shot(varied, wire, parts=("copies",)))
    drawn = [item.body for item in evaluator().frame(shot, 0).draw if item.part == "copies"]
    assert sum(len(body.copies) for body in drawn) == len(before)
    sizes = np.concatenate([body.copies.size[:, 0] for body in drawn])
    assert sizes.max() > 2 * sizes.min()
    for body in drawn:
        assert body.copies.size[:, 0] * wire_width(body.copies.models[0].mesh) == pytest.approx(0.004, rel=0.1)


def test_wires_have_room_in_the_smallest_copies():
    wire = {"kind": "wire", "part": "copies", "width": 1.0, "edges": "sharp"}
    shot = parse_shot(recipe_shot(LAID | {"what": "blocks"}, wire, parts=("copies",)))
    (body,) = [item.body for item in evaluator().frame(shot, 0).draw if item.part == "copies"]
    # Blocks have edges of one size; wires are at most half as wide.
    assert wire_width(body.copies.models[0].mesh) <= 0.5 * 1.1


def test_a_probe_tells_of_the_piece_or_the_copy():
    shot = parse_shot(
        recipe_shot(
            LAID,
            {"kind": "fracture", "count": 12},
            {"kind": "shift", "field": "front", "move": [0, 0, 0.1]},
            parts=("copies",),
        )
    )
    one = evaluator()
    of_piece = probe(one, shot, 60, "front", "ball", (0.99, 0.0, 0.0))
    assert of_piece.named.startswith("piece ")
    drawn = {item.part: item for item in one.frame(shot, 60).draw}
    middle = drawn["copies"].points[17]
    of_copy = probe(one, shot, 60, "front", "ball", tuple(float(x) for x in middle), "copies")
    assert of_copy.named == f"copy {drawn['copies'].body.mesh.number[17]:,}"
    assert of_copy.value == pytest.approx(np.clip(1.5 - np.linalg.norm(middle - FOG), 0, 1), abs=1e-4)
    with pytest.raises(Refusal, match="hidden"):
        probe(one, shot, 60, "front", "ball", (0.0, 0.0, 0.0), "embers")


def test_a_front_goes_from_piece_to_piece():
    document = recipe_shot({"kind": "fracture", "count": 80}, {"kind": "shift", "field": "go", "move": [0, 1, 0]})
    document["items"]["fog"]["place"] = [1.0, 0, 0]
    document["fields"]["front"]["sources"]["s"] |= {"reach": 0.4, "soft": 0.01}
    spread = {"kind": "spread", "seeds": "front", "speed": 1.0, "soft": 0.0, "through": "pieces"}
    document["fields"]["go"] = {
        "letter": "B",
        "name": "Go",
        "rank": 1,
        "level": 0.5,
        "band": 0.0,
        "sources": {"s": spread},
    }
    counts = []
    for frame in (0, 12, 24, 36, 72):
        pieces = parts_of(document, frame)["body"].pieces
        gone = pieces.places.points[:, 1] - pieces.places.rest[:, 1] > 0.5
        counts.append(gone.sum())
        come = frame / 24
        away = np.linalg.norm(pieces.places.rest - np.array([1.0, 0, 0]), axis=1)
        # No way from middle to middle is shorter than the straight one.
        assert (away[gone] <= come + 0.41 + 1e-6).all()
    assert counts[0] < counts[1] < counts[2] < counts[4] == 80


def test_a_step_on_a_part_that_is_not_made_yet_is_passed_over():
    document = recipe_shot({"kind": "shade", "part": "copies", "field": None}, LAID, parts=("copies",))
    frame = evaluator().frame(parse_shot(document), 0)
    assert [report.step for report in frame.steps] == ["s2"]
