"""What the areas of the API share: the database, the evaluator, and documents as they were at a revision."""

from __future__ import annotations

from collections import OrderedDict
from pathlib import Path
from threading import Lock
from typing import cast

from flask import current_app
from pydantic import JsonValue

from windsock.core.refusals import MissingAsset
from windsock.evaluator.client import EvaluatorClient
from windsock.evaluator.work import Reply, Request
from windsock.store.database import Database
from windsock.store.editing import Missing
from windsock.store.models import Asset, ShotRow

KEPT_DOCUMENTS = 64


class Service:
    """Holds what requests need. Documents are kept by revision, so that frames need no database."""

    def __init__(self, database: Database, evaluator: EvaluatorClient, assets: Path) -> None:
        self.database = database
        self.evaluator = evaluator
        self.assets = assets
        self._documents: OrderedDict[tuple[str, int], JsonValue] = OrderedDict()
        self._lock = Lock()

    def remember(self, shot_id: str, revision: int, document: JsonValue) -> None:
        """Keep a document for the frames of its revision."""
        with self._lock:
            self._documents[shot_id, revision] = document
            while len(self._documents) > KEPT_DOCUMENTS:
                self._documents.popitem(last=False)

    def document(self, shot_id: str, revision: int) -> JsonValue:
        """The document of a shot at a revision, or the newest where that one is not kept any more. Raises Missing."""
        with self._lock:
            kept = self._documents.get((shot_id, revision))
        if kept is not None:
            return kept
        with self.database.session() as session:
            row = session.get(ShotRow, shot_id)
            if row is None:
                raise Missing("This shot is not here any more. Go home to see the shots that are.")
            self.remember(shot_id, row.revision, row.document)
            return row.document

    def ask(self, request: Request) -> tuple[Reply, bytes]:
        """Ask the evaluator; a file that it lacks is laid out for it from the database, and it is asked again."""
        for _ in range(8):
            try:
                return self.evaluator.ask(request)
            except MissingAsset as missing:
                self._lay_out(missing)
        return self.evaluator.ask(request)

    def _lay_out(self, missing: MissingAsset) -> None:
        with self.database.session() as session:
            asset = session.get(Asset, missing.asset)
            if asset is None:
                raise missing
            self.write_asset(asset.hash, asset.kind, asset.content)

    def write_asset(self, name: str, kind: str, content: bytes) -> None:
        """Put a file where the evaluator finds it, whole or not at all."""
        self.assets.mkdir(parents=True, exist_ok=True)
        beside = self.assets / f".{name}.part"
        beside.write_bytes(content)
        beside.rename(self.assets / f"{name}.{kind}")


def service() -> Service:
    """The service of the running application."""
    return cast(Service, current_app.extensions["windsock"])
