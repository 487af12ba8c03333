"""Loads the demo project into a new database, once."""

from __future__ import annotations

from windsock.core.document.shot import parse_shot
from windsock.demo.fog_over_the_light import fog_over_the_light
from windsock.store.database import Database
from windsock.store.models import Mark, Project, ShotRow

SHOTS = {"fog-over-the-light": fog_over_the_light}


def load_demo(address: str) -> None:
    """Make the demo project. What was loaded before, and perhaps deleted since, is not loaded again."""
    database = Database(address)
    with database.session() as session:
        if session.get(Mark, "demo") is None:
            session.add(Mark(name="demo"))
            session.add(Project(id="kestrel-point-idents", name="Kestrel Point idents"))
            session.flush()
            for name, make in SHOTS.items():
                document = parse_shot(make()).model_dump(mode="json")
                session.add(ShotRow(id=name, project_id="kestrel-point-idents", document=document))
    database.engine.dispose()
