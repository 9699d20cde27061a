"""Units for the tests: some written by hand in C, and an importer of foreign hand for those that we export."""

from __future__ import annotations

import subprocess
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import numpy.typing as npt
import pytest

from tests.exchange.hand_written import CHAIN, SPRING
from tests.exchange.importing import Importer

C = Path(__file__).parent / "c"
#: Where the standard has binaries of Linux.
PLATFORMS = {(2, 64): "linux64", (2, 32): "linux32", (3, 64): "x86_64-linux", (3, 32): "x86-linux"}
Array = npt.NDArray[np.float64]


@pytest.fixture(scope="session")
def importer(tmp_path_factory: pytest.TempPathFactory) -> Importer:
    return Importer(tmp_path_factory.mktemp("importer"))


@pytest.fixture(scope="session")
def hand_written(tmp_path_factory: pytest.TempPathFactory) -> Callable[..., Path]:
    """Builds a unit written by hand; with a misbehaviour one that misbehaves, from a time on
    where it says ``CRASH@0.5``, with a text another description; ``defines`` are macros of its source."""
    folder = tmp_path_factory.mktemp("hand")

    def build(
        version: int, misbehaviour: str = "", text: str = "", bits: int = 64, defines: tuple[str, ...] = ()
    ) -> Path:  # fmt: skip
        name = f"unit{version}"
        made = f"{name}{misbehaviour}{bits}{abs(hash(defines)) if defines else ''}"
        archive = folder / f"{made}{abs(hash(text)) if text else ''}.fmu"
        if archive.exists():
            return archive
        library = folder / f"{made}.so"
        if not library.exists():
            how, _, after = misbehaviour.partition("@")
            options = [f"-DMISBEHAVE={how}"] if how else []
            options += [f"-DAFTER={after}"] if after else []
            options += [f"-D{macro}" for macro in defines]
            options += ["-m32"] if bits == 32 else []
            subprocess.run(
                [
                    "cc",
                    "-shared",
                    "-fPIC",
                    "-O1",
                    "-w",
                    "-std=gnu11",
                    *options,
                    "-o",
                    library,
                    C / f"{name}.c",
                    "-lm",
                ],
                check=True,
            )
        with zipfile.ZipFile(archive, "w") as out:
            out.writestr("modelDescription.xml", text or (SPRING if version == 2 else CHAIN))
            out.write(library, f"binaries/{PLATFORMS[version, bits]}/{name}.so")
        return archive

    return build
