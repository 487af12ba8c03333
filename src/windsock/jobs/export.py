"""A frame range as one zip: each frame is a file of its own first, so that a job that was cut off goes on where it was."""

from __future__ import annotations

import os
import shutil
import zipfile
from collections.abc import Callable
from pathlib import Path

from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator
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
    units = folder / "frames"
    units.mkdir(parents=True, exist_ok=True)
    for done, frame in enumerate(frames):
        path = units / _file_name(frame, writer)
        progress(done, f"Frame {frame}")
        if not path.exists():
            shown = Shown(evaluator, shot, evaluator.frame(shot, frame))
            write_whole(path, writer.written(shown, copies))
    progress(len(frames), "Packing")
    packed = folder / "frames.zip"
    beside = folder / f".frames.{os.getpid()}.part"
    with zipfile.ZipFile(beside, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as bundle:
        for done, frame in enumerate(frames):
            bundle.write(units / _file_name(frame, writer), _file_name(frame, writer))
            if done % 8 == 0:
                progress(len(frames), "Packing")
    beside.rename(packed)
    shutil.rmtree(units)
    return packed


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
