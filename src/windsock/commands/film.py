"""`./windsock film`: a shot as a film, without web or database."""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from windsock.commands.machine import ensure_picture_packages
from windsock.commands.opening import opened, write_made
from windsock.commands.picture import add_arguments, add_settings, quality_of, size_of
from windsock.commands.say import Trouble, say
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.keeping import Keeper
from windsock.demo.loading import SHOTS
from windsock.evaluator.assets import AssetFolder
from windsock.picture.film import CODINGS, Coding, encoded_film
from windsock.picture.pixels import of_depth
from windsock.picture.quality import Quality
from windsock.picture.renderer import Renderer
from windsock.picture.still import Studio, over_nothing

BY_ENDING = {".mp4": "h264", ".mov": "prores", ".webm": "vp9", ".mkv": "ffv1"}


def film(words: list[str]) -> int:
    """Render a range of frames into one film."""
    given = argparse.ArgumentParser(prog="./windsock film")
    add_arguments(given)
    given.add_argument("--first", type=int, help="the shot's first frame if left out")
    given.add_argument("--last", type=int, help="the shot's last frame if left out")
    given.add_argument("--every", type=int, default=1, help="only every so manieth frame; the film lasts as long")
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
    if not 1 <= asked.every <= 1000:
        raise Trouble("Every first to every thousandth frame can be taken. Nothing was written.")
    if not -100_000 <= first <= last <= 100_000:
        raise Trouble("The last frame lies before the first, or too far off. Nothing was written.")
    ensure_picture_packages()
    size = size_of(asked, shot.picture.width, shot.picture.height)
    numbers = range(first, last + 1, asked.every)
    _write(Take(shot, evaluator, numbers, size), coding, quality_of(asked, passes=False), asked.out)
    return 0


def demo_films(words: list[str]) -> int:
    """Render a short film of each demo shot, about its opening frame."""
    given = argparse.ArgumentParser(prog="./windsock demo-films")
    given.add_argument("folder", type=Path)
    given.add_argument("--seconds", type=float, default=5.0)
    add_settings(given)
    asked = given.parse_args(words)
    if not 0 < asked.seconds <= 60:
        raise Trouble("A film lasts up to 60 seconds. Nothing was written.")
    ensure_picture_packages()
    asked.folder.mkdir(parents=True, exist_ok=True)
    renderer = Renderer()
    for name, make in SHOTS.items():
        shot, cache = parse_shot(make()), Cache(2**30)
        evaluator = Evaluator(AssetFolder(asked.folder, cache), Keeper(cache))
        count = min(round(asked.seconds * shot.rate.fps), shot.frames.last + 1 - shot.frames.first)
        # The opening frame is shown, as near to the middle as there are frames before and after it.
        first = min(
            max(round(shot.opening_frame) - count // 2, shot.frames.first), shot.frames.last + 1 - max(count, 1)
        )
        say(name)
        take = Take(
            shot,
            evaluator,
            range(first, first + max(count, 1)),
            size_of(asked, shot.picture.width, shot.picture.height),
        )
        _write(take, CODINGS["h264"], quality_of(asked, passes=False), asked.folder / f"{name}.mp4", renderer)
    return 0


@dataclass(frozen=True)
class Take:
    """Which frames of a shot are filmed, and how many pixels wide and high."""

    shot: Shot
    evaluator: Evaluator
    frames: range
    size: tuple[int, int]


def _write(take: Take, coding: Coding, quality: Quality, out: Path, renderer: Renderer | None = None) -> None:
    """Render the frames, and write them as one film."""
    studio = Studio(take.evaluator, renderer or Renderer(), quality)
    shot = over_nothing(take.shot) if coding.transparent else take.shot
    width, height = (side // 2 * 2 for side in take.size)

    def frames() -> Iterator[NDArray[np.uint8] | NDArray[np.uint16]]:
        for place, number in enumerate(take.frames, 1):
            still = studio.still(shot, number, width, height, lambda what, share: None)
            say(f"  frame {number}: {place} of {len(take.frames)}")
            shown = still.finished.shown
            if coding.transparent:
                shown = still.finished.over_nothing(shot, still.layers.opacity)
            yield of_depth(shown, 8 if coding.pixels == "yuv420p" else 16)

    rate = Fraction(shot.rate.numerator, shot.rate.denominator) / take.frames.step
    write_made(out, lambda: encoded_film(frames(), rate, coding))
    say(f"Wrote {out}: {len(take.frames)} frames, {width} by {height}, {coding.called}")
