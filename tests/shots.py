"""Small shots that tests build on."""

from __future__ import annotations

import numpy as np

from windsock.core.document.shot import Shot, parse_shot
from windsock.core.evaluate.cache import Cache
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.keeping import Keeper, Store
from windsock.core.fields.elements import Elements, Subject
from windsock.core.geometry.clip import Clip
from windsock.core.geometry.drawing import Drawing
from windsock.core.geometry.lettering import Lettering
from windsock.core.geometry.mesh import Mesh
from windsock.core.parts.part import Part
from windsock.demo.the_sock_itself import the_sock_itself
from windsock.formats.font import shipped_font
from windsock.formats.reader import Held


def sock_alone() -> dict:
    """The demo's wind sock without the strands that trail behind it: the same faces at every frame, and soon made."""
    document: dict = the_sock_itself()  # type: ignore[assignment]
    del document["items"]["tail"]
    document["opening_frame"] = 36
    return document


def cut_ball(geometry=None, source=None, field=None, step=None, **shot) -> dict:
    """A ball cut away by a field around a controller that moves along X, 3 m to -1 m in 100 frames."""
    around = {"kind": "around", "controller": "fog", "reach": 1.5, "soft": 1.0} | (source or {})
    return {
        "name": "A ball",
        "items": {
            "ball": {
                "kind": "shape",
                "name": "Ball",
                "rank": 0,
                "geometry": geometry or {"kind": "sphere", "radius": 1.0, "subdivisions": 4},
                "recipe": {
                    "parts": {"body": {"name": "Body", "rank": 0}},
                    "steps": {"cut": {"kind": "cut_away", "rank": 0, "field": "front"} | (step or {})},
                },
            },
            "fog": {
                "kind": "controller",
                "name": "Fog",
                "rank": 1,
                "place": {
                    "keys": {
                        "k1": {"frame": 0, "value": [3.0, 0.0, 0.0], "easing": {"kind": "linear"}},
                        "k2": {"frame": 100, "value": [-1.0, 0.0, 0.0]},
                    }
                },
            },
        },
        "fields": {
            "front": {"letter": "A", "name": "Front", "rank": 0, "level": 0.5, "band": 0.0, "sources": {"s": around}}
            | (field or {})
        },
    } | shot


class Files:
    """What came from files, for tests: one thing, or none. Fonts that ship are there."""

    def __init__(self, held: Held | None = None) -> None:
        self.held = held

    def mesh(self, asset: str) -> Mesh:
        held = self.held.mesh if isinstance(self.held, Clip) else self.held
        assert isinstance(held, Mesh), f"no test mesh {asset}"
        return held

    def clip(self, asset: str) -> Clip | None:
        return self.held if isinstance(self.held, Clip) else None

    def drawing(self, asset: str) -> Drawing:
        assert isinstance(self.held, Drawing), f"no test drawing {asset}"
        return self.held

    def lettering(self, font: str) -> Lettering:
        return shipped_font(font)


def evaluator(budget: int = 2**28, store: Store | None = None, held: Held | None = None) -> Evaluator:
    """An evaluator with a cache of its own, and one imported file or none."""
    return Evaluator(Files(held), Keeper(Cache(budget), store))


def cut_mesh(document: dict, frame: float = 0.0) -> Mesh:
    """The ball's mesh after its recipe."""
    return evaluator().frame(parse_shot(document), frame).draw[0].body.mesh


def parsed(document: dict) -> Shot:
    return parse_shot(document)


def edge_lengths_at_border(mesh: Mesh) -> tuple[np.ndarray, np.ndarray]:
    """Edges of one face only: (k, 2) point indices, by place rather than by point, and (k,) their lengths."""
    _, place = np.unique(mesh.number, return_inverse=True)
    ends = mesh.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    named = np.sort(place[ends], axis=1)
    _, first, count = np.unique(named, axis=0, return_index=True, return_counts=True)
    border = ends[first[count == 1]]
    return border, np.linalg.norm(np.diff(mesh.points[border].astype(float), axis=1)[:, 0], axis=1)


def points_as_elements(places: np.ndarray) -> Elements:
    """Loose places, (n, 3), as a subject of their own that stands where it rests."""
    points = np.asarray(places, dtype=np.float32)
    mesh = Mesh(points, points, points, np.zeros((0, 3), dtype=np.int32), np.arange(len(points)))
    return Elements(places, places, Subject("ball", mesh, "loose places"), lambda values: values, lambda: points)


def times_of_edges(mesh: Mesh) -> np.ndarray:
    """(e,) how many faces meet at each edge, by place: 2 everywhere on a closed mesh."""
    _, place = np.unique(mesh.number, return_inverse=True)
    edges = np.sort(place[mesh.faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)], axis=1)
    return np.unique(edges, axis=0, return_counts=True)[1]


def closed_volume(mesh: Mesh) -> float:
    """The volume of a closed mesh by the divergence theorem: positive where faces turn outward."""
    a, b, c = (mesh.points[mesh.faces[:, corner]].astype(float) for corner in range(3))
    return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)


def one_way_edges(*meshes: Mesh) -> int:
    """Edges that meshes together have in one direction only, points of one number taken as one: 0 where they close."""
    names = np.concatenate([mesh.number[mesh.faces] for mesh in meshes])
    ends = np.concatenate([names[:, [0, 1]], names[:, [1, 2]], names[:, [2, 0]]])
    there = {tuple(one) for one in ends.tolist()}
    return sum((b, a) not in there for a, b in there)


def recipe_shot(*steps: dict, geometry: dict | None = None, parts: tuple[str, ...] = (), **shot) -> dict:
    """A ball (or another shape) with a recipe of steps s1, s2, …, the parts they make, and the ball's fog and front."""
    document = cut_ball(geometry=geometry, **shot)
    named = {name: {"name": name.title(), "rank": rank} for rank, name in enumerate(("body", *parts))}
    ranked = {f"s{place + 1}": {"rank": place} | step for place, step in enumerate(steps)}
    document["items"]["ball"]["recipe"] = {"parts": named, "steps": ranked}
    return document


def parts_of(document: dict, frame: float = 0.0) -> dict[str, Part]:
    """The parts of the first shape of a shot as they are drawn, by name."""
    return {item.part: item.body for item in evaluator().frame(parse_shot(document), frame).draw if item.item == "ball"}
