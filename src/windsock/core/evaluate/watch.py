"""Whether work is still wanted, and how far it has come."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from windsock.core.refusals import Cancelled, Refusal

Report = Callable[[str, float], None]


def _unheard(what: str, share: float) -> None:
    del what, share


class Watch:
    """Goes with a piece of work: others cancel it here, kernels look at `flag`, and it tells how far it is."""

    def __init__(self, report: Report = _unheard) -> None:
        """report: told in words what is worked on and its share done, 0..1."""
        self.flag: NDArray[np.uint8] = np.zeros(1, dtype=np.uint8)
        self.progress = report
        self._because: Refusal | None = None

    def cancel(self, because: Refusal | None = None) -> None:
        """The work is no longer wanted; it stops at its next look. because: what it stops with in place of Cancelled."""
        self._because = self._because or because
        self.flag[0] = 1

    def tell(self, says: str, share: float) -> None:
        """Tell how far the work is. Raises as `check` does."""
        self.check()
        self.progress(says, share)

    def check(self) -> None:
        """Raises Cancelled, or what the work was stopped because of, when it is no longer wanted."""
        if self.flag[0]:
            raise self._because or Cancelled
