"""The one event stream of a browser: what is being worked on for it, and how its jobs stand."""

from __future__ import annotations

import json
from collections.abc import Iterator
from threading import Event
from typing import Annotated

from apiflask import APIBlueprint
from flask import Response
from pydantic import BaseModel, JsonValue, StringConstraints
from sqlalchemy import select
from sqlalchemy.exc import SQLAlchemyError

from windsock.core.refusals import Refusal
from windsock.evaluator.client import EvaluatorAway
from windsock.evaluator.work import Request
from windsock.store import jobs as rows
from windsock.store.models import Edit, ShotRow
from windsock.web.guard import browser
from windsock.web.jobs import state_of
from windsock.web.service import Service, service

events = APIBlueprint("events", __name__, url_prefix="/api")

PAUSE = 0.4


class Listener(BaseModel):
    """Which browser listens; a stream cannot carry headers."""

    browser: Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9]{8,64}$")]


@events.get("/events")
@events.input(Listener, location="query")
@events.doc(
    summary="What is under way, as server-sent events",
    responses={
        200: {"description": "Events `work`, `jobs` and `edits`", "content": {"text/event-stream": {"schema": {}}}}
    },
)
def stream(query_data: Listener) -> Response:
    """Events: `work` lists what is worked on for the browser and how far it is; `jobs` lists jobs as they change; `edits` the shots
    that were edited last."""
    if not service().streams.acquire(blocking=False):
        raise Refusal("Too many pages listen at once. This page goes on without progress. Close some of the others.")
    return Response(
        _told(service(), query_data.browser), content_type="text/event-stream", headers={"Cache-Control": "no-store"}
    )


@events.post("/work/cancel")
@events.output({}, status_code=204)
def cancel_work():
    """Stop what is being worked on for this browser."""
    service().ask(Request(kind="cancel", browser=browser()))
    return ""


def _told(here: Service, listener: str) -> Iterator[str]:
    work: JsonValue = None
    jobs = told_edits = ""
    version, pause = 0, Event()
    try:
        yield "retry: 1000\n\n"
        while True:
            now, version = _work(here, listener, version)
            if now != work:
                work = now
                yield _event("work", json.dumps(now))
            listed = _jobs(here)
            if listed is not None and listed != jobs:
                jobs = listed
                yield _event("jobs", listed)
            edits = _edits(here)
            if edits is not None and edits != told_edits:
                told_edits = edits
                yield _event("edits", edits)
            yield ": well\n\n"
            pause.wait(PAUSE)
    finally:
        here.streams.release()


def _work(here: Service, listener: str, version: int) -> tuple[JsonValue, int]:
    try:
        reply, _ = here.ask(Request(kind="activity", browser=listener, since=version))
    except EvaluatorAway:
        return [], 0
    data = reply.data
    if not isinstance(data, dict):
        return [], 0
    return data.get("work", []), int(str(data.get("version", 0)))


def _jobs(here: Service) -> str | None:
    try:
        with here.database.session() as session:
            told = [state_of(row).model_dump(mode="json") for row in rows.listed(session, 20)]
    except SQLAlchemyError:
        return None
    return json.dumps(told)


def _edits(here: Service) -> str | None:
    """The shots that were edited last: the revision of each, what made it, and the browser it came from."""
    recent = select(ShotRow.id, ShotRow.revision).order_by(ShotRow.changed.desc()).limit(12).subquery()
    query = select(recent.c.id, recent.c.revision, Edit.label, Edit.browser).join(
        Edit, (Edit.shot_id == recent.c.id) & (Edit.revision == recent.c.revision)
    )
    try:
        with here.database.session() as session:
            told = [
                {"shot": shot, "revision": revision, "label": label, "browser": maker}
                for shot, revision, label, maker in session.execute(query)
            ]
    except SQLAlchemyError:
        return None
    return json.dumps(sorted(told, key=lambda one: str(one["shot"])))


def _event(name: str, data: str) -> str:
    return f"event: {name}\ndata: {data}\n\n"
