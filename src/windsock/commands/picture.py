"""`./windsock picture`: one finished frame, without web or database."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path

from windsock.commands.machine import ensure_picture_packages
from windsock.commands.opening import opened, write_made
from windsock.commands.say import Trouble, say
from windsock.picture.files import picture_file
from windsock.picture.quality import Quality
from windsock.picture.renderer import Renderer
from windsock.picture.still import Studio, by_layers, over_nothing

ENDINGS = (".png", ".exr", ".jpg", ".webp")


def picture(words: list[str]) -> int:
    """Render one frame of a shot into a file."""
    given = argparse.ArgumentParser(prog="./windsock picture")
    add_arguments(given)
    given.add_argument("--frame", type=float, required=True)
    given.add_argument("--bits", type=int, choices=[8, 16], default=8, help="of a PNG")
    given.add_argument("--clear", action="store_true", help="with nothing behind all, in a PNG or a WebP")
    given.add_argument("--out", type=Path, required=True, help="a file that ends in .png, .exr, .jpg or .webp")
    asked = given.parse_args(words)
    if asked.out.suffix not in ENDINGS:
        raise Trouble("The file to write must end in .png, .exr, .jpg or .webp. Nothing was written.")
    if asked.clear and asked.out.suffix not in (".png", ".webp"):
        raise Trouble(
            "Only a PNG or a WebP can have nothing behind all. Nothing was written. An OpenEXR has its opacity anyway."
        )
    if not abs(asked.frame) <= 100_000:
        raise Trouble("The frame must lie between -100000 and 100000. Nothing was written.")
    shot, evaluator = opened(asked.shot, asked.assets)
    width, height = size_of(asked, shot.picture.width, shot.picture.height)
    ensure_picture_packages()
    shot = over_nothing(shot) if asked.clear else shot
    studio = Studio(evaluator, Renderer(), quality_of(asked, asked.out.suffix == ".exr"))

    def make() -> bytes:
        still = studio.still(shot, asked.frame, width, height, telling())
        size = asked.frame, width, height
        apart = by_layers(studio.plainly, shot, *size, telling()) if asked.out.suffix == ".exr" else None
        return picture_file(still, asked.out.suffix, asked.bits, asked.clear, apart=apart)

    size = write_made(asked.out, make)
    say(f"Wrote {asked.out}: frame {asked.frame:g}, {width} by {height}, {size:,} bytes")
    return 0


def add_arguments(given: argparse.ArgumentParser) -> None:
    """What every command takes that renders."""
    given.add_argument("shot", type=Path)
    given.add_argument("--assets", type=Path, help="folder of imported files, each named by its SHA-256")
    add_settings(given)


def add_settings(given: argparse.ArgumentParser) -> None:
    """How large and how well it is rendered."""
    given.add_argument("--size", help="such as 1920x1080; the shot's own if left out")
    given.add_argument("--samples", type=int, default=32, help="of each pixel at most, from 4 to 4096")
    given.add_argument(
        "--noise", type=float, default=0.01, help="ends earlier where the picture's mean error is below this"
    )


def size_of(asked: argparse.Namespace, width: int, height: int) -> tuple[int, int]:
    """The size that is asked for, in pixels."""
    if asked.size is None:
        return width, height
    first, _, second = asked.size.partition("x")
    if not (first.isdecimal() and second.isdecimal() and 16 <= int(first) <= 16384 and 16 <= int(second) <= 16384):
        raise Trouble(f"“{asked.size}” is no size. Nothing was written. Write it as 1920x1080, each from 16 to 16384.")
    return int(first), int(second)


def quality_of(asked: argparse.Namespace, passes: bool) -> Quality:
    """How well it is to be rendered."""
    if not 1 <= asked.samples <= 4096:
        raise Trouble("There may be 1 to 4096 samples. Nothing was written.")
    if not 0 <= asked.noise <= 1:
        raise Trouble("The noise lies between 0 and 1. Nothing was written.")
    return Quality(samples=asked.samples, noise=asked.noise, passes=passes)


def telling() -> Callable[[str, float], None]:
    """Says what is done, in tenths."""
    last = [-1]

    def told(what: str, share: float) -> None:
        if int(share * 10) != last[0]:
            last[0] = int(share * 10)
            say(f"  {what}: {10 * last[0]} %")

    return told
