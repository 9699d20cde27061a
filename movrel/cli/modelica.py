"""``movrel modelica``: models as text for others, and a look at text of others."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import Any

from movrel.errors import MovrelError


def add_commands(commands: argparse._SubParsersAction[Any]) -> None:
    """Add ``modelica export`` and ``modelica report``."""
    modelica = commands.add_parser("modelica", help="models as text for others, and back")
    what = modelica.add_subparsers(dest="modelica", required=True)
    export = what.add_parser(
        "export", help="a model with all classes that it uses, and nothing else"
    )
    export.add_argument(
        "files", nargs="+", metavar="FILE.mo", help="Modelica files or package folders"
    )
    export.add_argument("--model", metavar="NAME", help="the model; the last one without it")
    export.add_argument(
        "--output",
        required=True,
        metavar="OUT.mo|OUT.zip|FOLDER",
        help="one file, an archive, or the folder for a package folder",
    )
    export.set_defaults(act=export_command)
    report = what.add_parser(
        "report", help="what is missing, clashes or cannot be run in text of others"
    )
    report.add_argument("file", metavar="FILE.mo|ARCHIVE.zip")
    report.set_defaults(act=report_command)


def export_command(options: argparse.Namespace) -> int:
    """``movrel modelica export``."""
    from movrel.exchange.modelica.outgoing import archive, one_file, write_files
    from movrel.session import load

    target = Path(options.output)
    if not target.resolve().parent.is_dir():
        raise MovrelError(
            f"--output {options.output}: the folder '{target.resolve().parent}' does not exist."
        )
    model = load(*options.files, model=options.model)
    if target.suffix == ".mo":
        target.write_text(one_file(model.tree, model.definition), encoding="utf-8")
    elif target.suffix == ".zip":
        target.write_bytes(archive(model.tree, model.definition))
    else:
        print(f"{len(write_files(model.tree, model.definition, target))} files")
    return 0


def report_command(options: argparse.Namespace) -> int:
    """``movrel modelica report``; ends with 2 where something is missing."""
    from movrel.exchange.modelica.incoming import import_report, read_files

    path = Path(options.file)
    if not path.is_file():
        raise MovrelError(f"there is no file '{path}'.")
    texts, _ = read_files(path.name, path.read_bytes())
    report = import_report({}, texts)
    print(f"{report.files} files, {report.classes} classes, {len(report.models)} models")
    if report.left_out:
        print(f"  of the component library, left out: {', '.join(report.left_out[:10])}")
    for missing in report.missing:
        print(
            f"  missing: {missing.name}, named by {missing.used_by} ({missing.file}:{missing.line})"
        )
        if missing.candidates:
            print(f"    has the same ports: {', '.join(missing.candidates[:5])}")
    for trouble in report.troubles:
        print(f"  {trouble.name} cannot be run: {trouble.sentence}")
    sys.stdout.flush()
    return 0 if report.can_be_taken else 2
