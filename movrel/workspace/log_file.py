"""Log files that do not grow for ever, though their writer keeps them open."""

from __future__ import annotations

import shutil
from pathlib import Path

#: Bytes from which on a log begins anew, and how many earlier ones stay.
LARGEST, EARLIER = 10_000_000, 3


def rotate(log: Path, largest: int = LARGEST) -> bool:
    """Put a log that has grown large aside as ``….1``, ``….2`` and so on, and empty it; says whether it was large.

    The writer must append. What it writes between copy and cut is lost.
    """
    try:
        if log.stat().st_size <= largest:
            return False
        for number in range(EARLIER, 1, -1):
            earlier = log.with_name(f"{log.name}.{number - 1}")
            if earlier.is_file():
                earlier.replace(log.with_name(f"{log.name}.{number}"))
        shutil.copy2(log, log.with_name(f"{log.name}.1"))
        with log.open("r+b") as file:
            file.truncate()
    except OSError:
        return False  # gone, or not ours
    return True
