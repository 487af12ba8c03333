"""Mean value coordinates in a closed triangle mesh, and what moves with them.

T. Ju, S. Schaefer, J. Warren, "Mean value coordinates for closed triangular meshes" (2005): a place is the mean of the mesh's
points by its coordinates, inside as well as outside, so that what moves the mesh by an affine map moves the place by the
same.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Reals = NDArray[np.float64]
Floats = NDArray[np.float32]

NEAR = 1e-9
"""Share of the mesh's size at which a place is taken to be at a point of it."""


def mean_value_weights(places: Reals, points: Reals, faces: NDArray[np.int64]) -> Floats:
    """(n, c) the coordinates of (n, 3) places in a mesh with (c, 3) points and (m, 3) faces, 1 together for each place.

    Where they are not defined (no faces, or a place at which an open mesh weighs nothing), each point counts the same.
    """
    made = np.zeros((len(places), len(points)))
    size = float(np.linalg.norm(np.ptp(points, axis=0))) if len(points) else 0.0
    _weigh(np.ascontiguousarray(places), np.ascontiguousarray(points), faces, NEAR * max(size, 1e-300), made)
    return made.astype(np.float32)


@compiled
def _weigh(places: Reals, points: Reals, faces: NDArray[np.int64], near: float, made: Reals):  # pragma: no cover
    count = len(points)
    ways, far = np.empty((count, 3)), np.empty(count)
    theta, sines, cosines, signed = np.empty(3), np.empty(3), np.empty(3), np.empty(3)
    for row in range(len(places)):
        weights = made[row]
        at = -1
        for point in range(count):
            for axis in range(3):
                ways[point, axis] = points[point, axis] - places[row, axis]
            far[point] = np.sqrt(ways[point, 0] ** 2 + ways[point, 1] ** 2 + ways[point, 2] ** 2)
            if far[point] <= near:
                at = point
                break
            for axis in range(3):
                ways[point, axis] /= far[point]
        if at >= 0:
            weights[at] = 1.0
            continue
        on_face = False
        for face in range(len(faces)):
            for corner in range(3):
                one, other = faces[face, (corner + 1) % 3], faces[face, (corner + 2) % 3]
                apart = 0.0
                for axis in range(3):
                    apart += (ways[one, axis] - ways[other, axis]) ** 2
                theta[corner] = 2 * np.arcsin(min(np.sqrt(apart) / 2, 1.0))
                sines[corner] = np.sin(theta[corner])
            half = (theta[0] + theta[1] + theta[2]) / 2
            if np.pi - half < 1e-7:
                # On the face itself: what holds there are the coordinates in the plane.
                for point in range(count):
                    weights[point] = 0.0
                for corner in range(3):
                    one, other = faces[face, (corner + 1) % 3], faces[face, (corner + 2) % 3]
                    weights[faces[face, corner]] += sines[corner] * far[one] * far[other]
                on_face = True
                break
            if min(sines[0], sines[1], sines[2]) < 1e-12:
                continue
            a, b, c = ways[faces[face, 0]], ways[faces[face, 1]], ways[faces[face, 2]]
            volume = (
                a[0] * (b[1] * c[2] - b[2] * c[1])
                - a[1] * (b[0] * c[2] - b[2] * c[0])
                + a[2] * (b[0] * c[1] - b[1] * c[0])
            )
            side = 1.0 if volume > 0 else -1.0
            flat = False
            for corner in range(3):
                one, other = (corner + 1) % 3, (corner + 2) % 3
                cosine = 2 * np.sin(half) * np.sin(half - theta[corner]) / (sines[one] * sines[other]) - 1
                cosines[corner] = min(max(cosine, -1.0), 1.0)
                signed[corner] = side * np.sqrt(1 - cosines[corner] ** 2)
                flat = flat or abs(signed[corner]) <= 1e-9
            if flat:
                # In the plane of the face but beside it: it weighs nothing.
                continue
            for corner in range(3):
                one, other = (corner + 1) % 3, (corner + 2) % 3
                point = faces[face, corner]
                weights[point] += (theta[corner] - cosines[one] * theta[other] - cosines[other] * theta[one]) / (
                    far[point] * sines[one] * signed[other]
                )
        total, most = 0.0, 0.0
        for point in range(count):
            total += weights[point]
            most = max(most, abs(weights[point]))
        if on_face or abs(total) > 1e-9 * most:
            for point in range(count):
                weights[point] /= total
        else:
            for point in range(count):
                weights[point] = 1.0 / count


def by_weights(weights: Floats, points: Reals) -> Reals:
    """(n, 3) the means of (c, 3) points by (n, c) weights."""
    made = np.empty((len(weights), 3))
    _mean(weights, np.ascontiguousarray(points), made)
    return made


@compiled
def _mean(weights: Floats, points: Reals, made: Reals):  # pragma: no cover - compiled
    for row in range(len(weights)):
        x, y, z = 0.0, 0.0, 0.0
        for point in range(len(points)):
            share = weights[row, point]
            x += share * points[point, 0]
            y += share * points[point, 1]
            z += share * points[point, 2]
        made[row, 0], made[row, 1], made[row, 2] = x, y, z


def linear_by_weights(weights: Floats, before: Reals, after: Reals, mean_before: Reals, mean_after: Reals) -> Reals:
    """(n, 3, 3) the linear map about each place that takes (c, 3) points before nearest to those after, by least squares with
    the sizes of the (n, c) weights. mean_before, mean_after: (n, 3) the means by the weights. An affine map is found again."""
    sums, spread = np.empty((len(weights), 3, 3)), np.empty((len(weights), 3, 3))
    _moments(weights, np.ascontiguousarray(before), np.ascontiguousarray(after), mean_before, mean_after, sums, spread)
    # Where all points lie in one plane, nothing happens across it.
    held = 1e-9 * np.maximum(np.trace(spread, axis1=1, axis2=2), 1e-300)[:, None, None] * np.eye(3)
    return (sums + held) @ np.linalg.inv(spread + held)


@compiled
def _moments(
    weights: Floats, before: Reals, after: Reals, mean_before: Reals, mean_after: Reals, sums: Reals, spread: Reals
):  # pragma: no cover - compiled
    for row in range(len(weights)):
        for one in range(3):
            for other in range(3):
                sums[row, one, other], spread[row, one, other] = 0.0, 0.0
        for point in range(len(before)):
            share = abs(weights[row, point])
            for other in range(3):
                away = share * (before[point, other] - mean_before[row, other])
                for one in range(3):
                    sums[row, one, other] += (after[point, one] - mean_after[row, one]) * away
                    spread[row, one, other] += (before[point, one] - mean_before[row, one]) * away
