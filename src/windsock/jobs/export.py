"""A frame range as one zip: each frame is a file of its own first, so that a job that was cut off goes on where it was."""

from __future__ import annotations

import os
import shutil
import zipfile
from collections.abc import Callable
from pathlib import Path

from windsock.core.document.shot import Shot
from windsock.core.evaluate.frame import Evaluator
from windsock.evaluator.work import field_values, written
from windsock.formats.glb_moving import write_moving_glb
from windsock.formats.moving import gather
from windsock.formats.usd import write_usd

Progress = Callable[[int, str], None]
"""Takes how many frames are done, and words for it. Raises Cancelled when the work is to stop."""


MOVING = {"glb-moving": "glb", "usd": "usdc"}
"""Formats that hold a whole range in one file, with the endings of their files."""


def export_moving(
    shot: Shot,
    evaluator: Evaluator,
    frames: list[int],
    kind: str,
    folder: Path,
    progress: Progress,
    copies: str = "meshes",
) -> Path:
    """Write the frames as one file that moves. Frames are evaluated anew after a break: their histories are kept.

    copies: "kept" where the format knows copies, else they become plain meshes.
    """
    folder.mkdir(parents=True, exist_ok=True)
    reel = gather(shot, evaluator, frames, progress, keep_copies=copies == "kept" and kind == "glb-moving")
    progress(len(frames), "Writing")
    packed = folder / f"shot.{MOVING[kind]}"
    if kind == "usd":
        content = write_usd(reel, lambda item, place: field_values(evaluator, shot, item, reel.frames[place]))
    else:
        content = write_moving_glb(reel)
    write_whole(packed, content)
    return packed


def export_frames(
    shot: Shot,
    evaluator: Evaluator,
    frames: list[int],
    kind: str,
    folder: Path,
    progress: Progress,
    copies: str = "meshes",
) -> Path:
    """Write the frames and pack them. `folder` is the job's own; answers with the zip in it, which is whole."""
    units = folder / "frames"
    units.mkdir(parents=True, exist_ok=True)
    for done, frame in enumerate(frames):
        path = units / f"frame_{frame:05d}.{kind}"
        progress(done, f"Frame {frame}")
        if not path.exists():
            content = written(kind, copies, evaluator, shot, evaluator.frame(shot, frame))
            write_whole(path, content)
    progress(len(frames), "Packing")
    packed = folder / "frames.zip"
    beside = folder / f".frames.{os.getpid()}.part"
    with zipfile.ZipFile(beside, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as bundle:
        for done, frame in enumerate(frames):
            bundle.write(units / f"frame_{frame:05d}.{kind}", f"frame_{frame:05d}.{kind}")
            if done % 8 == 0:
                progress(len(frames), "Packing")
    beside.rename(packed)
    shutil.rmtree(units)
    return packed


def write_whole(path: Path, content: bytes) -> None:
    """Write a file so that it is whole or not there."""
    beside = path.with_name(f".{path.name}.{os.getpid()}.part")
    with beside.open("wb") as file:
        file.write(content)
        file.flush()
        os.fsync(file.fileno())
    beside.rename(path)
