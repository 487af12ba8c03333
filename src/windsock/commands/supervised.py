"""One process that is kept running: watched, started again with ever longer pauses, with another one standing by."""

from __future__ import annotations

import ctypes
import signal
import socket
import subprocess
import time
from collections.abc import Callable
from pathlib import Path

from windsock.commands.say import say
from windsock.processes.confined import without_privileges
from windsock.processes.standby import GO

PAUSES = (0.0, 0.0, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 30.0)
"""Seconds before it is started again, by how often it has stopped within CALM."""

CALM = 120.0
STARTING = 120.0
"""Seconds that a process may take to be ready."""


class SupervisedProcess:
    """A process by name. Its command waits for its turn once it has loaded everything (`windsock.processes.standby`)."""

    def __init__(
        self,
        name: str,
        command: list[str],
        log: Path,
        environment: dict[str, str],
        ready: Callable[[], bool] = lambda: True,
        spare: bool = False,
        confined: bool = False,
    ) -> None:
        """ready: whether it answers; spare: another one stands by; confined: it can gain no rights."""
        self.name = name
        self._command = command
        self._log = log
        self._environment = environment
        self._ready = ready
        self._keeps_spare = spare
        self._confined = confined
        self._process: subprocess.Popen[bytes] | None = None
        self._standing_by: subprocess.Popen[bytes] | None = None
        self._stops: list[float] = []
        self._again = 0.0

    @property
    def process(self) -> subprocess.Popen[bytes] | None:
        """The process at work."""
        return self._process

    @property
    def pid(self) -> int:
        """Of the process at work."""
        assert self._process is not None
        return self._process.pid

    def start(self) -> bool:
        """Start it and wait until it answers. False where it does not within the time it may take."""
        self.begin()
        return self.has_started()

    def begin(self) -> None:
        """Start it. The thread that does so has to stay: what it started ends with it."""
        self._take_over()

    def has_started(self) -> bool:
        """Wait until it answers. False where it does not within the time it may take."""
        deadline = time.monotonic() + STARTING
        while time.monotonic() < deadline and self.running():
            if self._ready():
                self._prepare_spare()
                return True
            time.sleep(0.02)
        return False

    def running(self) -> bool:
        """Whether it runs."""
        return self._process is not None and self._process.poll() is None

    def away(self) -> bool:
        """Whether it is stopped, or does not answer yet."""
        return not self.running() or not self._ready()

    def look(self) -> None:
        """Start it again where it has stopped and its pause is over; let another one stand by. Never waits."""
        now = time.monotonic()
        if self.running():
            self._prepare_spare()
            return
        if self._again == 0.0:
            self._stops = [moment for moment in self._stops if now - moment < CALM] + [now]
            pause = PAUSES[min(len(self._stops) - 1, len(PAUSES) - 1)]
            self._again = now + pause
            again = "at once" if pause == 0 else f"in {pause:g} s"
            say(f"The {self.name} stopped; starting it again {again}. {self._log} says why.")
        if now >= self._again:
            self._again = 0.0
            self._take_over()

    def stop(self) -> None:
        """Tell it to end, and whatever stands by."""
        for process in (self._standing_by, self._process):
            if process is not None and process.poll() is None:
                process.terminate()

    def wait(self) -> None:
        """Until it has ended; what does not is killed."""
        for process in (self._standing_by, self._process):
            if process is not None:
                try:
                    process.wait(4)
                except subprocess.TimeoutExpired:
                    process.kill()
                    process.wait()

    def _take_over(self) -> None:
        standing_by, self._standing_by = self._standing_by, None
        if standing_by is None or standing_by.poll() is not None:
            standing_by = self._spawned()
        assert standing_by.stdin is not None
        try:
            standing_by.stdin.write(f"{GO}\n".encode())
            standing_by.stdin.flush()
        except BrokenPipeError:
            pass  # it has stopped meanwhile: the next look sees that
        self._process = standing_by

    def _prepare_spare(self) -> None:
        missing = self._standing_by is None or self._standing_by.poll() is not None
        if self._keeps_spare and missing and len(self._stops) < len(PAUSES):
            self._standing_by = self._spawned()

    def _spawned(self) -> subprocess.Popen[bytes]:
        with self._log.open("ab") as out:
            return subprocess.Popen(
                self._command,
                stdin=subprocess.PIPE,
                stdout=out,
                stderr=out,
                env=self._environment,
                start_new_session=True,
                preexec_fn=self._before,
            )

    def _before(self) -> None:
        """In the child: it is told to end when the command that started it is gone, however that went."""
        ctypes.CDLL(None).prctl(1, signal.SIGTERM)
        if self._confined:
            without_privileges()


def can_connect(path: Path) -> bool:
    """Whether somebody listens on a local socket."""
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as probe:
        try:
            probe.connect(str(path))
            return True
        except OSError:
            return False
