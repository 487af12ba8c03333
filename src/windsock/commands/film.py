"""`./windsock film`: a shot as a film, without web or database."""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from windsock.commands.machine import ensure_picture_packages
from windsock.commands.opening import opened, write_made
from windsock.commands.picture import add_arguments, quality_of, size_of
from windsock.commands.say import Trouble, say
from windsock.picture.film import CODINGS, encoded_film
from windsock.picture.pixels import of_depth
from windsock.picture.renderer import Renderer
from windsock.picture.still import Studio

BY_ENDING = {".mp4": "h264", ".mov": "prores", ".webm": "vp9", ".mkv": "ffv1"}


def film(words: list[str]) -> int:
    """Render a range of frames into one film."""
    given = argparse.ArgumentParser(prog="./windsock film")
    add_arguments(given)
    given.add_argument("--first", type=int, help="the shot's first frame if left out")
    given.add_argument("--last", type=int, help="the shot's last frame if left out")
    given.add_argument("--coding", choices=list(CODINGS), help="the usual one for the file's ending if left out")
    given.add_argument("--out", type=Path, required=True, help=f"a file that ends in {', '.join(BY_ENDING)}")
    asked = given.parse_args(words)
    if asked.out.suffix not in BY_ENDING:
        raise Trouble(f"The file to write must end in {', '.join(BY_ENDING)}. Nothing was written.")
    coding = CODINGS[asked.coding or BY_ENDING[asked.out.suffix]]
    if f".{coding.ending}" != asked.out.suffix:
        raise Trouble(f"{coding.called} goes into a file that ends in .{coding.ending}. Nothing was written.")
    shot, evaluator = opened(asked.shot, asked.assets)
    first = shot.frames.first if asked.first is None else asked.first
    last = shot.frames.last if asked.last is None else asked.last
    if not -100_000 <= first <= last <= 100_000:
        raise Trouble("The last frame lies before the first, or too far off. Nothing was written.")
    width, height = (side // 2 * 2 for side in size_of(asked, shot.picture.width, shot.picture.height))
    ensure_picture_packages()
    studio = Studio(evaluator, Renderer(), quality_of(asked, passes=False))

    def frames() -> Iterator[NDArray[np.uint8] | NDArray[np.uint16]]:
        for number in range(first, last + 1):
            still = studio.still(shot, number, width, height, lambda what, share: None)
            say(f"  frame {number}: {number - first + 1} of {last - first + 1}")
            yield of_depth(still.light, 8 if coding.pixels == "yuv420p" else 16)

    rate = Fraction(shot.rate.numerator, shot.rate.denominator)
    write_made(asked.out, lambda: encoded_film(frames(), rate, coding))
    say(f"Wrote {asked.out}: {last - first + 1} frames, {width} by {height}, {coding.called}")
    return 0
