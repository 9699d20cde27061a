"""What is said where a solver gave up."""

from __future__ import annotations

import math

import numpy as np

from movrel.errors import RunFault
from movrel.simulate.branch import BranchEnded
from movrel.simulate.explanation import Explanation
from movrel.simulate.machine import Machine
from movrel.simulate.methods.integrator import StepFailure


def failure(
    machine: Machine, explanation: Explanation, fault: StepFailure | BranchEnded
) -> RunFault:
    """The fault of a run whose solver gave up, with what it could not get over: a value that is not finite, a loop whose
    solution comes to an end, or else its own reason."""
    end = fault if isinstance(fault, BranchEnded) else machine.end_of_branch()
    t, states = (end or fault).time, (end or fault).state
    dx = machine.derivatives(t, states)[: machine.state_count].copy()
    if not np.isfinite(dx).all():
        everything = machine.everything(t, states)
        values = list(
            zip([*machine.system.states, *machine.system.solved], everything, strict=True)
        )
        explanation.refuse_not_finite(t, values, f"at {t:g} s")
    turning = machine.turning(t, states, *([math.inf] if end is not None else []))
    if turning is not None:
        return explanation.turned(t, turning)
    return explanation.gave_up(t, states, dx, str(fault))
