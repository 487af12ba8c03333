"""A frame as a manifest and binary blocks addressed by the hash of their content."""

from __future__ import annotations

import json
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from xxhash import xxh3_128_hexdigest

from windsock.core.declarations import in_order
from windsock.core.document.items import Camera, Light, Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.frame import DrawItem, Frame
from windsock.core.fields.around import Around
from windsock.core.kernels.packing import packed_normals, packed_tint
from windsock.core.look import Look
from windsock.core.timing.parameter import Moment
from windsock.formats.glb import tinted


@dataclass(frozen=True)
class Block:
    """Bytes of one array, padded to four. They are those of the array itself, not a copy."""

    content: NDArray[np.uint8]

    @property
    def nbytes(self) -> int:
        return len(self.content)


@dataclass(frozen=True)
class Described:
    """How the arrays of one mesh are called and typed, each by the hash of its block."""

    arrays: dict[str, dict[str, object]]

    @property
    def nbytes(self) -> int:
        return 1024


@dataclass(frozen=True)
class Manifest:
    """A manifest as JSON text, and the hashes of the blocks it names."""

    text: str
    blocks: tuple[str, ...]

    @property
    def nbytes(self) -> int:
        return len(self.text)


class Bundler:
    """Makes manifests, and keeps the blocks that they name."""

    def __init__(self, blocks: Cache) -> None:
        self.blocks = blocks

    def bundle(self, shot: Shot, frame: Frame, held: set[str], asked: str = "") -> bytes:
        """One reply: the manifest's length (4 bytes, little-endian), the manifest as JSON, the blocks not yet held.

        The manifest's `sent` lists the hash and length of each block that follows, in order. Under `asked` the manifest
        is kept, so that the same frame is `ready` the next time.
        """
        manifest = self._manifest(shot, frame)
        wanted = dict.fromkeys(str(array["hash"]) for item in manifest["items"] for array in item["arrays"].values())  # pyright: ignore
        told = Manifest(json.dumps(manifest, separators=(",", ":")), tuple(wanted))
        if asked:
            self.blocks.put(f"manifest {asked}", told)
        return self._sent(told, held)

    def ready(self, asked: str, held: set[str]) -> bytes | None:
        """The reply for a frame that was bundled before, as long as all its blocks are kept."""
        told = self.blocks.get(f"manifest {asked}")
        try:
            return self._sent(told, held) if isinstance(told, Manifest) else None
        except KeyError:
            return None

    def _sent(self, told: Manifest, held: set[str]) -> bytes:
        sent = [(name, self.block(name)) for name in told.blocks if name not in held]
        listed = json.dumps([[name, len(content)] for name, content in sent], separators=(",", ":"))
        head = f'{told.text[:-1]},"sent":{listed}}}'.encode()
        head += b" " * (-len(head) % 4)
        return b"".join([len(head).to_bytes(4, "little"), head, *(content.data for _, content in sent)])

    def block(self, name: str) -> NDArray[np.uint8]:
        """The bytes under a hash; raises KeyError where they are not held."""
        found = self.blocks.get(f"block {name}")
        if not isinstance(found, Block):
            raise KeyError(name)
        return found.content

    def _manifest(self, shot: Shot, frame: Frame) -> dict[str, object]:
        at = frame.moment
        return {
            "frame": frame.moment.frame,
            "seconds": frame.moment.seconds,
            "items": [self._item(shot, item, at) for item in frame.draw],
            "placements": {name: matrix.T.ravel().tolist() for name, matrix in frame.placements.items()},
            "values": {pointer: at(keyed) for pointer, keyed in frame.keyed.items()},
            "reaches": reaches(shot, at),
            "lights": [
                {"item": key, "colour": item.colour, "strength": at(item.strength)}
                for key, item in in_order(shot.items)
                if isinstance(item, Light)
            ],
            "cameras": {key: {"angle": at(item.angle)} for key, item in shot.items.items() if isinstance(item, Camera)},
            "environment": at.resolved(shot.environment),
            "costs": [vars(cost) for cost in frame.costs],
            "shapes": [vars(report) for report in frame.shapes],
            "steps": [
                {
                    **{name: value for name, value in vars(report).items() if name != "reading"},
                    "reading": None
                    if report.reading is None
                    else {
                        "field": report.reading.field,
                        "coverage": vars(report.reading.coverage),
                        "histogram": [round(share, 6) for share in report.reading.histogram],
                    },
                }
                for report in frame.steps
            ],
        }

    def _item(self, shot: Shot, item: DrawItem, at: Moment) -> dict[str, object]:
        shape = shot.items[item.item]
        assert isinstance(shape, Shape)
        mesh = item.body.mesh
        base = item.body.look.base_colour
        described, _ = self.blocks.get_or_make(f"arrays {item.key} {base}", lambda: self._described(item))
        arrays = dict(described.arrays)
        if any(self.blocks.get(f"block {array['hash']}") is None for array in arrays.values()):
            arrays = dict(self._described(item).arrays)
        if item.heat is not None:
            arrays["heat"] = self._kept(item.heat, 1, "float32")
        backs = item.body.backs
        return {
            "item": item.item,
            "part": item.part,
            "matrix": item.matrix.T.ravel().tolist(),
            "look": at.resolved(item.body.look),
            "backs": at.resolved(backs) if isinstance(backs, Look) else backs,
            "tinted": mesh.colour is not None,
            "fading": mesh.opacity is not None,
            "arrays": arrays,
        }

    def _described(self, item: DrawItem) -> Described:
        mesh = item.body.mesh
        arrays = {
            "points": self._kept(mesh.points, 3, "float32"),
            "normals": self._kept(packed_normals(mesh.normals), 4, "int16"),
            "faces": self._kept(mesh.faces.view(np.uint32), 1, "uint32"),
        }
        tint = tinted(mesh, item.body.look)
        if tint is not None:
            arrays["tint"] = self._kept(packed_tint(tint), 4, "uint16")
        return Described(arrays)

    def _kept(self, values: NDArray[np.generic], components: int, kind: str) -> dict[str, object]:
        content = np.ascontiguousarray(values).reshape(-1).view(np.uint8)
        name = xxh3_128_hexdigest(content.data, seed=len(content))[:24]
        if len(content) % 4:
            content = np.concatenate([content, np.zeros(-len(content) % 4, dtype=np.uint8)])
        self.blocks.put(f"block {name}", Block(content))
        return {"hash": name, "type": kind, "components": components, "count": values.size // components}


def reaches(shot: Shot, at: Moment) -> list[dict[str, object]]:
    """The true reach of each controller: the distance at which its Around has the value of the field's level."""
    return [
        {
            "field": field_id,
            "source": source_id,
            "controller": source.controller,
            "radius": source.reach_at(at(told.level), at),
            "outer": at(source.reach),
        }
        for field_id, told in in_order(shot.fields)
        for source_id, source in in_order(told.sources)
        if isinstance(source, Around)
    ]
