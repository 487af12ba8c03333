"""Finished pictures, their passes and films, against the bare libraries."""

from __future__ import annotations

import io
import os
from fractions import Fraction
from glob import glob
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import numpy as np

from bench.evaluating import fresh
from bench.measuring import Bench, clocked, side_by_side
from windsock.commands.machine import ensure_picture_packages
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.finishing.chain import on_light
from windsock.core.finishing.finish import Seen
from windsock.core.timing.parameter import Moment
from windsock.demo.fog_over_the_light import fog_over_the_light
from windsock.demo.hoarfrost import hoarfrost
from windsock.picture.exr import exr_bytes
from windsock.picture.film import CODINGS, encoded_film
from windsock.picture.finishing import Finished
from windsock.picture.layers import Layers
from windsock.picture.pixels import png
from windsock.picture.quality import Quality
from windsock.picture.renderer import LLVM, Renderer
from windsock.picture.staging import staged
from windsock.picture.still import Still, Studio

WIDE, HIGH = 640, 360


def quiet(what: str, share: float) -> None:
    """Takes how far it is, and says nothing."""


def picture() -> Bench:
    return _against_renderer("picture", fog_over_the_light(), 60, 1.25, "demo 01")


def picture_copies() -> Bench:
    return _against_renderer("picture-copies", hoarfrost(), 60, 1.5, "demo 03, with its copies")


def _against_renderer(name: str, document: object, frame: float, most: float, called: str) -> Bench:
    """The renderer has been started and has compiled in the run that does not count, on both sides."""
    ensure_picture_packages()
    os.environ["DRJIT_LIBLLVM_PATH"] = glob(LLVM)[0]
    from windsock.picture.meshes import BuiltMeshes
    from windsock.picture.tracing import TracedScene

    shot, evaluator, renderer = parse_shot(document), fresh(), Renderer()
    scene = staged(shot, evaluator.frame(shot, frame), WIDE, HIGH)
    quality = Quality(samples=16, noise=0)

    def bare() -> None:
        traced = TracedScene(scene, BuiltMeshes())
        for number in range(4):
            traced.beauty(number)

    # A studio of its own for each run: it would keep what was rendered.
    ours = clocked(lambda: Studio(evaluator, renderer, quality).still(shot, frame, WIDE, HIGH, quiet))
    mine, theirs = side_by_side(ours, clocked(bare), rounds=3)
    renderer.close()
    return Bench(
        name,
        mine,
        theirs,
        most,
        f"{called} at {WIDE} by {HIGH}, 16 samples, against the renderer alone on arrays made before",
    )


def finished_first() -> Bench:
    """The first picture of the fourth reading, half as wide and high as the view: evaluated, rendered, finished, and as a PNG."""
    ensure_picture_packages()
    os.environ["DRJIT_LIBLLVM_PATH"] = glob(LLVM)[0]
    from windsock.picture.meshes import BuiltMeshes
    from windsock.picture.tracing import TracedScene

    shot, renderer = parse_shot(fog_over_the_light()), Renderer()
    wide, high = 452, 264
    frames, evaluators = iter(range(40, 100)), (fresh(), fresh())
    built = BuiltMeshes()

    def bare() -> None:
        frame = evaluators[0].frame(shot, next(frames))
        TracedScene(staged(shot, frame, wide, high), built).beauty(0)

    def mine_now() -> None:
        studio = Studio(evaluators[1], renderer, Quality(samples=4))
        png(studio.still(shot, next(frames), wide, high, quiet).finished.shown, quickly=True)

    mine, theirs = side_by_side(clocked(mine_now), clocked(bare), rounds=5)
    renderer.close()
    told = f"a frame of demo 01 that was not seen, at {wide} by {high}, against its evaluation and one pass"
    return Bench("finished-first", mine, theirs, 1.3, told)


def finish() -> Bench:
    chain = {
        "glow": {"kind": "glow", "rank": 0},
        "grade": {"kind": "grade", "rank": 1, "slope": [1.1, 1.0, 0.9], "saturation": 1.2},
        "balance": {"kind": "white_balance", "rank": 2},
        "vignette": {"kind": "vignette", "rank": 3},
        "grain": {"kind": "grain", "rank": 4},
    }
    shot = parse_shot({"name": "Bench", "finishing": chain})
    random = np.random.default_rng(5)
    light = random.random((720, 1280, 3), dtype=np.float32)
    seen = Seen(shot.moment(0), np.where(light > 0.9, light, np.float32(0)))
    copied = np.empty_like(light)

    def bare() -> None:
        np.copyto(copied, light)

    mine, theirs = side_by_side(clocked(lambda: on_light(shot.finishing, light, seen)), clocked(bare), rounds=9)
    return Bench(
        "finish", mine, theirs, 40, "a chain of five at 1280 by 720, against one read and write of the picture"
    )


def film() -> Bench:
    ensure_picture_packages()
    import av

    grid = np.linspace(0, 255, WIDE * HIGH * 3).reshape(HIGH, WIDE, 3)
    frames = [np.roll(grid, 4 * number, axis=1).astype(np.uint8) for number in range(120)]

    def bare() -> None:
        container: Any = av.open(io.BytesIO(), "w", format="mp4")
        with container:
            stream = container.add_stream("libx264", rate=24, options={"crf": "16", "preset": "medium"})
            stream.width, stream.height, stream.pix_fmt = WIDE, HIGH, "yuv420p"
            for pixels in frames:
                container.mux(stream.encode(av.VideoFrame.from_ndarray(pixels, format="rgb24")))
            container.mux(stream.encode(None))

    ours = clocked(lambda: encoded_film(frames, Fraction(24), CODINGS["h264"]))
    mine, theirs = side_by_side(ours, clocked(bare), rounds=3)
    return Bench("film", mine, theirs, 1.2, "120 frames encoded and tagged, against the bare encoder")


def exr() -> Bench:
    ensure_picture_packages()
    import OpenEXR

    random = np.random.default_rng(3)
    light, emission, albedo, normal = (random.random((720, 1280, 3), dtype=np.float32) for _ in range(4))
    one = random.random((720, 1280), dtype=np.float32)
    layers = Layers(light, one, emission, albedo, normal, position=None, depth=one)
    shot = Shot(name="Bench")
    still = Still(layers, Finished(light, light, Seen(Moment(0, 0), emission)), shot, 0)
    planes = [picture[..., number] for picture in (light, emission, albedo, normal) for number in range(3)]
    halves: dict[str, Any] = {
        f"{number:02d}": np.ascontiguousarray(plane.astype(np.float16)) for number, plane in enumerate([*planes, one])
    }
    halves["depth"] = one

    def bare() -> None:
        with TemporaryDirectory() as folder:
            head = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}
            path = Path(folder) / "bare.exr"
            with OpenEXR.File(head, halves) as file:
                file.write(str(path))
            path.read_bytes()

    ours = clocked(lambda: exr_bytes(still, {}, {}))
    mine, theirs = side_by_side(ours, clocked(bare), rounds=5)
    return Bench("exr", mine, theirs, 1.2, "13 half channels and a depth as parts, against the bare writer")
