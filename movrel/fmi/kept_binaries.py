"""Compiled files that are kept for the next time, in a folder that nobody else can write to."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from movrel.errors import MovrelError

#: How many of a kind, by the ending of their names, are kept.
KEPT = 300


def kept_binary(name: str, make: Callable[[Path], Path]) -> Path:
    """The file of that name; where there is none, ``make`` is given an empty folder, and says which file it made there.

    Raises :class:`MovrelError` where another person made the folder.
    """
    folder = _folder()
    kept = folder / name
    if kept.is_file():
        os.utime(kept)
        return kept
    with tempfile.TemporaryDirectory(dir=folder) as work:
        make(Path(work)).replace(kept)
    files = (p for p in folder.iterdir() if p.is_file() and p.suffix == kept.suffix)
    oldest = sorted(files, key=lambda p: p.stat().st_mtime, reverse=True)[KEPT:]
    for path in oldest:
        path.unlink(missing_ok=True)
    return kept


def _folder() -> Path:
    folder = Path(tempfile.gettempdir()) / f"movrel-compiled-{os.getuid()}"
    folder.mkdir(mode=0o700, exist_ok=True)
    if folder.is_symlink() or folder.stat().st_uid != os.getuid():
        raise MovrelError(f"the folder '{folder}' belongs to somebody else.", hint="Remove it.")
    return folder
