"""A frame range as one zip: each frame is a file of its own first, so that a job that was cut off goes on where it was."""

from __future__ import annotations

import os
import shutil
import time
import zipfile
from collections.abc import Callable, Iterator
from fractions import Fraction
from pathlib import Path

from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator
from windsock.jobs.files import small_picture
from windsock.picture.still import KeptLayers
from windsock.writers.finished import RenderedReel
from windsock.writers.moving import gather
from windsock.writers.writer import FrameWriter, ReelWriter, Shown

Progress = Callable[[int, str], None]
"""Takes how many frames are done, and words for it. Raises Cancelled when the work is to stop."""


def export_reel(
    shot: Shot,
    evaluator: Evaluator,
    frames: list[int],
    writer: ReelWriter,
    folder: Path,
    progress: Progress,
    copies: str = "meshes",
) -> Path:
    """Write the frames as one file that moves. Frames are evaluated anew after a break: their histories are kept.

    copies: "kept" where the format knows copies, else they become plain meshes.
    """
    folder.mkdir(parents=True, exist_ok=True)
    reel = gather(shot, evaluator, frames, progress, keep_copies=copies == "kept" and writer.keeps_copies)
    progress(len(frames), "Writing")
    packed = folder / f"shot.{writer.ending}"
    write_whole(packed, writer.write(reel, evaluator))
    return packed


def export_frames(
    shot: Shot,
    evaluator: Evaluator,
    frames: list[int],
    writer: FrameWriter,
    folder: Path,
    progress: Progress,
    copies: str = "meshes",
    kept: KeptLayers | None = None,
) -> Path:
    """Write the frames and pack them. `folder` is the job's own; answers with the zip in it, which is whole. kept: renderings that
    need not be made again."""
    written = _written(shot, evaluator, frames, writer, folder, progress, copies, kept)
    progress(len(frames), "Packing")
    packed = folder / "frames.zip"
    beside = folder / f".frames.{os.getpid()}.part"
    with zipfile.ZipFile(beside, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as bundle:
        for done, path in enumerate(written):
            bundle.write(path, path.name)
            if done % 8 == 0:
                progress(len(frames), "Packing")
    beside.rename(packed)
    shutil.rmtree(folder / UNITS)
    return packed


def export_rendered(
    shot: Shot,
    evaluator: Evaluator,
    frames: list[int],
    writer: RenderedReel,
    folder: Path,
    progress: Progress,
    kept: KeptLayers | None = None,
) -> Path:
    """Render the frames, each a file of its own that stays until all is whole, and write them as one file: a film of some of the
    frames lasts as long as one of all."""
    written = _written(shot, evaluator, frames, writer.frames, folder, progress, "kept", kept)
    progress(len(frames), "Writing")

    def read() -> Iterator[Path]:
        for path in written:
            progress(len(frames), "Writing")
            yield path

    every = frames[1] - frames[0] if len(frames) > 1 else 1
    packed = folder / f"film.{writer.ending}"
    write_whole(packed, writer.joined(read(), Fraction(shot.rate.numerator, shot.rate.denominator) / every))
    shutil.rmtree(folder / UNITS)
    return packed


UNITS = "frames"
"""The folder in that of a job where frames are kept that are done."""


def _written(
    shot: Shot,
    evaluator: Evaluator,
    frames: list[int],
    writer: FrameWriter,
    folder: Path,
    progress: Progress,
    copies: str,
    kept: KeptLayers | None,
) -> list[Path]:
    """The files of the frames; those that are there from before are not written again."""
    units = folder / UNITS
    units.mkdir(parents=True, exist_ok=True)
    written = [units / _file_name(frame, writer) for frame in frames]
    started, made = time.monotonic(), 0
    for done, (frame, path) in enumerate(zip(frames, written, strict=True)):
        each = (time.monotonic() - started) / made if made else 0.0
        left = f", about {_lasting(each * (len(frames) - done))} left" if made else ""
        progress(done, f"Frame {frame}{left}")
        if not path.exists():
            shown = Shown(evaluator, shot, evaluator.frame(shot, frame), kept)
            content, small = writer.pictured(shown, copies)
            if small is not None:
                write_whole(small_picture(folder, frame), small)
            write_whole(path, content)
            made += 1
    return written


def _lasting(seconds: float) -> str:
    """A stretch of time as people say it."""
    for size, word in ((3600, "h"), (60, "min")):
        if seconds >= 1.5 * size:
            return f"{seconds / size:.0f} {word}"
    return f"{max(seconds, 1):.0f} s"


def _file_name(frame: int, writer: FrameWriter) -> str:
    return f"frame_{frame:05d}.{writer.ending}"


def write_whole(path: Path, content: bytes) -> None:
    """Write a file so that it is whole or not there."""
    path.parent.mkdir(parents=True, exist_ok=True)
    beside = path.with_name(f".{path.name}.{os.getpid()}.part")
    with beside.open("wb") as file:
        file.write(content)
        file.flush()
        os.fsync(file.fileno())
    beside.rename(path)
