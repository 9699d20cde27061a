"""``movrel serve`` and what keeps a server in order: ``migrate``, ``backup``, ``restore``, ``tidy``."""

from __future__ import annotations

import argparse
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from movrel.errors import MovrelError


def add_commands(commands: argparse._SubParsersAction[Any]) -> None:
    """Add the commands of a server."""
    serving = commands.add_parser("serve", help="serve a workspace in the browser")
    serving.add_argument("--host", default="127.0.0.1", help="address to listen on; loopback only")
    serving.add_argument("--port", type=int, default=8420, metavar="N", help="port of the web page")
    serving.add_argument(
        "--workers", type=int, default=max(2, os.cpu_count() or 2), help="worker processes"
    )
    _place(serving)
    serving.set_defaults(act=serve_command)
    for name, act, words in (
        ("migrate", migrate_command, "bring the tables of a workspace up to date"),
        ("backup", backup_command, "write everything of a workspace to a file, while people work"),
        ("restore", restore_command, "put back what a backup holds, in the place of what is there"),
        ("tidy", tidy_command, "remove what was deleted long ago, and say what uses the disk"),
    ):
        parser = commands.add_parser(name, help=words)
        if name in ("backup", "restore"):
            parser.add_argument("file", metavar="FILE", type=Path)
        _place(parser)
        parser.set_defaults(act=act)


def _place(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--data",
        type=Path,
        default=Path(os.environ.get("MOVREL_DATA", ".data")),
        help="folder with the data, and a database server of its own (.data)",
    )
    parser.add_argument(
        "--database",
        default=os.environ.get("MOVREL_DATABASE"),
        metavar="URL",
        help="a database server that is there already, instead of one of our own",
    )


def serve_command(options: argparse.Namespace) -> int:
    """``movrel serve``."""
    from movrel.cli.serve import HOST, Service, serve

    if options.host not in (HOST, "localhost"):
        raise MovrelError(
            f"the server does not listen on '{options.host}': nobody has to sign in yet, so only this machine may ask.",
            hint=f"Use {HOST}, and a tunnel (ssh -L) from elsewhere.",
        )
    service = Service(
        options.data.resolve(), options.port, options.workers, database=options.database
    )
    return serve(service, None)


def migrate_command(options: argparse.Namespace) -> int:
    """``movrel migrate``."""
    from movrel.jobs.queue import prepare
    from movrel.workspace.backup import back_up_before
    from movrel.workspace.database import connect, due, migrate

    with _workspace(options) as url:
        pool = connect(url, connections=2)
        backup = back_up_before(url, due(pool), options.data.resolve() / "backups")
        names = migrate(pool)
        prepare(url)
    if backup is not None:
        print(f"What was there before is in {backup}.")
    print(f"{len(names)} steps: {', '.join(names)}." if names else "The tables are up to date.")
    return 0


def backup_command(options: argparse.Namespace) -> int:
    """``movrel backup``."""
    from movrel.workspace.backup import write_backup

    with _workspace(options) as url:
        size = write_backup(url, options.file)
    print(f"Everything is in {options.file} ({size / 1e6:.1f} MB).")
    return 0


def restore_command(options: argparse.Namespace) -> int:
    """``movrel restore``; a backup of an earlier version is brought up to date."""
    from movrel.workspace.backup import read_backup
    from movrel.workspace.database import connect, migrate

    with _workspace(options) as url:
        read_backup(url, options.file)
        migrate(connect(url, connections=2))
    print(f"Everything is as {options.file} has it.")
    return 0


def tidy_command(options: argparse.Namespace) -> int:
    """``movrel tidy``."""
    from movrel.workspace.database import connect
    from movrel.workspace.retention import room, tidy

    with _workspace(options) as url, connect(url, connections=2).connection_context():
        left = tidy()
        print(f"Removed {left.runs} runs, {left.sweeps} sweeps and {left.jobs} jobs.")
        print(f"{'results':>10} {'texts':>10} {'files':>10}  in MB")
        for project in room():
            sizes = " ".join(
                f"{size / 1e6:>10.2f}" for size in (project.results, project.texts, project.files)
            )
            print(f"{sizes}  {project.name}{' (deleted)' if project.deleted else ''}")
    return 0


@contextmanager
def _workspace(options: argparse.Namespace) -> Iterator[str]:
    """The address of the database; a server of our own is started for as long as it takes, unless it runs."""
    if options.database:
        yield options.database
        return
    from movrel.workspace.cluster import Cluster

    folder = options.data.resolve() / "postgres"
    if not folder.is_dir() and options.command != "restore":
        raise MovrelError(
            f"there is no workspace in '{options.data}'.", hint="Give --data or --database."
        )
    cluster = Cluster(folder)
    running = cluster.is_running()
    cluster.start()
    try:
        yield cluster.url
    finally:
        if not running:
            cluster.stop()
