"""Entry point of the ``movrel`` command.

Exit status: 0 done, 2 bad input, 3 the run failed, 4 a claim does not hold. Reasons go to stderr in plain sentences.
"""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn

from movrel.cli import folder, identify, modelica, rigs, server, units
from movrel.cli.analysis import claims, seconds, settings, sweep
from movrel.errors import MovrelError, RunCancelled, RunFault

if TYPE_CHECKING:
    from movrel.session import LoadedModel
    from movrel.simulate.trajectory import Trajectory

BAD_INPUT, RUN_FAILED = 2, 3


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        self.exit(BAD_INPUT, f"{self.prog}: {message}\n")


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(
        prog="movrel", description="Build, run and check physical plant models written in Modelica."
    )
    commands = parser.add_subparsers(
        dest="command", required=True, metavar="COMMAND", parser_class=_Parser
    )
    simulate = commands.add_parser(
        "simulate", help="run a model", description="Run a model and write its results."
    )
    _sources(simulate)
    _run_options(simulate)
    simulate.add_argument(
        "--output", metavar="FILE", help="OUT.csv or OUT.parquet; without it a summary is printed"
    )
    simulate.add_argument("--stats", action="store_true", help="print statistics of the run")
    check = commands.add_parser("check", help="check a model without running it")
    _sources(check)
    equations = commands.add_parser("equations", help="print the sorted system")
    _sources(equations)
    claims = commands.add_parser("claims", help="run a model and judge claims about the run")
    _sources(claims)
    _run_options(claims)
    claims.add_argument(
        "--claim",
        action="append",
        default=[],
        metavar="'EXPRESSION'",
        help="what must hold; without it the model's own claims",
    )
    sweep = commands.add_parser("sweep", help="run a model at many points")
    _sources(sweep)
    _run_options(sweep)
    sweep.add_argument(
        "--vary",
        action="append",
        required=True,
        metavar="NAME=LOW:HIGH:COUNT|NAME=V1,V2,…",
        help="what varies, in its unit",
    )
    sweep.add_argument("--sample", default="grid", help="grid, random, lhs or sobol")
    sweep.add_argument("--points", type=int, default=100, metavar="N", help="points of a sample")
    sweep.add_argument("--seed", type=int, default=1, metavar="N", help="seed of a sample")
    sweep.add_argument(
        "--measure",
        action="append",
        required=True,
        metavar="'EXPRESSION'",
        help="what is measured, such as max(basin.level)",
    )
    sweep.add_argument(
        "--output",
        required=True,
        metavar="OUT.csv",
        help="one row for each point, failures with their reason",
    )
    units.add_commands(commands)
    rigs.add_commands(commands)
    identify.add_commands(commands)
    modelica.add_commands(commands)
    folder.add_commands(commands)
    server.add_commands(commands)
    worker = commands.add_parser("worker", help="work on queued runs of a workspace")
    worker.add_argument(
        "--database",
        default=os.environ.get("MOVREL_DATABASE"),
        metavar="URL",
        help="address of the database",
    )
    worker.add_argument("--queues", default="quick,batch", help="queues to take work from")
    return parser


def _sources(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "files", nargs="+", metavar="FILE.mo", help="Modelica files or package folders"
    )
    parser.add_argument(
        "--model", metavar="NAME", help="class to run; the last model of the last file without it"
    )


def _run_options(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--start", type=seconds, metavar="T", help="start time, in s or with a unit of time"
    )
    parser.add_argument(
        "--stop", type=seconds, metavar="T", help="stop time, in s or with a unit of time"
    )
    parser.add_argument(
        "--interval",
        type=seconds,
        metavar="DT",
        help="distance of output points, in s or with a unit",
    )
    parser.add_argument(
        "--solver",
        metavar="NAME",
        help="bdf, adams, dae, rk45, radau, euler, implicit-euler, trapezoidal or rk4",
    )
    parser.add_argument(
        "--step",
        type=seconds,
        metavar="H",
        help="step of a fixed-step solver, longest step of others, in s",
    )
    parser.add_argument("--tolerance", type=float, metavar="R", help="relative tolerance")
    parser.add_argument(
        "--set",
        action="append",
        default=[],
        metavar="NAME=VALUE",
        help="value of a parameter, in its unit or with another",
    )


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command; returns the exit status."""
    options = _parser().parse_args(arguments)
    try:
        if options.command == "worker":
            return _worker(options)
        if hasattr(options, "act"):
            return int(options.act(options))
        from movrel.session import load

        model = load(*options.files, model=options.model)
        actions = {
            "simulate": _simulate,
            "check": _check,
            "equations": _equations,
            "claims": claims,
            "sweep": sweep,
        }
        return actions[options.command](model, options)
    except (RunFault, RunCancelled) as fault:
        print(fault.sentence(), file=sys.stderr)
        return RUN_FAILED
    except MovrelError as fault:
        print(fault.sentence(), file=sys.stderr)
        return BAD_INPUT
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except KeyboardInterrupt:
        print("stopped.", file=sys.stderr)
        return 130
    except MemoryError:
        print(
            "the machine has not enough memory for this model or this many output points.",
            file=sys.stderr,
        )
        return RUN_FAILED
    except OSError as fault:
        print(f"{fault.filename or 'a file'}: {fault.strerror}.", file=sys.stderr)
        return BAD_INPUT


def _simulate(model: LoadedModel, options: argparse.Namespace) -> int:
    output = options.output
    if output and Path(output).suffix not in (".csv", ".parquet"):
        raise MovrelError(
            f"--output {output}: the ending decides the format.", hint="Use .csv or .parquet."
        )
    if output and not Path(output).resolve().parent.is_dir():
        raise MovrelError(f"--output {output}: the folder does not exist.")
    run = model.prepare(
        settings(options.set),
        options.start,
        options.stop,
        options.interval,
        options.solver,
        options.tolerance,
        step=options.step,
    )
    try:
        result = run.go()
    except RunFault:
        partial = run.partial()
        if output and len(partial.time):
            _write(partial, output)
            print(
                f"What was computed until {partial.final_time:g} s is in {output}.", file=sys.stderr
            )
        raise
    for message in result.messages:
        print(f"note: {message}", file=sys.stderr)
    for warning in model.warnings:
        print(f"warning: {warning}", file=sys.stderr)
    if output:
        _write(result, output)
    else:
        _summary(result)
    if options.stats:
        _statistics(model, result)
    return 0


def _write(result: Trajectory, output: str) -> None:
    if output.endswith(".csv"):
        result.to_csv(output)
    else:
        import pyarrow.parquet as parquet

        parquet.write_table(result.to_arrow(), output)


def _summary(result: Trajectory) -> None:
    print(
        f"{len(result.time)} points from {result.time[0]:g} s to {result.time[-1]:g} s, {len(result.events)} events"
    )
    width = max((len(c.name) for c in result.varying()), default=0)
    for column in result.varying():
        values = result[column.name]
        numbers = f"final {values[-1]:>12.6g}  min {values.min():>12.6g}  max {values.max():>12.6g}"
        print(f"{column.name:<{width}}  {numbers}  {column.unit}")


def _statistics(model: LoadedModel, result: Trajectory) -> None:
    for name, value in result.statistics.as_dict().items():
        if name != "seconds":
            print(f"{name.replace('_', ' ')}: {value}")
    for name, value in {**model.seconds, **result.statistics.seconds}.items():
        print(f"time for {name}: {value:.4f} s")


def _check(model: LoadedModel, options: argparse.Namespace) -> int:
    from movrel.equations.parameters import parameter_values
    from movrel.equations.report import counts

    system = model.system
    parameter_values(model.flat, {})  # says which parameter has none
    model.check_start()
    print(f"{model.name} can be run.")
    for name, number in counts(system).items():
        print(f"  {name}: {number}")
    for note in system.notes:
        print(f"  note: {note}")
    for warning in model.warnings:
        print(f"  warning: {warning}")
    return 0


def _equations(model: LoadedModel, options: argparse.Namespace) -> int:
    from movrel.equations.report import describe

    print(describe(model.system))
    return 0


def _worker(options: argparse.Namespace) -> int:
    from movrel.jobs.worker import run_worker

    if not options.database:
        raise MovrelError("no database is named.", hint="Give --database or set MOVREL_DATABASE.")
    run_worker(options.database, options.queues.split(","))
    return 0


if __name__ == "__main__":
    sys.exit(main())
