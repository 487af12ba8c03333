"""Projects and the shots in them."""

from __future__ import annotations

import secrets
from datetime import datetime
from io import BytesIO
from typing import Annotated

from apiflask import APIBlueprint
from flask import Response, request, send_file
from pydantic import BaseModel, ConfigDict, Field, JsonValue
from sqlalchemy import select
from sqlalchemy.orm import selectinload

from windsock.core.declarations import Name
from windsock.core.document.shot import parse_shot
from windsock.demo.blank import blank_shot
from windsock.formats.project import PACKED_LIMIT, assets_of, packed, unpacked
from windsock.store import keeping
from windsock.store.editing import NotFound
from windsock.store.models import Asset, KeptLook, Project, ShotRow
from windsock.store.shots import look_through, new_row
from windsock.web.assets import bring_file
from windsock.web.problems import problem
from windsock.web.service import service
from windsock.web.shots import Kept

projects = APIBlueprint("projects", __name__, url_prefix="/api/projects")


class ShotSummary(BaseModel):
    """A shot as the home screen lists it."""

    id: str
    name: str
    revision: int
    changed: datetime
    frames: int
    fps: float
    opening_frame: float
    kept: str
    picture: Annotated[int | None, Field(description="The revision of the small picture that is kept of it")]
    readable: Annotated[bool, Field(description="Whether this version can read its document")]


class ProjectSummary(BaseModel):
    """A project with its shots."""

    id: str
    name: str
    kept: str
    shots: list[ShotSummary]


class ProjectList(BaseModel):
    """All projects."""

    projects: list[ProjectSummary]


class Named(BaseModel):
    """A name for a new or changed project."""

    model_config = ConfigDict(extra="forbid")
    name: Name


class NewShot(BaseModel):
    """A new shot: blank, or from a document."""

    model_config = ConfigDict(extra="forbid")
    name: Name | None = None
    document: JsonValue = None


class Created(BaseModel):
    """The id of what was made."""

    id: str


@projects.get("")
@projects.output(ProjectList)
def list_projects():
    """All projects with their shots, in the order they were made."""
    with service().database.session() as session:
        look_through(session)
        query = (
            select(Project)
            .options(selectinload(Project.shots).selectinload(ShotRow.picture))
            .order_by(Project.created, Project.id)
        )
        return {"projects": [_project(row) for row in session.scalars(query)]}


@projects.post("")
@projects.input(Named)
@projects.output(Created, status_code=201)
def create_project(json_data: Named):
    """A new, empty project."""
    with service().database.session() as session:
        row = Project(id=new_id(), name=json_data.name)
        session.add(row)
        return {"id": row.id}


@projects.patch("/<project_id>")
@projects.input(Named)
@projects.output(Created)
def rename_project(project_id: str, json_data: Named):
    """Give a project another name."""
    with service().database.session() as session:
        row = session.get(Project, project_id)
        if row is None:
            raise NotFound("This project is not here any more.")
        row.name = json_data.name
        return {"id": row.id}


@projects.put("/<project_id>/kept")
@projects.input(Kept)
@projects.output({}, status_code=204)
def keep_project(project_id: str, json_data: Kept):
    """Archive a project, delete it, or bring it back."""
    with service().database.session() as session:
        keeping.put(session, Project, project_id, json_data.kept)
    return ""


@projects.get("/<project_id>/file")
@projects.doc(
    summary="A project as one file", responses={200: {"description": "A zip with all shots and imported files"}}
)
def project_file(project_id: str) -> Response:
    """All shots of a project, with the files they use, to bring to another machine."""
    with service().database.session() as session:
        row = session.get(Project, project_id)
        if row is None:
            raise NotFound("This project is not here any more.")
        here = sorted((one for one in row.shots if one.kept == "here"), key=lambda one: (one.created, one.id))
        shots: list[JsonValue] = []
        shots += [shot.document for shot in here]
        wanted = {asset for document in shots for asset in assets_of(document)}
        files = [
            (asset.hash, asset.kind, asset.name, asset.content)
            for asset in (session.get(Asset, one) for one in sorted(wanted))
            if asset
        ]
        looks: dict[str, JsonValue] = {one.name: one.look for one in row.looks}
        content, name = packed(row.name, shots, files, looks), row.name
    return send_file(
        BytesIO(content), mimetype="application/zip", as_attachment=True, download_name=f"{name}.windsock.zip"
    )


@projects.post("/file")
@projects.output(Created, status_code=201)
def bring_project():
    """A project from its file, sent as the body: a new project with the same shots."""
    if (request.content_length or 0) > PACKED_LIMIT:
        return problem(
            413, f"The file is larger than {PACKED_LIMIT // 2**20} MB. Nothing was made. Bring its shots one by one."
        )
    readable = {one.ending for one in service().formats().read}
    project = unpacked(request.get_data(cache=False), readable)
    for digest, kind, name, content in project.files:
        bring_file(digest, kind, name, content)
    with service().database.session() as session:
        row = Project(id=new_id(), name=project.name)
        session.add(row)
        session.flush()
        for called, look in project.looks.items():
            session.add(KeptLook(id=new_id(), project_id=row.id, name=called, look=look))
        for document in project.shots:
            session.add(new_row(new_id(), row.id, parse_shot(document)))
            session.flush()
        return {"id": row.id}


@projects.post("/<project_id>/shots")
@projects.input(NewShot)
@projects.output(Created, status_code=201)
def create_shot(project_id: str, json_data: NewShot):
    """A new shot in a project."""
    data = json_data.document if json_data.document is not None else blank_shot(json_data.name or "New shot")
    shot = parse_shot(data)
    with service().database.session() as session:
        if session.get(Project, project_id) is None:
            raise NotFound("This project is not here any more. Nothing was made.")
        row = new_row(new_id(), project_id, shot)
        session.add(row)
        return {"id": row.id}


def new_id() -> str:
    """A new, unguessable id."""
    return secrets.token_hex(8)


def _project(row: Project) -> ProjectSummary:
    shots = sorted(row.shots, key=lambda shot: (shot.created, shot.id))
    return ProjectSummary(id=row.id, name=row.name, kept=row.kept, shots=[_shot(shot) for shot in shots])


def _shot(row: ShotRow) -> ShotSummary:
    return ShotSummary(
        id=row.id,
        name=row.name or "Without a name",
        revision=row.revision,
        changed=row.changed,
        frames=row.frames,
        fps=row.fps,
        opening_frame=row.opening_frame,
        kept=row.kept,
        picture=row.picture.revision if row.picture else None,
        readable=row.readable,
    )
