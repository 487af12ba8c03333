"""Steps that move points: against reading and writing memory, and against one matrix product over the same points."""

from __future__ import annotations

import time
from itertools import count

import igl
import numpy as np

from bench.measuring import Bench, clocked, side_by_side
from bench.pieces import START, evaluator
from windsock.core.document.patches import Operation, patched
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.geometry.binding import Binding
from windsock.core.geometry.mesh import places_of
from windsock.core.geometry.pairing import nearest_pairs
from windsock.core.kernels.deforming import deformed, shifted
from windsock.core.kernels.facing import turned_with_faces
from windsock.core.kernels.mean_value import by_weights
from windsock.core.kernels.surface_distance import Surface
from windsock.core.kernels.waves import waved
from windsock.core.shapes.box import Box, build_box
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.evaluator.bundle import Bundler

PICTURES = 15
"""Pictures a second that a drag has to show at least."""


def wave_200k() -> Bench:
    """The places of 200,000 points in a round wave with sharp crests."""
    points = np.random.default_rng(1).uniform(-5, 5, (200_000, 3)).astype(np.float32)
    frame, weight, other = np.eye(4), np.ones(len(points)), np.empty_like(points)
    ours, reference = side_by_side(
        clocked(lambda: waved(points, frame, True, 0.7, 1.3, 0.1, 0.08, 2.0, weight)),
        clocked(lambda: np.copyto(other, points)),
        rounds=25,
    )
    return Bench(
        "wave-200k", ours, reference, 25, "places of 200,000 points in a wave, against reading and writing them"
    )


def deform_50k() -> Bench:
    """A ball of 82,000 faces cut down to 50,000: pushed by a weight, bent and twisted, with normals."""
    ball = build_sphere(Sphere(subdivisions=6), START)
    faces = ball.faces[:50_000]
    used = np.unique(faces)
    faces = np.searchsorted(used, faces).astype(np.int32)
    points, normals = ball.points[used], ball.normals[used]
    place, below = places_of(np.arange(len(points), dtype=np.int64))
    weight, even = np.random.default_rng(1).random(len(points)), np.ones(len(points))
    frame, turn = np.eye(4), np.random.default_rng(2).normal(size=(3, 3))
    wide = points.astype(np.float64)

    def ours() -> None:
        pushed = shifted(points, frame, normals * (0.1 * weight)[:, None])
        facing = turned_with_faces(normals, points, pushed, faces, place, below)
        bent = deformed("bend", pushed, facing, frame, -1.0, 1.0, 1.0, even)
        deformed("twist", *bent, frame, -1.0, 1.0, 1.0, even)

    mine, product = side_by_side(clocked(ours), clocked(lambda: wide @ turn), rounds=25)
    return Bench(
        "deform-50k", mine, product, 8, "50,000 faces pushed, bent and twisted, with normals, against a matrix product"
    )


def ride_frame() -> Bench:
    """20,000 points in a cage of 432 faces: where its points now take them."""
    cage = build_box(Box(divisions=6), START)
    points, faces = cage.points.astype(np.float64), cage.faces.astype(np.int64)
    places = np.random.default_rng(1).uniform(-0.4, 0.4, (20_000, 3))
    bound = Binding.bound(places, Surface(points, faces), "cage")
    assert bound is not None
    weights, now = bound.weights.astype(np.float64), points @ np.random.default_rng(2).normal(size=(3, 3))
    mine, product = side_by_side(
        clocked(lambda: by_weights(bound.weights, now)),
        clocked(lambda: np.einsum("nc,cd->nd", weights, now)),
        rounds=25,
    )
    return Bench(
        "ride-frame", mine, product, 3, "20,000 points in a cage of 432 faces, against the einsum of their weights"
    )


def morph_nearest() -> Bench:
    """100,000 points to their nearest places on 100,000 faces, as a morph finds them once for the shot."""
    ball = build_sphere(Sphere(build="latitude", segments=320, rings=157), START)
    points, faces = ball.points.astype(np.float64), ball.faces.astype(np.int64)
    places = np.random.default_rng(3).normal(size=(100_000, 3))
    places /= np.linalg.norm(places, axis=1, keepdims=True)

    def libigl() -> None:
        igl.point_mesh_squared_distance(places, points, faces)

    mine, reference = side_by_side(
        clocked(lambda: nearest_pairs(places, Surface(points, faces))), clocked(libigl), rounds=3
    )
    words = f"100,000 points to their nearest places on {len(faces):,} faces, against libigl"
    return Bench("morph-nearest", mine, reference, 1.1, words)


def push_drag() -> Bench:
    """A ball of 50,000 faces pushed by two octaves of noise while its height is dragged: the evaluator's side of a picture."""
    noise = {"kind": "noise", "rank": 0, "octaves": 2, "size": 0.4}
    push = {"kind": "push", "rank": 0, "field": "rough", "zone": "value", "distance": 0.1}
    ball = {
        "kind": "shape",
        "name": "Ball",
        "rank": 0,
        "geometry": {"kind": "sphere", "build": "latitude", "segments": 224, "rings": 112},
        "recipe": {"parts": {"body": {"name": "Body", "rank": 0}}, "steps": {"push": push}},
    }
    field = {"letter": "A", "name": "Rough", "rank": 0, "sources": {"noise": noise}}
    document = {"name": "Pushed", "items": {"ball": ball}, "fields": {"rough": field}}
    kept, bundler, values = evaluator(), Bundler(Cache(2**30)), count(1)

    def changed() -> Shot:
        path = "/items/ball/recipe/steps/push/distance"
        patch = [Operation(op="replace", path=path, value=0.1 + 1e-5 * next(values))]
        return parse_shot(patched(document, patch))

    def picture() -> float:
        shot = changed()
        started = time.perf_counter()
        bundler.bundle(shot, kept.frame(shot, 0), set())
        return time.perf_counter() - started

    mine, _ = side_by_side(picture, lambda: 0.0, rounds=15)
    return Bench(
        "push-drag", mine, 1 / PICTURES, 1, f"a picture while a push's height is dragged, against 1/{PICTURES} s"
    )
