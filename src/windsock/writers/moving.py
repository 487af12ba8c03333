"""What moving formats share: each shape of a shot over a range of frames, as what stays and what changes."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace

import numpy as np

from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.expanding import expanded
from windsock.core.evaluate.frame import Evaluator, Frame
from windsock.core.geometry.mesh import OPTIONAL
from windsock.core.geometry.placement import Matrix
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.refusals import Refusal

Progress = Callable[[int, str], None]
"""Takes how many frames are done, and words for it. Raises Cancelled when the work is to stop."""

HELD_LIMIT = 1_500_000_000
"""Bytes of meshes that one file may be made of."""


@dataclass
class Track:
    """One part of a shape over time. drawn: for each frame what is drawn of it, or None where it is hidden or all gone.

    Equal meshes are one and the same object.
    """

    item: str
    name: str
    drawn: list[DrawItem | None] = field(default_factory=list[DrawItem | None])

    @property
    def seen(self) -> list[DrawItem]:
        """What is drawn, without the frames on which nothing is."""
        return [one for one in self.drawn if one is not None]

    @property
    def rigid(self) -> bool:
        """Whether its mesh is the same at every frame that it is seen at."""
        return len({one.key for one in self.seen}) <= 1

    @property
    def same_faces(self) -> bool:
        """Whether only points move."""
        first = self.seen[0].body.mesh
        return all(
            one.body.mesh is first
            or (len(one.body.mesh.points) == len(first.points) and np.array_equal(one.body.mesh.faces, first.faces))
            for one in self.seen
        )


@dataclass
class Reel:
    """A range of frames of a shot. placements: for each frame where each item stands, by id."""

    shot: Shot
    frames: list[int]
    tracks: list[Track]
    placements: list[dict[str, Matrix]]

    @property
    def seconds(self) -> np.ndarray:
        """(f,) the seconds of the frames, from 0."""
        return (np.array(self.frames, dtype=np.float64) - self.frames[0]) / self.shot.rate.fps


def _same(one: DrawItem, other: DrawItem) -> bool:
    """Whether two frames draw the same mesh, though what they depend on differs."""
    a, b = one.body.mesh, other.body.mesh
    if isinstance(one.body, CopiesPart) or isinstance(other.body, CopiesPart):
        return False
    if (
        a.points.shape != b.points.shape
        or not np.array_equal(a.points, b.points)
        or not np.array_equal(a.faces, b.faces)
    ):
        return False
    tints = [(getattr(a, name), getattr(b, name)) for name in OPTIONAL]
    return all(
        (x is None) == (y is None) and (x is None or y is None or np.array_equal(x, y, equal_nan=True))
        for x, y in tints
    )


def named(shot: Shot, frame: Frame) -> Iterator[tuple[str, DrawItem]]:
    """What is drawn, each with a name of its own: that of the shape, with the part's where that is not the body."""
    seen: dict[tuple[str, str], int] = {}
    for item in frame.draw:
        shape = shot.items[item.item]
        assert isinstance(shape, Shape)
        name = shape.name if item.part == "body" else f"{shape.name}, {shape.recipe.parts[item.part].name}"
        count = seen[item.item, item.part] = seen.get((item.item, item.part), 0) + 1
        yield (name if count == 1 else f"{name} {count}"), item


def gather(shot: Shot, evaluator: Evaluator, frames: list[int], progress: Progress, keep_copies: bool = False) -> Reel:
    """Evaluate the frames; copies become plain meshes unless they are kept. Raises Refusal for more than a file should
    hold."""
    tracks: dict[str, Track] = {}
    meshes: dict[str, DrawItem] = {}
    placements: list[dict[str, Matrix]] = []
    held = 0
    for done, number in enumerate(frames):
        progress(done, f"Frame {number}")
        frame = evaluator.frame(shot, number)
        frame = frame if keep_copies else expanded(frame)
        placements.append(frame.placements)
        for name, item in named(shot, frame):
            track = tracks.setdefault(name, Track(item.item, name, [None] * done))
            if item.body.faces() == 0:
                continue
            before = track.seen[-1] if track.seen else None
            if item.key not in meshes and before is not None and _same(before, item):
                meshes[item.key] = before
            if item.key not in meshes:
                meshes[item.key] = item
                held += item.body.nbytes
            if held > HELD_LIMIT:
                raise Refusal(
                    f"Up to frame {number} the meshes take more than {HELD_LIMIT / 1e9:.1f} GB, too much for one file. "
                    "Nothing was written. Export a shorter range, or one file for each frame."
                )
            known = meshes[item.key]
            track.drawn.append(replace(item, key=known.key, body=known.body, heat=None))
        for track in tracks.values():
            track.drawn += [None] * (done + 1 - len(track.drawn))
    return Reel(shot, frames, [track for track in tracks.values() if track.seen], placements)
