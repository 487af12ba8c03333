"""Jobs: exports begun, watched, cancelled, resumed and fetched."""

from __future__ import annotations

import hashlib
from datetime import datetime
from typing import Annotated, Literal

from apiflask import APIBlueprint
from flask import Response, send_file
from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from windsock.core.document.shot import parse_shot
from windsock.core.refusals import Refusal
from windsock.jobs.files import remove_files
from windsock.protocol.replies import Formats
from windsock.store import jobs as rows
from windsock.store.editing import NotFound
from windsock.store.models import Job
from windsock.web.guard import browser
from windsock.web.problems import problem
from windsock.web.projects import new_id
from windsock.web.service import service

jobs = APIBlueprint("jobs", __name__, url_prefix="/api")

MOST_FRAMES = 5_000
WholeFrame = Annotated[int, Field(ge=-100_000, le=100_000, strict=True)]


class ExportWish(BaseModel):
    """A range of frames, as one zip of files or one file that moves."""

    model_config = ConfigDict(extra="forbid")
    key: Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{8,64}$")]
    revision: Annotated[int, Field(ge=0, strict=True)]
    format: Annotated[str, StringConstraints(pattern=r"^[a-z0-9-]{1,40}$")]
    first: WholeFrame
    last: WholeFrame
    step: Annotated[int, Field(ge=1, le=1000, strict=True)] = 1
    copies: Literal["kept", "meshes"] = "kept"


class JobState(BaseModel):
    """A job as it stands."""

    id: str
    kind: str
    shot: str
    name: str
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    done: int
    total: int
    says: str
    size: int
    created: datetime


class JobList(BaseModel):
    """The newest jobs."""

    jobs: list[JobState]


@jobs.get("/formats")
@jobs.output(Formats)
def list_formats():
    """The files that can be imported and exported."""
    return service().formats()


@jobs.post("/shots/<shot_id>/exports")
@jobs.input(ExportWish)
@jobs.output(JobState, status_code=201)
def export(shot_id: str, json_data: ExportWish):
    """Have a range of frames written by a job."""
    count = len(range(json_data.first, json_data.last + 1, json_data.step))
    if count == 0:
        raise Refusal("The last frame lies before the first. Nothing was begun. Exchange them.")
    if count > MOST_FRAMES:
        raise Refusal(f"{count} frames are more than {MOST_FRAMES} at once. Nothing was begun. Export them in parts.")
    writable = {one.name: one for one in service().formats().write}
    if json_data.format not in writable:
        raise Refusal(
            f"No file is written as “{json_data.format}”. Nothing was begun. What is written: {', '.join(writable)}."
        )
    _, document = service().document(shot_id, json_data.revision)
    settings = json_data.model_dump(include={"format", "first", "last", "step", "copies"})
    name = f"{parse_shot(document).name}, frames {json_data.first} to {json_data.last}, {writable[json_data.format].called}"
    key = hashlib.blake2b(f"{browser()} {shot_id} {json_data.key}".encode(), digest_size=24).hexdigest()
    wanted = rows.NewJob(key, "export", browser(), shot_id, name[:120], document, settings, count)
    return begin(wanted)


@jobs.get("/jobs")
@jobs.output(JobList)
def list_jobs():
    """The newest jobs of this server."""
    with service().database.session() as session:
        return {"jobs": [state_of(row) for row in rows.listed(session)]}


@jobs.post("/jobs/<job_id>/cancel")
@jobs.output(JobState)
def cancel_job(job_id: str):
    """Cancel a job; what it has done is kept for resuming."""
    with service().database.session() as session:
        return state_of(rows.cancel(session, job_id))


@jobs.post("/jobs/<job_id>/resume")
@jobs.output(JobState)
def resume_job(job_id: str):
    """Have a cancelled or failed job go on where it stopped."""
    with service().database.session() as session:
        state = state_of(rows.resume(session, job_id))
    service().queue.defer(job_id)
    return state


@jobs.delete("/jobs/<job_id>")
@jobs.output({}, status_code=204)
def delete_job(job_id: str):
    """Take a job that has ended out of the list, with its file."""
    with service().database.session() as session:
        rows.forget(session, job_id)
    remove_files(service().exports, job_id)
    return ""


@jobs.get("/jobs/<job_id>/file")
@jobs.doc(
    summary="What a job has written",
    responses={
        200: {
            "description": "A zip of the frames, or one file that moves",
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
def job_file(job_id: str) -> Response:
    """The finished file of an export."""
    with service().database.session() as session:
        row = session.get(Job, job_id)
        path = service().exports / row.file if row is not None and row.state == "done" and row.file else None
        name = row.name if row is not None else ""
    if path is None or not path.exists():
        raise NotFound("This file is not here. The shot is unharmed. Export it again.")
    return send_file(path, as_attachment=True, download_name=f"{name}{path.suffix}", max_age=0)


def prepared(shot_id: str, revision: int, seconds: float) -> Response:
    """The past of a shot is found by a job; until then the frame is answered in words."""
    found, document = service().document(shot_id, revision)
    key = f"prepare-{shot_id}-{found}"
    shot = parse_shot(document)
    with service().database.session() as session:
        rows.forget_done(session, key)
    job = begin(rows.NewJob(key, "prepare", browser(), shot_id, f"The past of {shot.name}", document, {}, 1))
    if job.state == "failed":
        return problem(422, f"{job.says} Finding the past of this shot can be taken up again under Export.")
    if job.state == "cancelled":
        return problem(
            422, "Finding the past of this shot was cancelled. The shot is unharmed. Resume it under Export."
        )
    return problem(
        503,
        f"What this shot needs of the past takes about {seconds:.0f} s to find. A job is at it, once for this version. "
        "The picture comes by itself.",
    )


def begin(wanted: rows.NewJob) -> JobState:
    """Make a job and put it into the queue; asked again under the same key, it is the same job."""
    with service().database.session() as session:
        state = state_of(rows.make_job(session, new_id(), wanted))
    if state.state == "waiting":
        service().queue.defer(state.id)
    return state


def state_of(row: Job) -> JobState:
    """A job's row as it is told."""
    return JobState(
        id=row.id,
        kind=row.kind,
        shot=row.shot_id,
        name=row.name,
        state=row.state,  # pyright: ignore[reportArgumentType]
        done=row.done,
        total=row.total,
        says=row.says,
        size=row.size,
        created=row.created,
    )
