"""What happens, for the page: work under way for its browser, jobs, edits, and what is away. Asked for again and again."""

from __future__ import annotations

import hashlib
from typing import Annotated

from apiflask import APIBlueprint
from pydantic import BaseModel, Field, StringConstraints

from windsock.protocol.requests import CancelRequest
from windsock.web.guard import browser
from windsock.web.jobs import JobState, state_of
from windsock.web.service import service

events = APIBlueprint("events", __name__, url_prefix="/api")


class Known(BaseModel):
    """What the page knows already."""

    known: Annotated[
        str,
        StringConstraints(pattern=r"^[0-9a-f.]{0,80}$"),
        Field(description="`version` of the last answer: only what changed since is told"),
    ] = ""


class WorkUnderWay(BaseModel):
    """What is worked on for this browser, how far it is (0..1), and about how long it will take."""

    view: str
    says: str
    share: float
    seconds_left: float | None


class EditMade(BaseModel):
    """A shot that was edited lately: what made its newest revision. mine: made by this browser."""

    shot: str
    revision: int
    label: str
    mine: bool


class Changes(BaseModel):
    """What has changed; nothing for what has not."""

    version: str
    work: list[WorkUnderWay] | None = None
    jobs: list[JobState] | None = None
    edits: list[EditMade] | None = None
    away: Annotated[list[str] | None, Field(description="What does not run just now, in words")] = None


TOPICS = ("work", "jobs", "edits", "away")


@events.get("/events")
@events.input(Known, location="query")
@events.output(Changes)
def happened(query_data: Known):
    """What happens: it takes no time, so the page asks often."""
    here = service().happenings
    here.look()
    happenings = Changes(
        version="",
        work=[WorkUnderWay.model_validate(one) for one in _listed(here.work(browser()))],
        jobs=[state_of(row) for row in here.jobs()],
        edits=[
            EditMade(shot=shot, revision=revision, label=label, mine=by == browser())
            for shot, revision, label, by in here.edits()
        ],
        away=here.away(),
    )
    plain = happenings.model_dump(mode="json")
    versions = [hashlib.blake2b(repr(plain[topic]).encode(), digest_size=8).hexdigest() for topic in TOPICS]
    known = query_data.known.split(".")
    changed = {
        topic: plain[topic]
        for place, topic in enumerate(TOPICS)
        if place >= len(known) or known[place] != versions[place]
    }
    return {"version": ".".join(versions), **changed}


@events.post("/work/cancel")
@events.output({}, status_code=204)
def cancel_work():
    """Stop what is being worked on for this browser."""
    service().ask(CancelRequest(browser=browser()))
    return ""


def _listed(data: object) -> list[object]:
    return data if isinstance(data, list) else []  # pyright: ignore
