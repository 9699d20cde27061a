"""The whole workspace in one file, and back: PostgreSQL's own dump, which is of one instant while people work."""

from __future__ import annotations

import os
import re
import subprocess
import tempfile
from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path
from urllib.parse import unquote, urlsplit

from movrel.errors import MovrelError
from movrel.workspace.cluster import server_programs

#: Backups from before changes of the tables that are kept.
KEPT = 5


def write_backup(url: str, path: Path) -> int:
    """Write everything of a workspace, its history, runs and files, to ``path``; gives the size in bytes.

    Raises :class:`MovrelError` with the words of PostgreSQL where that cannot be done.
    """
    part = path.with_name(f"{path.name}.part")
    try:
        part.touch()
    except OSError as fault:
        raise MovrelError(f"'{path}' cannot be written: {fault.strerror}.") from None
    try:
        _run("pg_dump", url, "--format=custom", f"--file={part}")
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)
    return path.stat().st_size


def back_up_before(url: str, steps: Sequence[str], folder: Path) -> Path | None:
    """Write a backup into ``folder`` before the tables are changed in ``steps``; the last ones stay.

    Gives its path, or None where nothing is to be changed. Raises :class:`MovrelError` where it cannot be written.
    """
    if not steps:
        return None
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    moment = datetime.now(UTC).strftime("%Y%m%d-%H%M%S")
    path = folder / f"before-{steps[0]}-{moment}.dump"
    write_backup(url, path)
    kept = sorted(folder.glob("before-*.dump"), key=lambda p: p.stat().st_mtime)
    for old in kept[:-KEPT]:
        old.unlink(missing_ok=True)
    return path


def read_backup(url: str, path: Path) -> None:
    """Put back everything that a backup holds, in the place of whatever is there, all of it or nothing.

    Raises :class:`MovrelError` when the file is no backup, or does not fit.
    """
    if not path.is_file():
        raise MovrelError(f"there is no file '{path}'.")
    with tempfile.TemporaryDirectory() as folder:
        script = Path(folder) / "backup.sql"
        _run("pg_restore", None, "--no-owner", f"--file={script}", str(path))
        # What a later version added goes, too.
        _run(
            "psql", url, "--no-psqlrc", "--quiet", "--single-transaction", "--set=ON_ERROR_STOP=1",
            "--command=DROP SCHEMA public CASCADE; CREATE SCHEMA public", f"--file={script}",
        )  # fmt: skip


def _run(program: str, url: str | None, *arguments: str) -> None:
    """Run a program of PostgreSQL's, on a database where one is given. Raises :class:`MovrelError`."""
    options: list[str] = []
    environment = dict(os.environ)
    if url is not None:
        parts = urlsplit(url)
        options += [
            f"--host={parts.hostname}",
            f"--username={unquote(parts.username or '')}",
            "--no-password",
        ]
        options += [f"--dbname={parts.path.lstrip('/')}", f"--port={parts.port or 5432}"]
        environment["PGPASSWORD"] = unquote(parts.password or "")
    done = subprocess.run(
        [str(server_programs() / program), *options, *arguments], env=environment, capture_output=True, text=True,
        check=False,
    )  # fmt: skip
    if done.returncode:
        lines = done.stderr.strip().splitlines() or ["it gave no reason"]
        words = next((line for line in lines if "error:" in line.lower()), lines[-1])
        raise MovrelError(f"PostgreSQL refused: {re.sub('.*?error: *', '', words, flags=re.I)}.")
