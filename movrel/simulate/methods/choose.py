"""Which method integrates a machine."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import numpy.typing as npt

from movrel.errors import StructureFault
from movrel.simulate.machine import Machine
from movrel.simulate.methods.affine import AffineIntegrator, is_affine
from movrel.simulate.methods.cvode import CvodeIntegrator
from movrel.simulate.methods.dae import DaeIntegrator
from movrel.simulate.methods.euler import Euler
from movrel.simulate.methods.implicit_euler import ImplicitEuler
from movrel.simulate.methods.integrator import Integrator
from movrel.simulate.methods.radau import RadauMethod
from movrel.simulate.methods.runge_kutta_4 import RungeKutta4
from movrel.simulate.methods.runge_kutta_45 import RungeKutta45
from movrel.simulate.methods.stepping import Method, RightSide, SteppingIntegrator
from movrel.simulate.methods.trapezoidal import Trapezoidal
from movrel.simulate.options import FIXED_STEP, RunOptions

Array = npt.NDArray[np.float64]

#: Steps at least within the shortest delay, so that the past is known well.
DELAY_STEPS = 4
#: Steps at least in a run of a model without states.
LEAST_STEPS = 500
#: Tolerance, as a share of the one asked for, of models whose geometry changes: nothing damps the errors of their
#: energy, which add up turn after turn. And the least that double precision keeps.
OF_MECHANISMS, STRICTEST = 1e-2, 1e-13
#: Methods that work with the exact Jacobian alone.
EXACT_ONLY = {"dae", "implicit-euler", "trapezoidal"}
#: The one-step methods by the names of their solvers.
ONE_STEP: dict[str, type[Method]] = {
    "rk45": RungeKutta45, "radau": RadauMethod, "euler": Euler, "rk4": RungeKutta4, "implicit-euler": ImplicitEuler,
    "trapezoidal": Trapezoidal,
}  # fmt: skip


def make_integrator(
    machine: Machine, options: RunOptions, nominal: Array, look: Callable[[float], None]
) -> Integrator:
    """The integrator that the options name, for a machine with at least one state."""
    if machine.history is not None:
        # No step may ask for what is not known yet.
        shortest = float(machine.history.delays.min()) / DELAY_STEPS
        options = replace(options, step=min(options.step or math.inf, options.interval if options.solver in FIXED_STEP else
                                            math.inf, shortest))  # fmt: skip
    if machine.dynamic:
        strict = max(OF_MECHANISMS * options.tolerance, STRICTEST)
        options = replace(options, tolerance=min(strict, options.tolerance))
    if machine.live and options.solver in EXACT_ONLY:
        raise StructureFault(
            f"'{options.solver}' needs exact derivatives, which units for model exchange do not give.",
            hint="Choose bdf, radau, rk45 or another explicit method.",
        )
    if options.solver == "dae" and machine.system.takes_smallest:
        # The open form of a singular block has no one solution.
        options = replace(options, solver="bdf")
    elif (
        options.solver == "bdf"
        and machine.system.fills
        and not (machine.live or machine.system.takes_smallest)
    ):
        # The same formulas, with the loops unsolved and sparse.
        options = replace(options, solver="dae")
    if not machine.state_count:
        # Only time moves: it is walked through in short steps to see what it changes.
        walk = min(
            options.step or math.inf, options.interval, (options.stop - options.start) / LEAST_STEPS
        )
        options = replace(options, solver="euler", step=walk)
    if options.solver in ("bdf", "adams"):
        return (AffineIntegrator if is_affine(machine) else CvodeIntegrator)(
            machine, options, nominal, look
        )
    if options.solver == "dae":
        return DaeIntegrator(machine, options, nominal, look)
    method = ONE_STEP[options.solver](RightSide(machine, look), options, nominal)
    return SteppingIntegrator(machine, method, look, options.stop - options.start)
