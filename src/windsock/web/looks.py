"""Looks that are kept in a project, to be laid in each of its shots."""

from __future__ import annotations

from apiflask import APIBlueprint
from pydantic import BaseModel, ConfigDict
from sqlalchemy import select

from windsock.core.declarations import Name
from windsock.core.look import Look
from windsock.core.refusals import Refusal
from windsock.store.editing import NotFound
from windsock.store.models import KeptLook, Project
from windsock.web.projects import new_id
from windsock.web.service import service

looks = APIBlueprint("looks", __name__, url_prefix="/api/projects/<project_id>/looks")

MOST_LOOKS = 100


class LookToKeep(BaseModel):
    """A look, and what it is to be called."""

    model_config = ConfigDict(extra="forbid")
    name: Name
    look: Look


class HeldLook(BaseModel):
    """A look that is kept."""

    id: str
    name: str
    look: Look


class LookList(BaseModel):
    """The looks of a project, in the order in which they were kept."""

    looks: list[HeldLook]


@looks.get("")
@looks.output(LookList)
def list_looks(project_id: str):
    """The looks that are kept in a project."""
    with service().database.session() as session:
        query = select(KeptLook).where(KeptLook.project_id == project_id).order_by(KeptLook.created, KeptLook.id)
        return {"looks": [{"id": row.id, "name": row.name, "look": row.look} for row in session.scalars(query)]}


@looks.post("")
@looks.input(LookToKeep)
@looks.output(HeldLook, status_code=201)
def keep_look(project_id: str, json_data: LookToKeep):
    """Keep a look in a project. Under a name that is there already, it takes the place of that look."""
    with service().database.session() as session:
        project = session.get(Project, project_id, with_for_update=True)
        if project is None:
            raise NotFound("This project is not here any more. Nothing was kept.")
        row = next((one for one in project.looks if one.name == json_data.name), None)
        if row is None and len(project.looks) >= MOST_LOOKS:
            raise Refusal(f"A project keeps {MOST_LOOKS} looks at most. Nothing was kept. Let go of one first.")
        if row is None:
            row = KeptLook(id=new_id(), project_id=project_id, name=json_data.name)
            session.add(row)
        row.look = json_data.look.model_dump(mode="json")
        return {"id": row.id, "name": row.name, "look": row.look}


@looks.delete("/<look_id>")
@looks.output({}, status_code=204)
def let_go(project_id: str, look_id: str):
    """Let go of a look. Shapes that have it keep it."""
    with service().database.session() as session:
        row = session.get(KeptLook, look_id)
        if row is not None and row.project_id == project_id:
            session.delete(row)
    return ""
