"""The page itself, the schema, and whether the server is well."""

from __future__ import annotations

import os
from pathlib import Path

from apiflask import APIBlueprint
from flask import Response, g, jsonify, send_from_directory

from windsock.core.document.schema import shot_schema
from windsock.web.problems import problem

pages = APIBlueprint("pages", __name__)
BUILT = Path(__file__).parents[3] / "frontend" / "dist"


@pages.get("/api/health")
@pages.doc(summary="Whether the server answers")
def health() -> Response:
    """Answers when the server does. start: a word of the start command that this server belongs to."""
    return jsonify({"well": True, "start": os.environ.get("WINDSOCK_START", "")})


@pages.get("/api/schema")
@pages.doc(summary="The JSON Schema of a shot")
def schema() -> Response:
    """The JSON Schema of the document, with the unit and bounds of every quantity."""
    return jsonify(shot_schema())


@pages.get("/assets/<path:name>")
@pages.doc(hide=True)
def built(name: str) -> Response:
    """Scripts, styles and fonts; their names change with their content."""
    return send_from_directory(BUILT / "assets", name, max_age=31536000)


@pages.get("/")
@pages.get("/shots/<shot>")
@pages.doc(hide=True)
def page(shot: str = "") -> Response:
    """The one page; what it shows follows from the address."""
    del shot
    index = BUILT / "index.html"
    if not index.exists():
        return problem(503, "The front end is not built yet. Run ./windsock start.")
    return Response(index.read_text().replace("NONCE", g.nonce), content_type="text/html; charset=utf-8")
