"""Cut away: drops what is inside. The cut is exact, not stair-stepped by faces.

Edges that the field's level crosses are split at the root of the field itself (kernels/crossing.py); between the roots
the cut is a chord of the face.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Literal

import numpy as np

from windsock.core.fields.elements import Elements, Values
from windsock.core.fields.zones import Band, zone_weight
from windsock.core.geometry.mesh import Floats, Mesh
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.strain import Strain
from windsock.core.kernels.areas import face_areas
from windsock.core.kernels.crossing import Places, Split, crossing_shares, split_faces
from windsock.core.look import Look
from windsock.core.parts.copies_part import CopiesPart
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.steps.drive import Drive
from windsock.core.steps.given import StepInputs
from windsock.core.steps.step import StepBase

INSIDE_LOOK = Look(base_colour="#5B4A42", roughness=0.9)


class CutAway(StepBase):
    """Cut away what is in a zone of a field: at an exact edge, fading over the band, or piece by piece. Undriven, all goes.

    Copies, and pieces cut piece by piece, go whole, by the field at their middles.

    The field's value is multiplied by the overall field and the amount before it is compared with the level.
    """

    says = "Takes away what a field covers"
    wish = "Take it away"

    undriven = "No field drives this, so the whole shape is cut away. Choose a field in place of “everything”."

    kind: Literal["cut_away"] = "cut_away"
    zone: Literal["inside", "outside", "band"] = "inside"
    edge: Literal["exact", "fading", "piece by piece"] = "exact"
    backs: Literal["hidden", "second look"] = "second look"
    back_look: Look = INSIDE_LOOK

    @property
    def at_middles(self) -> bool:
        return self.edge == "piece by piece"

    @property
    def wants_front(self) -> bool:
        return True

    @property
    def follows_faces(self) -> bool:
        return self.edge == "fading"

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part without what is in the zone; of copies, without those whose middles are."""
        match part:
            case MeshPart():
                backs = self.back_look if self.backs == "second look" else "hidden"
                return replace(self._cut(part, given), backs=backs)
            case CopiesPart():
                return self._thinned(part, given)
            case _:
                return part

    def _cut(self, part: MeshPart, given: StepInputs) -> MeshPart:
        drive, amount = given.drive, given.at(self.amount)
        if drive is None:
            return part.emptied()
        if self.edge == "fading":
            weight = zone_weight(self.zone, drive.lowered() * amount, drive.level, drive.band)
            return replace(part, mesh=_faded(part.mesh, weight))

        def excess(values: Values, band: Band) -> Values:
            return _excess(self.zone, values * amount, drive.level, band)

        if self.edge == "piece by piece":
            return part.without_bodies(excess(drive.lowered(), drive.band) >= 0)
        return replace(part, mesh=_split(part.mesh, excess, drive, given.matrix))

    def _thinned(self, part: CopiesPart, given: StepInputs) -> CopiesPart:
        """Copies without those in the zone, or with them faded."""
        drive = given.drive
        if drive is None:
            return part.only(np.zeros(len(part.copies), dtype=bool))
        values = drive.lowered() * given.at(self.amount)
        if self.edge == "fading":
            opacity = np.clip(1 - zone_weight(self.zone, values, drive.level, drive.band), 0, 1).astype(np.float32)
            mesh = replace(part.mesh, opacity=opacity if part.mesh.opacity is None else opacity * part.mesh.opacity)
            return replace(part, mesh=mesh).only(opacity > 0)
        return part.only(_excess(self.zone, values, drive.level, drive.band) < 0)


def _excess(zone: str, values: Values, level: float, band: Band) -> Values:
    """(n,) at least 0 exactly where the zone is."""
    if zone == "band":
        return np.where(np.asarray(band) > 0, 0.5 * band - np.abs(values - level), -1.0)
    above = values - level
    return above if zone == "inside" else np.where(above == 0, -np.finfo(np.float64).tiny, -above)


def _split(mesh: Mesh, excess: Callable[[Values, Band], Values], drive: Drive, matrix: Matrix) -> Mesh:
    over = excess(drive.lowered(), drive.band)
    drop = over >= 0
    if not drop.any():
        return mesh
    if drop.all():
        return mesh.emptied()
    split = split_faces(mesh.faces, drop, mesh.number)
    start, along = _ends(mesh.points, split)
    rest, rest_along = _ends(mesh.rest, split)

    def on_edges(edge: Places, share: Values) -> Values:
        way = share[:, None]
        posed = moved(start[edge] + along[edge] * way, matrix)
        first, second = split.first[edge], split.second[edge]

        def carry(values: Values) -> Values:
            ends = drive.elements.carry(values)
            return ends[first] + (ends[second] - ends[first]) * (share if ends.ndim == 1 else way)

        def facing() -> Values:
            normals = mesh.normals.astype(np.float64)
            between = normals[first] + (normals[second] - normals[first]) * way
            return turned_normals(between / np.maximum(np.linalg.norm(between, axis=1, keepdims=True), 1e-12), matrix)

        def straining() -> Strain:
            return drive.elements.strain.between(first, second, share)

        resting = rest[edge] + rest_along[edge] * way
        band = drive.band
        if isinstance(band, np.ndarray):
            band = band[first] + (band[second] - band[first]) * share
        between = Elements(posed, resting, drive.elements.subject, carry, facing, straining=straining)
        return excess(drive.lowered_at(between), band)

    share = crossing_shares(over[split.first], over[split.second], on_edges)
    cut = mesh.between(split.first, split.second, share)
    made = split.faces[split.untouched :]
    left = np.concatenate([np.ones(split.untouched, dtype=bool), face_areas(cut.points, made) > 0])
    return cut.faced(split.faces[left], split.of[left]).without_loose_points()


def _ends(places: Floats, split: Split) -> tuple[Values, Values]:
    start = places[split.first].astype(np.float64)
    return start, places[split.second] - start


def _faded(mesh: Mesh, weight: Values) -> Mesh:
    opacity = np.clip(1 - weight, 0, 1).astype(np.float32)
    if mesh.opacity is not None:
        opacity = opacity * mesh.opacity
    seen = (opacity > 0)[mesh.faces].any(axis=1)
    return replace(mesh, opacity=opacity).faced(mesh.faces[seen], np.flatnonzero(seen)).without_loose_points()
