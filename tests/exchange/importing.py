"""An importer in C, written from the standard, that drives exported units; both run under sanitizers."""

from __future__ import annotations

import os
import subprocess
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import numpy.typing as npt

from movrel.exchange.fmi.export import Exported
from movrel.fmi.description import UnitDescription

C = Path(__file__).parent / "c"
SANITIZED = ["-g", "-O0", "-fsanitize=address,undefined", "-fno-sanitize-recover=all"]
Array = npt.NDArray[np.float64]


@dataclass
class Importer:
    """Drives an exported unit by the importer in C, both under the sanitizers."""

    folder: Path

    def program(self, version: int) -> Path:
        path = self.folder / f"importer{version}"
        if not path.exists():
            subprocess.run(
                [
                    "cc",
                    *SANITIZED,
                    "-std=gnu11",
                    f"-DFMI={version}",
                    "-o",
                    path,
                    C / "importer.c",
                    "-ldl",
                    "-lm",
                ],
                check=True,
            )
        return path

    def run(
        self,
        made: Exported,
        kind: str,
        names: list[str],
        start: float = 0.0,
        stop: float = 1.0,
        step: float = 0.1,
        limit: float = 120,
    ) -> Array:
        """Rows of numbers: the time and the variables; of ``derive`` slopes, differences and adjoints."""
        references = [made.description.by_name()[n].reference for n in names]
        done = self._driven(made, kind, start, stop, step, references, limit)
        return np.array(
            [[float(cell) for cell in line.split(",")] for line in done.stdout.splitlines()]
        )

    def messages(
        self, made: Exported, categories: tuple[str, ...], stop: float, step: float
    ) -> list[str]:
        """What a unit says in co-simulation when it is asked for messages of these categories."""
        done = self._driven(made, "log", 0.0, stop, step, categories)
        return done.stderr.splitlines()

    def _driven(
        self,
        made: Exported,
        kind: str,
        start: float,
        stop: float,
        step: float,
        rest: Sequence[object],
        limit: float = 120,
    ) -> subprocess.CompletedProcess[str]:
        d = made.description
        place = self.folder / d.token.strip("{}") / str(d.version)
        library = place / "unit.so"
        if not library.exists():
            place.mkdir(parents=True, exist_ok=True)
            (place / "unit.fmu").write_bytes(made.archive)
            with zipfile.ZipFile(place / "unit.fmu") as archive:
                archive.extractall(place)
            if (place / "sources").exists():
                subprocess.run(
                    ["cc", *SANITIZED, "-shared", "-fPIC", "-std=c99", "-Wall", "-Wextra", "-Werror", "-o", library,
                     place / "sources" / "all.c", "-lm"], check=True,
                )  # fmt: skip
            else:  # a unit that contains units brings binaries only
                next(place.glob("binaries/*/*.so")).rename(library)
        by_reference = d.by_reference()
        states = sum(by_reference[u.reference].count for u in d.derivatives)
        arguments = [start, stop, step, states, d.event_indicators, *rest]
        done = subprocess.run(
            [self.program(d.version), library, d.token, kind, *map(str, arguments)], capture_output=True, text=True, timeout=limit,
            check=False, env={**os.environ, "RESOURCES": str(place / "resources")},
        )  # fmt: skip
        assert done.returncode == 0, done.stderr[-2000:]
        return done


def states_of(d: UnitDescription) -> list[str]:
    """The names of the states in the order of the vector."""
    by_reference = d.by_reference()
    found = []
    for u in d.derivatives:
        state = by_reference[u.reference].derivative_of
        assert state is not None
        found.append(by_reference[state].name)
    return found
