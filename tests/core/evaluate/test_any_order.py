"""Whatever shot, whatever order, whoever asks: the same bytes. Shots are made up by hypothesis."""

from __future__ import annotations

import random
from concurrent.futures import ThreadPoolExecutor

import pytest
from histories import MOVING, subject_shot
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from shots import evaluator, parsed, sock_alone

from windsock.evaluator.disk import FolderStore

share = st.floats(0.05, 0.95)
around = st.fixed_dictionaries(
    {"kind": st.just("around"), "controller": st.just("fog"), "reach": st.floats(0.3, 1.5), "soft": st.floats(0, 1)}
)
noise = st.fixed_dictionaries(
    {"kind": st.just("noise"), "size": st.floats(0.2, 1), "space": st.sampled_from(["rest", "world"])}
)
time = st.fixed_dictionaries(
    {
        "kind": st.just("time"),
        "form": st.sampled_from(["ramp", "pulse", "beat"]),
        "stagger": st.sampled_from(["none", "order", "chance"]),
        "length": st.floats(0.1, 2),
    }
)
word = st.sampled_from(["and", "or", "times", "plus", "less", "roughened by", "apart from"])
memory = st.sampled_from([None, {"kind": "hold"}, {"kind": "fade", "seconds": 0.7}])


@st.composite
def made_up_shots(draw) -> dict:
    first = {"sources": {"a": draw(around), "b": draw(st.one_of(noise, time)) | {"rank": 1, "word": draw(word)}}}
    first |= {"level": draw(share), "memory": draw(memory)}
    spread = {"kind": "spread", "seeds": "one", "speed": draw(st.floats(0.1, 2)), "soft": draw(st.floats(0, 0.3))}
    zone = draw(st.sampled_from(["value", "inside", "band", "age"]))
    another = {"kind": "another", "field": "one", "lag": draw(st.floats(0, 1)), "zone": zone}
    fields = {"one": first, "two": {"sources": {"s": draw(st.sampled_from([spread, another]))}, "level": draw(share)}}
    document = subject_shot(
        {"kind": "sphere", "subdivisions": 2}, fields, place=MOVING, frames={"first": 0, "last": 24}
    )
    step = {"kind": "cut_away", "rank": 1, "field": draw(st.sampled_from(["one", "two"]))}
    steps = {"cut": step | {"edge": draw(st.sampled_from(["exact", "fading"]))}}
    if draw(st.booleans()):
        steps["follow"] = {"kind": "follow_through", "rank": draw(st.sampled_from([0, 2])), "field": "two"}
        document["items"]["it"]["turn"] = {
            "keys": {"k1": {"frame": 0, "value": [0, 0, 0]}, "k2": {"frame": 20, "value": [0, 90, 20]}}
        }
    document["items"]["it"]["recipe"] = {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": steps}
    return document


def bytes_of(one, shot, frame) -> list[bytes]:
    meshes = [item.body.mesh for item in one.frame(shot, frame).draw]
    found = [array.tobytes() for mesh in meshes for array in (mesh.points, mesh.faces, mesh.normals, mesh.number)]
    return found + [mesh.opacity.tobytes() for mesh in meshes if mesh.opacity is not None]


def held_against_fresh(document: dict, frames: list[float], folder) -> None:
    shot = parsed(document)
    fresh = {frame: bytes_of(evaluator(), shot, frame) for frame in frames}
    shuffled = frames * 2
    random.Random(3).shuffle(shuffled)
    one = evaluator()
    for frame in [*frames, *reversed(frames), *shuffled]:
        assert bytes_of(one, shot, frame) == fresh[frame]
    small = evaluator(budget=60_000)
    for frame in shuffled:
        assert bytes_of(small, shot, frame) == fresh[frame]
    with ThreadPoolExecutor(2) as pool:
        assert list(pool.map(lambda frame: bytes_of(one, shot, frame), shuffled)) == [fresh[f] for f in shuffled]
    filling = evaluator(store=FolderStore(folder, 2**28))
    for frame in frames:
        bytes_of(filling, shot, frame)
    rng = random.Random(5)
    for path in sorted(folder.glob("*/*")):
        harm = rng.random()
        if harm < 0.25:
            path.unlink()
        elif harm < 0.5:
            path.write_bytes(path.read_bytes()[: rng.randrange(path.stat().st_size)])
        elif harm < 0.75:
            content = bytearray(path.read_bytes())
            content[rng.randrange(len(content))] ^= 0xFF
            path.write_bytes(content)
    another_process = evaluator(store=FolderStore(folder, 2**28))
    for frame in shuffled:
        assert bytes_of(another_process, shot, frame) == fresh[frame]


@settings(max_examples=14, suppress_health_check=[HealthCheck.too_slow])
@given(made_up_shots())
def test_made_up_shots(tmp_path_factory, document):
    held_against_fresh(document, [0, 7, 12.5, 24], tmp_path_factory.mktemp("store"))


def test_the_demo(tmp_path):
    document = sock_alone()
    document["items"]["sock"]["geometry"] |= {"segments": 24, "ring_height": 0.2}  # type: ignore[index]
    held_against_fresh(document, [0, 33, 36, 90], tmp_path)  # type: ignore[arg-type]


def test_what_does_not_matter_does_not_bring_the_past_up_anew():
    one = evaluator()
    document = subject_shot(
        {"kind": "sphere", "subdivisions": 3},
        {
            "one": {"sources": {"a": {"kind": "around", "controller": "fog", "reach": 0.4, "soft": 0.2}}},
            "two": {"sources": {"s": {"kind": "spread", "seeds": "one"}}},
        },
        place=MOVING,
    )
    steps = {"cut": {"kind": "cut_away", "rank": 0, "field": "two"}}
    document["items"]["it"]["recipe"] = {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": steps}

    def made(frame: float) -> dict[str, int]:
        return {cost.node: cost.made for cost in one.frame(parsed(document), frame).costs}

    first = made(30)
    assert first["front one it"] == first["crossed one it"] == 1
    document["fields"]["two"] |= {"level": 0.4, "band": 0.3, "name": "Another name"}
    document["fields"]["two"]["sources"]["s"]["soft"] = 0.4
    document["items"]["it"]["name"] = "Renamed"
    again = made(31)
    assert again["front one it"] == again["crossed one it"] == 1
    document["fields"]["one"]["level"] = 0.45
    assert made(31)["front one it"] == 2


@pytest.mark.parametrize("detail", ["draft", "final"])
def test_draft_and_final_have_the_same_shape_place_and_time_of_the_front(detail):
    shot = parsed(sock_alone())
    one = evaluator()
    mesh = one.frame(shot, 40, detail).draw[0].body.mesh
    assert mesh.points.tobytes() == evaluator().frame(shot, 40).draw[0].body.mesh.points.tobytes()
