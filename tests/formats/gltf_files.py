"""GLB files made by hand after the standard."""

from __future__ import annotations

import base64
import io
import json
import struct
import zipfile

import numpy as np
from PIL import Image


def glb(told: dict, binary: bytes) -> bytes:
    text = json.dumps(told).encode()
    text += b" " * (-len(text) % 4)
    binary += b"\0" * (-len(binary) % 4)
    chunks = struct.pack("<I4s", len(text), b"JSON") + text + struct.pack("<I4s", len(binary), b"BIN\0") + binary
    return b"glTF" + struct.pack("<II", 2, 12 + len(chunks)) + chunks


class PackedCopies:
    """Arrays packed into one buffer, with their accessors."""

    def __init__(self) -> None:
        self.binary = b""
        self.views: list[dict] = []
        self.accessors: list[dict] = []

    def add(self, values: object, shape: str, kind: type = np.float32) -> int:
        array = np.asarray(values, dtype=kind)
        content = array.tobytes()
        self.binary += b"\0" * (-len(self.binary) % 4)
        self.views.append({"buffer": 0, "byteOffset": len(self.binary), "byteLength": len(content)})
        self.binary += content
        component = {np.float32: 5126, np.uint16: 5123, np.uint8: 5121}[kind]
        self.accessors.append(
            {"bufferView": len(self.views) - 1, "componentType": component, "count": len(array), "type": shape}
        )
        return len(self.accessors) - 1

    def add_bytes(self, content: bytes) -> int:
        """The place of a view of bytes."""
        self.binary += b"\0" * (-len(self.binary) % 4)
        self.views.append({"buffer": 0, "byteOffset": len(self.binary), "byteLength": len(content)})
        self.binary += content
        return len(self.views) - 1

    def file(self, **told: object) -> bytes:
        head = {"asset": {"version": "2.0"}, "buffers": [{"byteLength": len(self.binary)}], "scene": 0}
        return glb(head | {"bufferViews": self.views, "accessors": self.accessors} | told, self.binary)


def png(pixels: np.ndarray) -> bytes:
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    return out.getvalue()


def pictured_glb(
    pictures: list[bytes],
    uv: list[list[float]],
    materials: list[dict] | None = None,
    samplers: list[dict] | None = None,
    laid: dict | None = None,
) -> bytes:
    """One square of two faces for each picture, side by side along X, all with the same u,v, from the top.

    materials: more of each material; samplers: one for each texture; laid: more of each texture's use.
    """
    data = PackedCopies()
    square = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]])
    faces = data.add([0, 1, 2, 0, 2, 3], "SCALAR", np.uint16)
    under = data.add(uv, "VEC2")
    views = [data.add_bytes(content) for content in pictures]
    meshes = [
        {
            "attributes": {"POSITION": data.add(square + [number, 0, 0], "VEC3"), "TEXCOORD_0": under},
            "indices": faces,
            "material": number,
        }
        for number in range(len(pictures))
    ]
    told = [{} for _ in pictures] if materials is None else materials
    return data.file(
        scenes=[{"nodes": [0]}], nodes=[{"mesh": 0}], meshes=[{"primitives": meshes}],
        materials=[
            one | {"pbrMetallicRoughness": {"baseColorTexture": {"index": number} | (laid or {})} | one.get("pbrMetallicRoughness", {})}
            for number, one in enumerate(told)
        ],
        images=[{"bufferView": view, "mimeType": "image/png"} for view in views],
        samplers=[{} for _ in pictures] if samplers is None else samplers,
        textures=[{"source": number, "sampler": number} for number in range(len(pictures))],
    )  # fmt: skip


def parts_of_glb(content: bytes) -> tuple[dict, bytes]:
    """The JSON and the binary chunk of a GLB file."""
    length = int.from_bytes(content[12:16], "little")
    return json.loads(content[20 : 20 + length]), content[28 + length :]


def as_gltf(content: bytes, uri: str = "") -> bytes:
    """A GLB file as glTF, with its buffer under a uri, or within."""
    told, binary = parts_of_glb(content)
    held = f"data:application/octet-stream;base64,{base64.b64encode(binary).decode()}"
    told["buffers"][0] |= {"uri": uri or held, "byteLength": len(binary)}
    return json.dumps(told).encode()


def zipped(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as bundle:
        for name, content in files.items():
            bundle.writestr(name, content)
    return out.getvalue()


def gltf_zip() -> bytes:
    """A glTF with its buffer and a picture in folders beside it."""
    content = pictured_glb([png(np.full((2, 2, 3), (0, 255, 0), dtype=np.uint8))], [[0, 0], [1, 0], [1, 1], [0, 1]])
    told, binary = parts_of_glb(content)
    told["images"] = [{"uri": "pictures/a%20green.png"}]
    told["buffers"][0] |= {"uri": "data/mesh.bin"}
    files = {"model/shape.gltf": json.dumps(told).encode(), "model/data/mesh.bin": binary}
    return zipped(files | {"model/pictures/a green.png": png(np.full((2, 2, 3), (0, 255, 0), dtype=np.uint8))})


def skinned_glb() -> bytes:
    """A square of four points: the right two hang on a joint that turns by 90 degrees in a second; a morph lifts one."""
    data = PackedCopies()
    place = data.add([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], "VEC3")
    joints = data.add([[0, 0, 0, 0], [1, 0, 0, 0], [1, 0, 0, 0], [0, 0, 0, 0]], "VEC4", np.uint8)
    weights = data.add([[1, 0, 0, 0]] * 4, "VEC4")
    faces = data.add([0, 1, 2, 0, 2, 3], "SCALAR", np.uint16)
    lift = data.add([[0, 0, 0], [0, 0, 0], [0, 0, 0], [0, 0, 2]], "VEC3")
    identity = np.tile(np.eye(4), (2, 1, 1)).reshape(2, 16)
    bind = data.add(identity, "MAT4")
    clock = data.add([0.0, 1.0], "SCALAR")
    half = np.sin(np.pi / 4)
    turn = data.add([[0, 0, 0, 1], [0, 0, half, half]], "VEC4")
    morph = data.add([0.0, 1.0], "SCALAR")
    mesh = {
        "primitives": [
            {
                "attributes": {"POSITION": place, "JOINTS_0": joints, "WEIGHTS_0": weights},
                "indices": faces,
                "targets": [{"POSITION": lift}],
            }
        ]
    }
    samplers = [{"input": clock, "output": turn}, {"input": clock, "output": morph}]
    channels = [
        {"sampler": 0, "target": {"node": 2, "path": "rotation"}},
        {"sampler": 1, "target": {"node": 0, "path": "weights"}},
    ]
    return data.file(
        scenes=[{"nodes": [0, 1]}],
        nodes=[{"mesh": 0, "skin": 0}, {"name": "hip", "children": [2]}, {"name": "knee"}],
        meshes=[mesh],
        skins=[{"joints": [1, 2], "inverseBindMatrices": bind}],
        animations=[{"samplers": samplers, "channels": channels}],
    )
