"""Volumes: distances, arrival times and surfaces on grids, against the libraries; a frame of an erosion against stepping there."""

from __future__ import annotations

from itertools import count

import igl
import numpy as np
import skfmm
from numpy.typing import NDArray
from skimage.measure import marching_cubes

from bench.measuring import Bench, clocked, side_by_side
from bench.pieces import START, evaluator
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.geometry.volume import volume_of
from windsock.core.kernels.compiled import compiled
from windsock.core.kernels.eikonal import swept_times
from windsock.core.kernels.isosurface import isosurface, isosurface_of
from windsock.core.kernels.melding import bricks_about, summed
from windsock.core.shapes.ring import Ring, build_ring

Floats = NDArray[np.float32]


def volume_128() -> Bench:
    """A ring of 50,000 faces on a grid of about 128 nodes on its longest sides."""
    ring = build_ring(Ring(radius=1.0, thickness=0.8, segments=160, sides=156), START)
    points, faces = ring.points.astype(np.float64), ring.faces.astype(np.int64)
    voxel = 2.8 / 123
    made = volume_of(points, faces, voxel, 1e-6)
    nodes = made.low + np.stack(np.meshgrid(*map(np.arange, made.shape), indexing="ij"), -1).reshape(-1, 3) * voxel

    def reference() -> None:
        igl.signed_distance(nodes, points, faces)

    ours, other = side_by_side(clocked(lambda: volume_of(points, faces, voxel, 1e-6)), clocked(reference), 3)
    return Bench("volume-128", ours, other, 0.1, f"signed distances on {len(nodes):,} nodes, against libigl")


def eikonal_256() -> Bench:
    """From a ball in the middle of 256^3 nodes, with a pace that changes from place to place."""
    shape = 256
    grid = np.linspace(-1, 1, shape, dtype=np.float32)
    x, y, z = np.meshgrid(grid, grid, grid, indexing="ij")
    away = np.sqrt(x * x + y * y + z * z) - np.float32(0.2)
    pace = (1 + 0.5 * np.sin(5 * x) * np.sin(4 * y) * np.sin(3 * z)).astype(np.float32)
    step = 2 / (shape - 1)

    def ours() -> None:
        times = np.where(away <= 0, 0, np.where(away < step, away / pace, np.inf)).astype(np.float32)
        swept_times(times, (step / pace).astype(np.float32))

    def reference() -> None:
        skfmm.travel_time(away, pace, dx=step, order=1)

    mine, other = side_by_side(clocked(ours), clocked(reference), 1)
    return Bench("eikonal-256", mine, other, 0.25, "arrival times at 256^3 nodes, against scikit-fmm of first order")


def iso_256() -> Bench:
    """A bumpy ball on 256^3 nodes."""
    values = _bumpy(256)
    ours, other = side_by_side(
        clocked(lambda: isosurface_of(values)), clocked(lambda: marching_cubes(values, 0.0, allow_degenerate=False)), 5
    )
    return Bench("iso-256", ours, other, 0.25, "the surface of 256^3 values, against scikit-image")


def erode_any() -> Bench:
    """A random frame of an erosion whose times are known, against explicit steps of the level set there from the start."""
    shot = _eroded()
    own = evaluator()
    own.frame(shot, 10)
    turn = count()
    frames = [31.0, 77.0, 52.0, 101.0, 66.0, 89.0, 40.0]

    def ours() -> None:
        own.frame(shot, frames[next(turn) % 7] + 0.01 * next(turn))

    values = _bumpy(128) * np.float32(0.02)

    def reference() -> None:
        # To the frame half way through: as far as the front has come there, in steps of half a voxel at most.
        level = values.copy()
        for _ in range(2 * round(1.2 / (1 / 64) / 2)):
            level -= 0.5 / 64 * _slope(level)
        isosurface_of(level)

    mine, other = side_by_side(clocked(ours), clocked(reference), 5)
    return Bench("erode-any", mine, other, 0.02, "a random frame of an erosion, against stepping there from the start")


def meld_50k() -> Bench:
    """50,000 points on a ball, in a box of 256^3 nodes, each reaching 4 cells far."""
    rng = np.random.default_rng(6)
    places = rng.normal(size=(50_000, 3))
    places = 128 + 100 * places / np.linalg.norm(places, axis=1, keepdims=True)
    reach, weight, shape = np.full(len(places), 4.0), np.ones(len(places)), (257, 257, 257)

    def ours() -> None:
        about = bricks_about(places, reach, shape)
        isosurface(shape, about.bricks, summed(places, reach, weight, about) - np.float32(0.5))

    def reference() -> None:
        values = np.full(shape, -0.5, dtype=np.float32)
        _splat(places, reach, values)
        isosurface_of(values)

    mine, other = side_by_side(clocked(ours), clocked(reference), 5)
    return Bench("meld-50k", mine, other, 0.5, "a skin over 50,000 points, against a plain splat over all 257^3 cells")


@compiled
def _splat(places: NDArray[np.float64], reach: NDArray[np.float64], values: Floats):  # pragma: no cover - compiled
    for one in range(len(places)):
        x, y, z, far = places[one, 0], places[one, 1], places[one, 2], reach[one]
        for i in range(int(np.ceil(x - far)), int(np.floor(x + far)) + 1):
            for j in range(int(np.ceil(y - far)), int(np.floor(y + far)) + 1):
                for k in range(int(np.ceil(z - far)), int(np.floor(z + far)) + 1):
                    square = ((i - x) ** 2 + (j - y) ** 2 + (k - z) ** 2) / (far * far)
                    if square < 1:
                        values[i, j, k] += 1 + square * (-22.0 / 9 + square * (17.0 / 9 - square * 4.0 / 9))


def _bumpy(shape: int) -> Floats:
    grid = np.linspace(-1.1, 1.1, shape, dtype=np.float32)
    x, y, z = np.meshgrid(grid, grid, grid, indexing="ij")
    values = 0.8 - np.sqrt(x * x + y * y + z * z) + np.float32(0.1) * np.sin(9 * x) * np.sin(9 * y) * np.sin(9 * z)
    return values.astype(np.float32)


def _slope(level: Floats) -> Floats:
    """The length of the gradient, upwind for a front that goes to where they are higher (S. Osher, J. Sethian, 1988)."""
    total = np.zeros_like(level)
    for axis in range(3):
        ahead = np.diff(level, axis=axis, append=np.take(level, [-1], axis=axis)) * 64
        behind = np.diff(level, axis=axis, prepend=np.take(level, [0], axis=axis)) * 64
        total += np.minimum(ahead, 0) ** 2 + np.maximum(behind, 0) ** 2
    return np.sqrt(total)


def _eroded() -> Shot:
    """A ball of 2 m in voxels of 1/64 m, about 128^3, eaten at a pace that a noise rules."""
    erode = {
        "kind": "erode", "rank": 0, "field": "pace", "zone": "value", "voxel": 1 / 64, "speed": 0.3, "makes": "opened",
    }  # fmt: skip
    parts = {"body": {"name": "Body", "rank": 0}, "opened": {"name": "Opened", "rank": 1}}
    noise = {"kind": "noise", "rank": 0, "size": 0.5, "octaves": 2, "contrast": 40}
    field = {"letter": "A", "name": "Pace", "rank": 0, "level": 0.5, "band": 0.2, "sources": {"noise": noise}}
    ball = {
        "kind": "shape", "name": "Ball", "rank": 0, "geometry": {"kind": "sphere", "radius": 1.0, "subdivisions": 6},
        "recipe": {"parts": parts, "steps": {"erode": erode}},
    }  # fmt: skip
    return parse_shot(
        {"name": "Bench", "frames": {"first": 0, "last": 120}, "items": {"ball": ball}, "fields": {"pace": field}}
    )
