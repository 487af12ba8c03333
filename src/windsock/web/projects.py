"""Projects and the shots in them."""

from __future__ import annotations

import secrets
from datetime import datetime

from apiflask import APIBlueprint
from pydantic import BaseModel, ConfigDict, JsonValue
from sqlalchemy import select
from sqlalchemy.orm import selectinload

from windsock.core.declarations import Name
from windsock.core.document.shot import parse_shot
from windsock.demo.blank import blank_shot
from windsock.store.editing import Missing
from windsock.store.models import Project, ShotRow
from windsock.web.service import service

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


class ProjectSummary(BaseModel):
    """A project with its shots."""

    id: str
    name: str
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
        query = select(Project).options(selectinload(Project.shots)).order_by(Project.created, Project.id)
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
            raise Missing("This project is not here any more.")
        row.name = json_data.name
        return {"id": row.id}


@projects.post("/<project_id>/shots")
@projects.input(NewShot)
@projects.output(Created, status_code=201)
def create_shot(project_id: str, json_data: NewShot):
    """A new shot in a project."""
    data = json_data.document if json_data.document is not None else blank_shot(json_data.name or "New shot")
    document = parse_shot(data).model_dump(mode="json")
    with service().database.session() as session:
        if session.get(Project, project_id) is None:
            raise Missing("This project is not here any more. Nothing was made.")
        row = ShotRow(id=new_id(), project_id=project_id, document=document, revision=0)
        session.add(row)
        return {"id": row.id}


def new_id() -> str:
    """A new, unguessable id."""
    return secrets.token_hex(8)


def _project(row: Project) -> ProjectSummary:
    shots = sorted(row.shots, key=lambda shot: (shot.created, shot.id))
    return ProjectSummary(id=row.id, name=row.name, shots=[_shot(shot) for shot in shots])


def _shot(row: ShotRow) -> ShotSummary:
    told = parse_shot(row.document)
    return ShotSummary(
        id=row.id,
        name=told.name,
        revision=row.revision,
        changed=row.changed,
        frames=told.frames.last - told.frames.first + 1,
        fps=told.rate.fps,
        opening_frame=told.opening_frame,
    )
