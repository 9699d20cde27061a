"""Compiling the sources of a unit: by the system's compiler, or by Zig for this and other platforms."""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from movrel.exchange.fmi.c_sources import MODEL_FILES
from movrel.fmi.compilers import PLATFORMS, compiled, compiler_for, own_platform

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
    what = f"the unit for '{wanted}'"
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
    return _linked(folder, identifier, version, wanted, [*options, *parts, *end])


def compile_rig(folder: Path, identifier: str, version: int) -> Binary:
    """Compile the sources of a unit that holds others for this machine; what loads these stands in ``host`` beside them.

    Raises :class:`MovrelError` where there is no compiler.
    """
    parts = [folder / "all.c", *sorted((folder / "host").glob("*.c"))]
    options = [
        "-O2",
        "-std=gnu11",
        "-fvisibility=hidden",
        "-ffp-contract=off",
        "-fPIC",
        "-DVISIBLE=",
    ]
    options.append(f"-I{folder / 'host'}")
    words = [*options, *map(str, parts), "-ldl", "-lm"]
    return _linked(folder, identifier, version, own_platform(), words)


def _linked(
    folder: Path, identifier: str, version: int, wanted: str, words: Sequence[str]
) -> Binary:
    folder_2, folder_3, ending, _ = PLATFORMS[wanted]
    output = folder / f"{identifier}{ending}"
    command = [*compiler_for(wanted), "-shared", "-o", str(output), *words]
    compiled(command, f"the unit for '{wanted}'")
    where = folder_2 if version == 2 else folder_3
    return Binary(f"binaries/{where}/{identifier}{ending}", output.read_bytes())
