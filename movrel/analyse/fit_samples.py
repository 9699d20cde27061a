"""Values as uncertain as a fit left them: draws that keep intervals and correlation, for curves and claims."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from movrel.errors import MovrelError

Array = npt.NDArray[np.float64]

#: Draws for each one that is wanted, of which those beyond a bound are left out.
SPARE = 20


@dataclass(frozen=True, slots=True)
class Uncertain:
    """A fitted parameter: its value and standard deviation, between bounds; on a logarithmic scale where ``log``."""

    name: str
    value: float
    deviation: float
    low: float
    high: float
    log: bool = False


def drawn(
    parameters: Sequence[Uncertain], correlation: Array, count: int, seed: int = 1
) -> dict[str, list[float]]:
    """``count`` values of each parameter, drawn together from the normal distribution that the fit gives (of the logarithms on a
    logarithmic scale), cut off at the bounds; ``correlation`` has shape ``(parameters, parameters)``.

    Raises :class:`MovrelError` where the fit did not determine them, or hardly any draw lies between the bounds.
    """
    deviations = np.array(
        [p.deviation / abs(p.value) if p.log else p.deviation for p in parameters]
    )
    if not np.isfinite(deviations).all():
        raise MovrelError(
            "the fit did not determine all of these parameters.",
            hint="Hold some of them, or measure more.",
        )
    middle = np.array([np.log(p.value) if p.log else p.value for p in parameters])
    # Correlations in both scales are those of small deviations.
    covariance = deviations[:, None] * np.asarray(correlation, float) * deviations[None, :]
    chance = np.random.default_rng(seed)
    rows = chance.multivariate_normal(middle, covariance, SPARE * count, method="svd")
    logarithmic = np.array([p.log for p in parameters])
    rows = np.where(logarithmic, np.exp(np.where(logarithmic, rows, 0.0)), rows)
    low, high = (np.array([getattr(p, end) for p in parameters]) for end in ("low", "high"))
    inside = rows[((rows >= low) & (rows <= high)).all(axis=1)][:count]
    if len(inside) < count:
        raise MovrelError(
            "the values are at their bounds, or hardly determined: too few draws lie between the bounds.",
            hint="Widen the bounds, or fit fewer parameters.",
        )
    return {p.name: inside[:, k].tolist() for k, p in enumerate(parameters)}
