"""What is drawn of finished parts."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from windsock.core.fields.source import Subject
from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.geometry.pictures import Picture
from windsock.core.geometry.placement import Matrix
from windsock.core.geometry.stance import Stance, stance_of
from windsock.core.steps.part import Part


@dataclass(frozen=True, eq=False)
class DrawItem:
    """A finished part to draw; where it is copies, those of one model. heat: (n,) values of the field that was asked for, or
    None. picture: what all its faces show by their u,v, or None."""

    subject: Subject
    part: str
    key: str
    matrix: Matrix
    body: Part
    heat: NDArray[np.float32] | None = None
    level: Stance | None = None
    picture: Picture | None = None

    @property
    def item(self) -> str:
        return self.subject.item

    @property
    def points(self) -> Floats:
        """(n, 3) the points in the space that `matrix` takes to the world: of copies, the level space of their subject."""
        if self.body.copies is None or self.level is None:
            return self.body.mesh.points
        return self.level.level(self.body.mesh.points).astype(np.float32)


def drawn(
    subject: Subject, name: str, key: str, part: Part, matrix: Matrix, heat: NDArray[np.float32] | None
) -> Iterator[DrawItem]:
    """A part as it is drawn: the copies of one model, and the faces with one picture, at a time.

    key: what the part depends on; matrix: (4, 4) to the world; heat: (n,) a field at its points or copies.
    """
    stance = stance_of(matrix)
    stands = matrix if part.copies is None else stance.to_world()
    for number, one in enumerate(by_model(part)):
        which = None if heat is None or part.copies is None else part.copies.kind == number
        heated = heat if which is None or heat is None else heat[which]
        named = key if part.copies is None else f"{key} model {number}"
        whole = DrawItem(subject, name, named, stands, one, heated, stance)
        yield from by_picture(whole)


def by_picture(item: DrawItem) -> list[DrawItem]:
    """One item for each picture that a shape came with, whether any faces show it or not, and one for faces without."""
    mesh = item.body.mesh if item.body.copies is None else item.body.copies.models[0].mesh
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
    copies = item.body.copies
    if copies is not None:
        models = (replace(copies.models[0], mesh=left),)
        return replace(item, body=replace(item.body, copies=replace(copies, models=models)))
    heat = None if item.heat is None else item.heat[used]
    return replace(item, body=replace(item.body, mesh=left), heat=heat)


def by_model(part: Part) -> list[Part]:
    """The part as it is drawn: its copies at their places in the level space, those of one model at a time."""
    if part.copies is None:
        return [part]
    models = range(len(part.copies.models))
    if len(models) == 1:
        return [part.of_model(0)]
    return [part.only(part.copies.kind == number).of_model(number) for number in models]
