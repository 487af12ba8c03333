"""All that runs: database, evaluator, worker and web server, started together, watched one by one, and stopped together."""

from __future__ import annotations

import json
import os
import secrets
import socket
import sys
import time
import urllib.error
import urllib.request
from functools import partial
from pathlib import Path

from windsock.commands.cluster import Cluster
from windsock.commands.say import Trouble, say
from windsock.commands.supervised import SupervisedProcess, can_connect
from windsock.demo.loading import load_demo
from windsock.jobs.queue import prepare_queue
from windsock.processes.confined import clean_environment, offline
from windsock.store.database import NewerDatabase, migrate

FIRST_PORT = 8420

MOST_EVALUATORS = 4
"""Evaluator processes that are started where nobody says how many."""


class Stack:
    """The processes of one running Wind Sock on one data folder."""

    def __init__(self, programs: Path, data: Path, port: int | None = None, evaluators: int | None = None) -> None:
        """evaluators: how many evaluator processes there are; None: as many as there are cores, up to MOST_EVALUATORS."""
        self.data = data
        self._count = evaluators or min(len(os.sched_getaffinity(0)), MOST_EVALUATORS)
        self.cluster = Cluster(programs, data)
        self.port = port or _first_free(FIRST_PORT)
        self._start = secrets.token_hex(8)
        self._away: list[str] = []
        self._told_database = 0.0

    @property
    def address(self) -> str:
        """Where to look."""
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        """Start everything; returns when the web server answers."""
        self.cluster.make()
        self.cluster.start()
        try:
            migrate(self.cluster.address)
        except NewerDatabase:
            raise Trouble(
                f"The database in {self.data} is that of a newer Wind Sock. Nothing was changed. Start it with the version "
                "that it was made with, or name another folder with --data."
            ) from None
        prepare_queue(self.cluster.address)
        load_demo(self.cluster.address)
        self._cache.mkdir(parents=True, exist_ok=True)
        self._exports.mkdir(parents=True, exist_ok=True)
        self._tell_away([])
        self._make_processes()
        say("Warming the evaluator ...")
        for process in self.evaluators:
            process.begin()
        started = [process.has_started() for process in self.evaluators]
        for process in (self.worker, self.web) if all(started) else ():
            started.append(process.start())
        if not all(started):
            missing = self.processes[started.index(False)]
            raise Trouble(f"The {missing.name} did not start. Saved work is unharmed. The logs are in {self.data}.")

    @property
    def processes(self) -> list[SupervisedProcess]:
        """All that is watched beside the database."""
        return [*self.evaluators, self.worker, self.web]

    def _make_processes(self) -> None:
        with_database = os.environ | {
            "WINDSOCK_DATABASE": self.cluster.address,
            "WINDSOCK_SOCKETS": os.pathsep.join(map(str, self._sockets)),
            "WINDSOCK_CACHE": str(self._cache),
            "WINDSOCK_EXPORTS": str(self._exports),
            "WINDSOCK_START": self._start,
        }
        python = [sys.executable, "-m"]
        cores = str(max(1, len(os.sched_getaffinity(0)) // self._count))
        self.evaluators = [
            SupervisedProcess(
                f"evaluator {place + 1}" if self._count > 1 else "evaluator",
                [*offline(), *python, "windsock.evaluator.process", str(path), str(self._cache), str(self._count)],
                path.with_suffix(".log"),
                clean_environment() | {"NUMBA_NUM_THREADS": cores},
                ready=partial(can_connect, path),
                # Where there are several, the others answer while one is started again.
                spare=self._count == 1,
                confined=True,
            )
            for place, path in enumerate(self._sockets)
        ]
        self.worker = SupervisedProcess(
            "worker",
            [*python, "windsock.jobs.worker", str(self._cache), str(self._exports)],
            self.data / "worker.log",
            with_database,
        )
        self.web = SupervisedProcess(
            "web server",
            [*python, "windsock.web.server", str(self.port)],
            self.data / "web.log",
            with_database,
            ready=self._answers,
            spare=True,
        )

    def watch(self) -> None:
        """Start again what has stopped, each by itself, and say what is away. Never raises: what runs is kept up."""
        for process in self.processes:
            process.look()
        if self.cluster.process.poll() is not None and time.monotonic() > self._told_database:
            say("The database stopped; starting it again.")
            self._tell_away([*self._away, "The database is being started again."])
            try:
                self.cluster.start()
            except Trouble as trouble:
                self._told_database = time.monotonic() + 10
                say(str(trouble))
        self._tell_away(self._what_is_away())

    def stop(self) -> None:
        """Stop all that was started, the database last."""
        started = self.processes[::-1] if hasattr(self, "web") else []
        for process in started:
            process.stop()
        for process in started:
            process.wait()
        self.cluster.stop()

    def _what_is_away(self) -> list[str]:
        """In words, what does not run just now; the web server itself cannot say so."""
        lines: list[str] = []
        if self.cluster.process.poll() is not None:
            lines.append("The database is away. Changes are kept in the page and saved when it is back.")
        if not any(process.running() for process in self.evaluators):
            lines.append(
                "The evaluator is being started again. The shot is unharmed; pictures come back by themselves."
            )
        if not self.worker.running():
            lines.append("The worker that exports is being started again. Exports go on by themselves.")
        return lines

    def _tell_away(self, away: list[str]) -> None:
        """Write what is away where the web server reads it."""
        path = self.data / "away.json"
        if away == self._away and path.exists():
            return
        self._away = away
        beside = path.with_suffix(".part")
        beside.write_text(json.dumps(away))
        beside.rename(path)

    def _answers(self) -> bool:
        """Whether the web server of this start answers, and not another one at the same address."""
        try:
            with urllib.request.urlopen(f"{self.address}/api/health", timeout=2) as reply:
                return json.load(reply).get("start") == self._start
        except (urllib.error.URLError, OSError, ValueError):
            return False

    @property
    def _sockets(self) -> list[Path]:
        return [self.data / f"evaluator-{place + 1}.socket" for place in range(self._count)]

    @property
    def _cache(self) -> Path:
        return self.data / "cache"

    @property
    def _exports(self) -> Path:
        return self.data / "exports"


def _first_free(port: int) -> int:
    for candidate in range(port, port + 200):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", candidate))
                return candidate
            except OSError:
                continue
    raise Trouble(f"No free port between {port} and {port + 200}. Nothing was started. Name one with --port.")
