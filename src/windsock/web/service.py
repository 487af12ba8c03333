"""What the areas of the API share: the database, the evaluator, and documents as they were at a revision."""

from __future__ import annotations

from collections import OrderedDict
from pathlib import Path
from threading import Lock
from typing import TYPE_CHECKING, cast

from flask import current_app, has_request_context
from flask import request as http_request
from pydantic import JsonValue

from windsock.core.changing import Bounds
from windsock.core.refusals import MissingAsset
from windsock.jobs.queue import Queue
from windsock.protocol.evaluators import Evaluators
from windsock.protocol.files import LaidOutFiles
from windsock.protocol.replies import Formats, MissingDocument, Reply
from windsock.protocol.requests import AnyRequest, AnyShotRequest, BoundsRequest, FormatsRequest
from windsock.store.database import Database
from windsock.store.editing import document_at
from windsock.store.models import Asset
from windsock.web.happenings import Happenings

if TYPE_CHECKING:
    from _typeshed.wsgi import WSGIEnvironment

KEPT_DOCUMENTS = 64


class Service:
    """Holds what requests need. Documents are kept by revision, so that frames need no database."""

    def __init__(self, database: Database, evaluators: Evaluators, queue: Queue, cache: Path, exports: Path) -> None:
        self.database = database
        self.evaluators = evaluators
        self.assets = LaidOutFiles(cache / "assets")
        self.queue = queue
        self.exports = exports
        self.happenings = Happenings(database, evaluators, cache.parent / "away.json")
        self._formats: Formats | None = None
        self._documents: OrderedDict[tuple[str, int], JsonValue] = OrderedDict()
        self._lock = Lock()

    def remember(self, shot_id: str, revision: int, document: JsonValue) -> None:
        """Keep a document for the frames of its revision."""
        with self._lock:
            self._documents[shot_id, revision] = document
            while len(self._documents) > KEPT_DOCUMENTS:
                self._documents.popitem(last=False)

    def document(self, shot_id: str, revision: int) -> tuple[int, JsonValue]:
        """The document of a shot at a revision, or the newest where that one never was; and its revision. Raises Missing."""
        with self._lock:
            kept = self._documents.get((shot_id, revision))
        if kept is not None:
            return revision, kept
        with self.database.session() as session:
            found, document = document_at(session, shot_id, revision)
        self.remember(shot_id, found, document)
        return found, document

    def ask_about(self, shot_id: str, revision: int, request: AnyShotRequest) -> tuple[Reply, bytes]:
        """Ask the evaluator about a shot; the document is only sent where the evaluator does not have it yet."""
        found, document = self.document(shot_id, revision)
        request = request.model_copy(update={"base": f"{shot_id} {found}"})
        try:
            return self.ask(request)
        except MissingDocument:
            return self.ask(request.model_copy(update={"document": document}))

    def bounds(self, shot_id: str, revision: int, request: BoundsRequest) -> Bounds:
        """The box about items of a shot."""
        reply, _ = self.ask_about(shot_id, revision, request)
        return Bounds(**reply.data)  # pyright: ignore

    def formats(self) -> Formats:
        """The files that are read and written; asked once."""
        if self._formats is None:
            reply, _ = self.ask(FormatsRequest())
            self._formats = Formats.model_validate(reply.data)
        return self._formats

    def ask(self, request: AnyRequest) -> tuple[Reply, bytes]:
        """Ask the evaluator; a file that it lacks is laid out for it from the database, and it is asked again."""
        gone = request_environment().get("waitress.client_disconnected")
        for _ in range(8):
            try:
                return self.evaluators.ask(request, gone)
            except MissingAsset as missing:
                self._lay_out(missing)
        return self.evaluators.ask(request, gone)

    def _lay_out(self, missing: MissingAsset) -> None:
        with self.database.session() as session:
            asset = session.get(Asset, missing.asset)
            if asset is None:
                raise missing
            self.assets.lay_out(asset.hash, asset.kind, asset.content)


def service() -> Service:
    """The service of the running application."""
    return cast(Service, current_app.extensions["windsock"])


def request_environment() -> WSGIEnvironment:
    """What the server says of the request that is being answered; nothing outside of one."""
    return http_request.environ if has_request_context() else {}
