"""Fields: many sources in one sentence, nearness to many faces, and a strip over a whole shot."""

from __future__ import annotations

from dataclasses import replace

import igl
import numpy as np

from bench.evaluating import fresh
from bench.measuring import Bench, clocked, side_by_side
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.evaluate.coverage import cover
from windsock.core.evaluate.measured import source_of
from windsock.core.evaluate.reads import Reads
from windsock.core.fields.elements import FinishedShape, Subject, rest_elements
from windsock.core.fields.near import Near
from windsock.core.geometry.mesh import Mesh
from windsock.core.kernels.surface_distance import Surface
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment
from windsock.demo.fog_over_the_light import fog_over_the_light

START = Moment(0, 0)
POINTS = 200_000


def loose(points: np.ndarray) -> Subject:
    """Loose points as a subject of their own."""
    places = points.astype(np.float32)
    up = np.tile(np.array([0, 1, 0], dtype=np.float32), (len(places), 1))
    mesh = Mesh(places, places, up, np.zeros((0, 3), dtype=np.int32), np.arange(len(places)))
    return Subject("cloud", mesh, "cloud")


def stacked() -> Shot:
    """A shot whose one field has six sources, joined by six words."""
    sources = {
        "around": {"kind": "around", "controller": "c", "reach": 1.4, "soft": 1.0},
        "across": {"kind": "across", "word": "or", "controller": "c", "axis": "x", "soft": 0.8},
        "within": {"kind": "within", "word": "and", "controller": "c", "size": [3, 3, 3], "soft": 0.5},
        "noise": {"kind": "noise", "word": "roughened by", "size": 0.3, "octaves": 4},
        "simplex": {"kind": "noise", "word": "times", "pattern": "simplex", "size": 0.5, "octaves": 2},
        "chance": {"kind": "chance", "word": "lifted by", "amount": 0.2},
    }
    ranked = {key: told | {"rank": rank} for rank, (key, told) in enumerate(sources.items())}
    cloud = {"kind": "shape", "name": "Cloud", "rank": 0, "geometry": {"kind": "sphere", "subdivisions": 1}}
    controller = {"kind": "controller", "name": "C", "rank": 1, "turn": [10, 20, 30]}
    field = {"letter": "A", "name": "Stack", "rank": 0, "sources": ranked}
    return parse_shot({"name": "Stack", "items": {"cloud": cloud, "c": controller}, "fields": {"stack": field}})


def field_stack() -> Bench:
    shot = stacked()
    one = fresh()
    scene = one.scene(shot, 0)
    points = np.random.default_rng(3).uniform(-1, 1, (POINTS, 3))
    # Elements that do not say which they are, so that nothing is kept of them.
    elements = replace(rest_elements(loose(points), scene.placement("cloud")), rest_reads={}, posed_reads={})
    sources = list(shot.fields["stack"].sources.items())
    ours, reference = side_by_side(
        clocked(lambda: one.field_values(one.scene(shot, 0), "stack", elements)),
        clocked(lambda: [source_of(scene, "stack", key, source, elements, Reads()) for key, source in sources]),
        15,
    )
    return Bench(
        "field-stack", ours, reference, 1.3, "a field of six sources on 200,000 points, against its sources each alone"
    )


class OneShape:
    """What Near asks of a scene: one finished shape, at the start."""

    at = staticmethod(START)

    def __init__(self, shape: FinishedShape) -> None:
        self._shape = shape

    def group(self, group: str, but: str) -> list[FinishedShape]:
        return [self._shape]


def near_100k() -> Bench:
    # 20 * 4^6 = 81,920 faces and 96 * 96 * 2 more: about 100,000 in two shells.
    ball = build_sphere(Sphere(subdivisions=6), START)
    shell = build_sphere(Sphere(build="latitude", segments=96, rings=96, radius=0.6), START)
    vertices = np.concatenate([ball.points, shell.points]).astype(np.float64)
    faces = np.concatenate([ball.faces, shell.faces + len(ball.points)]).astype(np.int64)
    places = np.random.default_rng(5).uniform(-1.2, 1.2, (100_000, 3))
    elements = rest_elements(loose(places), np.eye(4))
    near = Near(group="g", reach=10.0, soft=10.0, inside="not counted")

    def asked() -> None:
        near.measure(elements, OneShape(FinishedShape(Surface(vertices, faces))))  # type: ignore[arg-type]

    ours, reference = side_by_side(
        clocked(asked), clocked(lambda: igl.point_mesh_squared_distance(places, vertices, faces)), 5
    )
    return Bench(
        "near-100k",
        ours,
        reference,
        0.6,
        f"Near on 100,000 points and {len(faces):,} faces, its tree built anew, against libigl's exact query",
    )


def coverage() -> Bench:
    shot = parse_shot(fog_over_the_light())
    field, item = "fog-front", "lighthouse"
    frames = range(shot.frames.first, shot.frames.last + 1)

    def strip() -> None:
        cover(fresh(), shot, field, item)

    def evaluations() -> None:
        one = fresh()
        for frame in frames:
            one.frame(shot, frame, "draft")

    ours, reference = side_by_side(clocked(strip), clocked(evaluations), 3)
    return Bench(
        "coverage",
        ours,
        reference,
        0.5,
        f"a strip of {len(frames)} frames of demo 01, against as many draft evaluations",
    )
