"""What every shape that can be built declares."""

from __future__ import annotations

from collections.abc import Callable
from typing import ClassVar, Literal, Protocol, Self

from pydantic import BaseModel, ConfigDict, JsonValue

from windsock.core.declarations import ContentHash, Declared
from windsock.core.geometry.clip import Clip
from windsock.core.geometry.course import Course
from windsock.core.geometry.drawing import Drawing
from windsock.core.geometry.lettering import Lettering
from windsock.core.geometry.mesh import FACE_LIMIT, Mesh
from windsock.core.geometry.panorama import Panorama
from windsock.core.timing.parameter import Finite, Moment, Vector


class Assets(Protocol):
    """What came from files, each known by the SHA-256 of its bytes; raises MissingAsset where that is not known."""

    def mesh(self, asset: str) -> Mesh:
        """The mesh of an imported file."""
        ...

    def clip(self, asset: str) -> Clip | None:
        """The movement of an imported file, None where it stands still."""
        ...

    def drawing(self, asset: str) -> Drawing:
        """An imported drawing."""
        ...

    def lettering(self, font: str) -> Lettering:
        """A font, imported or shipped."""
        ...

    def panorama(self, asset: str) -> Panorama:
        """An imported picture of all that is round about."""
        ...


class BroughtFile(BaseModel):
    """An imported file as it is to be brought in.

    sort: what it holds. scale: metres for one unit of a mesh; up: the axis that points up in it; low, high: the corners of
    the box about it, in its own units; moves: whether it plays; mended: without its faulty faces. height: metres that a
    drawing is high.
    """

    model_config = ConfigDict(extra="forbid", strict=True, frozen=True, allow_inf_nan=False)

    asset: ContentHash
    sort: Literal["mesh", "drawing", "font"]
    scale: Finite = 1.0
    up: Literal["x", "y", "z"] = "y"
    low: Vector = (0.0, 0.0, 0.0)
    high: Vector = (0.0, 0.0, 0.0)
    moves: bool = False
    mended: bool = False
    height: Finite = 1.0


Courses = Callable[[str], Course]
"""Gives the curve of a path of the shot, in its own space."""


class GeometryBase(Declared):
    """What a shape is made as, before its recipe. called: what a new one is called. finenesses: the settings that say how long its faces' edges are, and how
    each is spoken of."""

    called: ClassVar[str] = ""
    finenesses: ClassVar[dict[str, str]] = {}

    @classmethod
    def in_words(cls) -> dict[str, JsonValue]:
        return {"called": cls.named()}

    @classmethod
    def named(cls) -> str:
        """Its kind in words: `Sheet`."""
        return cls.called or cls.kind_name().capitalize()

    def make(self, at: Moment, assets: Assets, courses: Courses) -> Mesh:
        """The mesh at a moment, in the item's space. Raises Refusal where there is nothing to see."""
        raise NotImplementedError

    def face_count(self) -> int:
        """About how many faces it has, as far as that can be said without what it is made from."""
        raise NotImplementedError

    def faces_from(self, assets: Assets | None, courses: Courses) -> int:
        """The same with what it is made from; assets: None where files are not at hand."""
        del assets, courses
        return self.face_count()

    def fitting(self, faces: int) -> str:
        """In words, the largest setting that has no more faces than these."""
        raise NotImplementedError

    @classmethod
    def example(cls) -> Self | None:
        """One as it is when it is added; None where it has to be made from something."""
        return None

    @classmethod
    def from_file(cls, file: BroughtFile) -> tuple[Self, Vector] | None:
        """One made from an imported file, and where its item stands so that it stands on the ground; None where the kind is
        not made from such files."""
        del file
        return None

    def below(self) -> float:
        """How far its lowest point is below the item's place, in metres, at the start."""
        return 0.0

    def plays(self) -> bool:
        """Whether it moves by itself, as its file does."""
        return False

    def paths(self) -> tuple[str, ...]:
        """The paths of the shot, by id, that it is made from."""
        return ()

    def finer_settings(self, factor: int) -> dict[str, float]:
        """The values of settings with which its faces' edges are at most 1 / factor as long; none where no setting does
        that."""
        del factor
        return {}

    def finer(self, factor: int) -> tuple[Self, str] | None:
        """The shape with edges at most 1 / factor as long, and its settings in words; None where it cannot be so, or would
        have too many faces."""
        settings = self.finer_settings(factor)
        if not settings:
            return None
        try:
            made = type(self).model_validate(self.model_dump() | settings)
        except ValueError:
            return None
        if made.face_count() > FACE_LIMIT // 4:
            return None
        return made, " and ".join(self.finenesses[name].format(value) for name, value in settings.items())


def scaled(setting: int, now: int, faces: int) -> int:
    """A count along one of two directions, brought from so many faces now to so many."""
    return max(2, int(setting * (faces / max(now, 1)) ** 0.5))
