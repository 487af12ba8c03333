"""Fields on meshes, and what is read of meshes, each kept under what it depends on."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from windsock.core.evaluate.keeping import Keeper
from windsock.core.evaluate.plan import field_node
from windsock.core.evaluate.scene import SceneAt
from windsock.core.fields.field import AnySource, measure
from windsock.core.fields.source import Elements, Subject, Values
from windsock.core.fields.zones import Band
from windsock.core.geometry.gradient import point_gradients
from windsock.core.geometry.mesh import Mesh, median_edge, point_areas
from windsock.core.geometry.placement import Matrix, moved
from windsock.core.geometry.stance import stance_of
from windsock.core.steps.part import Drive, elements_of


@dataclass(frozen=True, eq=False)
class PointValues:
    """(n,) values at the points of a mesh: of a field, of a source, or areas."""

    values: Values

    @property
    def nbytes(self) -> int:
        return self.values.nbytes


@dataclass(frozen=True, eq=False)
class Laid:
    """A mesh that fields are measured at the points of. key: what it depends on; matrix: (4, 4) from the subject's space to
    the world; alone: the points are the middles of pieces or copies."""

    mesh: Mesh
    key: str
    matrix: Matrix
    subject: Subject
    alone: bool = False

    def elements(self) -> Elements:
        """The points as elements."""
        return elements_of(self.mesh, self.matrix, self.subject, self.alone)


class Measured:
    """Measures fields at meshes and keeps what it finds."""

    def __init__(self, keeper: Keeper) -> None:
        self._keeper = keeper

    def field_on(self, scene: SceneAt, field_id: str, laid: Laid) -> Values:
        """(n,) the values of a field at the points of a mesh."""
        told = scene.shot.fields[field_id]
        key = scene.key("field", scene.field_key(field_id, laid.subject), laid.key, laid.matrix.tolist())
        node = field_node(field_id, laid.subject.item)

        def measured() -> PointValues:
            elements = laid.elements()

            def source_values(source_id: str, source: AnySource) -> Values:
                source_key = scene.source_key(source, laid.subject, laid.key, laid.matrix)
                kept, _ = self._keeper.cache.get_or_make(
                    source_key, lambda: PointValues(source.measure(elements, scene))
                )
                return kept.values

            values = measure(told, elements, scene, source_values)
            return PointValues(scene.with_memory(field_id, elements, values))

        found, _ = self._keeper.result(node, key, measured)
        return found.values

    def band_on(self, scene: SceneAt, field_id: str, laid: Laid) -> Band:
        """The width of a field's band in values: one number, or (n,) at the points of a mesh where it is in metres."""
        _, band, counted = scene.field_edge(field_id)
        if counted == "values":
            return band
        key = scene.key("slope", scene.field_key(field_id, laid.subject), laid.key, laid.matrix.tolist())

        def made() -> PointValues:
            values = self.field_on(scene, field_id, laid)
            if laid.alone:
                # Middles of pieces and copies have no slope of their own: that of the surface they came from counts.
                elements = laid.elements()
                return PointValues(np.asarray(scene.field_band(field_id, elements, values) / max(band, 1e-12)))
            return PointValues(
                point_gradients(moved(laid.mesh.points, laid.matrix), laid.mesh.faces, laid.mesh.number, values)
            )

        kept, _ = self._keeper.cache.get_or_make(key, made)
        return band * kept.values

    def areas(self, scene: SceneAt, mesh: Mesh, mesh_key: str, matrix: Matrix) -> Values:
        """(n,) the area in the world that each point of a mesh stands for; middles of pieces and copies stand for one each.

        matrix: (4, 4) from the mesh's space to the world.
        """
        stance = stance_of(matrix)
        key = scene.key("areas", mesh_key, stance.stretch.tolist())
        if len(mesh.faces) == 0:
            return np.ones(len(mesh.points))

        def made() -> PointValues:
            points = mesh.points if stance.plain else stance.level(mesh.points).astype(np.float32)
            return PointValues(point_areas(points, mesh.faces))

        return self._keeper.cache.get_or_make(key, made)[0].values

    def median_edge(self, scene: SceneAt, mesh: Mesh, mesh_key: str, matrix: Matrix) -> float:
        """The median length of a mesh's edges in metres of the world. matrix: (4, 4) from the mesh's space to that."""
        stance = stance_of(matrix)
        key = scene.key("median edge", mesh_key, stance.stretch.tolist())

        def made() -> PointValues:
            points = mesh.points if stance.plain else stance.level(mesh.points).astype(np.float32)
            return PointValues(np.array([median_edge(points, mesh.faces)]))

        return float(self._keeper.cache.get_or_make(key, made)[0].values[0])

    def drive(
        self,
        scene: SceneAt,
        field_id: str,
        overall: str | None,
        laid: Laid,
    ) -> Drive:
        """A field as a step listens to it, with the recipe's overall field."""

        def measured(field: str) -> Callable[[Elements], Values]:
            return lambda elements: scene.field_values(field, elements)

        def on_mesh(field: str) -> Values:
            return self.field_on(scene, field, laid)

        level, band = (
            scene.field_edge(field_id)[0],
            self.band_on(scene, field_id, laid),
        )
        elements = laid.elements()
        drive = Drive(elements, on_mesh(field_id), measured(field_id), level, band)
        return (
            drive if overall is None else replace(drive, overall=on_mesh(overall), measured_overall=measured(overall))
        )
