"""What matters: how the margin of a claim moves with a parameter, by central differences.

The local sensitivity is given for a relative change of the parameter (Saltelli et al., Sensitivity Analysis,
2000, chapter 5); where a parameter is zero, for a change of one unit.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Unpack

from movrel.analyse.claim_text import Claim
from movrel.analyse.claims import judge
from movrel.analyse.curves import RunCurves
from movrel.errors import MovrelError
from movrel.session import LoadedModel
from movrel.simulate.options import RunSettings

#: Relative change of a parameter to either side.
STEP = 0.01


@dataclass(frozen=True, slots=True)
class Effect:
    """What a parameter does to a claim: ``slope`` is the change of the margin for the whole of the parameter,
    or for one unit where it is zero; ``turns`` the relative change at which the verdict would turn, by the
    tangent. Both None where the claim cannot be judged on a side, for the ``reason`` given.
    """

    claim: str
    margin: float | None
    slope: float | None
    turns: float | None
    unit: str
    reason: str = ""


def effects(
    model: LoadedModel,
    values: Mapping[str, float],
    parameter: str,
    now: float,
    claims: Sequence[Claim],
    **options: Unpack[RunSettings],
) -> list[Effect]:
    """The effect of one parameter, which is ``now``, on each claim. Raises :class:`MovrelError` if no run succeeds."""
    step = STEP * abs(now) if now != 0 else STEP
    at = {}
    faults = []
    for side in (-1, 0, 1):
        try:
            run = RunCurves(
                model.simulate(set=dict(values) | {parameter: now + side * step}, **options)
            )
            at[side] = [judge(claim, run) for claim in claims]
        except MovrelError as fault:
            faults.append(fault)
    if not at:
        raise faults[0]
    judged = []
    for k, claim in enumerate(claims):
        sides = {
            side: verdicts[k] for side, verdicts in at.items() if verdicts[k].margin is not None
        }
        middle = sides.get(0)
        if len(sides) < 2 or middle is None or middle.margin is None:
            reason = next(
                (v[k].reason for v in at.values() if v[k].reason),
                faults[0].message if faults else "",
            )
            margin, unit = (middle.margin, middle.unit) if middle else (None, "")
            judged.append(Effect(claim.text, margin, None, None, unit, reason))
            continue
        low, high = min(sides), max(sides)
        change = (sides[high].margin or 0.0) - (sides[low].margin or 0.0)
        slope = change / ((high - low) * (STEP if now != 0 else step))
        turns = -middle.margin / slope if slope != 0 else None
        judged.append(Effect(claim.text, middle.margin, slope, turns, middle.unit))
    return judged
