"""The files that jobs write."""

from __future__ import annotations

import shutil
from pathlib import Path


def remove_files(exports: Path, job_id: str) -> None:
    """Take away what a job has written."""
    shutil.rmtree(exports / job_id, ignore_errors=True)
