"""`./windsock bench`: speed, as ratios measured side by side."""

from __future__ import annotations

import argparse
import importlib
import json
import sys
from pathlib import Path

from windsock.commands.machine import ROOT
from windsock.commands.say import Trouble, say

ENTRIES = {
    "noise3": ("noise3", "noise3"),
    "spread-solve": ("spread", "spread_solve"),
    "spread-frame": ("spread", "spread_frame"),
    "scrub-cold": ("scrubbing", "scrub_cold"),
    "scrub-warm": ("scrubbing", "scrub_warm"),
    "edit-one": ("evaluating", "edit_one"),
    "drag": ("evaluating", "drag"),
    "frame-overhead": ("evaluating", "frame_overhead"),
    "follow-any": ("evaluating", "follow_any"),
    "play-first": ("scrubbing", "play_first"),
    "open-cold": ("scrubbing", "open_cold"),
    "field-stack": ("fields", "field_stack"),
    "near-100k": ("fields", "near_100k"),
    "coverage": ("fields", "coverage"),
    "import-1m": ("files", "import_1m"),
    "export-glb": ("files", "export_glb"),
    "picture": ("pictures", "picture"),
    "picture-copies": ("pictures", "picture_copies"),
    "finished-first": ("pictures", "finished_first"),
    "finish": ("pictures", "finish"),
    "film": ("pictures", "film"),
    "exr": ("pictures", "exr"),
    "scatter-20k": ("pieces", "scatter_20k"),
    "fracture-100": ("pieces", "fracture_100"),
    "copies-200k": ("pieces", "copies_200k"),
    "copies-edit": ("pieces", "copies_edit"),
    "release-any": ("pieces", "release_any"),
    "wave-200k": ("points", "wave_200k"),
    "deform-50k": ("points", "deform_50k"),
    "push-drag": ("points", "push_drag"),
    "ride-frame": ("points", "ride_frame"),
    "morph-nearest": ("points", "morph_nearest"),
    "near-moving": ("touching", "near_moving"),
    "imprint-50k": ("touching", "imprint_50k"),
    "contact-any": ("touching", "contact_any"),
    "ripple-512": ("touching", "ripple_512"),
    "shells-10": ("touching", "shells_10"),
    "volume-128": ("volumes", "volume_128"),
    "eikonal-256": ("volumes", "eikonal_256"),
    "iso-256": ("volumes", "iso_256"),
    "erode-any": ("volumes", "erode_any"),
    "meld-50k": ("volumes", "meld_50k"),
    "coat-frame": ("coats_and_trails", "coat_frame"),
    "trail-any": ("coats_and_trails", "trail_any"),
    "fairness": ("sharing", "fairness"),
    "twenty": ("sharing", "twenty"),
}
"""For each entry the module in bench/ and the function in it."""


def bench(words: list[str]) -> int:
    """Run the entries that are named, or all, and say what each ratio means."""
    given = argparse.ArgumentParser(prog="./windsock bench")
    given.add_argument("names", nargs="*", metavar="NAME", help=", ".join(ENTRIES))
    given.add_argument("--json", type=Path, help="a file for the results")
    asked = given.parse_args(words)
    unknown = [name for name in asked.names if name not in ENTRIES]
    if unknown:
        raise Trouble(f"There is no entry “{unknown[0]}”. There are: {', '.join(ENTRIES)}. Nothing was measured.")
    sys.path.insert(0, str(ROOT))
    rows: list[dict[str, str | float]] = []
    for name in asked.names or ENTRIES:
        module, function = ENTRIES[name]
        found = getattr(importlib.import_module(f"bench.{module}"), function)()
        for result in found if isinstance(found, list) else [found]:
            rows.append(result.row())
            verdict = "met" if result.ratio <= result.target else "NOT MET"
            say(f"{result.name:14} {result.ratio:8.3f}  (target {result.target:g}, {verdict})  {result.meaning}")
            say(f"{'':14} ours {result.ours:.6g} {result.unit}, reference {result.reference:.6g} {result.unit}")
    if asked.json:
        asked.json.write_text(json.dumps({"benches": rows}, indent=1) + "\n")
    return 0
