"""Imported files."""

from __future__ import annotations

import hashlib
from typing import Annotated, Literal

from apiflask import APIBlueprint
from flask import Response, request
from pydantic import BaseModel, Field, StringConstraints
from sqlalchemy import select

from windsock.core.refusals import Refusal
from windsock.formats.limits import FILE_LIMIT
from windsock.protocol.requests import InspectRequest, OutlinesRequest
from windsock.store.editing import NotFound
from windsock.store.models import Asset
from windsock.web.guard import browser
from windsock.web.problems import problem
from windsock.web.service import service

assets = APIBlueprint("assets", __name__, url_prefix="/api/assets")


class Flaws(BaseModel):
    """Faces that can be mended: of no area, doubled, turned the wrong way."""

    no_area: int = 0
    doubled: int = 0
    turned: int = 0


class AssetSummary(BaseModel):
    """An imported file: its name, and what it holds, in the file's own units. sort: mesh, drawing, font or panorama."""

    hash: str
    name: str
    kind: str
    sort: Literal["mesh", "drawing", "font", "panorama"]
    faces: int
    points: int
    moments: Annotated[int, Field(description="How many moments of a movement are kept; 1: it stands still")]
    seconds: Annotated[float, Field(description="How long its movement lasts")]
    wide: Annotated[int, Field(description="Pixels that a panorama is wide")]
    tall: Annotated[int, Field(description="Pixels that a panorama is high")]
    paints: Annotated[int, Field(description="Filled parts of a drawing")]
    lines: Annotated[int, Field(description="Outlines of a drawing")]
    notes: Annotated[list[str], Field(description="What was left out")]
    low: tuple[float, float, float]
    high: tuple[float, float, float]
    has_uv: bool
    has_colour: bool
    pictures: Annotated[int, Field(description="Pictures that its faces show")]
    measures: list[str]
    flaws: Flaws
    open_edges: Annotated[int | None, Field(description="Edges with one face alone; None: not counted")]
    doubled_points: Annotated[int | None, Field(description="Points that stand where another one does")]


class AssetList(BaseModel):
    """All imported files."""

    assets: list[AssetSummary]


class FileName(BaseModel):
    """The name of the file that is sent as the body."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=120), Field(description="With its ending")]


@assets.get("")
@assets.output(AssetList)
def list_assets():
    """All imported files, newest first."""
    with service().database.session() as session:
        rows = session.scalars(select(Asset).order_by(Asset.added.desc()).limit(500))
        return {"assets": [_summary(row) for row in rows]}


@assets.post("")
@assets.input(FileName, location="query")
@assets.output(AssetSummary, status_code=201)
def import_file(query_data: FileName):
    """Import a file of a shape, a drawing or a font, sent as the body. The same file twice is one asset."""
    if (request.content_length or 0) > FILE_LIMIT:
        size = (request.content_length or 0) / 2**20
        return problem(
            413,
            f"The file is {size:.0f} MB; the limit is {FILE_LIMIT // 2**20} MB. Nothing was imported. Save it smaller and drop it again.",
        )
    content = request.get_data(cache=False)
    name = query_data.name.replace("\\", "/").rsplit("/", 1)[-1]
    kind = name.rsplit(".", 1)[-1].lower()
    readable = service().formats().read
    if kind not in {one.ending for one in readable}:
        *others, last = [one.called for one in readable]
        raise Refusal(
            f"“{name}” is not a kind of file that is read here. Nothing was imported. What is read: {', '.join(others)} and {last}."
        )
    if not content:
        raise Refusal(f"“{name}” is empty. Nothing was imported. Write it again from where it was made.")
    return bring_file(hashlib.sha256(content).hexdigest(), kind, name, content)


def bring_file(digest: str, kind: str, name: str, content: bytes) -> AssetSummary:
    """Take a file in, unless it is here already. Raises Refusal for one that cannot be read."""
    with service().database.session() as session:
        row = session.get(Asset, digest)
        if row is not None:
            return _summary(row)
    service().assets.lay_out(digest, kind, content)
    try:
        reply, _ = service().ask(InspectRequest(asset=digest, browser=browser()))
    except Refusal:
        service().assets.clear(digest)
        raise
    with service().database.session() as session:
        row = session.get(Asset, digest)  # it may have been sent twice at once
        if row is None:
            row = Asset(hash=digest, name=name, kind=kind, summary=reply.data, content=content)
            session.add(row)
        return _summary(row)


@assets.get("/<asset_hash>/content")
@assets.doc(
    summary="The file itself, as it was imported",
    responses={
        200: {
            "description": "Its bytes",
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
def file_content(asset_hash: str) -> Response:
    """The bytes of an imported file."""
    with service().database.session() as session:
        row = session.get(Asset, asset_hash)
        if row is None:
            raise NotFound("This file is not here any more. Nothing was changed. Import it again.")
        content = row.content
    headers = {"Cache-Control": "private, max-age=31536000, immutable", "Content-Disposition": "attachment"}
    return Response(content, content_type="application/octet-stream", headers=headers)


class Height(BaseModel):
    """How high a drawing stands in the shot."""

    height: Annotated[float, Field(gt=0, le=10_000, description="In metres")] = 1.0


class LinePoint(BaseModel):
    """A point of a path, with its handles relative to it."""

    place: tuple[float, float, float]
    before: tuple[float, float, float] | None
    after: tuple[float, float, float] | None
    joint: Literal["corner", "smooth"]


class Line(BaseModel):
    """An outline of a drawing as a path."""

    closed: bool
    points: list[LinePoint]


class Lines(BaseModel):
    """The longest outlines of a drawing. left_out: how many shorter ones, or ones of too many points, there are."""

    lines: list[Line]
    left_out: int


@assets.get("/<asset_hash>/lines")
@assets.input(Height, location="query")
@assets.output(Lines)
def drawing_lines(asset_hash: str, query_data: Height):
    """The outlines of an imported drawing as paths, its middle at the origin."""
    reply, _ = service().ask(OutlinesRequest(asset=asset_hash, height=query_data.height, browser=browser()))
    return reply.data


def _summary(row: Asset) -> AssetSummary:
    # Files that were imported before these were counted say nothing of them.
    summary = (
        {
            "sort": "mesh",
            "faces": 0,
            "points": 0,
            "moments": 1,
            "seconds": 0.0,
            "wide": 0,
            "tall": 0,
            "paints": 0,
            "lines": 0,
            "notes": [],
            "low": (0, 0, 0),
            "high": (0, 0, 0),
            "has_uv": False,
            "has_colour": False,
            "pictures": 0,
            "measures": [],
            "flaws": {},
            "open_edges": None,
            "doubled_points": None,
        }
        | row.summary
        | {"hash": row.hash, "name": row.name, "kind": row.kind}
    )
    return AssetSummary.model_validate(summary)
