"""All that runs: database, evaluator and web server, started together, watched, and stopped together."""

from __future__ import annotations

import ctypes
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

from windsock.commands.cluster import Cluster
from windsock.commands.say import Trouble, say
from windsock.demo.loading import load_demo
from windsock.jobs.queue import prepare_queue
from windsock.store.database import migrate

FIRST_PORT = 8420


class Stack:
    """The processes of one running Wind Sock on one data folder."""

    def __init__(self, programs: Path, data: Path, port: int | None = None) -> None:
        self.data = data
        self.cluster = Cluster(programs, data)
        self.port = port or _first_free(FIRST_PORT)
        self.evaluator: subprocess.Popen[bytes] | None = None
        self.web: subprocess.Popen[bytes] | None = None
        self.worker: subprocess.Popen[bytes] | None = None
        self._restarts: list[float] = []

    @property
    def address(self) -> str:
        """Where to look."""
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        """Start everything; returns when the web server answers."""
        self.cluster.make()
        self.cluster.start()
        migrate(self.cluster.address)
        prepare_queue(self.cluster.address)
        load_demo(self.cluster.address)
        say("Warming the evaluator ...")
        self.start_evaluator()
        self.start_worker()
        self.start_web()

    def start_evaluator(self) -> None:
        """Start the evaluator process and wait until its kernels are warm and it answers."""
        command = [sys.executable, "-m", "windsock.evaluator.process", str(self._socket), str(self._cache)]
        self._cache.mkdir(parents=True, exist_ok=True)
        self._socket.unlink(missing_ok=True)
        self.evaluator = self._spawn(command, "evaluator.log")
        deadline = time.monotonic() + 120
        while not self._socket.exists():
            if self.evaluator.poll() is not None or time.monotonic() > deadline:
                raise Trouble(
                    f"The evaluator did not start. Saved work is unharmed. See {self.data / 'evaluator.log'}."
                )
            time.sleep(0.05)

    def start_worker(self) -> None:
        """Start the process that does jobs."""
        command = [sys.executable, "-m", "windsock.jobs.worker", str(self._cache), str(self._exports)]
        self._exports.mkdir(parents=True, exist_ok=True)
        self.worker = self._spawn(command, "worker.log")

    def start_web(self) -> None:
        """Start the web server and wait until it answers."""
        command = [
            sys.executable, "-m", "gunicorn", "windsock.web.app:from_environment()", "--bind", f"127.0.0.1:{self.port}",
            "--worker-class", "gthread", "--workers", "1", "--threads", "32", "--timeout", "120", "--graceful-timeout", "2",
            "--no-control-socket",
        ]  # fmt: skip
        self.web = self._spawn(command, "web.log")
        deadline = time.monotonic() + 30
        while time.monotonic() < deadline and self.web.poll() is None:
            try:
                urllib.request.urlopen(f"{self.address}/api/health", timeout=2).close()
                return
            except (urllib.error.URLError, OSError):
                time.sleep(0.05)
        raise Trouble(f"The web server did not start. Saved work is unharmed. See {self.data / 'web.log'}.")

    def watch(self) -> None:
        """Start again what has died. Raises Trouble when something dies over and over."""
        died = [
            (name, again)
            for name, process, again in (
                ("database", self.cluster.process, self.cluster.start),
                ("evaluator", self.evaluator, self.start_evaluator),
                ("worker", self.worker, self.start_worker),
                ("web server", self.web, self.start_web),
            )
            if process is not None and process.poll() is not None
        ]
        for name, again in died:
            self._restarts = [moment for moment in self._restarts if time.monotonic() - moment < 60] + [
                time.monotonic()
            ]
            if len(self._restarts) > 10:
                raise Trouble(f"The {name} stops over and over. Saved work is unharmed. The logs are in {self.data}.")
            say(f"The {name} stopped; starting it again.")
            again()

    def stop(self) -> None:
        """Stop all that was started, the database last."""
        for process in (self.web, self.worker, self.evaluator):
            if process is not None and process.poll() is None:
                process.terminate()
        for process in (self.web, self.worker, self.evaluator):
            if process is not None:
                try:
                    process.wait(10)
                except subprocess.TimeoutExpired:
                    process.kill()
                    process.wait()
        self.cluster.stop()

    @property
    def _socket(self) -> Path:
        return self.data / "evaluator.socket"

    @property
    def _cache(self) -> Path:
        return self.data / "cache"

    @property
    def _exports(self) -> Path:
        return self.data / "exports"

    def _spawn(self, command: list[str], log: str) -> subprocess.Popen[bytes]:
        environment = os.environ | {
            "WINDSOCK_DATABASE": self.cluster.address,
            "WINDSOCK_SOCKET": str(self._socket),
            "WINDSOCK_CACHE": str(self._cache),
            "WINDSOCK_EXPORTS": str(self._exports),
        }
        out = (self.data / log).open("ab")
        return subprocess.Popen(
            command, stdout=out, stderr=out, env=environment, start_new_session=True, preexec_fn=_die_with_parent
        )


def _die_with_parent() -> None:
    """The child is told to end when the command that started it is gone, however it went."""
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)


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
