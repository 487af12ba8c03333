"""What every kind of file declares that a shot can be written as."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal, Self

from windsock.core.document.shot import Shot
from windsock.core.evaluate.expanding import expanded
from windsock.core.evaluate.frame import Evaluator, Frame
from windsock.picture.still import KeptLayers
from windsock.writers.moving import Reel


@dataclass(frozen=True)
class Shown:
    """A frame of a shot, and the evaluator that made it. kept: renderings that need not be made again."""

    evaluator: Evaluator
    shot: Shot
    frame: Frame
    kept: KeptLayers | None = None


class Writer:
    """A kind of file. name: by which it is asked for. called: in words. media: its media type. keeps_copies: whether it can
    hold copies of one mesh as such. rendered: whether it takes so long that only a job makes it. seen_as: what a page can show
    it as. widest: pixels that its pictures are at most wide."""

    name: str
    called: str
    ending: str
    media: str
    keeps_copies: ClassVar[bool] = False
    rendered: ClassVar[bool] = False
    seen_as: Literal["", "picture", "film"] = ""
    widest: int | None = None

    def with_numbers(self) -> Self:
        """The same with each frame's number written into its picture, where it makes pictures."""
        return self


class FrameWriter(Writer):
    """A kind of file that holds one frame."""

    def write(self, shown: Shown) -> bytes:
        """The frame as the bytes of a file."""
        raise NotImplementedError

    def written(self, shown: Shown, copies: str) -> bytes:
        """The same. copies: "kept" where the format knows copies, else they become plain meshes."""
        keep = copies == "kept" and self.keeps_copies
        return self.write(shown if keep else Shown(shown.evaluator, shown.shot, expanded(shown.frame)))

    def pictured(self, shown: Shown, copies: str) -> tuple[bytes, bytes | None]:
        """The same, and a small JPEG of it to be looked at while others are made, where it is a picture."""
        return self.written(shown, copies), None


class ReelWriter(Writer):
    """A kind of file that holds a range of frames."""

    def write(self, reel: Reel, evaluator: Evaluator) -> bytes:
        """The frames as the bytes of a file."""
        raise NotImplementedError
