"""The shots that are asked about, by the documents that were sent."""

from __future__ import annotations

import json
from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock

from pydantic import JsonValue

from windsock.core.document.patches import patched
from windsock.core.document.shot import Shot, parse_shot
from windsock.formats.project import assets_of
from windsock.protocol.replies import MissingDocument
from windsock.protocol.requests import ShotRequest

KEPT_SHOTS = 48


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

    def of(self, request: ShotRequest) -> NamedShot:
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
