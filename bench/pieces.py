"""Pieces and copies: against the libraries alone, and against the same kernels run by hand."""

from __future__ import annotations

import time
from itertools import count

import igl
import numpy as np
from manifold3d import Manifold
from manifold3d import Mesh as Raw

from bench.measuring import Bench, clocked, side_by_side
from windsock.core.document.patches import Operation, patched
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.keeping import Keeper
from windsock.core.geometry.breaking import of_shards, pattern
from windsock.core.geometry.sites import sites_within
from windsock.core.geometry.sowing import apart, on_faces
from windsock.core.geometry.stance import stance_of
from windsock.core.kernels.affine import affine, linear
from windsock.core.kernels.bodies import displaced, facing_turns, product
from windsock.core.kernels.cells import cell_corners
from windsock.core.kernels.chance import chance
from windsock.core.kernels.laying import laid
from windsock.core.kernels.packing import packed_copies
from windsock.core.kernels.patterns import Phase
from windsock.core.kernels.patterns import pattern as noise_pattern
from windsock.core.kernels.solids import shards, solid_of
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.shapes.sphere import Sphere, build_sphere
from windsock.core.timing.parameter import Moment
from windsock.demo.hoarfrost import hoarfrost
from windsock.demo.spray import spray
from windsock.evaluator.bundle import Bundler

START = Moment(0, 0)


class NoFiles:
    """Shots of the benchmarks have no files."""

    def mesh(self, asset: str): ...
    def clip(self, asset: str): ...
    def drawing(self, asset: str): ...
    def lettering(self, font: str): ...


def evaluator() -> Evaluator:
    return Evaluator(NoFiles(), Keeper(Cache(2**31)))  # pyright: ignore[reportArgumentType]


def scatter_20k() -> Bench:
    """About 20,000 copies at one spacing on a ball of 82,000 faces."""
    ball = build_sphere(Sphere(subdivisions=6), START)
    level, faces = ball.points.astype(np.float64), ball.faces.astype(np.int64)
    spacing = (4 * np.pi * 0.72 / 20_000) ** 0.5
    ours, reference = side_by_side(
        clocked(lambda: apart(level, ball.faces, spacing, 1_000_000, 1)),
        clocked(lambda: igl.blue_noise(level, faces, spacing)),
        rounds=5,
    )
    return Bench("scatter-20k", ours, reference, 0.1, "places of a spacing on a ball, against libigl's blue noise")


def fracture_100() -> Bench:
    """A ball of 82,000 faces in 100 cells: all that Fracture solves, against the loop that only cuts."""
    ball = build_sphere(Sphere(subdivisions=6), START)
    points = ball.points.astype(np.float64)
    low, high = points.min(axis=0) - 0.01, points.max(axis=0) + 0.01
    sites = sites_within(points, ball.faces, 100, 1, None)
    cells = cell_corners(sites, low, high, 0.0)

    def ours() -> None:
        body = solid_of(points, ball.faces)
        assert body is not None
        own = cell_corners(sites, low, high, 0.0)
        made = shards(body, own, np.arange(len(ball.faces)), lambda share: None)
        pattern(of_shards(made, points, ball.faces), points, ball.faces, True)

    def reference() -> None:
        body = Manifold(Raw(ball.points, ball.faces.astype(np.uint32)))
        for corners in cells:
            (body ^ Manifold.hull_points(corners)).to_mesh()

    mine, plain = side_by_side(clocked(ours), clocked(reference), rounds=5)
    return Bench("fracture-100", mine, plain, 0.6, "100 pieces of a ball, against the plain loop of manifold3d")


def _frost() -> Shot:
    return parse_shot(hoarfrost())


def copies_200k() -> Bench:
    """The steps that make and move the needles of demo 03, against the same kernels run one after the other."""
    shot, one = _frost(), evaluator()
    frames = count(57)

    def ours() -> float:
        frame = one.frame(shot, next(frames))
        spent = sum(report.milliseconds for report in frame.steps if report.step in ("needles", "fling")) / 1000
        item = next(item for item in frame.draw if isinstance(item.body, CopiesPart))
        assert isinstance(item.body, CopiesPart)
        started = time.perf_counter()
        packed_copies(item.points, item.body.copies.turn, item.body.copies.size)
        return spent + time.perf_counter() - started

    frame = one.frame(shot, 56)
    subject = next(item.subject for item in frame.draw if item.item == "buoy")
    matrix = frame.placements["buoy"]
    mesh, stance = subject.mesh, stance_of(matrix)
    sown = on_faces(stance.level(mesh.points), mesh.faces, 200_000, 1)

    def reference() -> float:
        started = time.perf_counter()
        corners = mesh.faces[sown.face]
        points, rest, normals, along = laid(corners, sown.shares, mesh.points, mesh.rest, mesh.normals)
        world = affine(points, matrix)
        for octaves in (3, 1, 1):
            # Three fields rule them: a noise, and two that cost about as much as one octave.
            noise_pattern("gradient", world / 0.6, 1, octaves, Phase(0.0, 0))
        up, across = linear(normals, np.linalg.inv(stance.stretch), unit=True), linear(along, stance.stretch)
        stood = facing_turns(up, across)
        chances = [chance(sown.number, seed) for seed in range(13)]
        half = chances[0] / 2
        zero = np.zeros(len(half))
        spun = np.stack([zero, np.sin(half), zero, np.cos(half)], axis=1)
        turn = product(product(stood, spun), spun).astype(np.float32)
        size = np.stack([chances[1]] * 3, axis=1).astype(np.float32)
        raised = stance.own(stance.level(points) + up * 0.01)
        level = stance.level(raised)
        move = np.stack(chances[2:5], axis=1)
        angles, factor = np.stack(chances[5:8], axis=1), np.ones((len(move), 3))
        places, turned, sized = displaced(level, turn, size, facing_turns(up), move, angles, factor, chances[0], None)
        packed_copies(stance.own(places).astype(np.float32), turned, sized)
        del rest
        return time.perf_counter() - started

    mine, plain = side_by_side(ours, reference, rounds=7)
    return Bench("copies-200k", mine, plain, 1.2, "a frame of 200,000 needles, against the same kernels alone")


def copies_edit() -> Bench:
    """One value of the noise changed, to a reply that can be sent, against the same shot evaluated for the first time."""
    document, values = hoarfrost(), count(1)
    kept, bundler = evaluator(), Bundler(Cache(2**30))
    shot = parse_shot(document)
    bundler.bundle(shot, kept.frame(shot, 60), set())

    def changed() -> Shot:
        value = 50 + 0.1 * next(values)
        patch = [Operation(op="replace", path="/fields/cold/sources/noise/contrast", value=value)]
        return parse_shot(patched(document, patch))

    def ours() -> float:
        shot = changed()
        started = time.perf_counter()
        bundler.bundle(shot, kept.frame(shot, 60), set())
        return time.perf_counter() - started

    def reference() -> float:
        shot, fresh = changed(), evaluator()
        started = time.perf_counter()
        Bundler(Cache(2**30)).bundle(shot, fresh.frame(shot, 60), set())
        return time.perf_counter() - started

    mine, full = side_by_side(ours, reference, rounds=7)
    return Bench(
        "copies-edit", mine, full, 0.5, "one value of a noise changed at 200,000 needles, against a full build"
    )


def release_any() -> Bench:
    """Demo 14's flakes, all let go at once and solved: a frame at the end of a long shot, against its first."""
    document = spray()
    assert isinstance(document, dict)
    document["frames"] = {"first": 0, "last": 1010}
    document["items"]["wall"]["recipe"]["steps"]["burst"]["field"] = None
    shot, one = parse_shot(document), evaluator()
    late, early = count(1000), count(1)
    one.frame(shot, 1000)

    def released(frame: int) -> float:
        made = one.frame(shot, frame + 0.25)
        return sum(report.milliseconds for report in made.steps if report.step == "burst") / 1000

    mine, first = side_by_side(
        lambda: released(990 + next(late) % 20), lambda: released(1 + next(early) % 20), rounds=15
    )
    return Bench("release-any", mine, first, 1.2, "frame 1000 of a released wall, against frame 1")
