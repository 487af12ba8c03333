"""The files that jobs write."""

from __future__ import annotations

import shutil
from pathlib import Path


def small_picture(folder: Path, frame: int) -> Path:
    """The file of the small picture of a frame, in the folder of its job."""
    return folder / "small" / f"{frame}.jpg"


def remove_files(exports: Path, job_id: str) -> None:
    """Take away what a job has written."""
    shutil.rmtree(exports / job_id, ignore_errors=True)
