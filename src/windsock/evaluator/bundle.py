"""A frame as a manifest and binary blocks addressed by the hash of their content."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import groupby
from typing import Literal

import numpy as np
import orjson
from numpy.typing import NDArray
from xxhash import xxh3_128_hexdigest

from windsock.core.declarations import in_order
from windsock.core.document.items import Camera, Light, Path, Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.frame import Frame
from windsock.core.evaluate.keeping import Cost
from windsock.core.finishing.chain import quick
from windsock.core.geometry.colour import linear_from_hex
from windsock.core.geometry.enclosing import mean_chord
from windsock.core.geometry.pairing import Pairing, nearest_pairs
from windsock.core.geometry.placement import moved
from windsock.core.kernels.packing import packed_copies, packed_normals, packed_surface, packed_tint
from windsock.core.kernels.surface_distance import Surface
from windsock.core.look import Look
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.timing.parameter import Moment, Vector
from windsock.protocol.manifest import ArrayRef, DrawnCopies, NodeCost
from windsock.protocol.wire import Buffer

ArrayKind = Literal["float32", "int16", "uint16", "uint32", "uint8"]

SURFACE = ("roughness", "metallic", "transmission")
"""The channels that travel together where points have their own."""


@dataclass(frozen=True)
class Block:
    """Bytes of one array, padded to four. They are those of the array itself, not a copy."""

    content: NDArray[np.uint8]

    @property
    def nbytes(self) -> int:
        return len(self.content)


@dataclass(frozen=True)
class ItemArrays:
    """How the arrays of one mesh are called and typed, each by the hash of its block.

    copies: how many there are where the mesh is a model of copies, and the cube and the size that their numbers count in.
    Then their channels of the look are for each copy.
    """

    arrays: dict[str, ArrayRef]
    copies: DrawnCopies | None = None

    @property
    def nbytes(self) -> int:
        return 1024


@dataclass(frozen=True)
class Chord:
    """How far light goes inside a body in the mean, in metres of its own space; None for a sheet."""

    metres: float | None

    @property
    def nbytes(self) -> int:
        return 64


@dataclass(frozen=True)
class Manifest:
    """A manifest, or its part for one draw item, as JSON text, and the hashes of the blocks it names."""

    text: bytes
    blocks: tuple[str, ...]

    @property
    def nbytes(self) -> int:
        return len(self.text)


class Bundler:
    """Makes manifests, and keeps the blocks that they name."""

    def __init__(self, blocks: Cache) -> None:
        self.blocks = blocks

    def bundle(self, shot: Shot, frame: Frame, held: set[str], asked: str = "") -> list[Buffer]:
        """One reply: the manifest's length (4 bytes, little-endian), the manifest as JSON, the blocks not yet held.

        The manifest's `sent` lists the hash and length of each block that follows, in order. Under `asked` the manifest
        is kept, so that the same frame is `ready` the next time.
        """
        try:
            return self._bundled(shot, frame, held, asked)
        except KeyError:  # blocks of what is drawn were let go of: they are made again
            self.blocks.clear()
            return self._bundled(shot, frame, held, asked)

    def _bundled(self, shot: Shot, frame: Frame, held: set[str], asked: str) -> list[Buffer]:
        items = [self._item(item, frame) for item in frame.draw]
        wanted = dict.fromkeys(name for item in items for name in item.blocks)
        manifest = self._manifest(shot, frame) | {"items": [orjson.Fragment(item.text) for item in items]}
        bundled = Manifest(orjson.dumps(manifest), tuple(wanted))
        if asked:
            self.blocks.put(f"manifest {asked}", bundled)
        return self._sent(bundled, held)

    def ready(self, asked: str, held: set[str]) -> list[Buffer] | None:
        """The reply for a frame that was bundled before, as long as all its blocks are kept."""
        bundled = self.blocks.get(f"manifest {asked}")
        try:
            return self._sent(bundled, held) if isinstance(bundled, Manifest) else None
        except KeyError:
            return None

    def _sent(self, bundled: Manifest, held: set[str]) -> list[Buffer]:
        sent = [(name, self.block(name)) for name in bundled.blocks if name not in held]
        listed = orjson.dumps([[name, len(content)] for name, content in sent])
        head = bundled.text[:-1] + b',"sent":' + listed + b"}"
        head += b" " * (-len(head) % 4)
        return [len(head).to_bytes(4, "little"), head, *(content.data for _, content in sent)]

    def block(self, name: str) -> NDArray[np.uint8]:
        """The bytes under a hash; raises KeyError where they are not held."""
        found = self.blocks.get(f"block {name}")
        if not isinstance(found, Block):
            raise KeyError(name)
        return found.content

    def _manifest(self, shot: Shot, frame: Frame) -> dict[str, object]:
        at = frame.moment
        stops, glow = quick(shot.finishing, at)
        return {
            "frame": frame.moment.frame,
            "seconds": frame.moment.seconds,
            "placements": {name: matrix.T.ravel().tolist() for name, matrix in frame.placements.items()},
            "values": {pointer: at(keyed) for pointer, keyed in frame.plan.keyed().items()},
            "reaches": reaches(shot, at),
            "regions": regions(shot, frame),
            "marks": self._marks(shot, frame),
            "spaces": spaces(shot, at),
            "courses": courses(shot, frame),
            "lights": [
                {
                    "item": key,
                    "shines": item.shines,
                    "light": item.light(at),
                    "wide": at(item.wide),
                    "high": at(item.high),
                }
                for key, item in in_order(shot.items)
                if isinstance(item, Light)
            ],
            "cameras": {
                key: {"angle": at(item.angle), "exposure": at(item.exposure)}
                for key, item in shot.items.items()
                if isinstance(item, Camera)
            },
            "environment": at.resolved(shot.environment),
            "finish": {"stops": stops, "glow": glow, "view": shot.view},
            "costs": [_cost(cost) for cost in frame.costs],
            "shapes": [vars(report) for report in frame.shapes],
            "looked_at": None if frame.looked_at is None else sorted(frame.looked_at),
            "steps": [
                {
                    **{name: value for name, value in vars(report).items() if name != "reading"},
                    "reading": None
                    if report.reading is None
                    else {
                        "field": report.reading.field,
                        "coverage": vars(report.reading.coverage),
                        "histogram": list(report.reading.histogram),
                        "band": report.reading.band,
                    },
                }
                for report in frame.steps
            ],
        }

    def _marks(self, shot: Shot, frame: Frame) -> list[dict[str, object]]:
        """Where the marks of the steps of what is looked at are in the world, on the shapes that are drawn."""
        drawn = {one.item: one for one in frame.draw if one.part == "body" and not isinstance(one.body, CopiesPart)}
        found: list[dict[str, object]] = []
        for item_id, item in in_order(shot.items):
            if not isinstance(item, Shape) or (frame.looked_at is not None and item_id not in frame.looked_at):
                continue
            for step_id, step in in_order(item.recipe.steps):
                for other, marks in groupby(step.marked() if step.on else (), lambda mark: mark.item):
                    on, told = other or item_id, list(marks)
                    places = self._places(drawn[on], [mark.place for mark in told]) if on in drawn else None
                    for mark, place in zip(told, () if places is None else places.tolist(), strict=False):
                        found.append({"item": item_id, "step": step_id, "mark": mark.key, "on": on, "place": place})
        return found

    def _places(self, drawn: DrawItem, rest: list[Vector]) -> NDArray[np.float64] | None:
        """(k, 3) where places of a shape at rest are in the world; None where nothing is left of it."""
        mesh = drawn.body.mesh
        if len(mesh.faces) == 0:
            return None

        def made() -> Pairing:
            return nearest_pairs(np.array(rest, dtype=np.float64), Surface(mesh.rest.astype(np.float64), mesh.faces))

        resting = f"{xxh3_128_hexdigest(mesh.rest.tobytes() + mesh.faces.tobytes())} {rest}"
        found, _ = self.blocks.get_or_make(f"marks {resting}", made)
        return moved(found.on(mesh.points.astype(np.float64), mesh.faces), drawn.matrix)

    def _item(self, item: DrawItem, frame: Frame) -> Manifest:
        """What is told of one draw item; the same as long as its mesh, its place and its looks are."""
        backs = item.body.backs
        looks = {
            "look": frame.plan.resolved(item.body.look, frame.moment),
            "backs": frame.plan.resolved(backs, frame.moment) if isinstance(backs, Look) else backs,
        }
        placed = item.matrix.tobytes() + orjson.dumps(looks)
        if item.heat is not None:
            return self._described_item(item, looks, frame)
        key = f"item {item.key} {item.item} {xxh3_128_hexdigest(placed)}"
        return self.blocks.get_or_make(key, lambda: self._described_item(item, looks, frame))[0]

    def _described_item(self, item: DrawItem, looks: dict[str, object], frame: Frame) -> Manifest:
        mesh, base = item.looked, item.body.look.base_colour
        described, _ = self.blocks.get_or_make(f"arrays {item.key} {base}", lambda: self._described(item))
        arrays = dict(described.arrays)
        if item.heat is not None:
            arrays["heat"] = self._kept(item.heat, 1, "float32")
        manifest = {
            "item": item.item,
            "part": item.part,
            "matrix": item.matrix.T.ravel().tolist(),
            **looks,
            "tinted": mesh.colour is not None,
            "fading": mesh.opacity is not None and item.body.alpha == "blend",
            "surfaced": [name for name in SURFACE if getattr(mesh, name) is not None],
            "thickness": self._thickness(item, frame),
            "cut": mesh.opacity is not None and item.body.alpha == "cut",
            "picture": None
            if item.picture is None
            else {"kind": item.picture.kind, "wrap": item.picture.wrap, "alpha": item.picture.alpha},
            "arrays": arrays,
            "copies": described.copies,
        }
        return Manifest(orjson.dumps(manifest), tuple(array["hash"] for array in arrays.values()))

    def _thickness(self, item: DrawItem, frame: Frame) -> float:
        """How far light goes inside what is drawn, in its own space: through a body as far as in the mean, through a sheet as its look
        says; 0 where none goes through."""
        solid, at = item.surface, frame.moment
        if item.looked.transmission is None and at(item.body.look.transmission) <= 0:
            return 0.0
        chord, _ = self.blocks.get_or_make(f"chord {item.key}", lambda: Chord(mean_chord(solid.points, solid.faces)))
        if chord.metres is not None:
            return chord.metres
        stretched = float(np.cbrt(abs(np.linalg.det(item.matrix[:3, :3]))))
        return at(item.body.look.thickness) / max(stretched, 1e-6)

    def _described(self, item: DrawItem) -> ItemArrays:
        mesh, solid = item.looked, item.surface
        arrays: dict[str, ArrayRef] = {
            "points": self._kept(solid.points, 3, "float32"),
            "normals": self._kept(packed_normals(solid.normals), 4, "int16"),
            "faces": self._kept(np.ascontiguousarray(solid.faces).view(np.uint32), 1, "uint32"),
        }
        instances: DrawnCopies | None = None
        if isinstance(item.body, CopiesPart):
            copies = item.body.copies
            packed = packed_copies(item.points, copies.turn, copies.size)
            arrays["place"] = self._kept(packed.place, 4, "uint16")
            arrays["turn"] = self._kept(packed.turn, 4, "int16")
            arrays["size"] = self._kept(packed.size, 4, "uint16")
            instances = {
                "count": len(copies),
                "low": packed.low,
                "span": packed.span,
                "largest": packed.largest,
                "radius": float(copies.radius.max(initial=0)),
            }
        if mesh.colour is not None or mesh.opacity is not None:
            base = np.array(linear_from_hex(item.body.look.base_colour), dtype=np.float32)
            tint = packed_tint(len(mesh.points), base, mesh.colour, mesh.opacity)
            arrays["tint"] = self._kept(tint, 4, "uint16")
        if mesh.emission is not None:
            arrays["emission"] = self._kept(mesh.emission, 3, "float32")
        if item.picture is not None and solid.uv is not None:
            arrays["picture"] = self._kept(item.picture.content, 1, "uint8")
            arrays["uv"] = self._kept(solid.uv, 2, "float32")
            if mesh.pictured is not None:
                arrays["pictured"] = self._kept(mesh.pictured, 1, "float32")
        surface = [getattr(mesh, name) for name in SURFACE]
        if any(values is not None for values in surface):
            arrays["surface"] = self._kept(packed_surface(len(mesh.points), *surface), 4, "uint16")
        return ItemArrays(arrays, instances)

    def _kept(self, values: NDArray[np.generic], components: int, kind: ArrayKind) -> ArrayRef:
        content = np.ascontiguousarray(values).reshape(-1).view(np.uint8)
        name = xxh3_128_hexdigest(content.data, seed=len(content))[:24]
        if len(content) % 4:
            content = np.concatenate([content, np.zeros(-len(content) % 4, dtype=np.uint8)])
        self.blocks.put(f"block {name}", Block(content))
        return {"hash": name, "type": kind, "components": components, "count": values.size // components}


def _cost(cost: Cost) -> NodeCost:
    node = cost.node
    return {
        "node": str(node),
        "sort": node.sort,
        "item": node.item,
        "step": node.step,
        "field": node.field,
        "kind": cost.kind,
        "milliseconds": cost.milliseconds,
        "own": cost.own,
        "compiling": cost.compiling,
        "made": cost.made,
        "hits": cost.hits,
        "bytes": cost.bytes,
    }


COURSE_PLACES = 400
"""Places of a path that are drawn at most."""


def courses(shot: Shot, frame: Frame) -> dict[str, list[float]]:
    """Places along each path in the world, three numbers each."""
    found: dict[str, list[float]] = {}
    for key, item in in_order(shot.items):
        if isinstance(item, Path):
            places = moved(item.course(frame.moment).places, frame.placements[key])
            every = max(1, -(-len(places) // COURSE_PLACES))
            kept = np.unique(np.append(np.arange(0, len(places), every), len(places) - 1))
            found[key] = places[kept].round(5).ravel().tolist()
    return found


def reaches(shot: Shot, at: Moment) -> list[dict[str, object]]:
    """The true reach of each controller: where one of its sources alone has the value of its field's level."""
    return [
        {"field": field_id, "source": source_id, "controller": controller, "outline": outline}
        for field_id, field in in_order(shot.fields)
        for source_id, source in in_order(field.sources)
        if (outline := source.outline(at(field.level), at)) is not None
        for controller in source.items()
    ]


def regions(shot: Shot, frame: Frame) -> list[dict[str, object]]:
    """What each step reaches that has ends, in metres of the world along an axis of an item."""
    found: list[dict[str, object]] = []
    for item_id, item in in_order(shot.items):
        for step_id, step in in_order(item.recipe.steps) if isinstance(item, Shape) else []:
            region = step.region(frame.moment) if step.on else None
            if region is None:
                continue
            space = region.item or item_id
            length = float(np.linalg.norm(frame.placements[space][:3, "xyz".index(region.axis)]))
            found.append(
                {
                    "item": item_id,
                    "step": step_id,
                    "space": space,
                    "axis": region.axis,
                    "start": min(region.start, region.end) * length,
                    "end": max(region.start, region.end) * length,
                }
            )
    return found


def spaces(shot: Shot, at: Moment) -> dict[str, list[float]]:
    """Where each item that goes along a path is carried: the 16 numbers of a matrix, column by column."""
    return {
        key: shot.space_of(key, at).T.ravel().tolist()
        for key, item in in_order(shot.items)
        if item.along is not None and item.parent is not None
    }
