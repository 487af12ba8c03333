"""Smooth: points are drawn to the middle of those about them, keeping the shape's volume if wanted."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from windsock.core.declarations import Quantity
from windsock.core.geometry.mesh import smooth_normals
from windsock.core.geometry.neighbours import edges_between, places_by_piece
from windsock.core.kernels.smoothing import BACK, DRAWN, smoothed
from windsock.core.parts.mesh_part import MeshPart
from windsock.core.parts.part import Part
from windsock.core.steps.deforming import PointStep, placed
from windsock.core.steps.given import StepInputs


class Smooth(PointStep):
    """Draw every point to the middle of those about it, so many times, as far as the field's weight says.

    Edges are rounded, bumps go. With the volume kept, each time is followed by one back that is a little longer, so that
    only what is rough goes and the shape does not shrink. Open edges stay on their own line. Pieces become pebbles.
    """

    says = "Rounds bumps and edges off"
    wish = "Bend and turn it"

    kind: Literal["smooth"] = "smooth"
    times: Annotated[int, Quantity("How many times", low=1, high=200, drag=0.1, whole=True)] = 10
    volume: Annotated[Literal["kept", "shrinking"], Field(description="Whether its volume is kept")] = "kept"

    def held(self, faces: int) -> tuple[int, float]:
        return faces * 96, faces * (2e-7 + 1.2e-8 * self.times)

    def apply(self, part: Part, given: StepInputs) -> Part:
        """The part smoothed; where it is, normals become those of its faces."""
        mesh = part.mesh
        weight = self.weight(len(mesh.points), given)
        if not isinstance(part, MeshPart) or len(mesh.faces) == 0 or not weight.any():
            return part
        place, count = places_by_piece(mesh)
        first = np.zeros(count, dtype=np.int64)
        first[place[::-1]] = np.arange(len(place))[::-1]
        edges, border = edges_between(place[mesh.faces], count)
        steps = [DRAWN, BACK] * self.times if self.volume == "kept" else [DRAWN] * self.times
        before = mesh.points[first].astype(np.float64)
        # The mean of neighbours is the same one however the shape is stretched.
        shift = (smoothed(before, edges, border, steps, weight[first]) - before)[place]
        points = (mesh.points + shift).astype(np.float32)
        rounded = smooth_normals(points, mesh.faces, place)
        turned = placed(part, points)
        normals = turned.mesh.normals + (rounded - turned.mesh.normals) * np.clip(weight, 0, 1)[:, None]
        length = np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
        normals = np.where((weight > 0)[:, None], normals / length, turned.mesh.normals).astype(np.float32)
        return replace(turned, mesh=replace(turned.mesh, normals=normals))
