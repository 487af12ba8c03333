"""What a glTF file holds, as arrays: accessors, and the tree of nodes at any moment of its animations."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from windsock.core.refusals import Refusal

COMPONENTS = {5120: np.int8, 5121: np.uint8, 5122: np.int16, 5123: np.uint16, 5125: np.uint32, 5126: np.float32}
COLUMNS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}
DEPTH_LIMIT, NODE_LIMIT, ANIMATION_LIMIT = 200, 20_000, 1000

BROKEN = (
    "Parts of the file refer to what it does not have. Nothing was imported. Write it again from where it was made."
)


class Data:
    """The JSON of a glTF file and its buffers. Everything that is wrong in it raises Refusal.

    pictures: gives the bytes of a picture that lies beside the JSON, by its uri.
    """

    def __init__(self, root: dict[str, Any], buffers: list[bytes], pictures: Callable[[str], bytes]) -> None:
        self.root = root
        self.buffers = buffers
        self._beside = pictures
        self._read: dict[int, NDArray[Any]] = {}

    def listed(self, name: str) -> list[dict[str, Any]]:
        """A list of objects at the top of the file. Raises Refusal where it is none."""
        held = self.root.get(name, [])
        if not isinstance(held, list) or not all(isinstance(entry, dict) for entry in held):
            raise Refusal(BROKEN)
        return held

    def one(self, name: str, place: object) -> dict[str, Any]:
        """One object of such a list. Raises Refusal where it is not there."""
        held = self.listed(name)
        if not isinstance(place, int) or isinstance(place, bool) or not 0 <= place < len(held):
            raise Refusal(BROKEN)
        return held[place]

    def array(self, place: object) -> NDArray[Any]:
        """(n, columns) an accessor's values; normalised integers become numbers of 0..1 or -1..1."""
        accessor = self.one("accessors", place)
        assert isinstance(place, int)
        if place not in self._read:
            self._read[place] = self._values(accessor)
        return self._read[place]

    def bytes_of(self, view: object) -> bytes:
        """The bytes of a buffer view. Raises Refusal where they lie outside of the file."""
        listed = self.one("bufferViews", view)
        start, length = _whole(listed.get("byteOffset", 0)), _whole(listed.get("byteLength", 0))
        buffer = _whole(listed.get("buffer", 0))
        if buffer >= len(self.buffers) or start + length > len(self.buffers[buffer]):
            raise Refusal(BROKEN)
        return self.buffers[buffer][start : start + length]

    def picture(self, place: object) -> bytes:
        """The bytes of a picture's file."""
        image = self.one("images", place)
        return self.bytes_of(image["bufferView"]) if "bufferView" in image else self._beside(str(image.get("uri", "")))

    def _values(self, accessor: dict[str, Any]) -> NDArray[Any]:
        kind, columns = COMPONENTS.get(accessor.get("componentType", 0)), COLUMNS.get(str(accessor.get("type")))
        count = _whole(accessor.get("count", 0))
        if kind is None or columns is None:
            raise Refusal(BROKEN)
        values = np.zeros((count, columns), dtype=kind)
        if "bufferView" in accessor:
            values = self._strided(accessor["bufferView"], _whole(accessor.get("byteOffset", 0)), count, columns, kind)
        if isinstance(sparse := accessor.get("sparse"), dict):
            values = values.copy()
            many = _whole(sparse.get("count", 0))
            indices, held = sparse.get("indices", {}), sparse.get("values", {})
            index = COMPONENTS.get(indices.get("componentType", 0))
            if index is None:
                raise Refusal(BROKEN)
            rows = self._strided(
                indices.get("bufferView"), _whole(indices.get("byteOffset", 0)), many, 1, index
            ).ravel()
            if many and int(rows.max()) >= count:
                raise Refusal(BROKEN)
            values[rows] = self._strided(held.get("bufferView"), _whole(held.get("byteOffset", 0)), many, columns, kind)
        if accessor.get("normalized") and values.dtype.kind in "iu":
            top = np.iinfo(str(values.dtype)).max
            return np.maximum(values.astype(np.float32) / top, -1)
        return values

    def _strided(self, view: object, offset: int, count: int, columns: int, kind: Any) -> NDArray[Any]:
        content = self.bytes_of(view)
        size = np.dtype(kind).itemsize
        stride = _whole(self.one("bufferViews", view).get("byteStride", 0)) or columns * size
        needed = offset + (count - 1) * stride + columns * size if count else 0
        if needed > len(content) or stride < columns * size:
            raise Refusal(BROKEN)
        if count == 0:
            return np.zeros((0, columns), dtype=kind)
        return np.ndarray((count, columns), dtype=kind, buffer=content, offset=offset, strides=(stride, size)).copy()


def _whole(value: object) -> int:
    if not isinstance(value, int) or isinstance(value, bool) or not 0 <= value < 2**31:
        raise Refusal(BROKEN)
    return value


@dataclass(frozen=True)
class Channel:
    """A movement of one property of a node."""

    node: int
    property: str
    seconds: NDArray[np.float64]
    values: NDArray[np.float64]
    how: str

    def at(self, seconds: float) -> NDArray[np.float64]:
        """The property at a moment, as glTF 2.0 Appendix C interpolates it."""
        place = int(np.clip(np.searchsorted(self.seconds, seconds, side="right") - 1, 0, len(self.seconds) - 1))
        after = min(place + 1, len(self.seconds) - 1)
        gap = float(self.seconds[after] - self.seconds[place])
        share = 0.0 if gap <= 0 else float(np.clip((seconds - self.seconds[place]) / gap, 0, 1))
        if self.how == "CUBICSPLINE":
            return self._cubic(place, after, share, gap)
        one, other = self.values[place], self.values[after]
        if self.how == "STEP" or share == 0:
            return one
        return _slerp(one, other, share) if self.property == "rotation" else one + (other - one) * share

    def _cubic(self, place: int, after: int, t: float, gap: float) -> NDArray[np.float64]:
        rows = self.values.reshape(len(self.seconds), 3, -1)
        made = (
            (2 * t**3 - 3 * t**2 + 1) * rows[place, 1]
            + gap * (t**3 - 2 * t**2 + t) * rows[place, 2]
            + (3 * t**2 - 2 * t**3) * rows[after, 1]
            + gap * (t**3 - t**2) * rows[after, 0]
        )
        return made / max(float(np.linalg.norm(made)), 1e-12) if self.property == "rotation" else made


def _slerp(one: NDArray[np.float64], other: NDArray[np.float64], share: float) -> NDArray[np.float64]:
    dot = float(one @ other)
    if dot < 0:
        other, dot = -other, -dot
    if dot > 0.9995:
        mixed = one + (other - one) * share
    else:
        angle = np.arccos(min(dot, 1.0))
        mixed = (np.sin((1 - share) * angle) * one + np.sin(share * angle) * other) / np.sin(angle)
    return mixed / max(float(np.linalg.norm(mixed)), 1e-12)


class Tree:
    """The nodes of a file's scene, each after the one that carries it."""

    def __init__(self, data: Data) -> None:
        self._data = data
        self.nodes = data.listed("nodes")
        if len(self.nodes) > NODE_LIMIT:
            raise Refusal(f"The file has more than {NODE_LIMIT:,} nodes. Nothing was imported. Simplify it.")
        self.order: list[tuple[int, int | None]] = []
        scenes = data.listed("scenes")
        start = data.root.get("scene", 0)
        roots = data.one("scenes", start).get("nodes", []) if scenes else self._rootless()
        seen: set[int] = set()
        waiting: list[tuple[object, int | None, int]] = []
        waiting += [(root, None, 0) for root in roots[::-1]]
        while waiting:
            node, parent, depth = waiting.pop()
            listed = data.one("nodes", node)
            assert isinstance(node, int)
            if node in seen or depth > DEPTH_LIMIT:
                raise Refusal(BROKEN)
            seen.add(node)
            self.order.append((node, parent))
            children = listed.get("children", [])
            if not isinstance(children, list):
                raise Refusal(BROKEN)
            waiting += [(child, node, depth + 1) for child in children[::-1]]

    def _rootless(self) -> list[int]:
        children = {child for node in self.nodes for child in node.get("children", []) if isinstance(child, int)}
        return [place for place in range(len(self.nodes)) if place not in children]

    def channels(self) -> list[Channel]:
        """The movements of the file's animations; where two move the same, the first. Raises Refusal for what is broken."""
        found: list[Channel] = []
        for animation in self._data.listed("animations")[:ANIMATION_LIMIT]:
            samplers = animation.get("samplers", [])
            for channel in animation.get("channels", []):
                target, place = channel.get("target", {}), channel.get("sampler")
                node, name = target.get("node"), target.get("path")
                if name not in ("translation", "rotation", "scale", "weights") or node is None:
                    continue
                self._data.one("nodes", node)
                if any((one.node, one.property) == (node, name) for one in found):
                    continue
                if not isinstance(place, int) or not 0 <= place < len(samplers):
                    raise Refusal(BROKEN)
                sampler = samplers[place]
                seconds = self._data.array(sampler.get("input")).astype(np.float64).ravel()
                values = self._data.array(sampler.get("output")).astype(np.float64)
                how = str(sampler.get("interpolation", "LINEAR"))
                each = 3 if how == "CUBICSPLINE" else 1
                sound = len(seconds) > 0 and np.isfinite(seconds).all() and (np.diff(seconds) > 0).all()
                if (
                    not sound
                    or len(values) % (len(seconds) * each)
                    or len(values) == 0
                    or not np.isfinite(values).all()
                ):
                    raise Refusal(BROKEN)
                rows = values.reshape(len(seconds), -1)
                found.append(Channel(node, str(name), seconds, rows, how))
        return found

    def matrices(self, moved: dict[tuple[int, str], NDArray[np.float64]]) -> dict[int, NDArray[np.float64]]:
        """(4, 4) from each node's space to the scene's. moved: what an animation says of nodes now."""
        made: dict[int, NDArray[np.float64]] = {}
        for node, parent in self.order:
            own = self._own(node, moved)
            made[node] = own if parent is None else made[parent] @ own
        return made

    def _own(self, node: int, moved: dict[tuple[int, str], NDArray[np.float64]]) -> NDArray[np.float64]:
        listed = self.nodes[node]
        if "matrix" in listed:
            return _numbers(listed["matrix"], 16).reshape(4, 4).T
        parts = {
            name: moved[node, name] if (node, name) in moved else _numbers(listed.get(name, default), len(default))
            for name, default in (("translation", [0.0] * 3), ("rotation", [0.0, 0.0, 0.0, 1.0]), ("scale", [1.0] * 3))
        }
        x, y, z, w = parts["rotation"] / max(float(np.linalg.norm(parts["rotation"])), 1e-12)
        turn = np.array(
            [
                [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
                [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
                [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
            ]
        )
        matrix = np.eye(4)
        matrix[:3, :3] = turn * parts["scale"]
        matrix[:3, 3] = parts["translation"]
        return matrix


def _numbers(numbers: object, count: int) -> NDArray[np.float64]:
    try:
        found = np.array(numbers, dtype=np.float64)
    except (TypeError, ValueError):
        raise Refusal(BROKEN) from None
    if found.shape != (count,) or not np.isfinite(found).all():
        raise Refusal(BROKEN)
    return found
