"""What findings ask of a shot, measured once."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.declarations import in_order
from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.coverage import Strip, cover
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.inputs import Place
from windsock.core.evaluate.measured import PosedMesh
from windsock.core.evaluate.plan import Plan
from windsock.core.evaluate.reads import Reads
from windsock.core.evaluate.scene import SceneAt
from windsock.core.geometry.gradient import face_gradients
from windsock.core.geometry.placement import moved
from windsock.core.geometry.solution import Solution
from windsock.core.kernels.together import parts_and_holes
from windsock.core.steps import AnyStep
from windsock.core.steps.deforming import BESIDE, rigid_frame

MOST_FRAMES = 240
"""A longer shot is looked at in steps of several frames."""

EDGE_FRAMES = 7
"""At so many frames, spread over those where the field's edge is on the subject, faces are held against the band."""


SKIN_FRAMES = 7
"""At so many frames, spread over the shot, it is counted how many parts and holes a skin has."""

NEARLY_ALL = 0.9
"""Share of the faces by whose length those that enter a step are judged."""


@dataclass(frozen=True)
class Listener:
    """A step that is on, the shape it belongs to and its place in the recipe, from 1. field: what drives it, if anything."""

    item: str
    shape: Shape
    step_id: str
    step: AnyStep
    place: int
    field: str | None

    @property
    def pointer(self) -> str:
        return f"/items/{self.item}/recipe/steps/{self.step_id}"

    @property
    def says(self) -> str:
        """The step as it is spoken of: `Cut away (step 2 of Board)`."""
        return f"{self.step.named()} (step {self.place} of {self.shape.name})"


class Survey:
    """A shot with its listeners, and how its fields lie on their subjects over the whole range."""

    def __init__(self, evaluator: Evaluator, shot: Shot) -> None:
        self.shot = shot
        self._evaluator = evaluator
        self.plan: Plan = evaluator.scene(shot, shot.frames.first).plan
        self.listeners = list(_listeners(shot))
        length = shot.frames.last - shot.frames.first + 1
        self.step_by = -(-length // MOST_FRAMES)

    def halvings(self, one: Listener) -> int:
        """How often steps before a listener have split the faces that it gets."""
        earlier = [step for _, step in in_order(one.shape.recipe.steps)[: one.place - 1] if step.on]
        return sum(step.halvings for step in earlier)

    def faces(self, one: Listener) -> tuple[float, float]:
        """How long nearly all faces are that a step gets, in metres at the first frame, and how long what it reaches is along the
        axis of that, along which they are then measured; in any direction where it has no ends, with 0."""
        scene = self._evaluator.scene(self.shot, self.shot.frames.first).of_recipe(one.item)
        mesh, region = self._evaluator.at_rest(scene, one.item).value.mesh, one.step.region(scene.at)
        corners, long = moved(mesh.points, scene.placement(one.item))[mesh.faces], 0.0
        if region is None:
            sizes = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2).max(axis=1)
        else:
            frame, metre = rigid_frame(scene.placement(region.item or one.item), region.axis, BESIDE[region.axis])
            start, end = sorted((region.start * metre, region.end * metre))
            along = (corners @ frame[:3, :3].T + frame[:3, 3])[..., 1]
            low, high = along.min(axis=1), along.max(axis=1)
            long, there = end - start, (high > start) & (low < end)
            sizes = (high - low)[there]
        if len(sizes) == 0:
            return 0.0, long
        return float(np.quantile(sizes, NEARLY_ALL)) / 2 ** self.halvings(one), long

    def strip(self, field: str, item: str) -> Strip:
        """How a field lies on a shape over the whole range. Kept under its hash."""
        return cover(self._evaluator, self.shot, field, item, self.step_by)

    def subjects(self, field: str) -> list[str]:
        """The shapes that have a step driven by a field."""
        return list(dict.fromkeys(one.item for one in self.listeners if one.field == field))

    def driven(self) -> list[str]:
        """The fields that drive a step, in order."""
        return [field for field, _ in in_order(self.shot.fields) if self.subjects(field)]

    def heard(self, field: str) -> tuple[list[Listener], list[Strip]]:
        """The steps that listen to a zone of a field, and how it lies on the shape of each."""
        zoned = [one for one in self.listeners if one.field == field and one.step.zone != "value"]
        return zoned, [self.strip(field, one.item) for one in zoned]

    def solution(self, one: Listener) -> Solution | None:
        """What a step has solved, as it is at the first frame; None where nothing enters it."""
        evaluator, found = self._evaluator, list[Place]()
        scene = evaluator.scene(self.shot, self.shot.frames.first)

        def on_step(place: Place, *_: object) -> None:
            if place.step_id == one.step_id:
                found.append(place)

        evaluator.parts(scene.of_recipe(one.item), one.item, on_step)
        return evaluator.solution(found[0]).value if found else None

    def skins(self, one: Listener) -> list[tuple[float, int, int]]:
        """At moments spread over the shot: the frame, and how many parts the skin that a step lays has then, and how many holes."""
        frames = self.shot.frames
        chosen = np.unique(np.linspace(frames.first, frames.last, SKIN_FRAMES).round())
        first = self._evaluator.scene(self.shot, frames.first)
        made = one.step.made() or one.step.part

        def found(reads: Reads) -> Mapping[str, NDArray[np.float64]]:
            rows: list[tuple[int, int]] = []
            for frame in chosen:
                self._evaluator.watch.check()
                scene = first.at_frame(float(frame)).of_recipe(one.item)
                part = self._evaluator.parts(scene, one.item)[made]
                reads.leaves.update(part.reads.leaves)
                reads.leaves[("timing",)] = None
                rows.append(parts_and_holes(part.value.mesh.faces.astype(np.int64)))
            return {"counts": np.array(rows, dtype=np.float64)}

        name = f"skins {one.item} {one.step_id} {chosen.tolist()}"
        counts = self._evaluator.results.solved(name, first.answer, found).value.named["counts"]
        return [(float(frame), int(parts), int(holes)) for frame, (parts, holes) in zip(chosen, counts, strict=True)]

    def edge(self, field: str, item: str) -> tuple[float, float]:
        """Where a field's level crosses a shape, over the range: the median width of the band there, and the median
        length of the edges of the faces it crosses, both in metres; 0 and 0 where it never crosses."""
        strip = self.strip(field, item)
        crossed = np.flatnonzero((strip.inside + strip.band > 0) & (strip.inside < 1))
        if len(crossed) == 0:
            return 0.0, 0.0
        chosen = strip.frames[crossed[np.unique(np.linspace(0, len(crossed) - 1, EDGE_FRAMES).astype(int))]]
        first = self._evaluator.scene(self.shot, self.shot.frames.first)

        def made(reads: Reads) -> Mapping[str, NDArray[np.float64]]:
            pairs = [self._edge_at(field, item, first.at_frame(float(frame)), reads) for frame in chosen]
            there = np.array([pair for pair in pairs if pair[1] > 0] or [(0.0, 0.0)])
            return {"width": np.median(there[:, :1], axis=0), "faces": np.median(there[:, 1:], axis=0)}

        name = f"edge {field} {item} {chosen.tolist()}"
        found = self._evaluator.results.solved(name, first.answer, made).value.named
        return float(found["width"][0]), float(found["faces"][0])

    def _edge_at(self, field: str, item: str, scene: SceneAt, reads: Reads) -> tuple[float, float]:
        self._evaluator.watch.check()
        made = self._evaluator.at_rest(scene, item)
        subject, matrix = made.value, scene.placement(item)
        mesh = subject.mesh
        measured = self._evaluator.field_at(scene, field, PosedMesh(mesh, made.key, matrix, subject).elements())
        values = measured.value.values
        reads.leaves.update(made.reads.leaves)
        reads.leaves.update(measured.reads.leaves)
        reads.leaves.update(
            {("placement", item): None, ("level", field): None, ("band", field): None, ("timing",): None}
        )
        level, band, counted = scene.field_edge(field)
        over = (values >= level)[mesh.faces]
        faces = mesh.faces[over.any(axis=1) & ~over.all(axis=1)]
        if len(faces) == 0:
            return 0.0, 0.0
        points = moved(mesh.points, matrix)
        corners = points[faces]
        lengths = np.linalg.norm(corners - corners[:, [1, 2, 0]], axis=2)
        slope = float(np.median(face_gradients(points, faces, values)))
        width = band if counted == "metres" else band / slope if slope > 0 else 0.0
        return width, float(np.median(lengths))


def _listeners(shot: Shot) -> list[Listener]:
    found: list[Listener] = []
    for item_id, item in in_order(shot.items):
        if isinstance(item, Shape):
            for place, (step_id, step) in enumerate(in_order(item.recipe.steps), 1):
                if step.on:
                    found.append(Listener(item_id, item, step_id, step, place, item.recipe.driving(step)[0]))
    return found
