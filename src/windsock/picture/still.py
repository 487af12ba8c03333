"""Finished frames of a shot: evaluated where the shutter is open, rendered, and finished."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from functools import cached_property
from threading import Lock
from typing import Any, Protocol

import numpy as np

from windsock.core.declarations import in_order
from windsock.core.document.items import Camera
from windsock.core.document.shot import Shot
from windsock.core.evaluate.field_values import field_values
from windsock.core.evaluate.fingerprint import code_fingerprint, fingerprint
from windsock.core.evaluate.frame import Evaluator
from windsock.core.finishing.chain import fields_of, needs_covers, needs_depth
from windsock.core.refusals import TooMuch
from windsock.picture.finishing import Finished, finished
from windsock.picture.layers import Layers
from windsock.picture.quality import SAMPLES_A_PASS, Quality, shutter_share
from windsock.picture.regions import Shares, coarse_size, in_pixels, laid_in
from windsock.picture.renderer import LIBRARIES, Renderer, missing
from windsock.picture.scene import MOST_PIXELS, Floats, Region, Scene
from windsock.picture.staging import staged

Told = Callable[[str, float], None]
"""Takes words for what is done and how much of it is, 0..1. Raises Cancelled when it is to stop."""

OPENED = 1 / 360
"""The least part of a frame that a shutter is open for."""

KEPT = 400 << 20
"""Bytes of renderings that are kept, to be finished in another way; the last one whatever it takes."""

MORE = "more"
"""Stands for the rendering of scenes that others follow."""

MOST_TOLD = 20_000
"""Names of what was asked for that are kept with the scenes that it came to."""


@dataclass(frozen=True, eq=False)
class Asked:
    """What a finished picture is asked of: a frame of a shot at a size in pixels, or the part of it in a region."""

    shot: Shot
    frame: float
    width: int
    height: int
    quality: Quality
    region: Region | None = None

    @property
    def whole(self) -> Asked:
        """What a part is finished by: all of it, coarsely."""
        width, height = coarse_size(self.width, self.height)
        quality = replace(self.quality, samples=min(self.quality.samples, SAMPLES_A_PASS))
        return replace(self, width=width, height=height, quality=quality, region=None)

    @property
    def needs(self) -> list[Asked]:
        """What is to be rendered for it."""
        return [self] if self.region is None else [self.whole, self]

    @property
    def fields(self) -> set[str]:
        """The fields that are to be measured."""
        return set(self.shot.fields) if self.quality.passes else fields_of(self.shot.finishing)

    @property
    def wanted(self) -> Quality:
        """With what is wanted for the finishing."""
        chain = self.shot.finishing
        return replace(self.quality, covers=needs_covers(chain), depths=needs_depth(chain))

    @cached_property
    def name(self) -> str:
        """Names what its rendering is made from: the program, and all of the shot but how its picture is finished and shown."""
        plain = self.shot.model_dump(mode="json", exclude={"finishing", "view", "name"})
        camera = plain["items"].get(self.shot.camera)
        if camera is not None:
            del camera["exposure"]
        return fingerprint(
            _program(), plain, self.frame, self.width, self.height, asdict(self.quality), self.region or ()
        )

    def has(self, layers: Layers) -> bool:
        """Whether a rendering has what is wanted of it beside its light. A field that nothing in the picture is measured by has no
        values in it."""
        wanted = self.wanted
        return (
            (layers.identity is not None or not wanted.covers)
            and (layers.depths is not None or not wanted.depths)
            and self.fields <= layers.measured
        )


@dataclass(frozen=True, eq=False)
class Still:
    """A rendered frame, and as it is finished. frame: its number; shot: what it is of; region: what of it was asked for."""

    layers: Layers
    finished: Finished
    shot: Shot
    frame: float
    region: Region | None = None

    @property
    def shown(self) -> Floats:
        """What a display of sRGB gets of what was asked for, 0..1."""
        if self.region is None:
            return self.finished.shown
        left, top, right, bottom = self.region
        return self.finished.shown[top:bottom, left:right]


def over_nothing(shot: Shot) -> Shot:
    """A shot with nothing behind all: its surroundings only light."""
    return shot.model_copy(
        update={"environment": shot.environment.model_copy(update={"seen": False, "behind": "#000000"})}
    )


class Studio:
    """Makes finished pictures of shots. It keeps what was rendered last: what only the finishing changes is not rendered again."""

    def __init__(
        self, evaluator: Evaluator, renderer: Renderer, quality: Quality, kept: KeptLayers | None = None
    ) -> None:
        """kept: renderings that are shared with other studios; its own where none are."""
        self._evaluator = evaluator
        self._renderer = renderer
        self._quality = quality
        self._kept = KeptLayers() if kept is None else kept
        self.rendered = 0
        """How many pictures were rendered by it, and not kept from before."""
        self.faces = 0
        """The faces of what was rendered last."""

    def still(self, shot: Shot, frame: float, width: int, height: int, told: Told, part: Shares | None = None) -> Still:
        """A frame at a size in pixels, or a part of it. Raises Refusal for what cannot be rendered."""
        if width * height > MOST_PIXELS:
            raise TooMuch(
                f"{width:,} by {height:,} are more pixels than are rendered at once. Nothing was written. Take at most "
                f"{int(MOST_PIXELS**0.5):,} by {int(MOST_PIXELS**0.5):,}."
            )
        region = None if part is None else in_pixels(part, width, height)
        asked = Asked(shot, frame, width, height, self._quality, region)
        return _finished(asked, [self._kept.of(one) or self._rendered(one, told) for one in asked.needs])

    @property
    def plainly(self) -> Studio:
        """One that makes no passes beside the picture."""
        return Studio(self._evaluator, self._renderer, replace(self._quality, passes=False), self._kept)

    def _rendered(self, asked: Asked, told: Told) -> Layers:
        """What is rendered of it, or was of the very same scenes: a change elsewhere in the shot need not be seen in a frame."""
        moments = Moments(self._evaluator, asked)
        made = self._kept.of_scenes(asked, moments.name)
        if made is None:
            made = self._renderer.layers(moments.scene, asked.wanted, told)
            made.measured = frozenset(asked.fields)
            self.rendered += 1
            self.faces = moments.faces
            self._kept.put(asked, moments.names, made)
        return made


def by_layers(studio: Studio, shot: Shot, frame: float, width: int, height: int, told: Told) -> dict[str, Still]:
    """A frame as each of the layers of a shot shows it, by their ids."""
    return {
        key: studio.still(shot.model_copy(update={"pictured": key}), frame, width, height, told)
        for key, _ in in_order(shot.layers)
    }


class Moments:
    """The scenes of the passes of a rendering, in order: one for all where the shutter is closed."""

    def __init__(self, evaluator: Evaluator, asked: Asked) -> None:
        self._evaluator, self._asked = evaluator, asked
        self._opened = _opened(asked.shot, asked.frame)
        asset = asked.shot.environment.asset
        self._round_about = None if asset is None else evaluator.panorama(asset)
        self._last: tuple[int, Scene] | None = None
        self.names: list[str] = []
        """What the scenes so far are named by, all up to each together."""

    def scene(self, number: int) -> Scene | None:
        """That of a pass: half of them before the frame and half after it, in no order that could be seen. None for the same as before."""
        if self._last is not None and self._last[0] == number:
            return self._last[1]
        asked, opened = self._asked, self._opened
        if opened < OPENED:
            if number:
                return None
            made = self._staged(asked.frame)
        else:
            made = self._staged(asked.frame + opened * (shutter_share(number) - 0.5))
        self._last = number, made
        if number == len(self.names):
            before = self.names[-1] if self.names else _program()
            self.names.append(fingerprint(before, asdict(asked.quality), sorted(asked.fields), made.content))
        return made

    @property
    def faces(self) -> int:
        """Those of the last scene."""
        return 0 if self._last is None else sum(len(one.faces) for one in self._last[1].surfaces)

    def name(self, number: int) -> str | None:
        """What the scenes up to a pass are named by; None where there is none."""
        return self.names[number] if number < len(self.names) or self.scene(number) is not None else None

    def _staged(self, moment: float) -> Scene:
        evaluator, asked = self._evaluator, self._asked
        shot, fields = asked.shot, asked.fields
        evaluated = evaluator.frame(shot, moment, looked_at=frozenset())
        measured = (lambda item: field_values(evaluator, shot, item, moment, fields)) if fields else None
        later = evaluator.frame(shot, moment + 1, looked_at=frozenset()) if asked.quality.passes else None
        size = asked.width, asked.height
        return staged(shot, evaluated, *size, measured, later, self._round_about, asked.region)


class ArrayStore(Protocol):
    """Keeps arrays by keys beneath memory, as long as there is room."""

    def get(self, key: str) -> Mapping[str, Any] | None: ...

    def put(self, key: str, arrays: Mapping[str, Any]) -> None: ...


class KeptLayers:
    """The last renderings, by the scenes that they were made from, and by what was asked for when they were. store: keeps them
    beyond this process, but for those with all passes."""

    def __init__(self, store: ArrayStore | None = None) -> None:
        self._kept: OrderedDict[str, Layers] = OrderedDict()
        self._told: OrderedDict[str, str] = OrderedDict()
        """The rendering of what was asked, or MORE for scenes that others follow."""
        self._store = store
        self._lock = Lock()

    def of(self, asked: Asked) -> Layers | None:
        """The rendering for what is asked; None where it has to be made."""
        name = self._what(asked.name)
        return None if name is None else self._named(name, asked)

    def of_scenes(self, asked: Asked, scenes: Callable[[int], str | None]) -> Layers | None:
        """The rendering of scenes, that have a name up to each pass; None where it has to be made. As many are looked at as it has
        passes."""
        number = 0
        while (name := scenes(number)) is not None and self._what(name) == MORE:
            number += 1
        layers = None if name is None else self._named(name, asked)
        if name is not None and layers is not None:
            self._tell(asked.name, name, layers)
        return layers

    def put(self, asked: Asked, scenes: Sequence[str], layers: Layers) -> None:
        """Keep one more, and let go of the one that was not asked for longest."""
        *others, name = scenes
        for one in others:
            self._tell(one, MORE, layers)
        self._tell(asked.name, name, layers)
        if self._store is not None and self._stored(layers):
            self._store.put(name, layers.arrays())
        self._hold(name, layers)

    def _named(self, name: str, asked: Asked) -> Layers | None:
        with self._lock:
            layers = self._kept.get(name)
        if layers is None and self._store is not None:
            arrays = self._store.get(name)
            layers = None if arrays is None or "told" not in arrays else Layers.of_arrays(arrays)
        if layers is None or not asked.has(layers):
            return None
        self._hold(name, layers)
        return layers

    def _hold(self, name: str, layers: Layers) -> None:
        with self._lock:
            self._kept[name] = layers
            self._kept.move_to_end(name)
            while len(self._kept) > 1 and sum(one.bytes for one in self._kept.values()) > KEPT:
                self._kept.popitem(last=False)

    def _what(self, name: str) -> str | None:
        with self._lock:
            if name in self._told:
                return self._told[name]
        arrays = self._store.get(name) if self._store is not None else None
        return None if arrays is None or "same" not in arrays else arrays["same"].tobytes().decode()

    def _tell(self, name: str, what: str, layers: Layers) -> None:
        with self._lock:
            self._told[name] = what
            while len(self._told) > MOST_TOLD:
                self._told.popitem(last=False)
        if self._store is not None and self._stored(layers):
            self._store.put(name, {"same": np.frombuffer(what.encode(), dtype=np.uint8)})

    def _stored(self, layers: Layers) -> bool:
        return layers.position is None


def kept_still(kept: KeptLayers, asked: Asked) -> Still | None:
    """What is asked for, of what was rendered before; None where it has to be rendered."""
    found = [kept.of(one) for one in asked.needs]
    layers = [one for one in found if one is not None]
    return _finished(asked, layers) if len(layers) == len(found) else None


def _finished(asked: Asked, layers: list[Layers]) -> Still:
    region = asked.region
    joined = layers[0] if region is None else laid_in(layers[0], layers[1], region, asked.width, asked.height)
    return Still(joined, finished(joined, asked.shot, asked.frame), asked.shot, asked.frame, region)


def _program() -> str:
    return code_fingerprint("windsock.picture", () if missing() else LIBRARIES)


def _opened(shot: Shot, frame: float) -> float:
    """For how much of a frame the shutter is open."""
    camera = shot.items.get(shot.camera) if shot.camera else None
    return shot.moment(frame)(camera.shutter) / 360 if isinstance(camera, Camera) else 0.0
