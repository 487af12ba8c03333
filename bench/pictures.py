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
from windsock.core.document.shot import parse_shot
from windsock.demo.fog_over_the_light import fog_over_the_light
from windsock.picture.exr import exr_bytes
from windsock.picture.film import CODINGS, encoded_film
from windsock.picture.layers import Layers
from windsock.picture.quality import Quality
from windsock.picture.renderer import LLVM, Renderer
from windsock.picture.staging import staged
from windsock.picture.still import Still, Studio

WIDE, HIGH = 640, 360


def picture() -> Bench:
    """The renderer has been started and has compiled in the run that does not count, on both sides."""
    ensure_picture_packages()
    os.environ["DRJIT_LIBLLVM_PATH"] = glob(LLVM)[0]
    from windsock.picture.meshes import BuiltMeshes
    from windsock.picture.tracing import TracedScene

    shot, evaluator, renderer = parse_shot(fog_over_the_light()), fresh(), Renderer()
    scene = staged(shot, evaluator.frame(shot, 60), WIDE, HIGH)
    studio = Studio(evaluator, renderer, Quality(samples=16, noise=0))

    def bare() -> None:
        traced = TracedScene(scene, BuiltMeshes())
        for number in range(4):
            traced.beauty(number)

    ours = clocked(lambda: studio.still(shot, 60, WIDE, HIGH, lambda what, share: None))
    mine, theirs = side_by_side(ours, clocked(bare), rounds=3)
    renderer.close()
    told = f"demo 01 at {WIDE} by {HIGH}, 16 samples, against the renderer alone on arrays made before"
    return Bench("picture", mine, theirs, 1.25, told)


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
    layers = Layers(light, one, emission, albedo, normal, light, position=None, depth=one)
    still = Still(layers, light, 0.0)
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

    ours = clocked(lambda: exr_bytes(still, (24, 1), 0, {}, {}))
    mine, theirs = side_by_side(ours, clocked(bare), rounds=5)
    return Bench("exr", mine, theirs, 1.2, "13 half channels and a depth as parts, against the bare writer")
