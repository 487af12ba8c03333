"""What the evaluator process can be asked, as functions of a request to a reply."""

from __future__ import annotations

import json
import time
from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from threading import Lock

import numpy as np
from pydantic import BaseModel, JsonValue

from windsock.core.document.patches import Operation, patched
from windsock.core.document.shot import Shot, parse_shot
from windsock.core.evaluate.bounds import estimate
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.coverage import cover
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.expanding import expanded
from windsock.core.evaluate.frame import Evaluator, Frame, Heat, Plans
from windsock.core.evaluate.keeping import Keeper
from windsock.core.evaluate.measured import PosedMesh
from windsock.core.evaluate.probe import probe
from windsock.core.evaluate.standing import standing_box
from windsock.core.evaluate.watch import Watch
from windsock.core.fields.source import Values
from windsock.core.findings import Finding, find_all
from windsock.core.geometry.drawing import Drawing, Stroke, line_points
from windsock.core.refusals import Cancelled, MissingAsset, Refusal, TooMuch
from windsock.evaluator.activity import Activity
from windsock.evaluator.assets import AssetFolder
from windsock.evaluator.bundle import Bundler
from windsock.evaluator.disk import FolderStore
from windsock.evaluator.overseer import Overseer
from windsock.evaluator.turns import Turns
from windsock.evaluator.wire import Buffer
from windsock.formats.glb_out import write_glb
from windsock.formats.importing import summary
from windsock.formats.obj import write_obj
from windsock.formats.ply import write_ply
from windsock.formats.project import assets_of

MEGABYTE = 2**20
KEPT_SHOTS = 48
LONG = 20.0
"""Seconds of work on the past from which a frame becomes a job first."""

TURN_SECONDS, AHEAD_SECONDS = 90.0, 300.0
"""Seconds after which work that somebody waits for, and work ahead, is stopped."""


Content = Sequence[Buffer]
"""The parts of the bytes that go with a reply."""


class Request(BaseModel):
    """A question to the evaluator. `view` and `wish`: a newer wish of the same view cancels the older.

    `base` names a document that the evaluator may have from before, so that it need not be sent again; `patch` goes on
    top. `ahead`: nobody waits for this; it yields to what is waited for.
    """

    kind: str
    base: str = ""
    document: JsonValue = None
    patch: list[Operation] = []
    frame: float = 0.0
    detail: str = "final"
    heat: tuple[str, str] | None = None
    held: list[str] = []
    browser: str = ""
    view: str = ""
    wish: int = 0
    ahead: bool = False
    field: str = ""
    item: str = ""
    items: list[str] = []
    place: tuple[float, float, float] = (0.0, 0.0, 0.0)
    step_by: int = 1
    name: str = ""
    asset: str = ""
    copies: str = "kept"
    part: str = "body"


class Reply(BaseModel):
    """An answer: JSON data, or bytes that follow it; otherwise a refusal in people's words."""

    data: JsonValue = None
    refused: str = ""
    too_much: bool = False
    missing_asset: str = ""
    missing_document: bool = False
    cancelled: bool = False
    long: float = 0.0
    seconds: float = 0.0


class LongWork(Exception):
    """What is asked for takes so long that it becomes a job. seconds: about how long."""

    def __init__(self, seconds: float) -> None:
        super().__init__(f"about {seconds:.0f} s")
        self.seconds = seconds


class MissingDocument(Exception):
    """The document that a request names has to be sent again."""


@dataclass(frozen=True)
class NamedShot:
    """A shot, the name of its document and patch, and the imported files that it uses."""

    name: str
    shot: Shot
    assets: frozenset[str]


class Shots:
    """Documents by the name that they were sent under, and the shots that were read from them and their patches."""

    def __init__(self) -> None:
        self._documents: OrderedDict[str, JsonValue] = OrderedDict()
        self._shots: OrderedDict[str, NamedShot] = OrderedDict()
        self._lock = Lock()

    def of(self, request: Request) -> NamedShot:
        """The shot that a request is about. Raises MissingDocument, BadDocument, BadPatch."""
        name = f"{request.base} {json.dumps([operation.plain() for operation in request.patch])}"
        with self._lock:
            if request.document is not None:
                self._documents[request.base] = request.document
                _trim(self._documents)
            shot = self._shots.get(name) if request.base else None
            document = self._documents.get(request.base) if request.base else request.document
        if shot is None:
            if document is None:
                raise MissingDocument
            document = patched(document, request.patch) if request.patch else document
            shot = NamedShot(name, parse_shot(document), frozenset(assets_of(document)))
        with self._lock:
            self._shots[name] = shot
            self._shots.move_to_end(name)
            _trim(self._shots)
        return shot


def _trim(kept: OrderedDict[str, JsonValue] | OrderedDict[str, NamedShot]) -> None:
    while len(kept) > KEPT_SHOTS:
        kept.popitem(last=False)


class Desk:
    """Answers requests, fairly by client, and forgets wishes that newer ones replace."""

    def __init__(
        self,
        assets: Path,
        history: Path | None = None,
        cache_bytes: int = 1200 * MEGABYTE,
        block_bytes: int = 600 * MEGABYTE,
        history_bytes: int = 4096 * MEGABYTE,
    ) -> None:
        store = FolderStore(history, history_bytes) if history else None
        self._keeper = Keeper(Cache(cache_bytes), store)
        self._plans = Plans()
        self._assets = AssetFolder(assets, self._keeper.cache)
        self._bundler = Bundler(Cache(block_bytes))
        self._shots = Shots()
        self._turns = Turns()
        self._readers = Turns()
        self._overseer = Overseer()
        self._activity = Activity()
        self._watches: dict[tuple[str, str], list[tuple[int, Watch]]] = {}
        self._newest: OrderedDict[tuple[str, str], int] = OrderedDict()
        self._lock = Lock()

    def answer(self, request: Request, gone: Callable[[], bool] = lambda: False) -> tuple[Reply, Content]:
        """The reply and the bytes that go with it. gone: whether the one who asked has gone: then the work stops."""
        try:
            if request.kind == "block":
                return Reply(), [self._bundler.block(request.name).data]
            if request.kind == "cancel":
                self._cancel(request.browser)
                return Reply(), ()
            if request.kind == "activity":
                return Reply(data=self._activity.watch(0.8)), ()
            return self._worked(request, gone)
        except Cancelled:
            return Reply(cancelled=True), ()
        except MissingDocument:
            return Reply(missing_document=True), ()
        except MissingAsset as refusal:
            return Reply(refused=str(refusal), missing_asset=refusal.asset), ()
        except Refusal as refusal:
            return Reply(refused=str(refusal), too_much=isinstance(refusal, TooMuch)), ()
        except KeyError:
            return Reply(refused="This block is no longer kept. Ask for the frame again."), ()
        except MemoryError:
            self._keeper.clear()
            return Reply(
                refused="This needs more memory than the evaluator may use. The shot is unharmed. Take fewer faces.",
                too_much=True,
            ), ()

    def _worked(self, request: Request, gone: Callable[[], bool]) -> tuple[Reply, Content]:
        number = self._activity.begin(request.browser, request.view)
        watch = Watch(lambda says, share: self._activity.report(number, says, share))
        view = (request.browser, request.view)
        self._enter(view, request.wish, watch)
        self._overseer.enter(watch, gone, self._turns.look_again)
        try:
            if request.asset:
                with self._readers.turn(request.browser, False, watch):
                    return self._about_file(request), ()
            named = self._shots.of(request)
            ready = self._ready(request, named.name)
            if ready is not None:
                return Reply(), ready
            for asset in named.assets:
                if not self._assets.is_read(asset):
                    with self._readers.turn(request.browser, False, watch):
                        self._assets.held(asset)
            with self._turns.turn(request.browser, request.ahead, watch):
                watch.check()
                with self._overseer.limited(watch, AHEAD_SECONDS if request.ahead else TURN_SECONDS):
                    return self._heavy(request, named, watch)
        finally:
            self._overseer.leave(watch)
            self._activity.end(number)
            with self._lock:
                self._watches[view] = [one for one in self._watches.get(view, []) if one[1] is not watch]
                if not self._watches[view]:
                    del self._watches[view]

    def _enter(self, view: tuple[str, str], wish: int, watch: Watch) -> None:
        """Older wishes of a view are cancelled by a newer one, also one that comes after it."""
        with self._lock:
            if view[1]:
                newest = max(wish, self._newest.get(view, 0))
                self._newest[view] = newest
                self._newest.move_to_end(view)
                while len(self._newest) > 1000:
                    self._newest.popitem(last=False)
                for older, under_way in [*self._watches.get(view, []), (wish, watch)]:
                    if older < newest:
                        under_way.cancel()
            self._watches.setdefault(view, []).append((wish, watch))
        self._turns.look_again()

    def _cancel(self, browser: str) -> None:
        with self._lock:
            for (owner, _), under_way in self._watches.items():
                if owner == browser:
                    for _, watch in under_way:
                        watch.cancel()
        self._turns.look_again()

    def _ready(self, request: Request, name: str) -> Content | None:
        """The reply for a frame that was bundled before: nobody waits for a turn for that."""
        if request.kind != "frame" or not request.base:
            return None
        return self._bundler.ready(_asked(request, name), set(request.held))

    def _about_file(self, request: Request) -> Reply:
        if request.kind == "lines":
            return Reply(data=lines_of(self._assets.drawing(request.asset), request.frame))
        return Reply(data=summary(self._assets.held(request.asset)))  # pyright: ignore[reportArgumentType]

    def _heavy(self, request: Request, named: NamedShot, watch: Watch) -> tuple[Reply, Content]:
        name, shot = named.name, named.shot
        evaluator = Evaluator(self._assets, self._keeper, watch, self._plans)
        if request.kind == "frame":
            return self._frame(request, name, shot, evaluator)
        if request.kind in ("probe", *WRITERS):
            long = evaluator.to_find(shot, request.frame)
            if long > LONG:
                return Reply(long=long), ()
        if request.kind == "coverage":
            strip = cover(evaluator, shot, request.field, request.item, request.step_by)
            return Reply(data=np.stack([strip.inside, strip.band], axis=1).round(5).tolist()), ()
        if request.kind == "bounds":
            return Reply(data=standing_box(evaluator, shot, request.frame, request.items)), ()
        if request.kind == "findings":
            return Reply(data=[plain(finding) for finding in find_all(evaluator, shot)]), ()
        if request.kind == "probe":
            found = probe(evaluator, shot, request.frame, request.field, request.item, request.place, request.part)
            clauses: JsonValue = [vars(clause) for clause in found.clauses]
            return Reply(data={**vars(found), "clauses": clauses}), ()
        if request.kind == "estimate":
            return Reply(data=vars(estimate(shot, self._assets))), ()
        if request.kind in WRITERS:
            frame = evaluator.frame(shot, request.frame)
            return Reply(), [written(request.kind, request.copies, evaluator, shot, frame)]
        raise Refusal(f"The evaluator does not know “{request.kind}”.")

    def _frame(self, request: Request, name: str, shot: Shot, evaluator: Evaluator) -> tuple[Reply, Content]:
        heat = Heat(*request.heat) if request.heat else None
        asked = _asked(request, name) if request.base else ""
        held = set(request.held)
        started = time.perf_counter()
        ready = self._ready(request, name)  # it may have been made while its turn was waited for
        if ready is not None:
            return Reply(), ready
        long = evaluator.to_find(shot, request.frame)
        if long > LONG:
            if request.patch or not request.base:
                raise TooMuch(
                    f"What this has to find first takes about {long:.0f} s. It is found once you let go. "
                    "Nothing was changed."
                )
            return Reply(long=long), ()
        frame = evaluator.frame(shot, request.frame, heat=heat)
        seconds = time.perf_counter() - started
        return Reply(seconds=seconds), self._bundler.bundle(shot, frame, held, asked)


def _asked(request: Request, name: str) -> str:
    """A name for a frame of a shot as it is asked for."""
    return f"{name} {request.frame} {request.heat}"


MOST_LINES, MOST_LINE_POINTS = 24, 400
"""Outlines of a drawing that become paths, and the points of one."""


def lines_of(drawing: Drawing, height: float) -> JsonValue:
    """The longest outlines of a drawing, `height` metres high in all, as JSON."""
    ordered = sorted(drawing.strokes, key=lambda stroke: -float(np.ptp(stroke.curves.reshape(-1, 2), axis=0).max()))
    fitting = [stroke for stroke in ordered if len(stroke.curves) < MOST_LINE_POINTS][:MOST_LINES]
    places = np.concatenate([stroke.curves.reshape(-1, 2) for stroke in drawing.strokes])
    low, high = places.min(axis=0), places.max(axis=0)
    factor = height / max(float(high[1] - low[1]), 1e-9)
    lines: list[JsonValue] = []
    for stroke in fitting:
        moved = Stroke((stroke.curves - (low + high) / 2) * factor, stroke.closed)
        points: JsonValue = json.loads(json.dumps([vars(point) for point in line_points(moved)]))
        lines.append({"closed": stroke.closed, "points": points})
    return {"lines": lines, "left_out": len(drawing.strokes) - len(fitting)}


def plain(finding: Finding) -> JsonValue:
    """A finding as JSON."""
    mend: JsonValue = None
    if finding.mend is not None:
        mend = {"says": finding.mend.says, "patch": [operation.plain() for operation in finding.mend.patch]}
    return {**vars(finding), "mend": mend}


def field_values(evaluator: Evaluator, shot: Shot, item: DrawItem, frame: float) -> dict[str, Values]:
    """The values of every field of the shot at the points of what is drawn, as `field_A` and so on, as the recipe has them:
    in its own time, with the placement of that time.

    At what were copies before they became plain meshes, each has its value where its points are.
    """
    scene = evaluator.scene(shot, frame).of_recipe(item.item)
    return {
        f"field_{field.letter}": evaluator.field_on(
            scene, field_id, PosedMesh(item.body.mesh, item.key, scene.placement(item.item), item.subject)
        )
        for field_id, field in shot.fields.items()
    }


def ply_with_fields(evaluator: Evaluator, shot: Shot, frame: Frame) -> bytes:
    """A frame as PLY with a point property `field_A` for every field of the shot."""
    measured = [field_values(evaluator, shot, item, frame.moment.frame) for item in frame.draw]
    names = [f"field_{field.letter}" for field in shot.fields.values()]
    return write_ply(frame, {name: [one[name] for one in measured] for name in names})


def written(kind: str, copies: str, evaluator: Evaluator, shot: Shot, frame: Frame) -> bytes:
    """A frame as the bytes of a file. copies: "kept" where the format knows copies, else they become plain meshes."""
    return WRITERS[kind](evaluator, shot, frame if kind == "glb" and copies == "kept" else expanded(frame))


WRITERS: dict[str, Callable[[Evaluator, Shot, Frame], bytes]] = {
    "glb": lambda evaluator, shot, frame: write_glb(shot, frame),
    "ply": ply_with_fields,
    "obj": lambda evaluator, shot, frame: write_obj(frame),
}
"""The formats that a frame can be written in, each from an evaluator, a shot and its frame."""
