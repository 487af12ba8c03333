"""What the evaluator process can be asked, as functions of a request to a reply."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from threading import Lock

import numpy as np
from pydantic import BaseModel, JsonValue

from windsock.core.document.shot import Shot, parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.coverage import cover
from windsock.core.evaluate.frame import Evaluator, Frame, Heat, SceneAt
from windsock.core.evaluate.probe import probe
from windsock.core.geometry.mesh import Mesh
from windsock.core.refusals import Cancelled, MissingAsset, Refusal
from windsock.evaluator.bundle import Bundler
from windsock.formats.glb import write_glb
from windsock.formats.importing import read_mesh, summary
from windsock.formats.ply import write_ply

MEGABYTE = 2**20


class Request(BaseModel):
    """A question to the evaluator. `view` and `wish`: a newer wish of the same view cancels the older."""

    kind: str
    document: JsonValue = None
    frame: float = 0.0
    detail: str = "final"
    heat: tuple[str, str] | None = None
    held: list[str] = []
    view: str = ""
    wish: int = 0
    field: str = ""
    item: str = ""
    place: tuple[float, float, float] = (0.0, 0.0, 0.0)
    step_by: int = 1
    name: str = ""
    asset: str = ""


class Reply(BaseModel):
    """An answer: JSON data, or bytes that follow it; otherwise a refusal in people's words."""

    data: JsonValue = None
    refused: str = ""
    missing_asset: str = ""
    cancelled: bool = False
    bytes_follow: bool = False


class AssetFolder:
    """Imported files by content hash, as the web process lays them out; parsed ones are kept in the cache."""

    def __init__(self, folder: Path, cache: Cache) -> None:
        self.folder = folder
        self._cache = cache

    def mesh(self, asset: str) -> Mesh:
        """The mesh of an imported file. Raises MissingAsset."""
        mesh, _ = self._cache.get_or_make(f"asset {asset}", lambda: self._read(asset))
        return mesh

    def _read(self, asset: str) -> Mesh:
        for path in self.folder.glob(f"{asset}.*"):
            return read_mesh(path.read_bytes(), path.suffix[1:])
        raise MissingAsset(asset)


class Desk:
    """Answers requests, one heavy one at a time, and forgets wishes that newer ones replace."""

    def __init__(self, assets: Path, cache_bytes: int = 1200 * MEGABYTE, block_bytes: int = 600 * MEGABYTE) -> None:
        self._results = Cache(cache_bytes)
        self._assets = AssetFolder(assets, self._results)
        self._bundler = Bundler(Cache(block_bytes))
        self._wishes: dict[str, int] = {}
        self._busy = Lock()

    def answer(self, request: Request) -> tuple[Reply, bytes]:
        """The reply and the bytes that go with it."""
        if request.view:
            self._wishes[request.view] = max(request.wish, self._wishes.get(request.view, 0))
        try:
            if request.kind == "blocks":
                return Reply(bytes_follow=True), self._bundler.block(request.name)
            with self._busy:
                self._check(request)()
                return self._heavy(request)
        except Cancelled:
            return Reply(cancelled=True), b""
        except MissingAsset as refusal:
            return Reply(refused=str(refusal), missing_asset=refusal.asset), b""
        except Refusal as refusal:
            return Reply(refused=str(refusal)), b""
        except KeyError:
            return Reply(refused="This block is no longer kept. Ask for the frame again."), b""
        except MemoryError:
            self._results.clear()
            return Reply(
                refused="This needs more memory than the evaluator may use. The shot is unharmed. Take fewer faces."
            ), b""

    def _heavy(self, request: Request) -> tuple[Reply, bytes]:
        if request.kind == "inspect":
            return Reply(data=summary(self._assets.mesh(request.asset))), b""  # pyright: ignore[reportArgumentType]
        shot = parse_shot(request.document)
        evaluator = Evaluator(self._assets.mesh, self._results, self._check(request))
        if request.kind == "frame":
            heat = Heat(*request.heat) if request.heat else None
            frame = evaluator.frame(shot, request.frame, heat=heat)
            return Reply(bytes_follow=True), self._bundler.bundle(shot, frame, set(request.held))
        if request.kind == "coverage":
            strip = cover(evaluator, shot, request.field, request.item, request.step_by)
            return Reply(data=[[round(c.inside, 5), round(c.band, 5)] for c in strip]), b""
        if request.kind == "probe":
            found = probe(shot, request.frame, request.field, request.item, request.place)
            clauses: JsonValue = [vars(clause) for clause in found.clauses]
            return Reply(data={**vars(found), "clauses": clauses}), b""
        if request.kind in ("glb", "ply"):
            frame = evaluator.frame(shot, request.frame)
            written = write_glb(shot, frame) if request.kind == "glb" else ply_with_fields(evaluator, shot, frame)
            return Reply(bytes_follow=True), written
        raise Refusal(f"The evaluator does not know “{request.kind}”.")

    def _check(self, request: Request) -> Callable[[], None]:
        def check() -> None:
            if request.view and self._wishes.get(request.view, 0) > request.wish:
                raise Cancelled

        return check


def ply_with_fields(evaluator: Evaluator, shot: Shot, frame: Frame) -> bytes:
    """A frame as PLY with a point property `field_A` for every field of the shot."""
    scene = SceneAt(shot, frame.moment.frame)
    fields: dict[str, list[np.ndarray]] = {
        f"field_{told.letter}": [
            evaluator.field_on(scene, field_id, item.body.mesh, item.key, item.matrix) for item in frame.draw
        ]
        for field_id, told in shot.fields.items()
    }
    return write_ply(frame, fields)
