"""Pair: one shape turns into another and that one out of it, cross-faded on the way."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, ClassVar, Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from windsock.core.declarations import PartId, Quantity
from windsock.core.fields.elements import Values
from windsock.core.fields.zones import Zone
from windsock.core.geometry.mesh import Mesh, Mixture
from windsock.core.geometry.pairing import Pairing, harm, order_pairs
from windsock.core.geometry.placement import Matrix, moved, turned_normals
from windsock.core.geometry.solution import Solution
from windsock.core.kernels.marks import Marks
from windsock.core.kernels.surface_distance import Surface
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.steps.deforming import PointStep
from windsock.core.steps.given import SolveInputs, StepInputs
from windsock.core.steps.morphing import Goal, MorphingStep, goal_of
from windsock.core.timing.parameter import Moment, NumberParameter


@dataclass(frozen=True, eq=False)
class Pairs(Solution):
    """The places of n points on another shape, and of its m points on this one: each as a `Pairing`; harm: that of the first."""

    face: NDArray[np.int64]
    shares: Values
    faces: NDArray[np.int64]
    back_face: NDArray[np.int64]
    back_shares: Values
    back_faces: NDArray[np.int64]
    harm: Values

    @classmethod
    def both(cls, there: Pairing, back: Pairing) -> Pairs:
        return cls(there.face, there.shares, there.faces, back.face, back.shares, back.faces, there.harm)

    @property
    def there(self) -> Pairing:
        return Pairing(self.face, self.shares, self.faces)

    @property
    def back(self) -> Pairing:
        return Pairing(self.back_face, self.back_shares, self.back_faces)


class Pair(PointStep, MorphingStep):
    """Change places with another shape within a length of time: this one turns into it, while the other turns from this one into
    itself, as a part beside it; half way the other one is faded in over this one, and then this one out.

    Before it begins there is this shape alone, after it has ended the other one alone, which is best hidden itself. A field says
    which points go first: those of weight 0 begin when those of weight 1 have come half way in time. About 13 frames is common
    practice.
    """

    says = "Changes places with another shape, cross-faded"
    wish = "Turn it into another"

    kind: Literal["pair"] = "pair"
    solution: ClassVar[type[Solution]] = Pairs
    zone: Zone = "value"
    begins_at: Annotated[NumberParameter, Quantity("When it begins", unit="s", low=-1e4, high=1e4, drag=0.01)] = 1.0
    lasts: Annotated[NumberParameter, Quantity("How long it takes", unit="s", low=0.01, high=1e3, drag=0.01)] = 0.55
    fade: Annotated[
        NumberParameter, Quantity("Share of that over which they are cross-faded", low=0, high=1, drag=0.005)
    ] = 0.4
    makes: Annotated[PartId, Field(description="The part that the other shape is")] = "other"

    def made(self) -> str | None:
        return self.makes

    def told(self, at: Moment, fps: float, lasts: float) -> str:
        del lasts
        begins, takes = at(self.begins_at), at(self.lasts)
        return f"{takes * fps:.4g} frames, from {begins * fps:.4g} to {(begins + takes) * fps:.4g}"

    def solve(self, given: SolveInputs) -> Pairs:
        """The places of the points of both, this one before its recipe and the other one after its own, at the first frame."""
        mesh = given.at_start().mesh
        if self.target is None:
            none = order_pairs(len(mesh.points), np.zeros((0, 3), dtype=np.int64))
            return Pairs.both(none, none)
        points = moved(mesh.points, given.stance_at_start().own_to_world())
        surface, model = given.shape_at_start(self.target).surface, given.model_at_start(self.target).mesh
        marks = self.marks_on(mesh, given.stance_at_start().own_to_world(), model, surface)
        from_ = self.from_where()
        return self._both(
            mesh, points, model, surface, None if from_ is None else given.placement_at_start(from_), marks
        )

    def _both(
        self, mesh: Mesh, points: Values, model: Mesh, surface: Surface, from_: Matrix | None, marks: Marks | None
    ) -> Pairs:
        """points: (n, 3) of this mesh in the world; surface: the other one, whose mesh is the model."""
        there = self.paired(points, mesh, surface, model, from_, marks)
        marks = None if marks is None else marks.back()
        back = self.paired(surface.points, model, Surface(points, mesh.faces), mesh, from_, marks)
        return Pairs.both(replace(there, harm=harm(points, mesh.faces, there, surface)), back)

    def remains(self, part: Part, given: StepInputs) -> Part:
        """This shape on its way to the other one, faded out once that has been faded in; none of it after that."""
        share = self._shares(part, given)
        if self.target is None or not share.any():
            return part
        goal, pairs = goal_of(self.target, given), self._pairs(part, given)
        left = 1 - self._there_and_gone(share, given)[1]
        return _faded(self.turned_into(part, given.matrix, pairs.there, goal, share, given), left)

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The other shape on its way out of this one, in this one's space."""
        share = self._shares(part, given)
        if self.target is None or not (self._there_and_gone(share, given)[0] > 0).any():
            return MeshPart(part.mesh.emptied(), part.look, part.backs)
        matrix, goal, pairs = given.matrix, goal_of(self.target, given), self._pairs(part, given)
        to_own = np.asarray(np.linalg.inv(matrix), dtype=np.float64)
        normals = turned_normals(goal.normals, to_own).astype(np.float32)
        mesh = replace(goal.mesh, points=moved(goal.places, to_own).astype(np.float32), normals=normals, piece=None)
        if mesh.pictures is not None:
            mesh = replace(mesh, pictures=mesh.pictures.of(mesh.origins()), origin=None)
        model, subject, back = given.model(self.target), given.subject.mesh, pairs.back
        whole = MeshPart(mesh, model.look, model.backs)
        if not (share >= 1).all():
            # A part whose faces a step before has changed is taken as it was before the recipe.
            same = len(part.mesh.faces) == int(back.faces[0])
            own = part.mesh if same else subject
            shares = share if same else np.full(len(own.points), share.mean())
            from_ = Goal(moved(own.points, matrix), turned_normals(own.normals, matrix), own, part.look)
            there = back.on(shares, own.faces) if (back.face >= 0).all() else np.full(len(mesh.points), shares.mean())
            whole = self.turned_into(whole, matrix, back, from_, 1 - there, given)
            whole = _faded(whole, self._there_and_gone(there, given)[0])
        return replace(whole, mesh=_of_subject(whole.mesh, subject, pairs))

    def _shares(self, part: Part, given: StepInputs) -> Values:
        """(n,) how far on the points of the part are, going slowly at both ends."""
        come = float(np.clip((given.seconds - given.at(self.begins_at)) / given.at(self.lasts), 0, 1))
        count, drive = len(part.mesh.points), given.drive
        first = None if drive is None else np.clip(drive.weight(self.zone, self.curve), 0, 1)
        share = np.full(count, come) if first is None else np.clip(2 * come - 1 + first, 0, 1)
        return share * share * (3 - 2 * share) * given.at(self.amount)

    def _there_and_gone(self, share: Values, given: StepInputs) -> tuple[Values, Values]:
        """(n,) how far the other shape is there, and how far this one is gone."""
        half = max(given.at(self.fade), 1e-9) / 2
        return np.clip((share - 0.5 + half) / half, 0, 1), np.clip((share - 0.5) / half, 0, 1)

    def _pairs(self, part: Part, given: StepInputs) -> Pairs:
        """What was solved, or the same found now where a shape has become another."""
        assert self.target is not None
        pairs, model = cast(Pairs, given.solution), given.model(self.target).mesh
        subject = given.subject.mesh
        if int(pairs.faces[0]) == len(model.faces) and len(pairs.face) == len(subject.points):
            return pairs
        from_ = self.from_where()
        surface, points = given.shape(self.target).surface, moved(subject.points, given.matrix)
        marks = self.marks_on(subject, given.matrix, model, surface)
        return self._both(subject, points, model, surface, None if from_ is None else given.placement(from_), marks)


def _faded(part: Part, opacity: Values) -> Part:
    """The part as opaque as (n,) values say, without the faces that are not seen at all."""
    mesh = part.mesh
    if (opacity >= 1).all():
        return part
    own = np.ones(len(mesh.points), dtype=np.float32) if mesh.opacity is None else mesh.opacity
    faded = replace(mesh, opacity=(own * opacity).astype(np.float32))
    seen = np.flatnonzero((opacity[mesh.faces] > 0).any(axis=1))
    return replace(part, mesh=faded.faced(mesh.faces[seen], seen), alpha="blend")


def _of_subject(mesh: Mesh, subject: Mesh, pairs: Pairs) -> Mesh:
    """A mesh of the other shape as one whose points and faces lie on this one's faces, where each is paired with them, so that later
    steps and fields find their places there. Of several pictures each face shows that of the face that its own is paired with."""
    back = pairs.back
    if len(subject.faces) == 0:
        return mesh.emptied()
    corners = subject.faces[np.maximum(back.face, 0)].astype(np.int64)
    rest = back.on(subject.rest.astype(np.float64), subject.faces).astype(np.float32)
    origin = back.face[mesh.faces[:, 0]].astype(np.int32)
    there = np.maximum(pairs.face[subject.faces[:, 0]], 0)
    pictures = None if mesh.pictures is None else mesh.pictures.of(there)
    descent = (Mixture(corners, back.shares),)
    return replace(mesh, rest=rest, descent=descent, origin=origin, pictures=pictures, measures={})
