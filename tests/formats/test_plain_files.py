"""OBJ and PLY as others write them: indices from the end, tabs, mixed faces; and with colours, out and in again."""

from __future__ import annotations

import struct
from io import BytesIO

import numpy as np
import pytest
import trimesh
from shots import cut_ball, evaluator, parsed

from windsock.core.kernels.areas import face_areas
from windsock.core.refusals import Refusal
from windsock.formats.colours import seen_colours
from windsock.formats.importing import read_mesh
from windsock.writers.obj_out import write_obj
from windsock.writers.ply_out import ply_with_fields


def area(content: bytes, kind: str) -> float:
    mesh = read_mesh(content, kind)
    return float(face_areas(mesh.points, mesh.faces).sum())


SQUARES = [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], [[5, 0, 0], [7, 0, 0], [7, 2, 0], [5, 2, 0]]


def obj_of(index: str, space: str = " ", shift: int = 1, **beside: str) -> bytes:
    """Two squares of areas 1 and 4, each with its places before its face, and then a triangle of both."""
    lines, above = [], 0
    for square in SQUARES:
        lines += [space.join(["v", *map(str, place)]) for place in square]
        lines += [space.join(["vn", "0", "0", "1"])] if "normals" in beside else []
        above += 4
        numbers = [one - 4 if index == "end" else above - 4 + one + shift for one in range(4)]
        told = [f"{one}//-1" if "normals" in beside else str(one) for one in numbers]
        lines.append(space.join(["f", *told]))
    lines.append(space.join(["f", *(["-8", "-7", "-6"] if index == "end" else ["1", "2", "3"])]))
    return "\n".join(lines).encode()


@pytest.mark.parametrize("space", [" ", "\t", "  ", " \t"])
@pytest.mark.parametrize("beside", [{}, {"normals": "yes"}])
def test_indices_count_back_from_their_own_line(space, beside):
    """Wavefront's specification: a negative number refers to the elements right above it in the file."""
    assert area(obj_of("end", space, **beside), "obj") == pytest.approx(5.5)
    if not beside:
        assert area(obj_of("start", space), "obj") == pytest.approx(5.5)


def test_lines_that_are_indented_or_go_on_are_read():
    told = b"  v 0 0 0\n v 1 0 0\nv 1 1 \\\n 0\nv 0 1 0\n f 1 2 \\\r\n3 4\n"
    assert area(told, "obj") == pytest.approx(1.0)


def test_an_index_before_the_beginning_is_refused():
    with pytest.raises(Refusal, match="points that it does not have"):
        read_mesh(b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf -4 -2 -1\n", "obj")


def ply_of(order: str, count: str = "uchar", beside: str = "", behind: bytes = b"") -> bytes:
    """A square, two triangles and a pentagon: 1, 1/2, 1/2 and 1.5 square metres. beside: a property of each face."""
    places = np.array([[0, 0], [1, 0], [1, 1], [0, 1], [0.5, 2]], dtype=float)
    faces = [[0, 1, 2, 3], [0, 1, 2], [2, 3, 0], [0, 1, 2, 4, 3]]
    name = {"<": "little", ">": "big"}[order]
    header = ["ply", f"format binary_{name}_endian 1.0", f"element vertex {len(places)}"]
    header += [f"property float {axis}" for axis in "xyz"] + [f"element face {len(faces)}"]
    header += [f"property {beside} before"] if beside else []
    header += [f"property list {count} int vertex_indices"]
    header += [f"property {beside} after"] if beside else []
    header += ["element edge 1", "property int one"] if behind else []
    body = b"".join(struct.pack(f"{order}3f", *place, 0) for place in places)
    extra = {"": b"", "short": struct.pack(f"{order}h", -7)}[beside]
    kind = {"uchar": "B", "int": "i"}[count]
    for face in faces:
        body += extra + struct.pack(f"{order}{kind}{len(face)}i", len(face), *face) + extra
    return "\n".join([*header, "end_header", ""]).encode() + body + behind


@pytest.mark.parametrize("order", ["<", ">"])
@pytest.mark.parametrize("count", ["uchar", "int"])
@pytest.mark.parametrize("beside", ["", "short"])
@pytest.mark.parametrize("behind", [b"", b"\1\0\0\0"])
def test_faces_of_different_numbers_of_corners(order, count, beside, behind):
    assert area(ply_of(order, count, beside, behind), "ply") == pytest.approx(3.5)


def test_a_file_that_ends_within_its_faces_is_refused():
    with pytest.raises(Refusal, match=r"Nothing was imported\."):
        read_mesh(ply_of("<")[:-9], "ply")


@pytest.mark.parametrize("line", [b"property", b"property list", b"property list uchar int", b"element face"])
def test_a_header_with_half_a_line_is_refused(line):
    told = ply_of("<").replace(b"element face", line + b"\nelement face", 1)
    with pytest.raises(Refusal, match=r"Nothing was imported\."):
        read_mesh(told, "ply")


def painted() -> dict:
    ramp = {"stops": {"a": {"at": 0, "colour": "#400000"}, "b": {"at": 1, "colour": "#30FF80"}}}
    document = cut_ball(step={"kind": "shade", "channel": "base_colour", "ramp": ramp})
    document["items"]["ball"]["look"] = {"base_colour": "#336699"}
    return document


@pytest.mark.parametrize("whole", [False, True])
def test_colours_go_out_and_come_back(whole):
    """Also where only the look has a colour. trimesh reads the bytes of the file as second route."""
    document = painted()
    if whole:
        document["items"]["ball"]["recipe"]["steps"] = {}
    one, shot = evaluator(), parsed(document)
    frame = one.frame(shot, 50)
    body = frame.draw[0].body
    known = seen_colours(body.mesh, body.look)
    assert np.ptp(known, axis=0).max() > (-1 if whole else 0.1)
    ply = ply_with_fields(one, shot, frame)
    for content, kind in ((write_obj(frame), "obj"), (ply, "ply")):
        back = read_mesh(content, kind)
        assert back.colour is not None
        np.testing.assert_allclose(back.colour[: len(known)], known, atol=0.005)
    read = trimesh.load(BytesIO(ply), file_type="ply", process=False)
    np.testing.assert_allclose(np.asarray(read.visual.vertex_colors)[:, :3] / 255 <= 1, True)  # type: ignore[union-attr]
    assert len(read.visual.vertex_colors) == len(known)  # type: ignore[union-attr]
