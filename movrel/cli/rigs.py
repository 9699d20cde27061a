"""The commands about rigs of coupled units: ``movrel rig run``, ``check``, ``export`` and ``open``."""

from __future__ import annotations

import argparse
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from movrel.cli.analysis import seconds, settings
from movrel.errors import MovrelError

if TYPE_CHECKING:
    from movrel.couple.rig import RigRun
    from movrel.exchange.ssp.as_model import ReadRig
    from movrel.session import LoadedModel


def add_commands(commands: argparse._SubParsersAction[Any]) -> None:
    """Put ``rig`` with its own commands among the commands."""
    rig = commands.add_parser("rig", help="rigs of coupled units (SSP 1.0 and 2.0, Modelica)")
    inner = rig.add_subparsers(
        dest="rig_command", required=True, metavar="COMMAND", parser_class=type(rig)
    )
    run = inner.add_parser("run", help="run a rig")
    _rig_options(run)
    run.add_argument("--output", metavar="OUT.csv", help="all variables over time")
    run.set_defaults(act=run_command)
    check = inner.add_parser("check", help="compare a rig with itself at half the step")
    _rig_options(check)
    check.set_defaults(act=check_command)
    export = inner.add_parser("export", help="write a rig as an SSP archive, or as one unit")
    _rig_options(export)
    export.add_argument("--version", choices=("1.0", "2.0"), default="1.0", help="of SSP")
    export.add_argument("--fmi", type=int, choices=(2, 3), default=3, help="version of a unit")
    export.add_argument(
        "--outputs", default="", metavar="NAME,…", help="variables that become outputs of the unit"
    )
    export.add_argument("--output", required=True, metavar="OUT.ssp or OUT.fmu")
    export.set_defaults(act=export_command)
    take = inner.add_parser("open", help="write an SSP archive as a model with its units beside it")
    take.add_argument("file", metavar="FILE.ssp")
    take.add_argument("--output", required=True, metavar="FOLDER")
    take.set_defaults(act=open_command)


def _rig_options(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("files", nargs="+", metavar="FILE", help="FILE.ssp, or Modelica files")
    parser.add_argument("--model", metavar="NAME", help="the rig among Modelica files")
    parser.add_argument("--start", type=seconds, metavar="T", help="start time")
    parser.add_argument("--stop", type=seconds, metavar="T", help="stop time")
    parser.add_argument("--step", type=seconds, metavar="DT", help="communication step")
    parser.add_argument("--interval", type=seconds, metavar="DT", help="distance of output points")
    parser.add_argument("--tolerance", type=float, metavar="R", help="of our own units' solvers")
    parser.add_argument("--order", choices=("parallel", "sequential"), help="order of the units")
    parser.add_argument(
        "--inputs", choices=("held", "extrapolated", "smoothed"), help="inputs within a step"
    )
    parser.add_argument("--error", type=float, metavar="R", help="error of a variable step")
    parser.add_argument(
        "--set", action="append", default=[], metavar="NAME=VALUE", help="value of a parameter"
    )


@contextmanager
def _loaded(options: argparse.Namespace) -> Iterator[LoadedModel]:
    """The rig of the files; an archive is unpacked as long as it is used."""
    from movrel.session import load

    first = Path(options.files[0])
    if first.suffix.lower() != ".ssp":
        yield load(*options.files, model=options.model)
        return
    with tempfile.TemporaryDirectory() as folder:
        read = _read(first)
        _write(read, Path(folder))
        for line in read.report:
            print(f"not used: {line}", file=sys.stderr)
        yield load(Path(folder) / f"{read.name}.mo")


def _read(path: Path) -> ReadRig:
    from movrel.exchange.ssp.as_model import model_of_archive

    if not path.is_file():
        raise MovrelError(f"there is no file '{path}'.")
    return model_of_archive(path.read_bytes(), path.name)


def _write(read: ReadRig, folder: Path) -> None:
    for name, content in read.files.items():
        target = folder / name
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(content)
    (folder / f"{read.name}.mo").write_text(read.text, encoding="utf-8")


def _prepared(model: LoadedModel, options: argparse.Namespace) -> RigRun:
    from movrel.couple.rig import prepare_rig
    from movrel.couple.rig import settings_of as rig_settings
    from movrel.project.rig_settings import RigSettings

    coupling = rig_settings(model) or RigSettings()
    changed = {
        name: getattr(options, name)
        for name in ("order", "inputs", "error")
        if getattr(options, name) is not None
    }
    typed = {
        name: value for name in ("start", "stop", "interval", "tolerance", "step")
        if (value := getattr(options, name)) is not None
    }  # fmt: skip
    return prepare_rig(model, replace(coupling, **changed), settings(options.set), **typed)


def run_command(options: argparse.Namespace) -> int:
    """``movrel rig run``."""
    with _loaded(options) as model:
        run = _prepared(model, options)
        trajectory = run.go()
    for message in trajectory.messages:
        print(f"note: {message}", file=sys.stderr)
    if options.output:
        trajectory.to_csv(options.output)
        return 0
    s = trajectory.statistics
    print(
        f"{len(run.rig.parts)} units, {len(run.rig.connections)} connections, {s.steps} steps of "
        f"{run.settings.step:g} s to {trajectory.final_time:g} s, {len(trajectory.events)} events"
    )
    for c in run.rig.connections:
        if c.is_own:
            continue
        print(
            f"  {c.name}  at the end {trajectory[c.source.name][-1]:.6g} {c.source.unit}".rstrip()
        )
    return 0


def check_command(options: argparse.Namespace) -> int:
    """``movrel rig check``."""
    from movrel.couple.step_check import step_check

    with _loaded(options) as model:
        run = _prepared(model, options)
        differences = step_check(run)
    print(f"difference at half the step ({0.5 * run.settings.step:g} s), as a share of the range:")
    for d in differences:
        print(
            f"  {d.source} → {d.target}  {100 * d.largest:.3g} % at {d.at:g} s, "
            f"{100 * d.mean:.2g} % on average"
        )
    return 0


def export_command(options: argparse.Namespace) -> int:
    """``movrel rig export``."""
    target = Path(options.output)
    if target.suffix not in (".ssp", ".fmu") or not target.resolve().parent.is_dir():
        raise MovrelError(
            f"--output {options.output}: give a .ssp or .fmu file in a folder that exists."
        )
    with _loaded(options) as model:
        run = _prepared(model, options)
        units, connections = len(run.rig.parts), len(run.rig.connections)
        archive, notes = (_as_ssp if target.suffix == ".ssp" else _as_unit)(run, model, options)
    target.write_bytes(archive)
    for line in notes:
        print(f"note: {line}", file=sys.stderr)
    print(f"{target.name}: {units} units, {connections} connections")
    return 0


def _as_ssp(
    run: RigRun, model: LoadedModel, options: argparse.Namespace
) -> tuple[bytes, list[str]]:
    from movrel.couple.as_ssp import ssp_of

    made = ssp_of(run, model.definition, {}, options.version)
    return made.archive, made.notes


def _as_unit(
    run: RigRun, model: LoadedModel, options: argparse.Namespace
) -> tuple[bytes, list[str]]:
    from movrel.couple.as_unit import unit_of_rig
    from movrel.exchange.fmi.export_options import ExportOptions

    outputs = frozenset(n.strip() for n in options.outputs.split(",") if n.strip())
    choices = ExportOptions(version=options.fmi, interfaces=("cs",), outputs=outputs)
    made = unit_of_rig(run, model.name, "", choices)
    return made.archive, made.notes


def open_command(options: argparse.Namespace) -> int:
    """``movrel rig open``."""
    read = _read(Path(options.file))
    folder = Path(options.output)
    folder.mkdir(parents=True, exist_ok=True)
    _write(read, folder)
    for line in read.report:
        print(f"not used: {line}", file=sys.stderr)
    print(f"{read.name}.mo and {len(read.files)} units")
    return 0
