"""A shot from a file, and a file of what is made of it, for the commands that need neither web nor database."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

from windsock.commands.say import Trouble
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.keeping import Keeper
from windsock.core.refusals import Refusal
from windsock.evaluator.assets import AssetFolder


def write_made(path: Path, make: Callable[[], bytes]) -> int:
    """Make what goes into a file, write it, and say how many bytes it has. Raises Trouble for what is refused or does not go."""
    try:
        return path.write_bytes(make())
    except Refusal as refusal:
        raise Trouble(str(refusal)) from None
    except OSError as fault:
        raise Trouble(f"{path} could not be written ({fault.strerror}). Make room, or name another file.") from None


def opened(path: Path, assets: Path | None) -> tuple[Shot, Evaluator]:
    """A shot and what evaluates it. assets: the folder of imported files; that of the shot if left out."""
    try:
        shot = parse_shot(json.loads(path.read_text()))
    except FileNotFoundError as fault:
        raise Trouble(f"There is no file {fault.filename}. Nothing was written.") from None
    except OSError as fault:
        raise Trouble(f"{path} cannot be read ({fault.strerror}). Nothing was written.") from None
    except (json.JSONDecodeError, UnicodeDecodeError, RecursionError):
        raise Trouble(f"{path} is not JSON. Nothing was written.") from None
    except Refusal as refusal:
        raise Trouble(str(refusal)) from None
    cache = Cache(2**30)
    return shot, Evaluator(AssetFolder(assets or path.parent, cache), Keeper(cache))
