"""Zips of numbered OBJ or PLY files, in: a shape that moves, a file for each frame."""

from __future__ import annotations

import re
import zipfile

import numpy as np

from windsock.core.geometry.clip import Clip, Pose
from windsock.core.geometry.mesh import FACE_LIMIT, Mesh
from windsock.core.refusals import Refusal
from windsock.formats.limits import FILE_LIMIT, MOMENT_LIMIT, POSE_LIMIT
from windsock.formats.obj import read_obj
from windsock.formats.ply import read_ply
from windsock.formats.zips import opened, unpacked

RATE = 30.0
"""Frames in a second of the file's own time; its speed in the shot is a setting."""

UNPACKED_LIMIT = 16 * FILE_LIMIT
NAME = re.compile(r"^[^/\\]*?(\d+)\.(obj|ply)$", re.IGNORECASE)


def read_numbered(content: bytes) -> Clip:
    """The frames of a zip in the order of their numbers. Raises Refusal."""
    bundle = opened(content)
    entries = bundle.infolist()
    frames: dict[int, tuple[zipfile.ZipInfo, str]] = {}
    for entry in entries:
        named = NAME.match(entry.filename.rsplit("/", 1)[-1])
        if named and not entry.is_dir() and "__MACOSX" not in entry.filename:
            number = int(named.group(1)) if len(named.group(1)) < 10 else -1
            if number < 0 or number in frames:
                raise Refusal(
                    f"Two files of the zip have the number {named.group(1)[:12]}. Nothing was imported. Number each frame once."
                )
            frames[number] = (entry, named.group(2).lower())
    if not frames:
        raise Refusal(
            "The zip holds no numbered OBJ or PLY files, and no glTF file. Nothing was imported. Name them frame_0001.obj and so on."
        )
    if len(frames) > MOMENT_LIMIT:
        raise Refusal(
            f"The zip holds {len(frames):,} frames; {MOMENT_LIMIT:,} are read. Nothing was imported. Pack it in parts."
        )
    if sum(entry.file_size for entry, _ in frames.values()) > UNPACKED_LIMIT:
        raise Refusal(
            f"The zip unpacks to more than {UNPACKED_LIMIT // 2**20} MB. Nothing was imported. Pack it in parts."
        )
    meshes: list[Mesh] = []
    held = 0
    for number in sorted(frames):
        mesh = _read(bundle, *frames[number])
        held += len(mesh.points)
        if held > POSE_LIMIT or sum(len(one.faces) for one in meshes) > 20 * FACE_LIMIT:
            raise Refusal(
                f"The frames hold more than {POSE_LIMIT:,} points together. Nothing was imported. Pack it in parts, or reduce it."
            )
        meshes.append(mesh)
    seconds = np.array(sorted(frames), dtype=np.float64)
    seconds = (seconds - seconds[0]) / RATE
    first = meshes[0]
    if all(np.array_equal(mesh.faces, first.faces) and len(mesh.points) == len(first.points) for mesh in meshes):
        return Clip(first, seconds, poses=tuple(Pose(mesh.points, mesh.normals) for mesh in meshes))
    return Clip(first, seconds, meshes=tuple(meshes))


def _read(bundle: zipfile.ZipFile, entry: zipfile.ZipInfo, kind: str) -> Mesh:
    content = unpacked(bundle, entry)
    return read_obj(content) if kind == "obj" else read_ply(content)
