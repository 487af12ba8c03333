"""GLB (glTF 2.0 binary) out."""

from __future__ import annotations

import struct
from dataclasses import replace
from typing import Literal

import numpy as np
import pygltflib as gltf
from numpy.typing import NDArray

from windsock.core.document.items import Camera, Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.frame import Frame
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.enclosing import mean_chord
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.pictures import Picture
from windsock.core.look import Look
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.timing.parameter import Moment
from windsock.formats.colours import tinted
from windsock.formats.glb_look import WRAPS
from windsock.writers.writer import FrameWriter, Shown

INSTANCING = "EXT_mesh_gpu_instancing"
POINT_CHANNELS = ("emission", "roughness", "metallic", "transmission")
"""What points carry beside colour and opacity: written as attributes of our own, named as the standard asks (_EMISSION, …)."""


def write_glb(shot: Shot, frame: Frame) -> bytes:
    """A frame as one GLB file: finished shapes with their looks, and the shot's camera."""
    return GltfFile().written(shot, frame)


class GlbWriter(FrameWriter):
    """GLB, for each frame a file."""

    name = "glb"
    called = "GLB"
    ending = "glb"
    media = "model/gltf-binary"
    keeps_copies = True

    def write(self, shown: Shown) -> bytes:
        return write_glb(shown.shot, shown.frame)


class GltfFile:
    """Collects buffers, materials and nodes of one file."""

    def __init__(self) -> None:
        self.file = gltf.GLTF2(asset=gltf.Asset(version="2.0", generator="Wind Sock"))
        self.bytes = bytearray()
        self._pictures: dict[Picture, int] = {}

    def written(self, shot: Shot, frame: Frame) -> bytes:
        """One frame."""
        nodes = [self._node(shot, item, frame.moment) for item in frame.draw if item.body.faces()]
        camera = shot.items.get(shot.camera) if shot.camera else None
        if isinstance(camera, Camera) and shot.camera:
            place = self.add_camera(shot, camera, frame.moment)
            self.file.nodes[place].matrix = frame.placements[shot.camera].T.ravel().tolist()
            nodes.append(place)
        return self.finished(shot.name, nodes)

    def add_camera(self, shot: Shot, camera: Camera, at: Moment) -> int:
        """A node with the shot's camera, at the origin."""
        lens = gltf.Perspective(
            yfov=float(np.radians(at(camera.angle))), znear=0.05, aspectRatio=shot.picture.width / shot.picture.height
        )
        self.file.cameras.append(gltf.Camera(type="perspective", perspective=lens, name=camera.name))
        return self.add_node(gltf.Node(name=camera.name, camera=len(self.file.cameras) - 1))

    def finished(self, name: str, nodes: list[int]) -> bytes:
        """The file as bytes; nodes are those of its scene."""
        self.file.scenes.append(gltf.Scene(name=name, nodes=nodes) if nodes else gltf.Scene(name=name))
        self.file.scene = 0
        if not self.bytes:
            return _without_binary(self.file)
        self.file.buffers.append(gltf.Buffer(byteLength=len(self.bytes)))
        self.file.set_binary_blob(bytes(self.bytes))
        return b"".join(self.file.save_to_bytes())

    def _node(self, shot: Shot, item: DrawItem, at: Moment) -> int:
        matrix = item.matrix.T.ravel().tolist()
        shape = shot.items[item.item]
        assert isinstance(shape, Shape)
        name = shape.name if item.part == "body" else f"{shape.name}, {shape.recipe.parts[item.part].name}"
        node = self.add_node(gltf.Node(name=name, mesh=self.add_mesh(shot, item, at), matrix=matrix))
        if isinstance(item.body, CopiesPart):
            self.add_copies(node, item, item.body)
        return node

    def add_copies(self, node: int, item: DrawItem, part: CopiesPart) -> None:
        """Let a node draw its mesh once for each copy, by EXT_mesh_gpu_instancing; what copies have of their own goes as
        attributes of our own (_TINT, _EMISSION, …)."""
        part = part.only(part.there)
        copies, mesh = part.copies, part.mesh
        arrays: dict[str, tuple[NDArray[np.float32], str]] = {
            "TRANSLATION": (replace(item, body=part).points, gltf.VEC3),
            "ROTATION": (copies.turn, gltf.VEC4),
            "SCALE": (copies.size, gltf.VEC3),
        }
        tint = tinted(mesh, part.look, False)
        if tint is not None:
            arrays["_TINT"] = (tint, gltf.VEC4)
        for channel in POINT_CHANNELS:
            values = getattr(mesh, channel)
            if values is not None:
                arrays[f"_{channel.upper()}"] = (values, gltf.VEC3 if values.ndim == 2 else gltf.SCALAR)
        accessors = {
            name: self.add_array(np.ascontiguousarray(values), shape) for name, (values, shape) in arrays.items()
        }
        self.file.nodes[node].extensions = {INSTANCING: {"attributes": accessors}}
        self.file.extensionsUsed = sorted({*self.file.extensionsUsed, INSTANCING})
        self.file.extensionsRequired = [INSTANCING]

    def add_mesh(self, shot: Shot, item: DrawItem, at: Moment) -> int:
        """A finished shape with its look, in its own space."""
        name = shot.items[item.item].name
        mesh = item.surface
        attributes = gltf.Attributes(
            POSITION=self.add_array(mesh.points, gltf.VEC3, gltf.ARRAY_BUFFER, bounds=True),
            NORMAL=self.add_array(_unit(mesh.normals), gltf.VEC3, gltf.ARRAY_BUFFER),
        )
        if mesh.uv is not None:
            from_top = np.column_stack([mesh.uv[:, 0], 1 - mesh.uv[:, 1]])
            attributes.TEXCOORD_0 = self.add_array(from_top, gltf.VEC2, gltf.ARRAY_BUFFER)
        # A picture that shows only in places cannot be told: then its colours at the points are.
        picture = item.picture if mesh.pictured is None and mesh.uv is not None else None
        tint = tinted(mesh, item.body.look, picture is None)
        if tint is not None:
            attributes.COLOR_0 = self.add_array(tint, gltf.VEC4, gltf.ARRAY_BUFFER)
        for channel in POINT_CHANNELS:
            values = getattr(mesh, channel)
            if values is not None:
                kind = gltf.VEC3 if values.ndim == 2 else gltf.SCALAR
                setattr(attributes, f"_{channel.upper()}", self.add_array(values, kind, gltf.ARRAY_BUFFER))
        # Copies with a look of their own are told as a whole by its mean; each carries its own beside.
        front = self._material(name, item.body, at, tint, item.body.backs == "shown")
        if picture is not None:
            self._lay(self.file.materials[front], picture)
        indices = self.add_array(mesh.faces.astype(np.uint32).reshape(-1), gltf.SCALAR, gltf.ELEMENT_ARRAY_BUFFER)
        primitives = [gltf.Primitive(attributes=attributes, indices=indices, material=front)]
        if isinstance(item.body.backs, Look):
            primitives.append(self._back(name, mesh, item.body.backs, item.body.alpha, at))
        self.file.meshes.append(gltf.Mesh(name=name, primitives=primitives))
        return len(self.file.meshes) - 1

    def _back(self, name: str, mesh: Mesh, look: Look, alpha: Literal["blend", "cut"], at: Moment) -> gltf.Primitive:
        """Back faces with a look of their own, as faces turned round."""
        attributes = gltf.Attributes(
            POSITION=self.add_array(mesh.points, gltf.VEC3, gltf.ARRAY_BUFFER, bounds=True),
            NORMAL=self.add_array(-_unit(mesh.normals), gltf.VEC3, gltf.ARRAY_BUFFER),
        )
        if mesh.opacity is not None:
            white = np.ones((len(mesh.points), 4), dtype=np.float32)
            white[:, 3] = mesh.opacity
            attributes.COLOR_0 = self.add_array(white, gltf.VEC4, gltf.ARRAY_BUFFER)
        turned = np.ascontiguousarray(mesh.faces[:, ::-1]).astype(np.uint32).reshape(-1)
        indices = self.add_array(turned, gltf.SCALAR, gltf.ELEMENT_ARRAY_BUFFER)
        plain = MeshPart(
            Mesh(mesh.points, mesh.rest, mesh.normals, mesh.faces, mesh.number, opacity=mesh.opacity), look, "shown"
        )
        material = self._material(f"{name}, from behind", replace(plain, alpha=alpha), at, None, False)
        return gltf.Primitive(attributes=attributes, indices=indices, material=material)

    def _material(self, name: str, part: Part, at: Moment, tint: NDArray[np.float32] | None, both: bool) -> int:
        """A material has one number for each channel: where points have their own it is their mean, and they carry theirs."""
        look, mesh = part.look, part.mesh
        red, green, blue = (1.0, 1.0, 1.0) if tint is not None else linear_from_hex(look.base_colour)
        alpha = at(look.opacity)
        emitted = np.array(linear_from_hex(look.emission_colour)) * at(look.emission)
        if mesh.emission is not None:
            emitted = mesh.emission.mean(axis=0).astype(np.float64)
        strength = max(1.0, float(emitted.max()))
        material = gltf.Material(
            name=name,
            pbrMetallicRoughness=gltf.PbrMetallicRoughness(
                baseColorFactor=[red, green, blue, alpha],
                metallicFactor=_one(mesh.metallic, at(look.metallic)),
                roughnessFactor=_one(mesh.roughness, at(look.roughness)),
            ),
            emissiveFactor=[min(1.0, component) for component in (emitted / strength).tolist()],
            alphaMode=gltf.OPAQUE,
            alphaCutoff=None,
            doubleSided=both,
        )
        if mesh.opacity is not None and part.alpha == "cut":
            material.alphaMode, material.alphaCutoff = gltf.MASK, 0.5
        elif alpha < 1 or mesh.opacity is not None:
            material.alphaMode = gltf.BLEND
        extensions: dict[str, dict[str, object]] = {}
        if strength > 1:
            extensions["KHR_materials_emissive_strength"] = {"emissiveStrength": strength}
        transmission = _one(mesh.transmission, at(look.transmission))
        if transmission > 0:
            extensions["KHR_materials_transmission"] = {"transmissionFactor": transmission}
            extensions["KHR_materials_ior"] = {"ior": at(look.index)}
            chord = mean_chord(mesh.points, mesh.faces)
            if chord is not None:
                # Nobody sees the faces of a body from inside; a reader takes it for as thick everywhere as in the mean.
                material.doubleSided = False
                extensions["KHR_materials_volume"] = {
                    "thicknessFactor": chord,
                    "attenuationColor": list(linear_from_hex(look.attenuation_colour)),
                    "attenuationDistance": at(look.attenuation_distance),
                }
        if extensions:
            material.extensions = extensions
            self.file.extensionsUsed = sorted({*self.file.extensionsUsed, *extensions})
        self.file.materials.append(material)
        return len(self.file.materials) - 1

    def _lay(self, material: gltf.Material, picture: Picture) -> None:
        """Have a material show a picture; each is in the file once."""
        if picture not in self._pictures:
            self.file.images.append(
                gltf.Image(mimeType=picture.kind, bufferView=self._add_view(picture.content.tobytes()))
            )
            wraps = {name: place for place, name in WRAPS.items()}
            u, v = (wraps[one] for one in picture.wrap)
            self.file.samplers.append(gltf.Sampler(wrapS=u, wrapT=v))
            self.file.textures.append(
                gltf.Texture(source=len(self.file.images) - 1, sampler=len(self.file.samplers) - 1)
            )
            self._pictures[picture] = len(self.file.textures) - 1
        assert material.pbrMetallicRoughness is not None
        material.pbrMetallicRoughness.baseColorTexture = gltf.TextureInfo(index=self._pictures[picture])
        if picture.alpha == "cut":
            material.alphaMode, material.alphaCutoff = gltf.MASK, 0.5
        elif picture.alpha == "blend":
            material.alphaMode = gltf.BLEND

    def _add_view(self, content: bytes, target: int | None = None) -> int:
        """The place in the file of a view of bytes."""
        self.bytes.extend(b"\0" * (-len(self.bytes) % 4))
        self.file.bufferViews.append(
            gltf.BufferView(buffer=0, byteOffset=len(self.bytes), byteLength=len(content), target=target)
        )
        self.bytes.extend(content)
        return len(self.file.bufferViews) - 1

    def add_array(
        self, values: NDArray[np.generic], shape: str, target: int | None = None, bounds: bool = False
    ) -> int:
        """The place in the file of an accessor to values, (n,) or (n, columns). bounds: tell their least and greatest."""
        view = self._add_view(np.ascontiguousarray(values).tobytes(), target)
        component = gltf.UNSIGNED_INT if values.dtype == np.uint32 else gltf.FLOAT
        accessor = gltf.Accessor(bufferView=view, componentType=component, count=len(values), type=shape)
        if bounds:
            columns = values.reshape(len(values), -1)
            accessor.min, accessor.max = columns.min(axis=0).tolist(), columns.max(axis=0).tolist()  # pyright: ignore
        self.file.accessors.append(accessor)
        return len(self.file.accessors) - 1

    def add_node(self, node: gltf.Node) -> int:
        """A node's place in the file."""
        self.file.nodes.append(node)
        return len(self.file.nodes) - 1


def _one(values: NDArray[np.float32] | None, otherwise: float) -> float:
    return otherwise if values is None or len(values) == 0 else float(np.clip(values.mean(), 0, 1))


def _without_binary(file: gltf.GLTF2) -> bytes:
    """A GLB whose scene has no geometry: its JSON chunk alone, as the standard wants it."""
    text = file.gltf_to_json().encode()
    text += b" " * (-len(text) % 4)
    return b"glTF" + struct.pack("<III", 2, 20 + len(text), len(text)) + b"JSON" + text


def _unit(normals: NDArray[np.float32]) -> NDArray[np.float32]:
    length = np.linalg.norm(normals.astype(np.float64), axis=1, keepdims=True)
    return np.where(length > 1e-6, normals / np.maximum(length, 1e-12), (0, 1, 0)).astype(np.float32)
