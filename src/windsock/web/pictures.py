"""The small pictures of shots: drawn by the page, kept by the server."""

from __future__ import annotations

from typing import Annotated

from apiflask import APIBlueprint
from flask import Response, request
from pydantic import BaseModel, Field

from windsock.core.refusals import Refusal
from windsock.store.editing import NotFound
from windsock.store.models import ShotRow, SmallPicture
from windsock.web.service import service

pictures = APIBlueprint("pictures", __name__, url_prefix="/api/shots")

LARGEST = 256 * 2**10
KINDS = {b"\xff\xd8\xff": "image/jpeg", b"\x89PNG": "image/png", b"RIFF": "image/webp"}


class PictureOf(BaseModel):
    """Of which revision."""

    revision: Annotated[int, Field(ge=0, le=2**31 - 1)] = 0


@pictures.get("/<shot_id>/picture")
@pictures.input(PictureOf, location="query")
@pictures.doc(summary="The small picture of a shot", responses={200: {"description": "WebP, JPEG or PNG"}})
def small_picture(shot_id: str, query_data: PictureOf) -> Response:
    """The small picture of a shot, of whatever revision there is one."""
    del query_data
    with service().database.session() as session:
        row = session.get(SmallPicture, shot_id)
        if row is None:
            raise NotFound("There is no small picture of this shot yet. Open it once.")
        return Response(row.content, content_type=row.kind, headers={"Cache-Control": "private, max-age=5"})


@pictures.put("/<shot_id>/picture")
@pictures.input(PictureOf, location="query")
@pictures.output({}, status_code=204)
@pictures.doc(summary="Keep a small picture of a shot, sent as the body")
def keep_picture(shot_id: str, query_data: PictureOf):
    """Keep the small picture of a shot at a revision: WebP, JPEG or PNG, sent as the body."""
    content = request.get_data(cache=False)
    kind = next((kind for start, kind in KINDS.items() if content.startswith(start)), None)
    if kind is None or len(content) > LARGEST:
        raise Refusal(f"A small picture is WebP, JPEG or PNG of at most {LARGEST // 2**10} KB. Nothing was changed.")
    with service().database.session() as session:
        if session.get(ShotRow, shot_id) is None:
            raise NotFound("This shot is not here any more. Nothing was changed.")
        session.merge(SmallPicture(shot_id=shot_id, revision=query_data.revision, kind=kind, content=content))
    return ""
