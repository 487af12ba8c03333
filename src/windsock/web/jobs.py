"""Jobs: exports begun, watched, cancelled, resumed and fetched."""

from __future__ import annotations

import hashlib
import re
from datetime import datetime
from pathlib import Path
from typing import Annotated, Literal

from apiflask import APIBlueprint
from flask import Response, send_file
from pydantic import BaseModel, ConfigDict, Field, StringConstraints, TypeAdapter

from windsock.core.document.shot import parse_shot
from windsock.core.refusals import Refusal
from windsock.jobs.files import remove_files, small_picture
from windsock.picture.needs import Pace, memory_to_render
from windsock.protocol.replies import Formats
from windsock.protocol.requests import PaceRequest
from windsock.store import jobs as rows
from windsock.store.editing import NotFound
from windsock.store.models import Job
from windsock.web.guard import browser
from windsock.web.problems import problem
from windsock.web.projects import new_id
from windsock.web.service import service

PACE: TypeAdapter[Pace] = TypeAdapter(Pace)

jobs = APIBlueprint("jobs", __name__, url_prefix="/api")

MOST_FRAMES = 5_000
WholeFrame = Annotated[int, Field(ge=-100_000, le=100_000, strict=True)]


class ExportWish(BaseModel):
    """A range of frames, as one zip of files or one file that moves. Of finished pictures, part: one part of so many as wide and as
    high as the shot's picture; numbers: whether the numbers of frames are written into them."""

    model_config = ConfigDict(extra="forbid")
    key: Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{8,64}$")]
    revision: Annotated[int, Field(ge=0, strict=True)]
    format: Annotated[str, StringConstraints(pattern=r"^[a-z0-9-]{1,40}$")]
    first: WholeFrame
    last: WholeFrame
    step: Annotated[int, Field(ge=1, le=1000, strict=True)] = 1
    copies: Literal["kept", "meshes"] = "kept"
    part: Literal[1, 2, 4] = 1
    numbers: Annotated[bool, Field(strict=True)] = False


class RenderingTime(BaseModel):
    """About how many seconds rendering takes, and how many bytes of memory; null where nothing of the shot was rendered yet."""

    seconds: float | None
    memory: int | None


class RenderingWish(BaseModel):
    """So many finished pictures in a format, of one part of so many as wide and as high as the shot's picture."""

    revision: Annotated[int, Field(ge=0)]
    frames: Annotated[int, Field(ge=1, le=MOST_FRAMES)] = 1
    part: Annotated[int, Field(ge=1, le=4)] = 1
    format: Annotated[str, StringConstraints(pattern=r"^[a-z0-9-]{0,40}$")] = ""


class JobState(BaseModel):
    """A job as it stands. seen_as: what the page can show what it has written as, once it is done. pictured: whether there is a small picture of each frame that is done; first, step: which frames these
    are."""

    id: str
    kind: str
    shot: str
    name: str
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    done: int
    total: int
    says: str
    size: int
    pictured: bool
    seen_as: Literal["", "picture", "film"]
    first: int
    step: int
    created: datetime


class JobList(BaseModel):
    """The newest jobs."""

    jobs: list[JobState]


@jobs.get("/formats")
@jobs.output(Formats)
def list_formats():
    """The files that can be imported and exported."""
    return service().formats()


@jobs.get("/shots/<shot_id>/rendering-time")
@jobs.input(RenderingWish, location="query")
@jobs.output(RenderingTime)
def rendering_time(shot_id: str, query_data: RenderingWish):
    """About how long so many finished pictures take, going by the one that was rendered last for the view."""
    revision, document = service().document(shot_id, query_data.revision)
    reply, _ = service().ask_about(shot_id, revision, PaceRequest(browser=browser()))
    if not isinstance(reply.data, dict):
        return {"seconds": None, "memory": None}
    pace = PACE.validate_python(reply.data)
    picture = parse_shot(document).smaller(query_data.part).picture
    widest = next((one.widest for one in service().formats().write if one.name == query_data.format), None)
    share = min(1.0, (widest or picture.width) / picture.width)
    pixels = int(picture.width * picture.height * share**2)
    return {"seconds": pace.seconds * pixels * query_data.frames, "memory": memory_to_render(pixels, pace.faces)}


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
    settings = json_data.model_dump(include={"format", "first", "last", "step", "copies", "part", "numbers"})
    settings["pictured"] = writable[json_data.format].rendered
    settings["seen_as"] = writable[json_data.format].seen_as
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
    name, path = _written(job_id)
    return send_file(path, as_attachment=True, download_name=f"{name}{path.suffix}", max_age=0)


@jobs.get("/jobs/<job_id>/seen")
@jobs.doc(
    summary="What a job has written, to be shown by the page",
    responses={
        200: {
            "description": "A picture or a film",
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
def job_seen(job_id: str) -> Response:
    """The finished file of an export that is a picture or a film, a part of it where only that is asked for."""
    _, path = _written(job_id)
    return send_file(path, max_age=0, conditional=True)


def _written(job_id: str) -> tuple[str, Path]:
    """The name of a job that is done, and its file."""
    with service().database.session() as session:
        row = session.get(Job, job_id)
        path = service().exports / row.file if row is not None and row.state == "done" and row.file else None
        name = row.name if row is not None else ""
    if path is None or not path.exists():
        raise NotFound("This file is not here. The shot is unharmed. Export it again.")
    return name, path


@jobs.get("/jobs/<job_id>/small/<frame>")
@jobs.doc(
    summary="A small picture of a frame that a job has rendered",
    responses={
        200: {"description": "A JPEG", "content": {"image/jpeg": {"schema": {"type": "string", "format": "binary"}}}}
    },
)
def small_frame(job_id: str, frame: str) -> Response:
    """A small picture of a frame, while the job is at work and after."""
    with service().database.session() as session:
        row = session.get(Job, job_id)
    whole = re.fullmatch(r"-?\d{1,6}", frame)
    path = small_picture(service().exports / row.id, int(frame)) if row is not None and whole else None
    if path is None or not path.exists():
        raise NotFound("There is no small picture of this frame. Nothing was changed. Wait until it is rendered.")
    return send_file(path, mimetype="image/jpeg", max_age=3600)


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
        pictured=bool(row.settings.get("pictured")),
        seen_as=row.settings.get("seen_as") or "",
        first=row.settings.get("first", 0),
        step=row.settings.get("step", 1),
        created=row.created,
    )
