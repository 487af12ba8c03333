"""What tests share: a running stack of their own, clients of its API, and a browser."""

from __future__ import annotations

import http.client
import json
import os
import secrets
import signal
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
from hands import Hands
from hypothesis import settings
from selenium import webdriver
from shots import sock_alone

from windsock.commands.cluster import free_port
from windsock.commands.machine import ensure_postgres
from windsock.commands.stack import Stack
from windsock.commands.supervised import SupervisedProcess
from windsock.demo.fog_over_the_light import fog_over_the_light

settings.register_profile("ours", deadline=None, derandomize=True)
settings.load_profile("ours")


@dataclass
class Answer:
    """A reply of the API."""

    status: int
    body: bytes
    headers: dict[str, str]

    @property
    def json(self) -> Any:
        return json.loads(self.body)


class Client:
    """Speaks to the API as one browser."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.browser = secrets.token_hex(8)

    def ask(self, method: str, path: str, body: object = None, **headers: str) -> Answer:
        data = body if isinstance(body, bytes) or body is None else json.dumps(body).encode()
        kind = "application/octet-stream" if isinstance(body, bytes) else "application/json"
        named = {"X-Windsock-Browser": self.browser, "Content-Type": kind} | {
            k.replace("_", "-"): v for k, v in headers.items()
        }
        request = urllib.request.Request(self.address + path, data=data, method=method, headers=named)
        try:
            with urllib.request.urlopen(request, timeout=150) as reply:
                return Answer(reply.status, reply.read(), dict(reply.headers))
        except urllib.error.HTTPError as fault:
            return Answer(fault.code, fault.read(), dict(fault.headers))
        except http.client.HTTPException as cut_off:
            raise ConnectionError(str(cut_off)) from cut_off

    def get(self, path: str, **headers: str) -> Answer:
        return self.ask("GET", path, None, **headers)

    def post(self, path: str, body: object, **headers: str) -> Answer:
        return self.ask("POST", path, body, **headers)

    def edit(
        self,
        shot: str,
        revision: int,
        path: str,
        value: object,
        op: str = "replace",
        key: str = "",
        label: str = "an edit",
    ) -> Answer:
        patch = [{"op": op, "path": path, "value": value}]
        wish = {"key": key or secrets.token_hex(8), "label": label, "patch": patch}
        return self.ask("PATCH", f"/api/shots/{shot}", wish, If_Match=f'"{revision}"')

    def new_shot(self, document: object = None) -> str:
        project = self.post("/api/projects", {"name": "Tests"}).json["id"]
        made = self.post(f"/api/projects/{project}/shots", {"document": document})
        assert made.status == 201, made.body
        return made.json["id"]


def make_reachable(folder: Path) -> None:
    """Let the database's user go through the folders that a test has of its own."""
    for one in (folder, *folder.parents):
        if one == Path(tempfile.gettempdir()):
            break
        one.chmod(0o755)


def start_stack(folder: Path, evaluators: int | None = None) -> Stack:
    """A stack on free ports with a data folder that the database's user can reach."""
    folder.chmod(0o755)
    stack = Stack(ensure_postgres(), folder, free_port(), evaluators)
    stack.start()
    return stack


VICTIMS = ("web", "evaluator", "worker", "database")


def kill(stack: Stack, name: str) -> None:
    """Kill one of the processes, or all evaluators, with -9."""
    processes = [stack.cluster.process] if name == "database" else [one.process for one in named(stack, name)]
    for process in processes:
        assert process is not None
        process.kill()
        process.wait()


@contextmanager
def standing_still(stack: Stack) -> Iterator[None]:
    """While no evaluator does anything."""
    for process in stack.evaluators:
        os.kill(process.pid, signal.SIGSTOP)
    try:
        yield
    finally:
        for process in stack.evaluators:
            os.kill(process.pid, signal.SIGCONT)


def named(stack: Stack, name: str) -> list[SupervisedProcess]:
    """The processes of a name."""
    return stack.evaluators if name == "evaluator" else [getattr(stack, name)]


def recover(stack: Stack, seconds: float = 300.0) -> None:
    """Watch until all runs and answers again. The pauses between restarts are those of the first time."""
    for process in stack.processes:
        process._stops.clear()
        process._again = min(process._again, time.monotonic())
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        stack.watch()
        if stack.cluster.process.poll() is None and not any(process.away() for process in stack.processes):
            return
        time.sleep(0.02)
    raise AssertionError("it did not come back in time")


@pytest.fixture(scope="session")
def stack() -> Iterator[Stack]:
    with tempfile.TemporaryDirectory(prefix="windsock-test-") as folder:
        made = start_stack(Path(folder))
        yield made
        made.stop()


@pytest.fixture
def client(stack: Stack) -> Client:
    return Client(stack.address)


@pytest.fixture
def client_for() -> Callable[[str], Client]:
    return Client


PIXELS = 0.4
"""Device pixels for each of the page: the layout is the same, and software drawing takes a sixth of the time."""


def chromium(width: int, height: int, pixels: float = PIXELS) -> webdriver.Chrome:
    options = webdriver.ChromeOptions()
    for argument in (
        "--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--use-gl=angle", "--use-angle=gl-egl",
        "--ignore-gpu-blocklist", "--disable-background-networking", "--disable-component-update", "--disable-sync",
        "--no-first-run", "--disable-quic", "--hide-scrollbars", f"--window-size={width},{height}",
    ):  # fmt: skip
        options.add_argument(argument)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=webdriver.ChromeService("/usr/bin/chromedriver"))
    driver.execute_cdp_cmd(
        "Emulation.setDeviceMetricsOverride",
        {"width": width, "height": height, "deviceScaleFactor": pixels, "mobile": False},
    )
    return driver


@pytest.fixture(scope="session")
def chrome() -> Iterator[webdriver.Chrome]:
    os.environ["SE_OFFLINE"] = "true"
    driver = chromium(1280, 800)
    yield driver
    driver.quit()


@pytest.fixture
def hands(chrome, stack) -> Hands:
    """Someone who comes for the first time: what the page keeps in a browser is not there from an earlier test."""
    chrome.get("about:blank")
    chrome.execute_cdp_cmd(
        "Storage.clearDataForOrigin", {"origin": stack.address, "storageTypes": "local_storage,cookies"}
    )
    chrome.get_log("browser")
    return Hands(chrome, stack.address)


@pytest.fixture
def lighthouse(client: Client) -> str:
    """A lighthouse that is only cut, with fewer faces, so that software drawing keeps up."""
    document: dict = fog_over_the_light()  # type: ignore[assignment]
    tower = document["items"]["lighthouse"]
    tower["geometry"] |= {"segments": 48, "ring_height": 0.15}
    tower["recipe"] = {"steps": {"cut": tower["recipe"]["steps"]["cut"]}}
    del document["fields"]["fraying"]
    return client.new_shot(document)


@pytest.fixture
def sock(client: Client) -> str:
    """The wind sock with fewer faces."""
    document = sock_alone()
    document["items"]["sock"]["geometry"] |= {"segments": 32, "ring_height": 0.15}
    return client.new_shot(document)
