"""A frame range as one zip: each frame is a file of its own first, so that a job that was cut off goes on where it was."""

from __future__ import annotations

import os
import shutil
import zipfile
from collections.abc import Callable, Iterator
from fractions import Fraction
from pathlib import Path

from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator
from windsock.writers.finished import FilmWriter
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
) -> Path:
    """Write the frames and pack them. `folder` is the job's own; answers with the zip in it, which is whole."""
    written = _written(shot, evaluator, frames, writer, folder, progress, copies)
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


def export_film(
    shot: Shot, evaluator: Evaluator, frames: list[int], writer: FilmWriter, folder: Path, progress: Progress
) -> Path:
    """Render the frames, each a file of its own that stays until the film is whole, and write them as one film."""
    written = _written(shot, evaluator, frames, writer.frames, folder, progress, "kept")
    progress(len(frames), "Writing the film")

    def read() -> Iterator[Path]:
        for path in written:
            progress(len(frames), "Writing the film")
            yield path

    packed = folder / f"film.{writer.ending}"
    write_whole(packed, writer.film(read(), Fraction(shot.rate.numerator, shot.rate.denominator)))
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
) -> list[Path]:
    """The files of the frames; those that are there from before are not written again."""
    units = folder / UNITS
    units.mkdir(parents=True, exist_ok=True)
    written = [units / _file_name(frame, writer) for frame in frames]
    for done, (frame, path) in enumerate(zip(frames, written, strict=True)):
        progress(done, f"Frame {frame}")
        if not path.exists():
            shown = Shown(evaluator, shot, evaluator.frame(shot, frame))
            write_whole(path, writer.written(shown, copies))
    return written


def _file_name(frame: int, writer: FrameWriter) -> str:
    return f"frame_{frame:05d}.{writer.ending}"


def write_whole(path: Path, content: bytes) -> None:
    """Write a file so that it is whole or not there."""
    beside = path.with_name(f".{path.name}.{os.getpid()}.part")
    with beside.open("wb") as file:
        file.write(content)
        file.flush()
        os.fsync(file.fileno())
    beside.rename(path)
