"""Findings: each is told where its cause is, not where it is not; a mend takes it away and leaves a valid shot."""

from __future__ import annotations

import copy

import pytest
from shots import cut_ball, evaluator, parsed

from windsock.core.document.patches import patched
from windsock.core.findings import find_all
from windsock.core.findings.finding import Finding, listed
from windsock.demo.loading import SHOTS

KEYED = {"keys": {"k1": {"frame": 0, "value": [0, 0, 0]}, "k2": {"frame": 100, "value": [1, 0, 0]}}}
NOISE = {"kind": "noise", "rank": 1, "word": "or", "size": 0.5, "space": "world"}


def found(document: dict) -> list[Finding]:
    # Room for all strips of a demo: what is let go of is found again, several times over.
    return find_all(evaluator(2**30), parsed(document))


def kinds(document: dict) -> list[str]:
    return [finding.kind for finding in found(document)]


def mended(document: dict, kind: str) -> dict:
    """The document after the press that mends the first finding of a kind."""
    mend = next(finding.mend for finding in found(document) if finding.kind == kind)
    assert mend is not None
    return patched(copy.deepcopy(document), mend.patch)  # type: ignore[return-value]


def shaded(field: dict | None = None, **step: object) -> dict:
    """The ball, shaded instead of cut."""
    document = cut_ball({"kind": "sphere", "subdivisions": 3}, field=field)
    shade = {"kind": "shade", "rank": 0, "field": "front", "zone": "inside"} | step
    document["items"]["ball"]["recipe"]["steps"] = {"shade": shade}
    return document


def test_nothing_is_amiss_where_a_front_goes_over_a_ball():
    assert kinds(cut_ball()) == []


MEANT = {"the-sock-itself": ["joining_skin"]}
"""What is found in a demo shot and is meant so: its strands flow together and come apart as they swing."""


@pytest.mark.parametrize("name", SHOTS)
def test_nothing_is_amiss_in_the_demo(name):
    amiss = [finding for finding in found(SHOTS[name]()) if finding.kind not in MEANT.get(name, [])]  # type: ignore[arg-type]
    assert [finding.says for finding in amiss] == []


def melded(apart: float) -> dict:
    """Two points under one skin; the second goes away along X to be so far from the first."""
    document = cut_ball({"kind": "sphere", "radius": 0.001, "subdivisions": 0})
    items = document["items"]
    away = {"keys": {"k1": {"frame": 0, "value": [0.3, 0, 0]}, "k2": {"frame": 100, "value": [apart, 0, 0]}}}
    items["other"] = copy.deepcopy(items["ball"]) | {"rank": 5, "place": away, "recipe": {}}
    parts = {"body": {"name": "Body", "rank": 0}, "skin": {"name": "Skin", "rank": 1}}
    meld = {"kind": "meld", "rank": 0, "group": "g", "radius": 0.2, "cell": 0.03}
    items["ball"]["recipe"] = {"parts": parts, "steps": {"meld": meld}}
    document["groups"] = {"g": {"name": "G", "rank": 0, "members": {"other": {"rank": 0}}}}
    document["fields"] = {}
    return document


def test_a_skin_of_which_parts_come_apart():
    (finding,) = found(melded(1.5))
    assert finding.kind == "joining_skin"
    assert finding.place == "/items/ball/recipe/steps/meld"
    assert "is 1 part with no hole at frame 20" in finding.says
    assert "2 parts with no hole" in finding.says
    assert kinds(melded(0.34)) == []


def test_a_field_that_never_comes_to_its_level():
    document = cut_ball(field={"level": 0.99}, source={"reach": 0.3})
    document["items"]["fog"]["place"] = [1.2, 0, 0]
    (finding,) = found(document)
    assert finding.kind == "never_reaches"
    assert "0.99" in finding.says
    assert finding.place == "/fields/front"
    # The most it is: reach 0.3 m with 1 m of softness, 0.2 m away from the ball: (0.3 - 0.2) / 1.
    assert "0.1" in finding.says
    assert kinds(mended(document, "never_reaches")) == []


def test_a_field_that_is_inside_everywhere_from_the_start():
    document = cut_ball(field={"level": 0.1}, source={"reach": 20.0, "soft": 18.0})
    assert kinds(document) == ["covers_from_start"]
    assert kinds(mended(document, "covers_from_start")) == []


def test_a_field_that_is_the_same_everywhere():
    for sources in ({}, {"t": {"kind": "noise", "rank": 0, "amount": 0.0}}):
        document = cut_ball(field={"sources": sources})
        assert kinds(document) == ["constant_field"]
    pulse = {"t": {"kind": "time", "rank": 0, "start": 1.0}}
    assert kinds(cut_ball(field={"sources": pulse})) == []


def test_a_step_that_counts_for_nothing():
    document = cut_ball(step={"amount": 0.0})
    assert kinds(document) == ["idle_step"]
    assert kinds(mended(document, "idle_step")) == []
    rising = {"keys": {"k1": {"frame": 0, "value": 0.0}, "k2": {"frame": 50, "value": 1.0}}}
    assert kinds(cut_ball(step={"amount": rising})) == []
    assert kinds(cut_ball(step={"amount": 0.0, "on": False})) == []


def test_a_step_that_listens_to_a_band_of_no_width():
    (finding,) = found(shaded({"band": 0.0}, zone="band"))
    assert (finding.kind, finding.place) == ("idle_step", "/items/ball/recipe/steps/shade")
    assert "0 wide" in finding.says


def test_a_step_whose_curve_is_zero_and_one_that_follows_what_never_moves():
    flat = {"points": {"a": {"x": 0.0, "y": 0.0}}}
    assert kinds(shaded({"band": 0.6}, curve=flat)) == ["idle_step"]
    still = cut_ball()
    still["items"]["ball"]["recipe"]["steps"] = {"lag": {"kind": "follow_through", "rank": 0, "field": "front"}}
    assert kinds(still) == ["idle_step"]
    # It also follows what steps before it do.
    still["items"]["ball"]["recipe"]["steps"]["swell"] = {"kind": "wave", "rank": -1}
    assert kinds(still) == []
    del still["items"]["ball"]["recipe"]["steps"]["swell"]
    still["items"]["ball"]["place"] = KEYED
    assert kinds(still) == []


def test_an_overall_field_that_is_zero_throughout():
    document = cut_ball(field={"band": 0.1})
    document["fields"]["none"] = {"letter": "B", "name": "None", "rank": 1, "sources": {}}
    document["items"]["ball"]["recipe"]["overall"] = "none"
    assert any("counts by B" in finding.says for finding in found(document))


def test_a_band_narrower_than_the_faces_and_the_refine_that_would_do():
    # Edges of a ball of 3 splits are about 0.15 m. The field falls over 1 m straight towards the controller, and less
    # steeply along the ball: a band of 0.02 is a little wider than 0.02 m there.
    document = shaded({"band": 0.02})
    (finding,) = found(document)
    assert finding.kind == "coarse_faces"
    assert 0.02 < float(finding.says.split(" m wide")[0].split()[-1]) < 0.04
    assert finding.mend is not None
    # Faces of 0.15 m are more than four and at most eight times as long: three more splits.
    assert [operation.value for operation in finding.mend.patch] == [6]
    assert kinds(mended(document, "coarse_faces")) == []
    assert kinds(shaded({"band": 0.3})) == []
    # An exact cut does not lay the band on points.
    assert kinds(cut_ball(field={"band": 0.02})) == []


@pytest.mark.parametrize(
    "geometry",
    [
        {"kind": "sphere", "build": "latitude", "segments": 24, "rings": 12},
        {"kind": "box", "divisions": 6, "width": 2.0, "height": 2.0, "depth": 2.0},
        {"kind": "plane", "columns": 16, "rows": 16},
    ],
)
def test_the_refine_of_every_built_shape_is_enough(geometry):
    document = shaded({"band": 0.05})
    document["items"]["ball"]["geometry"] = geometry
    assert "coarse_faces" in kinds(document)
    assert "coarse_faces" not in kinds(mended(document, "coarse_faces"))


def test_a_curve_that_leaks():
    leak = {"points": {"a": {"x": 0.0, "y": 0.06}, "b": {"x": 1.0, "y": 1.0}}}
    document = shaded({"band": 0.6}, curve=leak)
    (finding,) = found(document)
    assert finding.kind == "leaking_curve"
    assert "0.06" in finding.says
    assert kinds(mended(document, "leaking_curve")) == []
    assert kinds(shaded({"band": 0.6}, curve=leak, zone="value")) == []
    clause = cut_ball(source={"curve": leak})
    assert kinds(clause) == ["leaking_curve"]
    assert kinds(mended(clause, "leaking_curve")) == []


def test_keys_outside_the_range():
    document = cut_ball(frames={"first": 0, "last": 60})
    (finding,) = [one for one in found(document) if one.kind == "keys_outside"]
    assert "Fog has keys at 100" in finding.says
    assert mended(document, "keys_outside")["frames"] == {"first": 0, "last": 100}
    assert kinds(mended(document, "keys_outside")) == []
    document["items"]["fog"]["place"]["keys"]["k1"]["frame"] = -0.5
    assert mended(document, "keys_outside")["frames"] == {"first": -1, "last": 100}


def test_a_group_without_shapes_or_with_only_the_subject():
    near = {"kind": "near", "rank": 1, "group": "g"}
    document = cut_ball(groups={"g": {"name": "Passers", "rank": 0, "members": {}}})
    document["fields"]["front"]["sources"]["n"] = near
    assert kinds(document) == ["empty_group"]
    document["groups"]["g"]["members"] = {"ball": {"rank": 0}}
    assert kinds(document) == ["empty_group"]
    document["items"]["other"] = copy.deepcopy(document["items"]["ball"]) | {"place": [5, 0, 0], "recipe": {}}
    document["groups"]["g"]["members"] = {"ball": {}, "other": {}}
    assert kinds(document) == []


def test_a_noise_that_swims_over_what_moves():
    document = cut_ball()
    document["fields"]["front"]["sources"]["n"] = NOISE
    assert kinds(document) == []
    document["items"]["ball"]["place"] = KEYED
    assert kinds(document) == ["swimming_noise"]
    assert kinds(mended(document, "swimming_noise")) == []
    document["fields"]["front"]["sources"]["n"] = NOISE | {"space": "controller", "controller": "fog"}
    assert kinds(document) == []


def test_names_are_listed_as_people_do():
    assert [listed(list(names)) for names in ("A", "AB", "ABC", "ABCDE")] == [
        "A",
        "A and B",
        "A, B and C",
        "A, B and 3 more",
    ]


def deformed(step: dict, geometry: dict | None = None, **shape: object) -> dict:
    """A post of a metre's width and four metres' height with one step."""
    document = cut_ball()
    post = {"kind": "box", "width": 1.0, "height": 4.0, "depth": 1.0, "divisions": 1}
    document["items"]["ball"] |= {"geometry": geometry or post, "recipe": {"steps": {"it": {"rank": 0} | step}}} | shape
    del document["fields"]["front"]
    return document


BEND = {"kind": "bend", "start": -2.0, "end": 2.0, "angle": 90.0}


@pytest.mark.parametrize(
    "step",
    [
        BEND,
        BEND | {"kind": "twist"},
        BEND | {"angle": {"keys": {"a": {"frame": 0, "value": 0}, "b": {"frame": 60, "value": 90}}}},
        {"kind": "wave", "length": 1.5, "height": 0.2},
    ],
    ids=["bend", "twist", "keyed", "wave"],
)
def test_a_bend_on_too_few_faces_and_what_would_do(step):
    document = deformed(step)
    (finding,) = [one for one in found(document) if one.kind == "too_few_faces"]
    assert "shows corners" in finding.says
    assert finding.place == "/items/ball/recipe/steps/it"
    assert "too_few_faces" not in kinds(mended(document, "too_few_faces"))


def test_what_bends_little_is_hidden_or_has_faces_enough_is_not_told():
    fine = {"kind": "box", "width": 1.0, "height": 4.0, "depth": 1.0, "divisions": 12}
    # Long thin faces across the bend do not matter: a tube of many rings, its faces long round about it.
    rings = {"kind": "tube", "radius": 1.0, "wall": 0.1, "height": 4.0, "segments": 6}
    assert "too_few_faces" not in kinds(deformed(BEND, rings | {"rows": 40}))
    assert "too_few_faces" in kinds(deformed(BEND, rings | {"rows": 2}))
    for document in (
        deformed(BEND, fine),
        deformed(BEND | {"angle": 15.0}),
        deformed(BEND | {"start": 3.0, "end": 5.0}),
        deformed(BEND, shown=0.0),
        deformed({"kind": "wave", "length": 30.0}),
        deformed({"kind": "wave", "height": 0.0}),
    ):
        assert "too_few_faces" not in kinds(document)
    # A stretched post has as few faces, over more metres: the angle is what counts.
    assert "too_few_faces" in kinds(deformed(BEND, scale=[1.0, 3.0, 1.0]))


def test_a_refine_before_it_counts():
    document = deformed(BEND)
    document["items"]["ball"]["recipe"]["steps"]["finer"] = {"kind": "refine", "rank": -1, "times": 3}
    assert "too_few_faces" not in kinds(document)


def test_a_morph_that_tears_offers_a_field_that_shows_where():
    document = cut_ball()
    document["items"]["other"] = {"kind": "shape", "name": "Other", "rank": 9, "geometry": {"kind": "box"}}
    morph = {"kind": "morph", "rank": 0, "target": "other", "way": "order"}
    document["items"]["ball"]["recipe"]["steps"] = {"it": morph}
    (finding,) = [one for one in found(document) if one.kind == "doubtful"]
    assert "fold over" in finding.says
    assert finding.mend is not None
    shown = patched(copy.deepcopy(document), finding.mend.patch)
    (added,) = set(shown["fields"]) - set(document["fields"])
    assert [one["reading"] for one in shown["fields"][added]["sources"].values()] == ["stretch", "fold"]
    (again,) = [one for one in found(shown) if one.kind == "doubtful"]
    assert again.mend is None
