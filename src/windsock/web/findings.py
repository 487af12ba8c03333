"""What is found amiss in a shot."""

from __future__ import annotations

from apiflask import APIBlueprint
from pydantic import BaseModel

from windsock.core.document.patches import Operation
from windsock.protocol.requests import FindingsRequest
from windsock.web.frames import ViewRequest
from windsock.web.service import service

findings = APIBlueprint("findings", __name__, url_prefix="/api")


class MendOut(BaseModel):
    """An edit that takes the cause away, and what its button says."""

    says: str
    patch: list[Operation]


class FindingOut(BaseModel):
    """Something amiss: its kind, in words, the JSON Pointer of what it concerns, and the shape on which it shows."""

    kind: str
    says: str
    place: str
    item: str | None
    mend: MendOut | None


class FindingsOut(BaseModel):
    """The gravest kinds first."""

    findings: list[FindingOut]


@findings.post("/shots/<shot_id>/findings")
@findings.input(ViewRequest)
@findings.output(FindingsOut)
def of_shot(shot_id: str, json_data: ViewRequest):
    """What is amiss in a shot over its whole range."""
    asked = FindingsRequest(**json_data.asking(), ahead=True)
    reply, _ = service().ask_about(shot_id, json_data.revision, asked)
    return {"findings": reply.data}
