"""The desk of the evaluator: answers requests, fairly by browser, and forgets wishes that newer ones replace."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from pathlib import Path
from threading import Lock

from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.frame import Evaluator, Plans
from windsock.core.evaluate.keeping import Keeper
from windsock.core.evaluate.watch import Watch
from windsock.core.refusals import Cancelled, MissingAsset, Refusal, TooMuch
from windsock.evaluator.activity import Activity
from windsock.evaluator.answers import Answer, Answers, FileRequest, formats
from windsock.evaluator.assets import AssetFolder
from windsock.evaluator.bundle import Bundler
from windsock.evaluator.disk import FolderStore
from windsock.evaluator.overseer import Overseer
from windsock.evaluator.shots import Shots
from windsock.evaluator.turns import Turns
from windsock.protocol.replies import MissingDocument, Reply
from windsock.protocol.requests import (
    ActivityRequest,
    AnyRequest,
    BlockRequest,
    CancelRequest,
    FormatsRequest,
    ShotRequest,
)

MEGABYTE = 2**20

CACHE_BYTES, BLOCK_BYTES = 1200 * MEGABYTE, 600 * MEGABYTE
"""Bytes of results, and of blocks of frames, that all evaluators together keep."""

TURN_SECONDS, AHEAD_SECONDS = 90.0, 300.0
"""Seconds after which work that somebody waits for, and work ahead, is stopped."""


class Desk:
    """Answers requests, fairly by client, and forgets wishes that newer ones replace."""

    def __init__(
        self,
        assets: Path,
        history: Path | None = None,
        cache_bytes: int = CACHE_BYTES,
        block_bytes: int = BLOCK_BYTES,
        history_bytes: int = 4096 * MEGABYTE,
    ) -> None:
        store = FolderStore(history, history_bytes) if history else None
        self._keeper = Keeper(Cache(cache_bytes), store)
        self._plans = Plans()
        self._assets = AssetFolder(assets, self._keeper.cache)
        self._bundler = Bundler(Cache(block_bytes))
        self._answers = Answers(self._assets, self._bundler)
        self._shots = Shots()
        self._turns = Turns()
        self._readers = Turns()
        self._overseer = Overseer()
        self._activity = Activity()
        self._watches: dict[tuple[str, str], list[tuple[int, Watch]]] = {}
        self._newest: OrderedDict[tuple[str, str], int] = OrderedDict()
        self._lock = Lock()

    def answer(self, request: AnyRequest, gone: Callable[[], bool] = lambda: False) -> Answer:
        """The reply and the bytes that go with it. gone: whether the one who asked has gone: then the work stops."""
        try:
            match request:
                case BlockRequest():
                    return Reply(), [self._bundler.block(request.name).data]
                case CancelRequest():
                    self._cancel(request.browser)
                    return Reply(), ()
                case ActivityRequest():
                    return Reply(data=self._activity.watch(0.8)), ()
                case FormatsRequest():
                    return Reply(data=formats().model_dump(mode="json")), ()
                case _:
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

    def _worked(self, request: ShotRequest | FileRequest, gone: Callable[[], bool]) -> Answer:
        number = self._activity.begin(request.browser, request.view)
        watch = Watch(lambda says, share: self._activity.report(number, says, share))
        view = (request.browser, request.view)
        self._enter(view, request.wish, watch)
        self._overseer.enter(watch, gone, self._turns.look_again)
        try:
            if not isinstance(request, ShotRequest):
                with self._readers.turn(request.browser, False, watch):
                    return self._answers.about_file(request)
            named = self._shots.of(request)
            ready = self._answers.ready(request, named)
            if ready is not None:
                return ready
            for asset in named.assets:
                if not self._assets.is_read(asset):
                    with self._readers.turn(request.browser, False, watch):
                        self._assets.held(asset)
            with self._turns.turn(request.browser, request.ahead, watch):
                watch.check()
                with self._overseer.limited(watch, AHEAD_SECONDS if request.ahead else TURN_SECONDS):
                    evaluator = Evaluator(self._assets, self._keeper, watch, self._plans)
                    return self._answers.about_shot(request, named, evaluator)
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
