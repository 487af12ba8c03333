"""Has every kernel compiled that the demo, the starters and each kind of step, source and shape call.

`python -m windsock.demo.compiling` answers for them all as the page asks, and says how far it is: `3 of 24`. What is compiled
is kept by numba in NUMBA_CACHE_DIR, and written down for `windsock.evaluator.warming`.
"""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from pathlib import Path

from pydantic import JsonValue

from windsock.core.document.patches import patched
from windsock.core.document.shot import parse_shot
from windsock.core.kernels.compiled import signatures
from windsock.demo.blank import blank_shot
from windsock.demo.loading import SHOTS
from windsock.demo.starters import STARTERS, Bounds, laid
from windsock.evaluator.desk import Desk
from windsock.evaluator.warming import write_down
from windsock.protocol.requests import CoverageRequest, FrameRequest

BALL = Bounds(centre=(0.0, 1.0, 0.0), size=(1.0, 1.0, 1.0))

AROUND = {"kind": "around", "controller": "controller", "reach": 1.6, "soft": 1.0}
SOURCES: list[dict[str, JsonValue]] = [
    {"kind": "noise", "pattern": pattern, "evolution": evolution, "octaves": 2, "size": 0.3}
    for pattern in ("gradient", "simplex", "cellular", "ridged", "billow", "tongues")
    for evolution in (0.0, 0.5)
] + [
    {"kind": "across", "controller": "controller", "edge": "wavering"},
    {"kind": "near", "group": "near"},
    {"kind": "crests", "group": "near", "gap": 5.0, "breaks": 0.5},
    {"kind": "contact", "group": "near", "reading": "depth", "margin": 0.4, "spreads": 0.2},
    {"kind": "contact", "group": "near", "reading": "touched", "margin": 0.4},
    {"kind": "spread", "seeds": "seeds"},
    {"kind": "spread", "seeds": "seeds", "through": "pieces"},
    {"kind": "another", "field": "seeds", "zone": "age"},
    {"kind": "surface", "reading": "curvature"},
    {"kind": "surface", "reading": "fold"},
    {"kind": "chance"},
]
RECIPES: list[list[dict[str, JsonValue]]] = [
    [{"kind": "scatter", "makes": "more", "count": 40}, {"kind": "bend", "part": "more"}],
    [{"kind": "cut_away", "field": "seeds"}, {"kind": "refine", "way": "smooth"}, {"kind": "wire", "makes": "more"}],
    [
        {"kind": "refine", "way": "squares"},
        {"kind": "follow_through", "field": "seeds"},
        {"kind": "shade", "field": "seeds"},
    ],
    [{"kind": "fracture", "count": 6, "rounding": 0.01}, {"kind": "jumble"}, {"kind": "release", "field": "seeds"}],
    [{"kind": "fracture", "into": "slabs", "count": 4}, {"kind": "shift", "field": "seeds", "move": [0, 0.1, 0]}],
    *(
        [
            {
                "kind": "scatter",
                "makes": "more",
                "on_what": on_what,
                "by": by,
                "count": 60,
                "spacing": 0.2,
                "field": "seeds",
            },
            {"kind": "wire", "part": "more"},
            {"kind": "release", "part": "more", "field": "seeds", "friction": 0.3},
        ]
        for on_what, by in (("faces", "count"), ("faces", "spacing"), ("volume", "spacing"), ("edges", "count"))
    ),
    [
        {"kind": "push", "field": "seeds"},
        {"kind": "push", "along": "rising", "field": "seeds"},
        {"kind": "bend"},
        {"kind": "twist"},
        {"kind": "taper"},
        {"kind": "wave"},
        {"kind": "wave", "raises": "normal"},
        {"kind": "wave", "form": "straight", "field": "seeds"},
        {"kind": "smooth", "field": "seeds"},
    ],
    [{"kind": "fracture", "count": 6}, {"kind": "wave", "pieces": "whole"}, {"kind": "smooth"}],
    [
        {"kind": "fracture", "count": 6},
        {"kind": "ride", "carrier": "other", "by": "cage", "pieces": "whole"},
        {"kind": "ride", "carrier": "other"},
    ],
    [{"kind": "pair", "target": "other", "makes": "more", "begins_at": 0.2, "lasts": 0.4, "smoothing": 2}],
    [
        {"kind": "imprint", "group": "near", "margin": 0.4, "finest": 0.1, "soft": 0.05, "rough": 0.01},
        {"kind": "ripple", "group": "near", "margin": 0.4},
        {"kind": "shells", "makes": "more", "field": "seeds"},
    ],
    [{"kind": "shed", "makes": "more", "field": "seeds"}],
    [
        {"kind": "follow_through"},
        {"kind": "trail", "makes": "more", "of": "points", "count": 3, "smooth": 0.05},
        {
            "kind": "erode",
            "makes": "less",
            "field": "seeds",
            "voxel": 0.1,
            "smooth": 0.1,
            "least": 0.001,
            "by": "share",
        },
    ],
    [
        {"kind": "trail", "makes": "more", "of": "whole"},
        {"kind": "meld", "part": "more", "also": "body", "makes": "less", "radius": 0.1, "cell": 0.1},
    ],
    [
        {"kind": "coat", "makes": "more", "field": "seeds", "drips": 0.5, "finest": 0.1, "beneath": "gone"},
        {"kind": "slice", "part": "more", "makes": "less", "by": "field", "field": "seeds", "voxel": 0.1},
    ],
    [{"kind": "slice", "makes": "more", "beside": 0.1}],
    [{"kind": "erode", "makes": "more", "way": "seeds", "seeds": "seeds", "voxel": 0.1, "by": "share"}],
]
SHAPES: list[dict[str, JsonValue]] = [
    {"kind": "text", "words": "Io", "depth": 0.2, "bevel": 0.02, "face_size": 0.1},
    {"kind": "box", "divisions": 4},
    {"kind": "sphere", "build": "latitude", "segments": 12, "rings": 8},
]


def main() -> None:
    """Answer for everything once."""
    asked = list(_documents())
    with tempfile.TemporaryDirectory() as folder:
        desk = Desk(Path(folder))
        for place, (name, document, frame) in enumerate(asked, 1):
            print(f"{place} of {len(asked)}: {name}", flush=True)
            _ask(desk, name, document, frame)
    write_down(signatures())


def _ask(desk: Desk, name: str, document: JsonValue, frame: float) -> None:
    """As the page does: a frame, one with heat, a strip."""
    shot = parse_shot(document)
    field = next(iter(shot.fields), None)
    subject = next((key for key, item in shot.items.items() if item.kind == "shape" and item.recipe.steps), None)
    desk.answer(FrameRequest(base=name, document=document, frame=frame))
    if field is not None and subject is not None:
        desk.answer(FrameRequest(base=name, document=document, frame=frame, heat=(field, subject)))
        lasts = shot.frames.last - shot.frames.first
        strip = CoverageRequest(base=name, document=document, field=field, item=subject, step_by=max(lasts, 1))
        desk.answer(strip)


def _documents() -> Iterator[tuple[str, JsonValue, float]]:
    for name, make in SHOTS.items():
        yield name, make(), parse_shot(make()).opening_frame
    for starter in STARTERS:
        shot = parse_shot(blank_shot("Compiling"))
        patch = laid(starter, shot, "ball", BALL).patch
        yield starter, patched(shot.model_dump(mode="json"), patch), 40.0
    for place, recipe in enumerate(RECIPES):
        yield f"steps {place + 1}", _shot(recipe), 10.0
    for place, source in enumerate(SOURCES):
        steps: list[dict[str, JsonValue]] = [{"kind": "fracture", "count": 4}, {"kind": "shift", "field": "asked"}]
        yield f"fields {place + 1}", _shot([{"kind": "cut_away", "field": "asked"}, *steps], source), 10.0
    for place, shape in enumerate(SHAPES):
        yield f"shapes {place + 1}", _shot([{"kind": "cut_away", "field": "seeds"}], geometry=shape), 10.0


def _shot(
    steps: list[dict[str, JsonValue]],
    source: dict[str, JsonValue] | None = None,
    geometry: dict[str, JsonValue] | None = None,
) -> JsonValue:
    """A small ball with a recipe, moving over 24 frames."""
    document: dict = blank_shot("Compiling")  # type: ignore[assignment]
    document["frames"] = {"first": 0, "last": 24}
    ball = document["items"]["ball"]
    ball["geometry"] = geometry or {"kind": "sphere", "subdivisions": 2}
    ball["place"] = {"keys": {"a": {"frame": 0, "value": [0, 1, 0]}, "b": {"frame": 24, "value": [1, 1, 0]}}}
    parts = {name: {"name": name, "rank": rank} for rank, name in enumerate(("body", "more", "less"))}
    ball["recipe"] = {
        "parts": parts,
        "steps": {f"s{place}": step | {"rank": place} for place, step in enumerate(steps)},
    }
    document["items"]["other"] = {
        "kind": "shape",
        "name": "Other",
        "rank": 9,
        "place": {"keys": {"a": {"frame": 0, "value": [0, 0, 0]}, "b": {"frame": 24, "value": [0, 1, 0]}}},
        "geometry": {"kind": "box", "divisions": 2},
    }
    document["groups"] = {"near": {"name": "Near", "rank": 0, "members": {"other": {"rank": 0}}}}
    document["fields"] = {
        "seeds": {"letter": "A", "name": "Seeds", "rank": 0, "level": 0.5, "band": 0.2, "sources": {"s": dict(AROUND)}},
        "asked": {"letter": "B", "name": "Asked", "rank": 1, "level": 0.4, "sources": {"s": source or dict(AROUND)}},
    }
    return document


if __name__ == "__main__":
    main()
