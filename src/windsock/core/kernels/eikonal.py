"""When a front comes to each node of a grid: |grad T| = slowness, by fast sweeping.

Method: H. Zhao, "A fast sweeping method for eikonal equations" (2005), Godunov's upwind scheme of first order; nodes of which no
neighbour has changed are passed by (S. Bak, J. McLaughlin, D. Renzi, "Some improvements for the fast sweeping method", 2010). Sweeps
end when nothing changes, not after a number of them.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from windsock.core.kernels.compiled import compiled

Floats = NDArray[np.float32]
Bytes = NDArray[np.uint8]

STOPPED = np.inf
"""The slowness of a node that no front enters."""

ALIKE = 1e-4
"""Share of what a voxel takes by which a node has to be reached earlier to count as changed."""


def swept_times(
    times: Floats,
    slowness: Floats,
    before: float = np.inf,
    after: float = -np.inf,
    cancelled: NDArray[np.uint8] | None = None,
) -> bool:
    """Finds, in place, when a front comes to the nodes of a grid. False where it was cancelled.

    times: when it starts at each node, infinite where it does not. slowness: what it needs for one voxel at each node, infinite where it
    is stopped. before: times after this one are not gone on from; after: what is reached now is reached no sooner. cancelled: (1,) a flag that is looked at.
    """
    flag = np.zeros(1, dtype=np.uint8) if cancelled is None else cancelled
    waiting = np.zeros(times.shape, dtype=np.uint8)
    _wake(times, slowness, before, waiting)
    turn = 0
    calm = 0
    while calm < 8:
        if flag[0]:
            return False
        ways = (1 if turn & 1 else -1, 1 if turn & 2 else -1, 1 if turn & 4 else -1)
        calm = 0 if _sweep(times, slowness, before, after, waiting, *ways) else calm + 1
        turn += 1
    return True


@compiled
def _wake(times: Floats, slowness: Floats, before: float, waiting: Bytes):  # pragma: no cover - compiled
    """Has the neighbours of all that are reached wait."""
    nx, ny, nz = times.shape
    for x in range(nx):
        for y in range(ny):
            for z in range(nz):
                if times[x, y, z] < before:
                    _wake_about(x, y, z, times, slowness, waiting)


@compiled
def _wake_about(x: int, y: int, z: int, times: Floats, slowness: Floats, waiting: Bytes):  # pragma: no cover - compiled
    own = times[x, y, z]
    if x > 0 and times[x - 1, y, z] > own:
        waiting[x - 1, y, z] = 1
    if x + 1 < times.shape[0] and times[x + 1, y, z] > own:
        waiting[x + 1, y, z] = 1
    if y > 0 and times[x, y - 1, z] > own:
        waiting[x, y - 1, z] = 1
    if y + 1 < times.shape[1] and times[x, y + 1, z] > own:
        waiting[x, y + 1, z] = 1
    if z > 0 and times[x, y, z - 1] > own:
        waiting[x, y, z - 1] = 1
    if z + 1 < times.shape[2] and times[x, y, z + 1] > own:
        waiting[x, y, z + 1] = 1


@compiled
def _sweep(
    times: Floats, slowness: Floats, before: float, after: float, waiting: Bytes, dx: int, dy: int, dz: int
) -> bool:  # pragma: no cover - compiled
    nx, ny, nz = times.shape
    changed = False
    for i in range(nx):
        x = i if dx > 0 else nx - 1 - i
        for j in range(ny):
            y = j if dy > 0 else ny - 1 - j
            for k in range(nz):
                z = k if dz > 0 else nz - 1 - k
                if not waiting[x, y, z]:
                    continue
                waiting[x, y, z] = 0
                slow = float(slowness[x, y, z])
                if slow == STOPPED:
                    continue
                a = min(
                    times[x - 1, y, z] if x > 0 else np.float32(np.inf),
                    times[x + 1, y, z] if x + 1 < nx else np.float32(np.inf),
                )
                b = min(
                    times[x, y - 1, z] if y > 0 else np.float32(np.inf),
                    times[x, y + 1, z] if y + 1 < ny else np.float32(np.inf),
                )
                c = min(
                    times[x, y, z - 1] if z > 0 else np.float32(np.inf),
                    times[x, y, z + 1] if z + 1 < nz else np.float32(np.inf),
                )
                one, three = float(min(a, b, c)), float(max(a, b, c))
                two = max(min(float(a), float(b)), min(max(float(a), float(b)), float(c)))
                if not one < before:
                    continue
                found = one + slow
                if found > two:
                    found = (one + two + np.sqrt(max(2 * slow * slow - (one - two) ** 2, 0.0))) / 2
                    if found > three:
                        whole = one + two + three
                        under = whole * whole - 3 * (one * one + two * two + three * three - slow * slow)
                        found = (whole + np.sqrt(max(under, 0.0))) / 3
                own, found = times[x, y, z], max(found, after)
                if found < own - ALIKE * slow:
                    times[x, y, z] = found
                    changed = True
                    if found < before:
                        _wake_about(x, y, z, times, slowness, waiting)
    return changed
