"""The rendering process from outside: started when it is first needed, limited in memory, started again when it is gone."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Callable
from glob import glob
from importlib import invalidate_caches
from importlib.util import find_spec
from multiprocessing.connection import Connection
from typing import Any

from windsock.core.refusals import Cancelled, Refusal, TooMuch
from windsock.picture.layers import Layers
from windsock.picture.quality import Quality
from windsock.picture.scene import Scene
from windsock.processes.confined import clean_environment, without_privileges

MEGABYTES = 12 * 1024
"""Address space that a rendering may take; the compiler's arenas and what is only reserved count too."""

SLICE = 0.2
"""Seconds between two looks at whether it is still wanted."""

ENDS_SOON = 1.5
"""Seconds in which what nobody waits for any more has to end, before its process is exchanged for another."""

PACKAGES = ("mitsuba", "drjit", "pyoidn", "PyOpenColorIO", "cv2")

LIBRARIES = ("mitsuba", "drjit", "pyoidn")
"""What a rendering's bytes depend on beside the code."""

GONE = (
    "The renderer ended while it was at work; it may have run out of memory. The shot is unharmed. Try again with a smaller "
    "picture, fewer faces, or fewer copies."
)

LLVM = "/usr/lib/*/libLLVM.so.19*"


def missing() -> str:
    """What is not installed of what renders, in words; nothing where all is there."""
    invalidate_caches()  # they may have been installed since this process began
    packages = [name for name in PACKAGES if find_spec(name) is None]
    if packages:
        return f"What renders pictures is not installed yet ({', '.join(packages)})."
    if not glob(LLVM):
        return "LLVM 19 is missing. Have an administrator run: apt-get install libllvm19"
    return ""


class Renderer:
    """Renders scenes, one picture at a time."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None
        self._wishes: Connection | None = None
        self._answers: Connection | None = None
        self._ready = False

    def layers(
        self, scene: Callable[[int], Scene | None], quality: Quality, told: Callable[[str, float], None]
    ) -> Layers:
        """One picture. scene: the moment of each pass by its number, None for the same as before. told: takes words and the
        share that is done; what it raises ends the work, within a pass."""
        words = missing()
        if words:
            raise Refusal(f"{words} Nothing was rendered. All else works.")
        try:
            self._start()
            self._ask(told, 0.0, "begin", quality)
            most = quality.most_passes
            for number in range(most):
                noise = self._ask(told, number / most, "add", scene(number), most)
                if number and noise <= quality.noise:
                    break
            return self._ask(told, 1.0, "layers", quality.denoised)
        except Cancelled:
            if not self._came_to_rest():
                self._exchange()
            raise
        except BaseException:
            self._exchange()
            raise

    def _came_to_rest(self) -> bool:
        """Have what is under way end; whether it does so soon. A process that is at hand has its kernels and meshes already."""
        assert self._wishes is not None
        assert self._answers is not None
        deadline = time.monotonic() + ENDS_SOON
        try:
            self._wishes.send(("stop",))
            while self._answers.poll(max(deadline - time.monotonic(), 0)):
                if self._answers.recv() == ("stopped",):
                    return True
        except (EOFError, OSError):
            pass
        return False

    def _exchange(self) -> None:
        """What is under way cannot be called back: another process stands by for the next picture."""
        self.close()
        self._spawn()

    def close(self) -> None:
        """End the process, whatever it is doing."""
        for end in (self._wishes, self._answers):
            if end is not None:
                end.close()
        if self._process is not None:
            self._process.kill()
            self._process.wait()
        self._process = self._wishes = self._answers = None
        self._ready = False

    def __del__(self) -> None:
        self.close()

    def _ask(self, told: Callable[[str, float], None], share: float, *wish: object) -> Any:
        told("Rendering", share)
        assert self._wishes is not None
        assert self._answers is not None
        try:
            self._wishes.send(wish)
            while not self._answers.poll(SLICE):
                told("Rendering", share)
            answer, *given = self._answers.recv()
        except (EOFError, OSError):
            raise Refusal(GONE) from None
        if answer == "failed":
            if given[0] == "memory":
                raise TooMuch(
                    "This picture needs more memory than a rendering may take. The shot is unharmed. Take a smaller picture, "
                    "fewer faces or fewer copies."
                )
            raise RuntimeError(given[0])
        return given[0] if given else None

    def _start(self) -> None:
        if self._process is None or self._process.poll() is not None:
            self.close()
            self._spawn()
        if self._ready:
            return
        assert self._answers is not None
        try:
            self._answers.recv()
        except (EOFError, OSError):
            raise Refusal(
                "The renderer could not be started. The shot is unharmed. Try again; if it stays so, see whether the machine has "
                "memory left."
            ) from None
        self._ready = True

    def _spawn(self) -> None:
        """Start a process, and do not wait for it."""
        their_wishes, our_wishes = os.pipe()
        our_answers, their_answers = os.pipe()
        environment = clean_environment(DRJIT_LIBLLVM_PATH=glob(LLVM)[0])
        command = [
            sys.executable,
            "-m",
            "windsock.picture.child",
            str(their_wishes),
            str(their_answers),
            str(MEGABYTES),
        ]
        self._process = subprocess.Popen(
            command,
            env=environment,
            stdin=subprocess.DEVNULL,
            pass_fds=(their_wishes, their_answers),
            preexec_fn=without_privileges,
        )
        os.close(their_wishes)
        os.close(their_answers)
        self._wishes = Connection(our_wishes, readable=False)
        self._answers = Connection(our_answers, writable=False)
