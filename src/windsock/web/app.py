"""The web application."""

from __future__ import annotations

import os
from pathlib import Path

from apiflask import APIFlask

from windsock.jobs.queue import Queue
from windsock.protocol.evaluators import Evaluators
from windsock.store.database import Database
from windsock.web import guard, problems
from windsock.web.assets import assets
from windsock.web.changes import changes
from windsock.web.events import events
from windsock.web.findings import findings
from windsock.web.frames import frames
from windsock.web.framing import framing
from windsock.web.jobs import jobs
from windsock.web.looks import looks
from windsock.web.movement import movement
from windsock.web.openapi import tidied
from windsock.web.pages import pages
from windsock.web.pictures import pictures
from windsock.web.projects import projects
from windsock.web.service import Service
from windsock.web.shots import shots
from windsock.web.starters import starters


def create_app(database: str, sockets: list[Path], cache: Path, exports: Path) -> APIFlask:
    """The application on a database address, the evaluators' sockets, the cache folder and that of exports."""
    app = APIFlask(__name__, title="Wind Sock", version="1", spec_path="/api/openapi.json", docs_path=None)
    app.config["OPENAPI_VERSION"] = "3.1.0"
    app.config["AUTO_404_RESPONSE"] = False
    app.spec_processor(tidied)
    app.extensions["windsock"] = Service(Database(database), Evaluators(sockets), Queue(database), cache, exports)
    guard.register(app)
    problems.register(app)
    for blueprint in (
        projects,
        looks,
        shots,
        changes,
        frames,
        findings,
        starters,
        framing,
        movement,
        jobs,
        events,
        assets,
        pictures,
        pages,
    ):
        app.register_blueprint(blueprint)
    return app


def from_environment() -> APIFlask:
    """For the server: where things are is told by the start command."""
    sockets = [Path(one) for one in os.environ["WINDSOCK_SOCKETS"].split(os.pathsep)]
    cache, exports = (Path(os.environ[f"WINDSOCK_{name}"]) for name in ("CACHE", "EXPORTS"))
    return create_app(os.environ["WINDSOCK_DATABASE"], sockets, cache, exports)
