"""What is drawn of finished parts."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from windsock.core.fields.elements import Subject
from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.geometry.pictures import Picture
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.stance import Stance, stance_of
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.parts.part import Part


@dataclass(frozen=True, eq=False)
class DrawItem:
    """A finished part to draw; where it is copies, those of one model.

    matrix: (4, 4) to the world from the space that the points are drawn in; stance: how the subject stands. heat: (n,) values
    of the field that was asked for, or None. picture: what all its faces show by their u,v, or None.
    """

    subject: Subject
    part: str
    key: str
    matrix: Matrix
    body: Part
    stance: Stance
    heat: NDArray[np.float32] | None = None
    picture: Picture | None = None

    @property
    def item(self) -> str:
        return self.subject.item

    @property
    def points(self) -> Floats:
        """(n, 3) the points in the space that `matrix` takes to the world: of copies, the level space of their subject."""
        if isinstance(self.body, CopiesPart):
            return self.stance.level(self.body.mesh.points).astype(np.float32)
        return self.body.mesh.points

    @property
    def surface(self) -> Mesh:
        """The mesh whose faces are drawn: of copies, that of their model."""
        return self.body.model.mesh if isinstance(self.body, CopiesPart) else self.body.mesh

    @property
    def looked(self) -> Mesh:
        """The mesh whose points have the channels of the look."""
        return self.body.looked if isinstance(self.body, CopiesPart) else self.body.mesh


def drawn(
    subject: Subject, name: str, key: str, part: Part, matrix: Matrix, heat: NDArray[np.float32] | None
) -> Iterator[DrawItem]:
    """A part as it is drawn: the copies of one model, and the faces with one picture, at a time.

    key: what the part depends on; matrix: (4, 4) to the world; heat: (n,) a field at its points or copies.
    """
    stance = stance_of(matrix)
    if not isinstance(part, CopiesPart):
        yield from by_picture(DrawItem(subject, name, key, matrix, part, stance, heat))
        return
    for number, one in enumerate(part.by_model()):
        heated = None if heat is None else heat[part.copies.kind == number]
        item = DrawItem(subject, name, f"{key} model {number}", stance.level_to_world(), one, stance, heated)
        yield from by_picture(item)


def by_picture(item: DrawItem) -> list[DrawItem]:
    """One item for each picture that a shape came with, whether any faces show it or not, and one for faces without."""
    mesh = item.surface
    if mesh.pictures is None:
        return [item]
    shown = mesh.pictures.on(mesh.origins())
    images = mesh.pictures.images
    if len(images) == 1 and (shown == 0).all():
        return [replace(item, picture=images[0])]
    return [
        _some_faces(
            replace(item, key=f"{item.key} picture {number}", picture=image), mesh, np.flatnonzero(shown == number)
        )
        for number, image in (*enumerate(images), (-1, None))
    ]


def _some_faces(item: DrawItem, mesh: Mesh, faces: NDArray[np.integer]) -> DrawItem:
    """The same with some of the faces, and the points that they use."""
    used = np.zeros(len(mesh.points), dtype=bool)
    used[mesh.faces[faces].ravel()] = True
    left = mesh.faced(mesh.faces[faces], faces).without_loose_points()
    body = item.body
    if isinstance(body, CopiesPart):
        models = (replace(body.model, mesh=left),)
        return replace(item, body=replace(body, copies=replace(body.copies, models=models)))
    heat = None if item.heat is None else item.heat[used]
    return replace(item, body=replace(body, mesh=left), heat=heat)
