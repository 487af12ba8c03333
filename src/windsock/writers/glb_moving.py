"""GLB that moves: a range of frames as one file.

A shape whose mesh stays the same is an animated node. Where points move on the same faces, they are morph targets, one for
each frame. Where faces change too, each mesh is a node of its own, shown at its frames by a scale of 1 and hidden by 0.
"""

from __future__ import annotations

import numpy as np
import pygltflib as gltf
from numpy.typing import NDArray

from windsock.core.document.items import Camera
from windsock.core.evaluate.frame import Evaluator
from windsock.core.geometry.placement import Matrix
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.timing.parameter import Moment
from windsock.writers.glb_out import GltfFile
from windsock.writers.moving import Reel, Track
from windsock.writers.writer import ReelWriter

Floats = NDArray[np.float32]


def write_moving_glb(reel: Reel) -> bytes:
    """The frames as one GLB with an animation."""
    return _MovingFile(reel).all()


class MovingGlbWriter(ReelWriter):
    """GLB that moves, one file for all frames."""

    name = "glb-moving"
    called = "GLB that moves"
    ending = "glb"
    media = "model/gltf-binary"
    keeps_copies = True

    def write(self, reel: Reel, evaluator: Evaluator) -> bytes:
        del evaluator
        return write_moving_glb(reel)


class _MovingFile(GltfFile):
    def __init__(self, reel: Reel) -> None:
        super().__init__()
        self._reel = reel
        self._samplers: list[gltf.AnimationSampler] = []
        self._channels: list[gltf.AnimationChannel] = []
        self._clock: int | None = None

    def all(self) -> bytes:
        reel = self._reel
        nodes: list[int] = []
        for track in reel.tracks:
            if isinstance(track.seen[0].body, CopiesPart):
                nodes += self._copies_by_frames(track)
            elif track.rigid or track.same_faces:
                nodes.append(self._whole(track))
            else:
                nodes += self._by_frames(track)
        camera = reel.shot.items.get(reel.shot.camera) if reel.shot.camera else None
        if isinstance(camera, Camera) and reel.shot.camera:
            place = self.add_camera(reel.shot, camera, self._at(0))
            nodes.append(place)
            self._move(place, [placed[reel.shot.camera] for placed in reel.placements])
        if self._channels:
            self.file.animations.append(
                gltf.Animation(name=reel.shot.name, samplers=self._samplers, channels=self._channels)
            )
        return self.finished(reel.shot.name, nodes)

    def _at(self, place: int) -> Moment:
        return self._reel.shot.moment(self._reel.frames[place])

    def _whole(self, track: Track) -> int:
        """One node for the whole of a track."""
        start = next(place for place, one in enumerate(track.drawn) if one is not None)
        first = track.seen[0]
        mesh = self.add_mesh(self._reel.shot, first, self._at(start))
        node = self.add_node(gltf.Node(name=track.name, mesh=mesh))
        if not track.rigid:
            self._morph(track, mesh, node)
        matrices = [placed[track.item] for placed in self._reel.placements]
        self._move(node, matrices, [one is not None for one in track.drawn])
        return node

    def _morph(self, track: Track, mesh: int, node: int) -> None:
        first = track.seen[0].body.mesh
        keys: list[str] = []
        targets: list[tuple[int, int]] = []
        for one in track.seen:
            if one.key not in keys and one.key != track.seen[0].key:
                keys.append(one.key)
                shift = one.body.mesh.points - first.points
                turned = one.body.mesh.normals - first.normals
                places = self.add_array(shift, gltf.VEC3, gltf.ARRAY_BUFFER, bounds=True)
                targets.append((places, self.add_array(turned, gltf.VEC3, gltf.ARRAY_BUFFER)))
        made = self.file.meshes[mesh]
        for primitive in made.primitives:
            behind = primitive is not made.primitives[0]
            primitive.targets = [
                gltf.Attributes(POSITION=shift, NORMAL=None if behind else turned) for shift, turned in targets
            ]
        made.weights = [0.0] * len(targets)
        weights = np.zeros((len(self._reel.frames), len(targets)), dtype=np.float32)
        last = track.seen[0].key
        for row, one in enumerate(track.drawn):
            last = last if one is None else one.key
            if last in keys:
                weights[row, keys.index(last)] = 1
        self._channel(node, "weights", weights.reshape(-1), gltf.SCALAR, "LINEAR")

    def _by_frames(self, track: Track) -> list[int]:
        """A node for every mesh of a track whose faces change."""
        nodes: dict[str, int] = {}
        for place, one in enumerate(track.drawn):
            if one is not None and one.key not in nodes:
                mesh = self.add_mesh(self._reel.shot, one, self._at(place))
                nodes[one.key] = self.add_node(
                    gltf.Node(name=f"{track.name}, frame {self._reel.frames[place]}", mesh=mesh)
                )
        matrices = [placed[track.item] for placed in self._reel.placements]
        for key, node in nodes.items():
            self._move(node, matrices, [one is not None and one.key == key for one in track.drawn])
        return list(nodes.values())

    def _copies_by_frames(self, track: Track) -> list[int]:
        """A node for every frame's copies, all of one mesh where they are of one model."""
        nodes: dict[str, int] = {}
        meshes: dict[int, int] = {}
        for place, one in enumerate(track.drawn):
            if one is None or one.key in nodes or not isinstance(one.body, CopiesPart):
                continue
            model = id(one.body.model.mesh)
            if model not in meshes:
                meshes[model] = self.add_mesh(self._reel.shot, one, self._at(place))
            name = f"{track.name}, frame {self._reel.frames[place]}"
            nodes[one.key] = self.add_node(gltf.Node(name=name, mesh=meshes[model]))
            self.add_copies(nodes[one.key], one, one.body)
        matrices = [track.seen[0].matrix if one is None else one.matrix for one in track.drawn]
        for key, node in nodes.items():
            self._move(node, matrices, [one is not None and one.key == key for one in track.drawn])
        return list(nodes.values())

    def _move(self, node: int, matrices: list[Matrix], seen: list[bool] | None = None) -> None:
        """Put a node at its places, with channels for what changes."""
        parts = [_parted(matrix) for matrix in matrices]
        places, turns, scales = (np.stack(part) for part in zip(*parts, strict=True))
        for row in range(1, len(turns)):
            if turns[row] @ turns[row - 1] < 0:
                turns[row] *= -1
        hidden = seen is not None and not all(seen)
        if hidden:
            scales = np.where(np.array(seen)[:, None], scales, np.float32(0))
        made = self.file.nodes[node]
        made.translation, made.rotation, made.scale = (values[0].tolist() for values in (places, turns, scales))
        if _changes(places):
            self._channel(node, "translation", places, gltf.VEC3, "LINEAR")
        if _changes(turns):
            self._channel(node, "rotation", turns, gltf.VEC4, "LINEAR")
        if _changes(scales):
            self._channel(node, "scale", scales, gltf.VEC3, "STEP" if hidden else "LINEAR")

    def _channel(self, node: int, what: str, values: Floats, shape: str, how: str) -> None:
        if self._clock is None:
            self._clock = self.add_array(self._reel.seconds.astype(np.float32), gltf.SCALAR, bounds=True)
        output = self.add_array(np.ascontiguousarray(values, dtype=np.float32), shape)
        self._samplers.append(gltf.AnimationSampler(input=self._clock, output=output, interpolation=how))
        target = gltf.AnimationChannelTarget(node=node, path=what)
        self._channels.append(gltf.AnimationChannel(sampler=len(self._samplers) - 1, target=target))


def _changes(values: Floats) -> bool:
    return len(values) > 1 and bool((np.abs(values - values[0]) > 1e-7).any())


def _parted(matrix: Matrix) -> tuple[Floats, Floats, Floats]:
    """Place, turn as a quaternion (x, y, z, w) and stretch of a matrix without shear."""
    scale = np.linalg.norm(matrix[:3, :3], axis=0)
    if np.linalg.det(matrix[:3, :3]) < 0:
        scale[0] *= -1
    turn = matrix[:3, :3] / scale
    # The eigenvector of the greatest eigenvalue: Bar-Itzhack, "New method for extracting the quaternion" (2000).
    (a, b, c), (d, e, f), (g, h, i) = turn
    symmetric = np.array(
        [
            [a - e - i, d + b, g + c, h - f],
            [d + b, e - a - i, h + f, c - g],
            [g + c, h + f, i - a - e, d - b],
            [h - f, c - g, d - b, a + e + i],
        ]
    )
    values, vectors = np.linalg.eigh(symmetric / 3)
    quaternion = vectors[:, int(values.argmax())]
    place, stretch = matrix[:3, 3].astype(np.float32), scale.astype(np.float32)
    return place, (quaternion / np.linalg.norm(quaternion)).astype(np.float32), stretch
