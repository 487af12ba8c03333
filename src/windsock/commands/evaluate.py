"""`./windsock evaluate`: the core without web or database."""

from __future__ import annotations

import argparse
import math
from pathlib import Path

from windsock.commands.opening import opened
from windsock.commands.say import Trouble, say
from windsock.core.refusals import Refusal
from windsock.writers import WRITERS
from windsock.writers.writer import FrameWriter, Shown


def evaluate(words: list[str]) -> int:
    """Write one frame of a shot to a file."""
    given = argparse.ArgumentParser(prog="./windsock evaluate")
    given.add_argument("shot", type=Path)
    given.add_argument("--frame", type=float, required=True)
    given.add_argument("--detail", choices=["draft", "final"], default="final")
    given.add_argument("--assets", type=Path, help="folder of imported files, each named by its SHA-256")
    given.add_argument("--out", type=Path, required=True, help=f"a file that ends in {_endings()}")
    asked = given.parse_args(words)
    writer = next((one for one in _frame_writers() if f".{one.ending}" == asked.out.suffix), None)
    if writer is None:
        raise Trouble(f"The file to write must end in {_endings()}. Nothing was written.")
    if not math.isfinite(asked.frame) or abs(asked.frame) > 100_000:
        raise Trouble("The frame must lie between -100000 and 100000. Nothing was written.")
    shot, evaluator = opened(asked.shot, asked.assets)
    try:
        frame = evaluator.frame(shot, asked.frame, asked.detail)
        written = writer.written(Shown(evaluator, shot, frame), "kept")
        asked.out.write_bytes(written)
    except FileNotFoundError as fault:
        raise Trouble(f"There is no file {fault.filename}. Nothing was written.") from None
    except Refusal as refusal:
        raise Trouble(str(refusal)) from None
    for report in frame.steps:
        say(f"{report.step}: {report.faces_in:,} to {report.faces_out:,} faces")
    say(f"Wrote {asked.out}: frame {asked.frame:g}, {len(written):,} bytes")
    return 0


def _frame_writers() -> list[FrameWriter]:
    return [writer for writer in WRITERS if isinstance(writer, FrameWriter) and not writer.rendered]


def _endings() -> str:
    """The endings of the files that can be written, in words."""
    *others, last = [f".{writer.ending}" for writer in _frame_writers()]
    return f"{', '.join(others)} or {last}"
