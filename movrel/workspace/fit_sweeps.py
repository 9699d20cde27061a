"""Sweeps over what a fit left uncertain: bands about the curves of the fitted values."""

from __future__ import annotations

import numpy as np

from movrel.analyse.design import Vary
from movrel.analyse.fit_samples import Uncertain, drawn
from movrel.errors import MovrelError
from movrel.workspace import sweeps
from movrel.workspace.analyses import analysis
from movrel.workspace.tables import Sweep


def order_sweep_of_fit(number: int, count: int, seed: int = 1) -> Sweep:
    """Order a sweep of the fitted parameters, drawn together, with the curves that were compared.

    Start values that are no parameters, offsets, and values of single experiments stay out. Raises :class:`MovrelError` where it
    is no fit that is done, or where the fit did not determine the values.
    """
    fit = analysis(number)
    if fit.kind != "fit" or fit.state != "done":
        raise MovrelError("this is no fit that is done.", hint="Fit first.")
    free = {f["name"]: f for f in fit.asked["free"]}
    fitted = fit.result["parameters"]
    used = [
        k
        for k, p in enumerate(fitted)
        if not p["experiment"]
        and not p["name"].endswith(".start")
        and not p["name"].startswith("offset(")
    ]
    if not used:
        raise MovrelError("the fit found no parameter of the model itself.", hint="Fit one.")
    parameters = []
    for p in (fitted[k] for k in used):
        asked = free[p["name"]]
        deviation = np.inf if p["deviation"] is None else p["deviation"]
        parameters.append(
            Uncertain(
                p["name"],
                p["value"],
                deviation,
                asked["low"],
                asked["high"],
                asked["scale"] == "log",
            )
        )
    correlation = np.array(fit.result["correlation"], float)[np.ix_(used, used)]
    values = drawn(parameters, correlation, count, seed)
    outputs = list(
        dict.fromkeys(v for e in fit.asked["experiments"] for v in e["outputs"].values())
    )
    made = sweeps.order(
        fit.project_id, fit.model, fit.scenario,
        [Vary(name, values=tuple(drawn_values)) for name, drawn_values in values.items()],
        "list", count, seed, [f"final({o})" for o in outputs], outputs,
    )  # fmt: skip
    Sweep.update(fit=number).where(Sweep.id == made.id).execute()
    made.fit = number
    return made
