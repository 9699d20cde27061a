"""The commands that find models by measurements and make them linear: ``movrel fit``, ``step-test``, ``linearise``."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from movrel.cli.analysis import seconds, settings
from movrel.errors import MovrelError

if TYPE_CHECKING:
    from movrel.analyse.free_parameter import Free
    from movrel.analyse.measured_model import MeasuredData
    from movrel.exchange.table_files import MeasuredTable
    from movrel.session import LoadedModel


def add_commands(commands: argparse._SubParsersAction[Any]) -> None:
    """Put ``fit``, ``step-test`` and ``linearise`` among the commands."""
    fit = commands.add_parser("fit", help="find parameters of a model by measurements")
    _model(fit)
    fit.add_argument(
        "--data", action="append", required=True, metavar="DATA.csv",
        help="measurements; several experiments share the parameters",
    )  # fmt: skip
    fit.add_argument("--output-map", nargs="+", required=True, metavar="COLUMN=VARIABLE")
    fit.add_argument("--input-map", nargs="+", default=[], metavar="COLUMN=INPUT")
    fit.add_argument("--free", nargs="+", required=True, metavar="NAME=LOW:START:HIGH")
    fit.add_argument("--log", nargs="+", default=[], metavar="NAME", help="on a logarithmic scale")
    fit.add_argument("--hold", nargs="+", default=[], metavar="INPUT", help="held between samples")
    fit.add_argument("--robust", action="store_true", help="count outliers less")
    fit.add_argument("--starts", type=int, default=1, metavar="N", help="begin at N places")
    fit.add_argument(
        "--held-back",
        type=float,
        default=0.0,
        metavar="SHARE",
        help="of the end of each, only compared with",
    )
    fit.add_argument("--output", required=True, metavar="RESULT.json")
    fit.set_defaults(act=fit_command)
    step = commands.add_parser(
        "step-test", help="first and second order and integrator with dead time by a step test"
    )
    step.add_argument("data", metavar="DATA.csv", help="measurements with input and response")
    step.add_argument("--input", required=True, metavar="COLUMN")
    step.add_argument("--response", required=True, metavar="COLUMN")
    step.add_argument("--output", required=True, metavar="RESULT.json")
    step.set_defaults(act=step_test_command)
    linear = commands.add_parser("linearise", help="the linear model about an operating point")
    _model(linear)
    linear.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    where = linear.add_mutually_exclusive_group()
    where.add_argument("--at", type=seconds, metavar="T", help="an instant of the run")
    where.add_argument("--steady", action="store_true", help="a steady state")
    linear.add_argument(
        "--hold", nargs="+", default=[], metavar="NAME=VALUE", help="values in a state at rest"
    )
    linear.add_argument("--find", nargs="+", default=[], metavar="INPUT", help="what may change for them")  # fmt: skip
    linear.add_argument("--moving", nargs="+", default=[], metavar="STATE", help="what may go on changing")  # fmt: skip
    between = linear.add_mutually_exclusive_group(required=True)
    between.add_argument("--outputs", metavar="C,D")
    between.add_argument("--open-at", metavar="SIGNAL", help="a wire at which a loop is opened")
    linear.add_argument("--inputs", default="", metavar="A,B")
    linear.add_argument("--output", required=True, metavar="LIN.json", help="or LIN.csv, LIN.npz")
    linear.set_defaults(act=linearise_command)


def _model(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("files", nargs="+", metavar="FILE.mo", help="Modelica files or folders")
    parser.add_argument(
        "--model", metavar="NAME", help="the last model of the last file without it"
    )


def _target(text: str) -> Path:
    path = Path(text)
    if not path.resolve().parent.is_dir():
        raise MovrelError(f"--output {text}: the folder does not exist.")
    return path


def fit_command(options: argparse.Namespace) -> int:
    """``movrel fit``."""
    from movrel.analyse.fit import FitOptions, fit
    from movrel.analyse.fit_result import as_json
    from movrel.session import load

    target = _target(options.output)
    model = load(*options.files, model=options.model)
    outputs, inputs = (
        _pairs("--output-map", options.output_map),
        _pairs("--input-map", options.input_map),
    )
    data = [_data(Path(path), model, outputs, inputs, options.hold) for path in options.data]
    free = [_free(text, options.log) for text in options.free]
    result = fit(
        model, data, free,
        FitOptions(robust=options.robust, starts=options.starts, held_back=options.held_back),
    )  # fmt: skip
    target.write_text(json.dumps(as_json(result), indent=1) + "\n", encoding="utf-8")
    for p in result.parameters:
        unit = v.unit if (v := model.by_name.get(p.name)) is not None else ""
        print(
            f"{p.name} = {p.value:.6g} {unit}  ({p.low:.6g} to {p.high:.6g})".replace(
                "  (", " (", 1
            )
        )
    for note in [*result.undetermined, *result.notes]:
        print(f"note: {note}", file=sys.stderr)
    return 0


def _pairs(option: str, items: Sequence[str]) -> dict[str, str]:
    pairs: dict[str, str] = {}
    for item in items:
        column, equals, name = item.rpartition("=")
        if not equals or not column.strip() or not name.strip():
            raise MovrelError(f"{option} {item}: write COLUMN=NAME.")
        pairs[column.strip()] = name.strip()
    return pairs


def _free(text: str, logarithmic: Sequence[str]) -> Free:
    from movrel.analyse.free_parameter import Free

    name, equals, rest = text.rpartition("=")
    try:
        low, start, high = (float(part) for part in rest.split(":"))
    except ValueError:
        equals = ""
    if not equals or not name.strip():
        raise MovrelError(f"--free {text}: write NAME=LOW:START:HIGH.")
    return Free(name.strip(), low, start, high, "log" if name.strip() in logarithmic else "linear")


def _data(
    path: Path,
    model: LoadedModel,
    outputs: dict[str, str],
    inputs: dict[str, str],
    held: Sequence[str],
) -> MeasuredData:
    from movrel.analyse.measured_model import MeasuredData

    table = _table(path)

    def columns(mapping: dict[str, str]) -> dict[str, Any]:
        units = {n: v.unit if (v := model.by_name.get(n)) else "" for n in mapping.values()}
        return {name: table.column(c).in_unit(units[name]) for c, name in mapping.items()}

    return MeasuredData(
        path.name, table.instants, columns(outputs), columns(inputs), frozenset(held)
    )


def step_test_command(options: argparse.Namespace) -> int:
    """``movrel step-test``: in the units of the file."""
    from movrel.analyse.controller_settings import described_model
    from movrel.analyse.step_models import step_models

    target = _target(options.output)
    table = _table(Path(options.data))
    level, response = table.column(options.input), table.column(options.response)
    models = step_models(table.instants, level.values, response.values)
    for m in models:
        lag = f"time constant {m.time_constant:.5g} s, " if m.time_constant else ""
        damping = f"damping ratio {m.damping:.3g}, " if m.damping else ""
        print(
            f"{m.kind}: gain {m.gain:.5g}, {lag}{damping}dead time {m.dead_time:.5g} s; fit {m.figures.fit:.4g} %"
        )
    target.write_text(
        json.dumps([described_model(m) for m in models], indent=1) + "\n", encoding="utf-8"
    )
    return 0


def _table(path: Path) -> MeasuredTable:
    """The table in a file; what was done with it goes to the standard error."""
    from movrel.exchange.table_files import read_table_file

    if not path.is_file():
        raise MovrelError(f"there is no file '{path}'.")
    table = read_table_file(path.name, path.read_bytes())
    for note in table.notes:
        print(f"{path.name}: {note}", file=sys.stderr)
    return table


def linearise_command(options: argparse.Namespace) -> int:
    """``movrel linearise``."""
    from movrel.analyse.balance import Rest, held_values
    from movrel.analyse.linearise import linearise
    from movrel.analyse.opened_loop import OpenedLoop
    from movrel.exchange.linear_files import WRITERS
    from movrel.session import load

    target = _target(options.output)
    model = load(*options.files, model=options.model)
    inputs, outputs = (
        [name.strip() for name in text.split(",") if name.strip()]
        for text in (options.inputs, options.outputs or "")
    )
    held = held_values(model, settings(options.hold))
    rest = Rest(held, tuple(options.find), tuple(options.moving))
    where = options.at, options.steady, settings(options.set), rest
    if options.open_at:
        loop = OpenedLoop(model, options.open_at)
        closed = linearise(loop.loaded, [loop.disturbance], [loop.source], *where)
        linear = loop.opened(closed)
    else:
        linear = linearise(model, inputs, outputs, *where)
    write, _ = WRITERS.get(target.suffix.lstrip(".").lower(), WRITERS["json"])
    content = write(linear.as_json())
    target.write_bytes(content.encode() if isinstance(content, str) else content)
    for mode in linear.modes():
        words = f"pole {mode.pole:.5g}" if mode.pole.imag else f"pole {mode.pole.real:.5g}"
        states = ", ".join(f"{n} {100 * share:.0f} %" for n, share in mode.states.items())
        print(f"{words} rad/s, damping {mode.damping:.3g}: {states}")
    for note in linear.notes:
        print(f"note: {note}", file=sys.stderr)
    return 0
