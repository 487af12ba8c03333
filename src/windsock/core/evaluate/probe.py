"""The probe: how a field's value at one place came about, clause by clause; and where that place is at rest."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from windsock.core.document.items import Shape
from windsock.core.document.shot import Shot
from windsock.core.evaluate.drawn import DrawItem
from windsock.core.evaluate.frame import Evaluator
from windsock.core.evaluate.measured import PosedMesh, band_of, explained
from windsock.core.evaluate.reads import Reads
from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.zones import zone_weight
from windsock.core.geometry.mesh import Mesh
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.strain import Strain, strain_of
from windsock.core.kernels.nearest import nearest_place
from windsock.core.parts.pieces_part import PiecesPart
from windsock.core.refusals import Refusal


@dataclass(frozen=True)
class Clause:
    """One source at the place: its own value, and the field's value up to and including it."""

    source: str
    value: float
    result: float


@dataclass(frozen=True)
class ProbeResult:
    """A field at a place: the clauses in order, the value, the level and the weight of the inside. named: the piece or copy
    that it is measured at, nothing where it is a place on the surface."""

    clauses: list[Clause]
    value: float
    level: float
    inside: float
    named: str = ""


def probe(
    evaluator: Evaluator,
    shot: Shot,
    frame: float,
    field_id: str,
    item_id: str,
    place: tuple[float, float, float],
    part: str = "body",
) -> ProbeResult:
    """The field at the place of a finished part that is nearest to one given in the space it is drawn in, in metres.

    Of copies it is the nearest one's middle; where the part is in pieces, the middle of the piece there.
    Raises Refusal where the field or the shape is not there, or nothing is seen of it.
    """
    if field_id not in shot.fields or not isinstance(shot.items.get(item_id), Shape):
        raise Refusal("The field or the shape is no longer in the shot. Nothing was changed.")
    scene = evaluator.scene(shot, frame).of_recipe(item_id)
    there = _seen(evaluator, shot, frame, item_id, part)
    # A retimed recipe is shown where the shape stands now, and measured where it stands in the recipe's own time.
    elements, named = _at_place(there, np.array(place), scene.placement(item_id))
    clauses = [Clause(*clause) for clause in explained(scene, field_id, elements)]
    value = float(evaluator.field_values(scene, field_id, elements)[0])
    level, _, _ = scene.field_edge(field_id)
    band = band_of(scene, field_id, elements, np.array([value]), Reads())
    return ProbeResult(clauses, value, level, float(zone_weight("inside", np.array([value]), level, band)[0]), named)


def rest_of(
    evaluator: Evaluator,
    shot: Shot,
    frame: float,
    item_id: str,
    place: tuple[float, float, float],
    part: str = "body",
) -> tuple[float, float, float]:
    """Where the place of a finished part that is nearest to a given one is as the shape rests, in the shape's own metres.

    place: in the space that the part is drawn in. Raises Refusal where nothing is seen of it, or it is copies."""
    there = [item for item in _seen(evaluator, shot, frame, item_id, part) if not item.body.points_are_middles]
    if not there:
        raise Refusal(
            "These are copies, which have no surface of their own. Nothing was changed. Press a shape itself."
        )
    mesh = there[0].body.mesh
    corners, weights = nearest_place(np.array(place), mesh.points.astype(np.float64), mesh.faces)
    x, y, z = (round(float(one), 5) for one in weights @ mesh.rest[corners].astype(np.float64))
    return x, y, z


def _seen(evaluator: Evaluator, shot: Shot, frame: float, item_id: str, part: str) -> list[DrawItem]:
    """What is seen of a part. Raises Refusal where that is nothing."""
    drawn = [item for item in evaluator.frame(shot, frame).draw if item.item == item_id and item.part == part]
    if not drawn:
        raise Refusal("The shape is hidden at this frame. Show it, or go to another frame.")
    there = [item for item in drawn if item.body.faces()]
    if not there:
        raise Refusal("Nothing is left of the shape at this frame. Go to another frame.")
    return there


def _at_place(drawn: list[DrawItem], place: Values, matrix: Matrix) -> tuple[Elements, str]:
    """The one element at a place of a part, standing under a (4, 4) matrix, and what it is called where it is a piece or a
    copy."""
    if drawn[0].body.points_are_middles:
        apart = [float(np.linalg.norm(item.points - place, axis=1).min()) for item in drawn]
        item = drawn[int(np.argmin(apart))]
        copy = int(np.linalg.norm(item.points - place, axis=1).argmin())
        number = int(item.body.mesh.number[copy])
        return _middle(item, item.body.mesh.chosen(np.array([copy])), matrix), f"copy {number:,}"
    item = drawn[0]
    mesh = item.body.mesh
    corners, weights = nearest_place(place, mesh.points.astype(np.float64), mesh.faces)
    if isinstance(item.body, PiecesPart):
        piece = int(item.body.body_of_points()[corners[0]])
        return _middle(item, item.body.pieces.places.chosen(np.array([piece])), matrix), f"piece {piece + 1:,}"
    return _on_surface(item, corners, weights, matrix), ""


def _middle(item: DrawItem, place: Mesh, matrix: Matrix) -> Elements:
    """The middle of one piece or copy."""
    return PosedMesh(place, "", matrix, item.subject, True).elements()


def _on_surface(drawn: DrawItem, corners: NDArray[np.integer], weights: Values, matrix: Matrix) -> Elements:
    mesh = drawn.body.mesh

    def carry(values: Values) -> Values:
        return np.tensordot(weights, mesh.from_rest(values)[corners], axes=1)[None]

    def between(values: NDArray[np.floating]) -> Values:
        return (weights @ values[corners].astype(np.float64))[None]

    def facing() -> Values:
        return turned_normals(between(mesh.normals), matrix)

    def straining() -> Strain:
        told = strain_of(mesh, matrix)
        return Strain(between(told.stretch), between(told.fold))

    posed, rest = moved(between(mesh.points), matrix), between(mesh.rest)
    return Elements(posed, rest, drawn.subject, carry, facing, straining=straining)
