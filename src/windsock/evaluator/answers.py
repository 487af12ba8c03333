"""What the evaluator answers to each kind of request about a shot or a file."""

from __future__ import annotations

import time
from collections.abc import Sequence
from threading import Lock

import numpy as np
from pydantic import JsonValue
from pydantic_core import to_jsonable_python

from windsock.core.document.shot import Shot
from windsock.core.evaluate.coverage import cover
from windsock.core.evaluate.frame import Evaluator, Heat
from windsock.core.evaluate.probe import probe, rest_of
from windsock.core.evaluate.standing import band_box, standing_box
from windsock.core.findings import Finding, find_all
from windsock.core.geometry.mesh import FACE_LIMIT
from windsock.core.geometry.movement import Fit, Movements, keyed_movement
from windsock.core.geometry.outlines import outlines_of
from windsock.core.refusals import TooMuch
from windsock.evaluator.assets import AssetFolder
from windsock.evaluator.bundle import Bundler
from windsock.evaluator.shots import NamedShot
from windsock.formats.importing import READERS, summary
from windsock.formats.limits import FILE_LIMIT
from windsock.picture.needs import Pace
from windsock.picture.pixels import png
from windsock.picture.quality import Quality
from windsock.picture.regions import in_pixels
from windsock.picture.renderer import Renderer
from windsock.picture.still import Asked, KeptLayers, Still, Studio, kept_still
from windsock.protocol.replies import (
    FittedKeys,
    FittedMovement,
    Formats,
    MovingThing,
    ReadableFormat,
    Reply,
    WritableFormat,
)
from windsock.protocol.requests import (
    BoundsRequest,
    CoverageRequest,
    FindingsRequest,
    FinishedRequest,
    FrameRequest,
    InspectRequest,
    MovementRequest,
    OutlinesRequest,
    PaceRequest,
    ProbeRequest,
    RestRequest,
    ShotRequest,
    WriteRequest,
)
from windsock.protocol.wire import Buffer
from windsock.writers import WRITERS, frame_writer_of
from windsock.writers.writer import FrameWriter, Shown

LONG = 20.0
"""Seconds of work on the past from which a frame becomes a job first."""

Content = Sequence[Buffer]
"""The parts of the bytes that go with a reply."""

Answer = tuple[Reply, Content]

FileRequest = InspectRequest | OutlinesRequest | MovementRequest


class Answers:
    """Answers about shots and imported files, with what is kept between them."""

    def __init__(self, assets: AssetFolder, bundler: Bundler) -> None:
        self._assets = assets
        self._bundler = bundler
        self._renderer = Renderer()
        self._rendering, self._rendered = Lock(), KeptLayers()
        self._paces: dict[str, Pace] = {}
        """How the finished pictures of each shot were rendered last."""

    def about_file(self, request: FileRequest) -> Answer:
        """What a file holds: in all, as outlines, or as movement."""
        if isinstance(request, MovementRequest):
            return _movement(request, self._assets.movements(request.asset, request.digest))
        if isinstance(request, OutlinesRequest):
            return _told(outlines_of(self._assets.drawing(request.asset), request.height))
        return _told(summary(self._assets.held(request.asset)))

    def ready(self, request: ShotRequest, named: NamedShot) -> Answer | None:
        """The reply for a frame that was bundled or rendered before: nobody waits for a turn for that."""
        if isinstance(request, FinishedRequest):
            return self._finished_anew(request, named.shot)
        if not isinstance(request, FrameRequest) or not request.base:
            return None
        content = self._bundler.ready(_bundled_as(request, named.name), set(request.held))
        return None if content is None else (Reply(), content)

    def _finished_anew(self, request: FinishedRequest, shot: Shot) -> Answer | None:
        """A frame that was rendered before, finished as it is to be now."""
        region = None if request.part is None else in_pixels(request.part, request.width, request.height)
        quality = Quality(samples=request.samples)
        asked = Asked(shot, request.frame, request.width, request.height, quality, region)
        still = kept_still(self._rendered, asked)
        if still is not None:
            return _pictured(still)
        return (Reply(data={"kept": False}), ()) if request.only_kept else None

    def about_shot(self, request: ShotRequest, named: NamedShot, evaluator: Evaluator) -> Answer:
        """What is asked about a shot."""
        shot = named.shot
        match request:
            case FrameRequest():
                return self._frame(request, named, evaluator)
            case CoverageRequest():
                strip = cover(evaluator, shot, request.field, request.item, request.step_by)
                return _told(np.stack([strip.inside, strip.band], axis=1).round(5).tolist())
            case BoundsRequest():
                if request.band is not None:
                    return _told(band_box(evaluator, shot, request.frame, request.band, request.items))
                return _told(standing_box(evaluator, shot, request.frame, request.items))
            case FindingsRequest():
                return _told([plain(finding) for finding in find_all(evaluator, shot)])
            case PaceRequest():
                pace = self._paces.get(_shot_of(request))
                return _told(None if pace is None else pace._asdict())
            case ProbeRequest():
                return _long(evaluator, shot, request.frame) or _probe(request, shot, evaluator)
            case RestRequest():
                return _long(evaluator, shot, request.frame) or _told(
                    rest_of(evaluator, shot, request.frame, request.item, request.place, request.part)
                )
            case WriteRequest():
                return _long(evaluator, shot, request.frame) or _written(request, shot, evaluator)
            case FinishedRequest():
                return _long(evaluator, shot, request.frame) or self._finished(request, shot, evaluator)
            case _:
                raise TypeError(type(request).__name__)

    def _finished(self, request: FinishedRequest, shot: Shot, evaluator: Evaluator) -> Answer:
        watch = evaluator.watch

        # One at a time: the renderer takes all cores.
        while not self._rendering.acquire(timeout=0.2):
            watch.check()
        try:
            studio = Studio(evaluator, self._renderer, Quality(samples=request.samples), self._rendered)
            started = time.perf_counter()
            still = studio.still(shot, request.frame, request.width, request.height, watch.tell, request.part)
            if request.part is None and request.samples >= Quality().samples and studio.rendered:
                seconds = (time.perf_counter() - started) / (request.width * request.height)
                self._paces[_shot_of(request)] = Pace(seconds, studio.faces)
        finally:
            self._rendering.release()
        return _pictured(still)

    def _frame(self, request: FrameRequest, named: NamedShot, evaluator: Evaluator) -> Answer:
        asked = _bundled_as(request, named.name) if request.base else ""
        started = time.perf_counter()
        ready = self.ready(request, named)  # it may have been made while its turn was waited for
        if ready is not None:
            return ready
        long = _long(evaluator, named.shot, request.frame)
        if long is not None:
            if request.patch or not request.base:
                raise TooMuch(
                    f"What this has to find first takes about {long[0].long:.0f} s. It is found once you let go. "
                    "Nothing was changed."
                )
            return long
        heat = Heat(*request.heat) if request.heat else None
        detail, looked_at = "dragged" if request.dragged else "final", request.looked_at
        looked_at = None if looked_at is None else frozenset(looked_at)
        frame = evaluator.frame(named.shot, request.frame, detail, heat, looked_at)
        seconds = time.perf_counter() - started
        return Reply(seconds=seconds), self._bundler.bundle(named.shot, frame, set(request.held), asked)


def _shot_of(request: ShotRequest) -> str:
    return request.base.split(" ")[0]


def _pictured(still: Still) -> Answer:
    return Reply(data={"kept": True}), [png(still.shown, quickly=True)]


def formats() -> Formats:
    """The files that are read and written."""
    return Formats(
        read=[ReadableFormat(ending=reader.ending, called=reader.called) for reader in READERS],
        write=[
            WritableFormat(
                name=writer.name,
                called=writer.called,
                ending=writer.ending,
                media=writer.media,
                moving=not isinstance(writer, FrameWriter),
                rendered=writer.rendered,
                seen_as=writer.seen_as,
                widest=writer.widest,
            )
            for writer in WRITERS
        ],
        most_bytes=FILE_LIMIT,
        most_faces=FACE_LIMIT,
    )


def plain(finding: Finding) -> JsonValue:
    """A finding as JSON."""
    mend: JsonValue = None
    if finding.mend is not None:
        mend = {"says": finding.mend.says, "patch": [operation.plain() for operation in finding.mend.patch]}
    return {**vars(finding), "mend": mend}


def _told(data: object) -> Answer:
    return Reply(data=to_jsonable_python(data)), ()


def _long(evaluator: Evaluator, shot: Shot, frame: float) -> Answer | None:
    """The answer where so much of the past has to be found first that it becomes a job; None where it does not."""
    long = evaluator.to_find(shot, frame)
    return (Reply(long=long), ()) if long > LONG else None


def _movement(request: MovementRequest, found: Movements) -> Answer:
    thing = found.things[min(max(request.thing, 0), len(found.things) - 1)]
    begins = request.begins
    if begins is None:
        begins = float(thing.times[0]) if thing.clock == "frames" else request.first_frame
    takes = set(thing.moves) & set(request.takes)
    fit = Fit(begins, request.unit, request.within, request.within_turn)
    keyed = keyed_movement(thing, takes, fit, request.fps)
    told = FittedMovement(
        things=[
            MovingThing(name=one.name, clock=one.clock, lasts=float(np.ptp(one.times)), moments=len(one.times))
            for one in found.things
        ],
        moves=thing.moves,
        begins=begins,
        keyed={setting: FittedKeys(value=one.value, count=one.count, off=one.off) for setting, one in keyed.items()},
    )
    return _told(told)


def _probe(request: ProbeRequest, shot: Shot, evaluator: Evaluator) -> Answer:
    found = probe(evaluator, shot, request.frame, request.field, request.item, request.place, request.part)
    return _told({**vars(found), "clauses": [vars(clause) for clause in found.clauses]})


def _written(request: WriteRequest, shot: Shot, evaluator: Evaluator) -> Answer:
    writer = frame_writer_of(request.format)
    shown = Shown(evaluator, shot, evaluator.frame(shot, request.frame))
    content = writer.written(shown, request.copies)
    return Reply(data={"ending": writer.ending, "media": writer.media}), [content]


def _bundled_as(request: FrameRequest, name: str) -> str:
    """A name for a frame of a shot as it is asked for."""
    return f"{name} {request.frame} {request.heat} {request.looked_at} {request.dragged}"
