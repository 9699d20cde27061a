"""Compiling the sources of a unit: by the system's compiler, or by Zig for this and other platforms."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from movrel.exchange.fmi.c_sources import MODEL_FILES
from movrel.fmi.compilers import PLATFORMS, compiled, compiler_for

#: Bytes of a model's functions from which on the compiler optimises less, as its time would double.
LARGE = 100_000


@dataclass(frozen=True, slots=True)
class Binary:
    """A compiled unit: its path within the archive, and its content."""

    path: str
    content: bytes


def compile_unit(folder: Path, identifier: str, version: int, wanted: str) -> Binary:
    """Compile the sources in a folder for a platform.

    Raises :class:`MovrelError` for an unknown platform, one for which there is no compiler, and with what the
    compiler said when it refused.
    """
    command = compiler_for(wanted)
    folder_2, folder_3, ending, _ = PLATFORMS[wanted]
    what = f"the unit for '{wanted}'"
    output = folder / f"{identifier}{ending}"
    large = sum((folder / name).stat().st_size for name in MODEL_FILES) > LARGE
    options = [
        "-O1" if large else "-O2",
        "-std=c99",
        "-fvisibility=hidden",
        "-ffp-contract=off",
    ]
    if not wanted.startswith("win"):
        options.append("-fPIC")
    parts = [str(folder / "all.c")]
    if large:
        # Several files at once: the compiler takes most of the time of an export.
        options += ["-DMV_SEPARATE", "-DMV_LINKAGE="]
        parts = [str(folder / f"{Path(name).stem}.{wanted}.o") for name in ("all.c", *MODEL_FILES)]
        with ThreadPoolExecutor() as pool:
            files = (str(folder / name) for name in ("all.c", *MODEL_FILES))
            steps = [
                [*command, *options, "-c", "-o", part, file]
                for part, file in zip(parts, files, strict=True)
            ]
            list(pool.map(lambda step: compiled(step, what), steps))
    end = [] if wanted.startswith("win") else ["-lm"]
    compiled([*command, *options, "-shared", "-o", str(output), *parts, *end], what)
    where = folder_2 if version == 2 else folder_3
    return Binary(f"binaries/{where}/{identifier}{ending}", output.read_bytes())
