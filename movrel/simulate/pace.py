"""How large the steps of a run are while it is under way."""

from __future__ import annotations

#: Evaluations that a step takes as long as fewer steps than this are known.
USUAL_EVALUATIONS, FEW_STEPS = 1.3, 20


class Pace:
    """Tells the size of the steps since the last look from the evaluations that they took.

    The solver tells its steps only when it comes back from many.
    """

    def __init__(self, start: float) -> None:
        #: The instant of the last look.
        self.looked_at = start
        self._evaluations = 0

    def step_size(self, t: float, steps: int, evaluations: int) -> float:
        """About how large the steps since the last look were, by the work of all steps so far."""
        for_one = evaluations / steps if steps > FEW_STEPS else USUAL_EVALUATIONS
        size = (t - self.looked_at) / max((evaluations - self._evaluations) / for_one, 1.0)
        self.looked_at, self._evaluations = t, evaluations
        return size
