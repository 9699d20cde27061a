"""Which relations change while they are settled at an event or at the start."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.simulate.machine import SMALLEST

Array = npt.NDArray[np.float64]

#: Rounds of event iteration before a model is said not to settle.
ITERATION_LIMIT = 100
#: Contradiction of a relation, as a share of the largest difference compared or of its own so far, that counts as rounding.
SMALL_CONTRADICTION = 1e-8


class RelationIteration:
    """How relations are changed while they are settled: all that disagree at once, until that goes round
    in a circle; then the first that disagrees, one at a time.

    Changing the one with the least number solves the switching of ideal diodes and the like, which is a
    linear complementarity problem (Murty, Linear Algebra Appl. 9, 1974, for P-matrices). Where rounding
    leaves no outcome without a contradiction, the one with the smallest is taken if it is small enough.
    """

    def __init__(self, usual: Array) -> None:
        """``usual`` says how large what each slot compares has been so far, shape ``(slots,)``."""
        self.one_by_one = False
        self._rounds = ITERATION_LIMIT + 50 * len(usual)
        self._seen: set[bytes] = set()
        self._usual = usual
        #: The outcomes with the smallest contradiction, that as a share, and which slots contradict by how much.
        self._best: tuple[float, Array, Array, Array] | None = None
        self._largest = SMALLEST

    def go_on(self, held: Array) -> bool:
        """Whether another round is to be tried from these outcomes."""
        self._rounds -= 1
        key = held.tobytes()
        if key in self._seen:
            if self.one_by_one:
                return False
            self.one_by_one, self._seen = True, set()
        self._seen.add(key)
        return self._rounds > 0

    def note(self, held: Array, g: Any, different: Any) -> None:
        """Take note of outcomes with the sizes of what they contradict."""
        if not self.one_by_one:
            return  # most settle soon
        sizes = np.abs(np.asarray(g, dtype=float))
        self._largest = max(self._largest, float(sizes.max(initial=0.0)))
        which = np.zeros(len(sizes), dtype=bool)
        which[different] = True
        shares = sizes[which] / np.maximum(self._usual[which], self._largest)
        worst = float(shares.max(initial=0.0))
        if self._best is None or worst < self._best[0]:
            self._best = worst, held.copy(), which, sizes[which]

    @property
    def good_enough(self) -> Array | None:
        """The outcomes with the smallest contradiction, if that is mere rounding."""
        if self._best is None:
            return None
        _, held, which, sizes = self._best
        fine = sizes <= SMALL_CONTRADICTION * np.maximum(self._usual[which], self._largest)
        return held if fine.all() else None
