"""The worker process: takes jobs from the queue and does them, one at a time."""

from __future__ import annotations

import argparse
import logging
import os
import resource
import secrets
import threading
import time
from pathlib import Path

from sqlalchemy.exc import SQLAlchemyError

from windsock.core.document.shot import Shot, parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.keeping import Keeper
from windsock.core.evaluate.watch import Watch
from windsock.core.refusals import Cancelled, MissingAsset, Refusal
from windsock.evaluator.assets import AssetFolder
from windsock.evaluator.desk import MEGABYTE
from windsock.evaluator.disk import FolderStore
from windsock.evaluator.warming import warm_up
from windsock.formats.reader import Held
from windsock.jobs.export import export_frames, export_reel, export_rendered
from windsock.jobs.queue import Queue, worker_app
from windsock.picture.still import KeptLayers
from windsock.processes.standby import wait_for_turn
from windsock.store import jobs, keeping
from windsock.store.database import Database
from windsock.store.models import Asset, Job
from windsock.writers import writer_of
from windsock.writers.finished import RenderedReel
from windsock.writers.writer import ReelWriter

log = logging.getLogger("windsock.jobs")

HEARTBEAT = 1.0
UNFORESEEN = (
    "Something went wrong here that was not foreseen; the worker's log has it. The shot is unharmed. Change the last thing "
    "that you changed, then resume, or delete the job."
)
RENDERINGS = 3072 * MEGABYTE
"""Bytes of renderings that are kept, so that a film with another finishing need not be rendered again."""

MEMORY_LIMIT = 8 * 1024 * MEGABYTE


def main() -> None:
    """`python -m windsock.jobs.worker CACHE EXPORTS`; the database's address is in WINDSOCK_DATABASE."""
    arguments = argparse.ArgumentParser()
    arguments.add_argument("cache", type=Path)
    arguments.add_argument("exports", type=Path)
    given = arguments.parse_args()
    logging.basicConfig(level=logging.WARNING, format="worker: %(message)s")
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_LIMIT, MEMORY_LIMIT))
    os.nice(5)
    warm_up()
    wait_for_turn()
    address = os.environ["WINDSOCK_DATABASE"]
    worker = Worker(Database(address), given.cache, given.exports)
    threading.Thread(target=sweep, args=(Database(address), Queue(address)), daemon=True).start()
    while True:
        try:
            worker_app(address, worker.do).run_worker(
                concurrency=1, delete_jobs="always", fetch_job_polling_interval=1.0, stalled_worker_timeout=20.0
            )
            return
        except Exception:  # the database may be away for a while: the worker waits for it
            log.exception("the queue")
            time.sleep(1)


def sweep(database: Database, queue: Queue) -> None:
    """Put back into the queue, again and again, what should be under way and is not; clear what was deleted long ago."""
    clearing = 0.0
    while True:
        try:
            with database.session() as session:
                left = jobs.left_behind(session)
            if left:
                queue.defer(*left)
            if time.monotonic() > clearing:
                clearing = time.monotonic() + 3600
                with database.session() as session:
                    keeping.clear(session)
        except Exception as fault:  # noqa: BLE001 - it tries again in a moment
            log.warning("sweep: %s", type(fault).__name__)
        time.sleep(2)


class Worker:
    """Does jobs. Histories are shared with the evaluator through the cache folder."""

    def __init__(self, database: Database, cache: Path, exports: Path) -> None:
        self._database = database
        self._exports = exports
        self._name = secrets.token_hex(8)
        self._keeper = Keeper(Cache(600 * MEGABYTE), FolderStore(cache / "history", 4096 * MEGABYTE))
        self._rendered = KeptLayers(FolderStore(cache / "renderings", RENDERINGS))
        self._assets = StoredAssets(cache / "assets", self._keeper.cache, database)

    def do(self, job_id: str) -> None:
        """Do a job, if it is still to be done and nobody else is at it."""
        with self._database.session() as session:
            job = jobs.claim(session, job_id, self._name)
            if job is None:
                return
            document = job.document
        beat = Heartbeat(self._database, job_id, self._name)
        beat.start()
        try:
            state, says, file = self._worked(job, parse_shot(document), beat)
        except Cancelled:
            if beat.lost:
                return
            state, says, file = "cancelled", "Cancelled. Frames that are done are kept; resume goes on from there.", ""
        except Refusal as refusal:
            state, says, file = "failed", str(refusal), ""
        except MemoryError:
            self._keeper.clear()
            state, says, file = "failed", "This needs more memory than a job may use. Take fewer faces.", ""
        except OSError as fault:
            log.exception("job %s", job_id)
            state, says, file = "failed", f"A file could not be written: {fault.strerror}. Make room, then resume.", ""
        except SQLAlchemyError:
            # The database is away: the job stands as it is, and is taken up again.
            log.exception("job %s", job_id)
            return
        except Exception:
            log.exception("job %s", job_id)
            state, says, file = "failed", UNFORESEEN, ""
        finally:
            beat.stop()
        size = (self._exports / file).stat().st_size if file else 0
        with self._database.session() as session:
            jobs.finish(session, job_id, self._name, state, says, file, size)

    def _worked(self, job: Job, shot: Shot, beat: Heartbeat) -> tuple[str, str, str]:
        evaluator = Evaluator(self._assets, self._keeper, beat.watch)
        if job.kind == "prepare":
            evaluator.frame(shot, shot.frames.last)
            return "done", "Ready. The picture comes by itself.", ""
        settings = job.settings
        frames = list(range(settings["first"], settings["last"] + 1, settings["step"]))
        copies = settings.get("copies", "meshes")
        folder, writer = self._exports / job.id, writer_of(settings["format"])
        if isinstance(writer, ReelWriter):
            packed = export_reel(shot, evaluator, frames, writer, folder, beat.progress, copies)
            return "done", f"{len(frames)} frames in one file", str(packed.relative_to(self._exports))
        if settings.get("numbers"):
            writer = writer.with_numbers()
        if writer.rendered:
            shot = shot.smaller(settings.get("part", 1))
        if isinstance(writer, RenderedReel):
            packed = export_rendered(shot, evaluator, frames, writer, folder, beat.progress, self._rendered)
            return "done", f"{len(frames)} frames in one file", str(packed.relative_to(self._exports))
        packed = export_frames(shot, evaluator, frames, writer, folder, beat.progress, copies, self._rendered)
        return "done", f"{len(frames)} frames", str(packed.relative_to(self._exports))


class StoredAssets(AssetFolder):
    """Imported files; those that are not in the folder are laid out from the database."""

    def __init__(self, folder: Path, cache: Cache, database: Database) -> None:
        super().__init__(folder, cache)
        self._database = database

    def held(self, asset: str) -> Held:
        """See `AssetFolder`."""
        try:
            return super().held(asset)
        except MissingAsset:
            with self._database.session() as session:
                row = session.get(Asset, asset)
                if row is None:
                    raise
                self.lay_out(row.hash, row.kind, row.content)
            return super().held(asset)


class Heartbeat:
    """Says every second that a job is under way; cancels its work when it should stop."""

    def __init__(self, database: Database, job_id: str, worker: str) -> None:
        self.watch = Watch(self._progress)
        self.lost = False
        self._database = database
        self._job, self._worker = job_id, worker
        self._done, self._says = 0, ""
        self._detail = ""
        self._ended = threading.Event()
        self._thread = threading.Thread(target=self._beat, daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._ended.set()
        self._thread.join()

    def progress(self, done: int, says: str) -> None:
        """How many frames are done. Raises Cancelled when the work is to stop."""
        self._done, self._says, self._detail = done, says, ""
        self.watch.check()

    def _progress(self, says: str, share: float) -> None:
        self._detail = f"{says}, {share:.0%}"

    def _beat(self) -> None:
        while True:
            try:
                with self._database.session() as session:
                    says = (
                        f"{self._says}. {self._detail}" if self._detail and self._says else self._detail or self._says
                    )
                    if not jobs.tell(session, self._job, self._worker, self._done, says):
                        row = session.get(Job, self._job)
                        self.lost = row is None or row.worker != self._worker
                        self.watch.cancel()
                        return
            except SQLAlchemyError:
                log.warning("heartbeat: the database is away")
            if self._ended.wait(HEARTBEAT):
                return


if __name__ == "__main__":
    main()
