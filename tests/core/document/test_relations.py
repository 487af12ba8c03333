"""What depends on what in a shot, as lists and menus show it."""

from __future__ import annotations

from windsock.core.document.relations import relations
from windsock.core.document.shot import parse_shot


def moving(*frames: float) -> dict:
    return {"keys": {f"k{frame:g}": {"frame": frame, "value": [0, 0, 0]} for frame in frames}}


def shot():
    fog = {"kind": "controller", "name": "Fog", "rank": 0, "place": moving(3, 9)}
    lamp = {"kind": "controller", "name": "Lamp", "rank": 1, "parent": "fog"}
    eye = {"kind": "camera", "name": "Eye", "rank": 2, "aim": "lamp"}
    steps = {
        "cut": {"kind": "cut_away", "rank": 0, "field": "late"},
        "grow": {"kind": "scatter", "rank": 1, "makes": "copies", "size_by": {"field": "grain"}},
        "tell": {"kind": "shade", "rank": 2, "part": "copies", "on": False, "field": "unheard"},
    }
    parts = {"body": {"name": "Body", "rank": 0}, "copies": {"name": "Copies", "rank": 1}}
    wall = {
        "kind": "shape",
        "name": "Wall",
        "rank": 3,
        "geometry": {"kind": "box"},
        "recipe": {"steps": steps, "parts": parts},
    }
    post = {
        "kind": "shape",
        "name": "Post",
        "rank": 4,
        "geometry": {"kind": "box"},
        "scale": {"keys": {"k": {"frame": 5, "value": [1, 1, 1]}}},
    }
    fields = {
        "front": {"letter": "A", "name": "Front", "rank": 0, "sources": {"s": {"kind": "around", "controller": "fog"}}},
        "late": {
            "letter": "B",
            "name": "Late",
            "rank": 1,
            "sources": {
                "s": {"kind": "another", "field": "front", "lag": 0.5},
                "n": {"kind": "near", "rank": 1, "group": "posts"},
            },
        },
        "grain": {
            "letter": "C",
            "name": "Grain",
            "rank": 2,
            "level": {"keys": {"k": {"frame": 20, "value": 0.5}}},
            "sources": {"s": {"kind": "noise"}},
        },
        "unheard": {
            "letter": "D",
            "name": "Unheard",
            "rank": 3,
            "sources": {"s": {"kind": "spread", "seeds": "front"}},
        },
    }
    groups = {"posts": {"name": "Posts", "rank": 0, "members": {"post": {"rank": 0}}}}
    items = {"fog": fog, "lamp": lamp, "eye": eye, "wall": wall, "post": post}
    return parse_shot({"name": "Any", "items": items, "fields": fields, "groups": groups})


def test_fields_say_what_drives_whom_and_by_which_keys():
    fields = relations(shot()).fields
    assert {key: one.drives for key, one in fields.items()} == {
        "front": True,
        "late": True,
        "grain": True,
        "unheard": False,
    }
    assert {key: one.listeners for key, one in fields.items()} == {
        "front": ["wall"],
        "late": ["wall"],
        "grain": ["wall"],
        "unheard": [],
    }
    assert fields["front"].key_frames == [3, 9]
    assert fields["late"].key_frames == [
        3,
        5,
        9,
    ]  # those of the post that it is near to, and of the fog behind the front
    assert fields["grain"].key_frames == [20]
    assert fields["late"].measures == ["front"]
    assert fields["front"].measurable == ["grain"]
    assert fields["grain"].measurable == ["front", "late", "unheard"]
    assert [one.clauses for one in fields.values()] == [
        ["around Fog"],
        ["A, later", "near Posts"],
        ["noise"],
        ["spread from A"],
    ]


def test_items_say_what_leans_on_them_and_steps_what_they_find():
    items = relations(shot()).items
    assert items["fog"].leaning == ["fog", "lamp", "eye"]
    assert items["eye"].leaning == ["eye"]
    assert (items["fog"].fields, items["lamp"].fields) == (["front"], [])
    assert items["wall"].steps["cut"].parts == ["body"]
    assert items["wall"].steps["tell"].parts == ["body", "copies"]
    assert items["wall"].steps["grow"].rules == ["grain"]
    assert items["fog"].steps == {}


def test_a_clause_names_what_it_measures_from_though_a_field_has_the_same_id():
    document = shot().model_dump(mode="json")
    document["items"]["front"] = document["items"]["fog"] | {"name": "Front post", "rank": 40}
    document["fields"]["grain"]["sources"] = {"s": {"kind": "around", "controller": "front"}}
    assert relations(parse_shot(document)).fields["grain"].clauses == ["around Front post"]
