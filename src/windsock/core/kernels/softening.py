"""Values on a mesh made soft over a width, whatever the size of its faces; what they are together stays."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import diags_array
from scipy.sparse.linalg import cg

from windsock.core.kernels.laplacian import cotangent_weights

Reals = NDArray[np.float64]

CLOSE = 1e-5
"""Share of the values by which what is found may be wrong."""


class Softening:
    """One step of heat over the faces, taken backwards (M. Desbrun and others, "Implicit fairing of irregular meshes using diffusion
    and curvature flow", 1999): a narrow line falls to a twentieth over the width to either side. Prepared once for a mesh; solved by
    conjugate gradients (M. Hestenes and E. Stiefel, 1952)."""

    def __init__(self, points: Reals, faces: NDArray[np.int64], width: float) -> None:
        """points: (n, 3) metres; faces: (m, 3)."""
        weights, mass = cotangent_weights(points, faces)
        self.areas = mass
        """(n,) square metres that each place stands for."""
        self._mass = mass + 1e-9 * max(float(mass.mean()) if len(mass) else 0.0, 1e-12)
        flow = weights * (width / 3) ** 2
        diagonal = self._mass + np.asarray(flow.sum(axis=1)).ravel()
        self._matrix = (diags_array(diagonal) - flow).tocsr()
        self._inverse = diags_array(1 / diagonal).tocsr()

    @property
    def nbytes(self) -> int:
        return 12 * (self._matrix.nnz + self._inverse.nnz) + 2 * self._mass.nbytes

    def __call__(self, values: Reals) -> Reals:
        """(n,) the values made soft."""
        if not values.any():
            return values.copy()
        found, _ = cg(self._matrix, self._mass * values, x0=values, rtol=CLOSE, maxiter=2000, M=self._inverse)
        return np.asarray(found, dtype=np.float64)
