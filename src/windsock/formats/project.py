"""A project as one file: a zip with `project.json` and the imported files that its shots use."""

from __future__ import annotations

import hashlib
import json
import re
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass
from io import BytesIO
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, JsonValue, ValidationError

from windsock.core.declarations import Name
from windsock.core.document.shot import BadDocument, parse_shot
from windsock.core.look import Look
from windsock.core.refusals import Refusal
from windsock.formats.limits import FILE_LIMIT

PACKED_LIMIT = 256 * 2**20
UNPACKED_LIMIT = 1024 * 2**20
HEADER_LIMIT = 64 * 2**20
HASH = re.compile(r"^[0-9a-f]{64}$")


class FileEntry(BaseModel):
    """An imported file: its SHA-256, its kind, and the name it came under."""

    model_config = ConfigDict(extra="forbid", strict=True)
    hash: str = Field(pattern=HASH.pattern)
    kind: str = Field(max_length=8)
    name: str = Field(min_length=1, max_length=120)


class LookEntry(BaseModel):
    """A look that is kept in the project."""

    model_config = ConfigDict(extra="forbid")
    name: Name
    look: Look


class ProjectHeader(BaseModel):
    """What `project.json` says."""

    model_config = ConfigDict(extra="forbid", strict=True)
    windsock_project: Literal[1]
    name: Name
    shots: list[JsonValue] = Field(max_length=1000)
    files: list[FileEntry] = Field(max_length=5000)
    looks: list[LookEntry] = Field(default=[], max_length=1000)


@dataclass(frozen=True)
class ProjectFile:
    """A project from a file: documents as they are stored, files as hash, kind, name and content, and looks by their names."""

    name: str
    shots: list[JsonValue]
    files: list[tuple[str, str, str, bytes]]
    looks: dict[str, JsonValue]


def assets_of(document: JsonValue) -> set[str]:
    """The imported files that a document uses, fonts and drawings too."""
    if isinstance(document, dict):
        own = {value for key, value in document.items() if key in ("asset", "font") and isinstance(value, str)}
        found = {value for value in own if HASH.match(value)}
        return found.union(*(assets_of(value) for value in document.values()))
    return set()


def packed(
    name: str, shots: list[JsonValue], files: list[tuple[str, str, str, bytes]], looks: Mapping[str, JsonValue]
) -> bytes:
    """The file of a project. files: hash, kind, name and content of each. looks: by their names."""
    listed = [{"hash": digest, "kind": kind, "name": header} for digest, kind, header, _ in files]
    kept = [{"name": called, "look": look} for called, look in looks.items()]
    header = {"windsock_project": 1, "name": name, "shots": shots, "files": listed, "looks": kept}
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as bundle:
        bundle.writestr("project.json", json.dumps(header, indent=1))
        for digest, kind, _, content in files:
            bundle.writestr(f"files/{digest}.{kind}", content)
    return out.getvalue()


def unpacked(content: bytes, readable: set[str]) -> ProjectFile:
    """A project from its file. readable: the endings of the files that are read. Raises Refusal; names in the zip are never used as paths."""
    try:
        bundle = zipfile.ZipFile(BytesIO(content))
        sizes = {entry.filename: entry.file_size for entry in bundle.infolist()}
    except (zipfile.BadZipFile, ValueError, EOFError, NotImplementedError):
        raise Refusal(
            "The file is not a project as one file. Nothing was made. Choose one that was taken away here."
        ) from None
    if "project.json" not in sizes:
        raise Refusal("The file has no project.json. Nothing was made. Choose one that was taken away here.")
    if sum(sizes.values()) > UNPACKED_LIMIT or sizes["project.json"] > HEADER_LIMIT:
        raise Refusal("The project unpacks to more than is taken here. Nothing was made. Bring its shots one by one.")
    try:
        header = ProjectHeader.model_validate_json(_held(bundle, "project.json", HEADER_LIMIT))
    except (ValidationError, RecursionError):
        raise Refusal(
            "The project.json in the file cannot be read. Nothing was made. Take the project away again."
        ) from None
    shots: list[JsonValue] = []
    for number, document in enumerate(header.shots, 1):
        try:
            shots.append(parse_shot(document).model_dump(mode="json"))
        except BadDocument as fault:
            raise Refusal(f"Shot {number} of the file: {fault} Nothing was made.") from None
    files: list[tuple[str, str, str, bytes]] = []
    for file in header.files:
        if file.kind not in readable:
            raise Refusal(f"The file holds “{file.name[:60]}”, a kind that is not read here. Nothing was made.")
        held = _held(bundle, f"files/{file.hash}.{file.kind}", FILE_LIMIT)
        if hashlib.sha256(held).hexdigest() != file.hash:
            raise Refusal(f"“{file.name[:60]}” in the file is damaged. Nothing was made. Take the project away again.")
        files.append((file.hash, file.kind, file.name, held))
    missing = {one for document in shots for one in assets_of(document)} - {file.hash for file in header.files}
    if missing:
        raise Refusal(
            f"{len(missing)} files that its shots use are not in the file. Nothing was made. Take the project away again."
        )
    looks: dict[str, JsonValue] = {one.name: one.look.model_dump(mode="json") for one in header.looks}
    return ProjectFile(header.name, shots, files, looks)


def _held(bundle: zipfile.ZipFile, name: str, limit: int) -> bytes:
    try:
        with bundle.open(name) as file:
            held = file.read(limit + 1)
    except Exception as fault:  # noqa: BLE001 - unpackers raise errors of their own
        raise Refusal(
            f"The file is damaged ({type(fault).__name__}). Nothing was made. Take the project away again."
        ) from None
    if len(held) > limit:
        raise Refusal("The project unpacks to more than is taken here. Nothing was made. Bring its shots one by one.")
    return held
