"""`./windsock evaluate`: the core without web or database."""

from __future__ import annotations

import argparse
import json
import math
from pathlib import Path

from windsock.commands.say import Trouble, say
from windsock.core.document.shot import parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.keeping import Keeper
from windsock.core.refusals import Refusal
from windsock.evaluator.assets import AssetFolder
from windsock.evaluator.work import ply_with_fields
from windsock.formats.glb_out import write_glb


def evaluate(words: list[str]) -> int:
    """Write one frame of a shot to a file."""
    given = argparse.ArgumentParser(prog="./windsock evaluate")
    given.add_argument("shot", type=Path)
    given.add_argument("--frame", type=float, required=True)
    given.add_argument("--detail", choices=["draft", "final"], default="final")
    given.add_argument("--assets", type=Path, help="folder of imported files, each named by its SHA-256")
    given.add_argument("--out", type=Path, required=True, help="a .glb or .ply file")
    asked = given.parse_args(words)
    if asked.out.suffix not in (".glb", ".ply"):
        raise Trouble("The file to write must end in .glb or .ply. Nothing was written.")
    if not math.isfinite(asked.frame) or abs(asked.frame) > 100_000:
        raise Trouble("The frame must lie between -100000 and 100000. Nothing was written.")
    cache = Cache(2**30)
    assets = AssetFolder(asked.assets or asked.shot.parent, cache)
    try:
        shot = parse_shot(json.loads(asked.shot.read_text()))
        evaluator = Evaluator(assets, Keeper(cache))
        frame = evaluator.frame(shot, asked.frame, asked.detail)
        written = write_glb(shot, frame) if asked.out.suffix == ".glb" else ply_with_fields(evaluator, shot, frame)
        asked.out.write_bytes(written)
    except FileNotFoundError as fault:
        raise Trouble(f"There is no file {fault.filename}. Nothing was written.") from None
    except (json.JSONDecodeError, UnicodeDecodeError, RecursionError):
        raise Trouble(f"{asked.shot} is not JSON. Nothing was written.") from None
    except Refusal as refusal:
        raise Trouble(str(refusal)) from None
    for report in frame.steps:
        say(f"{report.step}: {report.faces_in:,} to {report.faces_out:,} faces")
    say(f"Wrote {asked.out}: frame {asked.frame:g}, {len(written):,} bytes")
    return 0
