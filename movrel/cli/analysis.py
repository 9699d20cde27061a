"""The commands that say something about runs: claims and sweeps."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from movrel.delimited import delimited_blocks
from movrel.errors import MovrelError, did_you_mean
from movrel.units import read_quantity

if TYPE_CHECKING:
    from movrel.analyse.design import Vary
    from movrel.session import LoadedModel

CLAIM_FAILED = 4


def settings(items: Sequence[str]) -> dict[str, str]:
    """Values of parameters as they are typed. Raises :class:`MovrelError` for what is no NAME=VALUE."""
    typed: dict[str, str] = {}
    for item in items:
        name, equals, text = item.partition("=")
        if not equals or not name.strip():
            raise MovrelError(f"--set {item}: write NAME=VALUE.")
        typed[name.strip()] = text.strip()
    return typed


def seconds(text: str) -> float:
    """A time from the command line, in any unit of time: ``3600``, ``1 h``."""
    try:
        quantity = read_quantity(text, "s")
    except MovrelError as fault:
        raise argparse.ArgumentTypeError(fault.sentence()) from None
    if quantity is None:
        raise argparse.ArgumentTypeError(f"'{text}' is not a time.")
    return quantity.value


def _options(options: argparse.Namespace) -> dict[str, Any]:
    names = ("start", "stop", "interval", "solver", "tolerance", "step")
    return {n: getattr(options, n) for n in names if getattr(options, n) is not None}


def claims(model: LoadedModel, options: argparse.Namespace) -> int:
    """Run once and judge; 0 when all claims hold, 4 when one does not or cannot be judged."""
    from movrel.analyse.claim_text import read
    from movrel.analyse.claims import judge
    from movrel.analyse.curves import RunCurves
    from movrel.project.vendor_annotation import claims_of
    from movrel.units import pretty

    texts = options.claim or [c.text for c in claims_of(model.definition)]
    if not texts:
        raise MovrelError(
            "the model has no claims.", hint="Give one with --claim 'max(x) < 1.2 m'."
        )
    asked = [read(text) for text in texts]
    run = RunCurves(model.simulate(set=settings(options.set), **_options(options)))
    all_hold = True
    for claim in asked:
        verdict = judge(claim, run)
        all_hold &= verdict.holds is True
        if verdict.holds is None:
            print(f"cannot be judged  {claim.text}: {verdict.reason}")
            continue
        unit = pretty(verdict.unit)
        numbers = ""
        if verdict.value is not None and verdict.margin is not None:
            where = f" at {verdict.instant:g} s" if verdict.instant is not None else ""
            numbers = (
                f"  value {verdict.value:.6g} {unit}, margin {verdict.margin:.3g} {unit}".replace(
                    " ,", ","
                ).rstrip()
                + where
            )
        print(f"{'holds' if verdict.holds else 'fails'}  {claim.text}{numbers}")
    return 0 if all_hold else CLAIM_FAILED


def sweep(model: LoadedModel, options: argparse.Namespace) -> int:
    """Run at every point and write one row for each."""
    from movrel.analyse.claim_text import read_expression
    from movrel.analyse.design import points
    from movrel.analyse.sweep import sweep as run_all

    output = Path(options.output)
    if output.suffix != ".csv" or not output.resolve().parent.is_dir():
        raise MovrelError(f"--output {options.output}: give a .csv file in a folder that exists.")
    measures = [read_expression(text) for text in options.measure]
    fixed = settings(options.set)
    varied = [_vary(text, model) for text in options.vary]
    names = {v.name for v in model.flat.parameters()}
    for name in [*(v.name for v in varied), *fixed]:
        if name not in names:
            raise MovrelError(
                f"the model has no parameter '{name}'.", hint=did_you_mean(name, sorted(names))
            )
    todo = points(varied, options.sample, options.points, options.seed)
    failed = done = 0

    def rows() -> Iterator[list[object]]:
        nonlocal done, failed
        for result in run_all(model, todo, measures, fixed, **_options(options)):
            done += 1
            failed += bool(result.failure)
            yield [
                *(result.point[v.name] for v in varied),
                *(result.values or [None] * len(measures)),
                result.failure,
            ]
            if sys.stderr.isatty():
                print(f"\r{done} of {len(todo)} points", end="", file=sys.stderr)

    with output.open("w", newline="", encoding="utf-8") as file:
        file.writelines(
            delimited_blocks([*(v.name for v in varied), *options.measure, "failure"], rows())
        )
    print(f"{done} points, {failed} with a failure, in {options.output}")
    return 0


def _vary(text: str, model: LoadedModel) -> Vary:
    from movrel.analyse.design import Vary

    name, equals, range_ = (part.strip() for part in text.partition("="))
    variable = model.by_name.get(name)
    unit = variable.unit if variable is not None else ""

    def number(typed: str) -> float:
        quantity = read_quantity(typed, unit)
        if quantity is None:
            raise ValueError
        return quantity.value

    try:
        if not equals:
            raise ValueError
        if ":" in range_:
            low, high, *count = range_.split(":")
            return Vary(name, number(low), number(high), int(count[0]) if count else 5)
        return Vary(name, values=tuple(number(v) for v in range_.split(",")))
    except (ValueError, IndexError):
        raise MovrelError(f"--vary {text}: write NAME=LOW:HIGH:COUNT or NAME=V1,V2,…") from None
