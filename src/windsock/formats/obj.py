"""Wavefront OBJ, in and out: places, faces of any number of corners, normals, u,v, and colours behind the places."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
from scipy.spatial import KDTree

from windsock.core.geometry.mesh import FACE_LIMIT, Mesh
from windsock.core.kernels.srgb import decoded
from windsock.core.refusals import Refusal
from windsock.formats.limits import POINT_LIMIT
from windsock.formats.scene import read_scene

if TYPE_CHECKING:  # who only reads files need not wait for the evaluator
    pass

COLOURED = re.compile(rb"^(v(?:[ \t]+[-+.\deE]+){3})(?:[ \t]+[-+.\deE]+){3}", re.MULTILINE)
FROM_THE_END = re.compile(rb"^f .*-\d", re.MULTILINE)
NEGATIVE = re.compile(rb"-\d{1,12}")
CONTINUED = re.compile(rb"\\\r?\n")
INDENTED = re.compile(rb"^ +", re.MULTILINE)
NOT_A_NUMBER = re.compile(rb"^v[nt]?[ \t].*\b(nan|inf)", re.IGNORECASE | re.MULTILINE)


def read_obj(content: bytes) -> Mesh:
    """The mesh of an OBJ file. Materials and pictures beside it are not read. Raises Refusal."""
    content = _plain(content)
    points = content.count(b"\nv ") + content.startswith(b"v ")
    faces = content.count(b"\nf ") + content.startswith(b"f ")
    if points == 0 or faces == 0:
        raise Refusal(
            "The file holds no points and faces as OBJ writes them. Nothing was imported. Check that it is an OBJ file."
        )
    if points > POINT_LIMIT or faces > FACE_LIMIT:
        raise Refusal(
            f"The file has {faces:,} faces and {points:,} points; the limit is {FACE_LIMIT:,} faces. Nothing was imported. Reduce it before writing it."
        )
    lowered = content.lower()
    if (b"nan" in lowered or b"inf" in lowered) and NOT_A_NUMBER.search(content):
        raise Refusal(
            "Points of the file have places that are not numbers. Nothing was imported. Mend the file and drop it again."
        )
    smooth = b"\nvn " in content
    if b"\nvt " not in content or COLOURED.search(content) is None:
        return read_scene(content, "obj", keeps_normals=smooth, colour_is_linear=False)
    plain = read_scene(COLOURED.sub(rb"\1", content), "obj", keeps_normals=smooth, colour_is_linear=False)
    return _coloured(plain, content)


def _plain(content: bytes) -> bytes:
    """The file with blanks in place of tabs, lines put together that go on, and indices from the start of the file."""
    if b"\t" in content:
        content = content.replace(b"\t", b" ")
    if b"\\" in content:
        content = CONTINUED.sub(b" ", content)
    content = INDENTED.sub(b"", content)
    return content if FROM_THE_END.search(content) is None else _from_the_start(content)


def _from_the_start(content: bytes) -> bytes:
    """Negative indices count back from the line that they stand in: -1 is the last place (u,v, normal) above it."""
    above = [0, 0, 0]
    lines = content.split(b"\n")
    for place, line in enumerate(lines):
        kind = line[:2]
        if kind == b"v ":
            above[0] += 1
        elif kind == b"vt":
            above[1] += 1
        elif kind == b"vn":
            above[2] += 1
        elif kind == b"f " and b"-" in line:
            lines[place] = b"f " + b" ".join(_counted(corner, above) for corner in line[2:].split())
    return b"\n".join(lines)


def _counted(corner: bytes, above: list[int]) -> bytes:
    lines: list[bytes] = []
    for index, total in zip(corner.split(b"/"), above, strict=False):
        back = int(index) if NEGATIVE.fullmatch(index) else 0
        if back < -total:
            raise Refusal(
                "Faces of the file name points that it does not have. Nothing was imported. Write it again from where it was "
                "made."
            )
        lines.append(b"%d" % (total + back + 1) if back < 0 else index)
    return b"/".join(lines)


def _coloured(mesh: Mesh, content: bytes) -> Mesh:
    """The reader keeps either u,v or colours: colours are taken from the lines and laid on by place."""
    lines = [line.group(0).split()[1:7] for line in COLOURED.finditer(content)]
    numbers = np.array(lines, dtype=np.float64)
    _, nearest = KDTree(numbers[:, :3]).query(mesh.points)
    return replace(mesh, colour=decoded(np.clip(numbers[:, 3:], 0, 1))[nearest].astype(np.float32))
