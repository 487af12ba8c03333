"""What touches a surface: crests and distances from moving shapes, tracks, waves, layers."""

from __future__ import annotations

from itertools import count

import igl
import numpy as np

from bench.fields import OneShape, loose
from bench.measuring import Bench, clocked, side_by_side
from bench.pieces import START, evaluator
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.fields.elements import FinishedShape, rest_elements
from windsock.core.fields.near import Near
from windsock.core.kernels.rippling import membrane, rippled
from windsock.core.kernels.surface_distance import Surface
from windsock.core.shapes.plane import Plane
from windsock.core.shapes.sphere import Sphere, build_sphere


class SeveralShapes(OneShape):
    """A scene with a group of several shapes."""

    def __init__(self, shapes: list[FinishedShape]) -> None:
        super().__init__(shapes[0])
        self._shapes = shapes

    def group(self, group: str, but: str) -> list[FinishedShape]:
        del group, but
        return self._shapes


def near_moving() -> Bench:
    """100,000 points over water and 20 shapes of 5,120 faces that stand elsewhere each time."""
    ball = build_sphere(Sphere(subdivisions=4, radius=0.25), START)
    rng = np.random.default_rng(5)
    middles = np.stack([rng.uniform(-5, 5, 20), np.zeros(20), rng.uniform(-5, 5, 20)], axis=1)
    places = np.stack([rng.uniform(-5, 5, 100_000), np.zeros(100_000), rng.uniform(-5, 5, 100_000)], axis=1)
    elements = rest_elements(loose(places), np.eye(4))
    near = Near(group="g", reach=0.5, soft=0.5, inside="not counted")
    turn = count()

    def ours() -> None:
        step = 0.01 * next(turn)
        shapes = [FinishedShape(Surface(ball.points + middle + step, ball.faces)) for middle in middles]
        near.measure(elements, SeveralShapes(shapes))  # type: ignore[arg-type]

    def reference() -> None:
        points = np.concatenate([ball.points + middle for middle in middles]).astype(np.float64)
        faces = np.concatenate([ball.faces + place * len(ball.points) for place in range(20)]).astype(np.int64)
        igl.point_mesh_squared_distance(places, points, faces)

    mine, other = side_by_side(clocked(ours), clocked(reference), 7)
    return Bench(
        "near-moving", mine, other, 1.0, "100,000 points near 20 moving shapes, against one query of all of them"
    )


def track(finest: float = 0.0, columns: int = 222) -> Shot:
    """A ball that goes over a sheet of 50,000 points in 240 frames."""
    keys = {
        f"k{place}": {"frame": place * 30, "value": [-1.8 + 0.45 * place, 0.2, 0.6 * (-1) ** place]}
        for place in range(9)
    }
    sheet = {"kind": "plane", "width": 4.0, "depth": 4.0, "columns": columns, "rows": columns}
    press = {"kind": "imprint", "rank": 0, "group": "g", "rim": "none", "finest": finest}
    items = {
        "sand": {
            "kind": "shape",
            "name": "Sand",
            "rank": 0,
            "geometry": sheet,
            "recipe": {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": {"press": press}},
        },
        "ball": {
            "kind": "shape",
            "name": "Ball",
            "rank": 1,
            "place": {"keys": keys},
            "geometry": {"kind": "sphere", "radius": 0.3, "subdivisions": 4},
        },
    }
    groups = {"g": {"name": "G", "rank": 0, "members": {"ball": {"rank": 0}}}}
    fields = {
        "touch": {"letter": "A", "name": "A", "rank": 0, "sources": {"s": {"kind": "contact", "rank": 0, "group": "g"}}}
    }
    return parse_shot(
        {"name": "Track", "items": items, "groups": groups, "fields": fields, "frames": {"first": 0, "last": 240}}
    )


def imprint_50k() -> Bench:
    """A random frame of a track, against the distances of all points to all places of its path, ten to a frame."""
    shot, one = track(), evaluator()
    one.frame(shot, 100)
    ball = shot.items["ball"]
    path = np.array([shot.placement("ball", shot.moment(frame / 10))[:3, 3] for frame in range(2401)])
    points = Plane(width=4.0, depth=4.0, columns=222, rows=222).make(START, None, None).points.astype(np.float64)  # type: ignore[arg-type]
    frames = count()
    del ball

    def ours() -> float:
        made = one.frame(shot, (next(frames) * 97.25) % 240)
        return sum(report.milliseconds for report in made.steps if report.step == "press") / 1000

    def reference() -> None:
        least = np.full(len(points), np.inf)
        for place in path:
            np.minimum(least, ((points - place) ** 2).sum(axis=1), out=least)

    mine, other = side_by_side(ours, clocked(reference), 5)
    return Bench(
        "imprint-50k", mine, other, 0.1, "a random frame of a track on 50,000 points, against all distances to its path"
    )


def contact_any() -> Bench:
    """A random frame of a contact field, against finding all touches up to it anew."""
    shot, one = track(), evaluator()
    frames = count()

    def values(engine: object, frame: float) -> None:
        scene = engine.scene(shot, frame)  # type: ignore[attr-defined]
        subject = engine.at_rest(scene, "sand").value  # type: ignore[attr-defined]
        engine.field_values(scene, "touch", rest_elements(subject, np.eye(4)))  # type: ignore[attr-defined]

    values(one, 3)
    mine, other = side_by_side(
        clocked(lambda: values(one, (next(frames) * 97.25) % 240)), clocked(lambda: values(evaluator(), 200)), 3
    )
    return Bench("contact-any", mine, other, 0.2, "a random frame of a contact, against finding its touches anew")


def ripple_512() -> Bench:
    """A step of waves on a sheet of 512 by 512 points, against reading and writing its heights and rates."""
    x, z = np.meshgrid(np.linspace(0, 5.12, 512), np.linspace(0, 5.12, 512))
    points = np.stack([x.ravel(), np.zeros(x.size), z.ravel()], axis=1)
    cell = (np.arange(511)[:, None] * 512 + np.arange(511)).ravel()
    faces = np.concatenate(
        [np.stack([cell, cell + 512, cell + 1], axis=1), np.stack([cell + 1, cell + 512, cell + 513], axis=1)]
    )
    on = membrane(points, faces, 0.0)
    height, rate = np.random.default_rng(1).random(x.size), np.zeros(x.size)
    short = 1.0 / on.stiffest**0.5
    held = np.empty((2, x.size))

    def reference() -> None:
        np.copyto(held[0], height)
        np.copyto(held[1], rate)

    mine, other = side_by_side(
        clocked(lambda: rippled(on, height, rate, 1.0, 0.1, False, short)), clocked(reference), 25
    )
    return Bench(
        "ripple-512", mine, other, 3.0, "a step of waves on 512 by 512 points, against reading and writing them"
    )


def shells_10() -> Bench:
    """Ten layers of a ball coloured by a field near another shape, against one."""

    def shot(layers: int) -> Shot:
        near = {"letter": "A", "name": "A", "rank": 0, "sources": {"s": {"kind": "near", "rank": 0, "group": "g"}}}
        steps = {
            "colour": {"kind": "shade", "rank": 0, "field": "near"},
            "layers": {"kind": "shells", "rank": 1, "count": layers},
        }
        parts = {name: {"name": name, "rank": rank} for rank, name in enumerate(("body", "shells"))}
        keys = {"a": {"frame": 0, "value": [1.2, 0, 0]}, "b": {"frame": 240, "value": [-1.2, 1, 0]}}
        items = {
            "ball": {
                "kind": "shape",
                "name": "Ball",
                "rank": 0,
                "geometry": {"kind": "sphere", "radius": 1.0, "subdivisions": 5},
                "recipe": {"parts": parts, "steps": steps},
            },
            "mover": {
                "kind": "shape",
                "name": "Mover",
                "rank": 1,
                "place": {"keys": keys},
                "geometry": {"kind": "sphere", "radius": 0.3, "subdivisions": 4},
            },
        }
        groups = {"g": {"name": "G", "rank": 0, "members": {"mover": {"rank": 0}}}}
        return parse_shot({"name": "Layers", "items": items, "groups": groups, "fields": {"near": near}})

    one, many, single = evaluator(), shot(10), shot(1)
    late, early = count(1), count(1)
    mine, other = side_by_side(
        clocked(lambda: one.frame(many, next(late) + 0.5)), clocked(lambda: one.frame(single, next(early) + 0.25)), 15
    )
    return Bench(
        "shells-10", mine, other, 1.5, "a frame of ten layers about a ball near a moving shape, against one layer"
    )
