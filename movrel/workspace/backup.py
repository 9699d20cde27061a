"""The whole workspace in one file, and back: PostgreSQL's own dump, which is of one instant while people work."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path
from urllib.parse import unquote, urlsplit

from movrel.errors import MovrelError
from movrel.workspace.cluster import server_programs


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


def read_backup(url: str, path: Path) -> None:
    """Put back everything that a backup holds, in the place of what is there, all of it or nothing.

    Raises :class:`MovrelError` when the file is no backup, or does not fit.
    """
    if not path.is_file():
        raise MovrelError(f"there is no file '{path}'.")
    _run(
        "pg_restore", url, "--clean", "--if-exists", "--no-owner", "--single-transaction",
        "--exit-on-error", str(path),
    )  # fmt: skip


def _run(program: str, url: str, *arguments: str) -> None:
    parts = urlsplit(url)
    database = parts.path.lstrip("/")
    options = [
        f"--host={parts.hostname}",
        f"--username={unquote(parts.username or '')}",
        f"--dbname={database}",
    ]
    if parts.port:
        options.append(f"--port={parts.port}")
    done = subprocess.run(
        [str(server_programs() / program), *options, "--no-password", *arguments],
        env=os.environ | {"PGPASSWORD": unquote(parts.password or "")}, capture_output=True, text=True, check=False,
    )  # fmt: skip
    if done.returncode:
        words = next(
            (line for line in done.stderr.splitlines() if "error" in line), done.stderr.strip()
        )
        raise MovrelError(f"PostgreSQL refused: {words.partition('error: ')[2] or words}.")
