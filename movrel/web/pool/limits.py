"""What one request may use, and what a process has used."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path

_TICKS = os.sysconf("SC_CLK_TCK")
_PAGE = os.sysconf("SC_PAGE_SIZE")


def _setting(name: str, default: float) -> float:
    try:
        return float(os.environ.get(name, "")) or default
    except ValueError:
        return default


@dataclass(frozen=True, slots=True)
class Limits:
    """Of one request: seconds by the clock, seconds of processor time, bytes of memory."""

    wall: float
    processor: float
    memory: int

    @classmethod
    def from_environment(cls) -> Limits:
        """``MOVREL_REQUEST_SECONDS``, ``MOVREL_REQUEST_PROCESSOR_SECONDS`` and ``MOVREL_REQUEST_MEMORY`` in MB."""
        return cls(
            _setting("MOVREL_REQUEST_SECONDS", 180.0),
            _setting("MOVREL_REQUEST_PROCESSOR_SECONDS", 90.0),
            int(_setting("MOVREL_REQUEST_MEMORY", 3000.0) * 1e6),
        )

    def exceeded(self, wall: float, processor: float, memory: int) -> str:
        """Which limit is passed, in words; empty when none is."""
        if wall > self.wall:
            return f"more than {self.wall:g} s"
        if processor > self.processor:
            return f"more than {self.processor:g} s of processor time"
        if memory > self.memory:
            return f"more than {self.memory / 1e6:g} MB of memory"
        return ""


def processor_seconds(pid: int) -> float:
    """What a process has used; 0 when it is gone."""
    try:
        fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    except OSError:
        return 0.0
    return (int(fields[11]) + int(fields[12])) / _TICKS


def own_memory(pid: int) -> int:
    """Bytes of memory that a process has for itself, without files; 0 when it is gone."""
    try:
        size = Path(f"/proc/{pid}/statm").read_text().split()
    except OSError:
        return 0
    return (int(size[1]) - int(size[2])) * _PAGE
