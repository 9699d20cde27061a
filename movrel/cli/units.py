"""The commands about units of the Functional Mock-up Interface: ``movrel fmu export``, ``info`` and ``run``."""

from __future__ import annotations

import argparse
import csv
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from movrel.cli.analysis import seconds, settings
from movrel.delimited import delimited, head
from movrel.errors import MovrelError
from movrel.units import read_quantity

if TYPE_CHECKING:
    from movrel.exchange.fmi.export_options import ExportOptions, LogKind
    from movrel.fmi.description import Interface, UnitDescription, UnitVariable

_INTERFACES: dict[str, tuple[Interface, ...]] = {"me": ("me",), "cs": ("cs",), "both": ("me", "cs")}
_LOGS: tuple[LogKind, ...] = ("events", "steps", "warnings")
_WORDS = {"me": "model exchange", "cs": "co-simulation"}


def add_commands(commands: argparse._SubParsersAction[Any]) -> None:
    """Put ``fmu`` with its own commands among the commands."""
    fmu = commands.add_parser(
        "fmu", help="units of the Functional Mock-up Interface (FMI 2.0 and 3.0)"
    )
    inner = fmu.add_subparsers(
        dest="fmu_command", required=True, metavar="COMMAND", parser_class=type(fmu)
    )
    export = inner.add_parser("export", help="make a unit of a model")
    export.add_argument(
        "files", nargs="+", metavar="FILE.mo", help="Modelica files or package folders"
    )
    export.add_argument(
        "--model",
        metavar="NAME",
        help="class to export; the last model of the last file without it",
    )
    export.add_argument(
        "--version", type=int, choices=(2, 3), default=3, help="version of the standard"
    )
    export.add_argument(
        "--kind",
        choices=tuple(_INTERFACES),
        default="both",
        help="model exchange, co-simulation or both",
    )
    export.add_argument("--output", required=True, metavar="OUT.fmu")
    export.add_argument(
        "--sealed", action="store_true", help="list no internal variables and include no sources"
    )
    export.add_argument(
        "--visible",
        action="append",
        metavar="NAME",
        help="a parameter that can be set in the unit; without it all can",
    )
    export.add_argument(
        "--as-output",
        action="append",
        default=[],
        metavar="NAME",
        help="a variable that becomes an output",
    )
    export.add_argument(
        "--fixed-step",
        type=seconds,
        metavar="H",
        help="co-simulation with fixed steps of this size instead of variable ones",
    )
    export.add_argument(
        "--platform",
        action="append",
        metavar="NAME",
        help="compile for linux64, win64, darwin64, …; without it for this machine",
    )
    export.add_argument("--no-documentation", action="store_true", help="leave the page out")
    export.add_argument(
        "--no-symbol",
        action="store_true",
        help="leave the picture of the symbol and the terminals out",
    )
    export.add_argument(
        "--log",
        action="append",
        choices=("events", "steps", "warnings", "errors"),
        help="messages that an importer can ask for, besides errors; all of them without it",
    )
    export.set_defaults(act=export_command)
    info = inner.add_parser("info", help="say what is in a unit")
    info.add_argument("file", metavar="FILE.fmu")
    info.set_defaults(act=info_command)
    run = inner.add_parser("run", help="run a unit by itself")
    run.add_argument("file", metavar="FILE.fmu")
    run.add_argument("--kind", choices=("me", "cs"), help="model exchange or co-simulation")
    run.add_argument(
        "--start", type=seconds, metavar="T", help="start time, in s or with a unit of time"
    )
    run.add_argument(
        "--stop", type=seconds, metavar="T", help="stop time, in s or with a unit of time"
    )
    run.add_argument(
        "--interval",
        type=seconds,
        metavar="DT",
        help="communication step and distance of output points",
    )
    run.add_argument("--tolerance", type=float, metavar="R", help="relative tolerance")
    run.add_argument(
        "--set",
        action="append",
        default=[],
        metavar="NAME=VALUE",
        help="value of a parameter, in its unit or with another",
    )
    run.add_argument(
        "--input",
        metavar="IN.csv",
        help="a column 'time' and one for each input, joined by straight lines",
    )
    run.add_argument(
        "--output",
        metavar="OUT.csv",
        help="all variables over time; without it a summary is printed",
    )
    run.set_defaults(act=run_command)


def export_command(options: argparse.Namespace) -> int:
    """``movrel fmu export``."""
    from movrel.couple.as_unit import unit_of_model
    from movrel.session import load

    if not options.output.endswith(".fmu"):
        raise MovrelError(f"--output {options.output}: a unit's name ends in .fmu.")
    target = Path(options.output)
    if not target.resolve().parent.is_dir():
        raise MovrelError(f"--output {options.output}: the folder does not exist.")
    model = load(*options.files, model=options.model)
    made = unit_of_model(model, _choices(options))
    target.write_bytes(made.archive)
    for note in made.notes:
        print(f"note: {note}", file=sys.stderr)
    for warning in model.warnings:
        print(f"warning: {warning}", file=sys.stderr)
    print(f"{target.name}: {_counted(made.description)}")
    return 0


def _choices(options: argparse.Namespace) -> ExportOptions:
    from movrel.exchange.fmi.export_options import ExportOptions

    return ExportOptions(
        version=options.version,
        interfaces=_INTERFACES[options.kind],
        parameters=frozenset(options.visible) if options.visible else None,
        outputs=frozenset(options.as_output),
        sealed=options.sealed,
        solver="fixed" if options.fixed_step else "variable",
        step=options.fixed_step or 0.0,
        documentation=not options.no_documentation,
        symbol=not options.no_symbol,
        log=_LOGS if options.log is None else tuple(k for k in _LOGS if k in options.log),
        platforms=tuple(options.platform) if options.platform else None,
    )


def _counted(d: UnitDescription) -> str:
    kinds = " and ".join(_WORDS[i] for i in d.interfaces)
    numbers = {
        "inputs": sum(v.causality == "input" for v in d.variables),
        "outputs": sum(v.causality == "output" for v in d.variables),
        "parameters": sum(v.causality == "parameter" for v in d.variables),
        "states": len(d.derivatives),
    }
    return f"FMI {d.version}.0 for {kinds}, " + ", ".join(
        f"{n} {name}" for name, n in numbers.items()
    )


def info_command(options: argparse.Namespace) -> int:
    """``movrel fmu info``."""
    from movrel.exchange.fmi.unit_class import left_out
    from movrel.fmi.archive import open_unit
    from movrel.fmi.rules import findings

    opened = open_unit(Path(options.file))
    d = opened.description
    print(f"{d.name}: {d.description}" if d.description else d.name)
    print(f"  {_counted(d)}")
    if d.tool:
        print(f"  made by {d.tool}{f', {d.made}' if d.made else ''}")
    if d.experiment.stop is not None:
        print(f"  default experiment: {d.experiment.start or 0:g} s to {d.experiment.stop:g} s")
    binaries = opened.binaries()
    sources = "yes" if any(n.startswith("sources/") for n in opened.files) else "no"
    print(f"  binaries: {', '.join(sorted(binaries)) or 'none'}; sources: {sources}")
    for causality in ("input", "output", "parameter"):
        for v in d.variables:
            if v.causality == causality:
                print(f"  {causality} {_line(v)}")
    if unused := left_out(d):
        print(f"  {unused}")
    for finding in findings(opened):
        print(f"  looks wrong (clause {finding.clause}): {finding.text}")
    return 0


def _line(v: UnitVariable) -> str:
    """A variable with its size, start value, unit and description."""
    size = f"[{','.join(map(str, v.sizes))}]" if v.sizes else ""
    values = " ".join(f"{s:g}" if isinstance(s, float) else str(s) for s in (v.start or [])[:4])
    parts = [
        f"{v.name}{size}",
        f"= {values}" if values else "",
        v.unit,
        f" {v.description}" if v.description else "",
    ]
    return " ".join(part for part in parts if part)


def run_command(options: argparse.Namespace) -> int:
    """``movrel fmu run``."""
    from movrel.exchange.fmi.run_unit import UnitOptions, run_unit
    from movrel.fmi.archive import open_unit

    opened = open_unit(Path(options.file))
    values = {
        name: _setting(name, text, opened.description)
        for name, text in settings(options.set).items()
    }
    inputs = _inputs(Path(options.input), opened.description) if options.input else {}
    result = run_unit(
        opened,
        UnitOptions(
            options.kind,
            options.start,
            options.stop,
            options.interval,
            options.tolerance,
            values,
            inputs,
        ),
    )
    for message in result.messages:
        print(f"the unit says: {message.text}", file=sys.stderr)
    if result.ended:
        print(f"note: {result.ended}.", file=sys.stderr)
    if options.output:
        rows: list[list[float | str]] = np.column_stack([result.time, result.table]).tolist()
        for texts in result.texts.values():
            rows = [[*row, text] for row, text in zip(rows, texts, strict=True)]
        heads = ["time", *result.names, *result.texts]
        Path(options.output).write_text(delimited(heads, rows), encoding="utf-8")
        return 0
    print(
        f"{len(result.time)} points from {result.time[0]:g} s to {result.time[-1]:g} s, {result.events} events"
    )
    width = max(
        (len(head(n, u)) for n, u in zip(result.names, result.units, strict=True)), default=0
    )
    for k, (name, symbol) in enumerate(zip(result.names, result.units, strict=True)):
        column = result.table[:, k]
        print(
            f"{name:<{width}}  final {column[-1]:>12.6g}  min {column.min():>12.6g}  max {column.max():>12.6g}  {symbol}"
        )
    for name, texts in result.texts.items():
        print(f"{name:<{width}}  final '{texts[-1]}'")
    return 0


def _setting(name: str, given: str, d: UnitDescription) -> float | str:
    """A value of a variable, in its unit or converted into it; that of a text variable as it is."""
    v = d.by_name().get(name)
    if v is not None and v.kind == "String":
        return given
    if v is not None and v.kind == "Boolean" and given in ("true", "false"):
        return float(given == "true")
    if v is not None and v.kind == "Enumeration" and given in v.enumeration:
        return float(v.enumeration.index(given) + 1)
    typed = read_quantity(given, v.unit if v is not None else "")
    if typed is None:
        raise MovrelError(f"--set {name}={given}: this is not a value.")
    return typed.value


def _inputs(path: Path, d: UnitDescription) -> dict[str, Callable[[float], float]]:
    """The columns of a file as functions of time. Raises :class:`MovrelError` naming file and row."""
    if not path.is_file():
        raise MovrelError(f"there is no file '{path}'.")
    rows = list(csv.reader(path.read_text(encoding="utf-8-sig").splitlines()))
    if len(rows) < 2 or not rows[0] or rows[0][0].strip() != "time":
        raise MovrelError(
            f"'{path.name}' must begin with a column 'time' and have rows of numbers."
        )
    table = []
    for k, row in enumerate(rows[1:], 2):
        try:
            table.append([float(cell) for cell in row])
        except ValueError:
            raise MovrelError(f"'{path.name}', row {k}: not all cells are numbers.") from None
        if len(row) != len(rows[0]):
            raise MovrelError(
                f"'{path.name}', row {k}: {len(row)} cells, the first row has {len(rows[0])}."
            )
    numbers = np.array(table)
    if (np.diff(numbers[:, 0]) < 0).any():
        raise MovrelError(f"'{path.name}': the times must not go back.")

    def joined(column: int) -> Callable[[float], float]:
        return lambda t: float(np.interp(t, numbers[:, 0], numbers[:, column]))

    names = [cell.strip() for cell in rows[0]]
    return {name: joined(k) for k, name in enumerate(names) if k}
