"""Compiling the sources of a unit: by the system's compiler, or by Zig for this and other platforms."""

from __future__ import annotations

import importlib.util
import platform
import shutil
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from movrel.errors import MovrelError
from movrel.exchange.fmi.c_sources import MODEL_FILES

#: Folders of the standard's versions, ending of the file and Zig's target, by the name of the platform.
PLATFORMS: dict[str, tuple[str, str, str, str]] = {
    "linux64": ("linux64", "x86_64-linux", ".so", "x86_64-linux-gnu.2.17"),
    "linux32": ("linux32", "x86-linux", ".so", "x86-linux-gnu.2.17"),
    "win64": ("win64", "x86_64-windows", ".dll", "x86_64-windows-gnu"),
    "win32": ("win32", "x86-windows", ".dll", "x86-windows-gnu"),
    "darwin64": ("darwin64", "x86_64-darwin", ".dylib", "x86_64-macos"),
    "darwin-arm": ("aarch64-darwin", "aarch64-darwin", ".dylib", "aarch64-macos"),
    "linux-arm": ("aarch64-linux", "aarch64-linux", ".so", "aarch64-linux-gnu.2.17"),
}
#: Bytes of a model's functions from which on the compiler optimises less, as its time would double.
LARGE = 100_000
#: Seconds after which a compiler is given up.
PATIENCE = 300


@dataclass(frozen=True, slots=True)
class Binary:
    """A compiled unit: its path within the archive, and its content."""

    path: str
    content: bytes


def own_platform() -> str:
    """The name of the platform that this machine is; empty when units are not compiled for it."""
    machine = platform.machine().lower()
    if sys.platform.startswith("linux"):
        return {"x86_64": "linux64", "aarch64": "linux-arm"}.get(machine, "")
    return ""


def has_zig() -> bool:
    """Whether the optional package with the Zig compiler is installed."""
    return importlib.util.find_spec("ziglang") is not None


def available_platforms() -> list[str]:
    """The platforms for which units can be compiled here."""
    if has_zig():
        return list(PLATFORMS)
    return [own_platform()] if own_platform() and shutil.which("cc") else []


def _compiled(command: list[str], wanted: str) -> None:
    """Run the compiler. Raises :class:`MovrelError` with what it said when it refused."""
    try:
        done = subprocess.run(
            command, capture_output=True, text=True, timeout=PATIENCE, check=False
        )
    except subprocess.TimeoutExpired:
        raise MovrelError(f"the compiler took longer than {PATIENCE} s for '{wanted}'.") from None
    if done.returncode != 0:
        said = done.stderr.strip().splitlines()
        raise MovrelError(
            f"the compiler refused the unit for '{wanted}': {said[0] if said else 'no reason given'}."
        )


def compile_unit(folder: Path, identifier: str, version: int, wanted: str) -> Binary:
    """Compile the sources in a folder for a platform.

    Raises :class:`MovrelError` for an unknown platform, one for which there is no compiler, and with what the
    compiler said when it refused.
    """
    if wanted not in PLATFORMS:
        raise MovrelError(
            f"there is no platform '{wanted}'.", hint=f"The platforms are {', '.join(PLATFORMS)}."
        )
    folder_2, folder_3, ending, target = PLATFORMS[wanted]
    if wanted == own_platform() and shutil.which("cc"):
        command = ["cc"]
    elif has_zig():
        command = [sys.executable, "-m", "ziglang", "cc", "-target", target]
    else:
        raise MovrelError(
            f"there is no compiler for '{wanted}' here.",
            hint="Install the system's C compiler, or the optional package ziglang, which compiles for all platforms.",
        )
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
            list(pool.map(lambda step: _compiled(step, wanted), steps))
    end = [] if wanted.startswith("win") else ["-lm"]
    _compiled([*command, *options, "-shared", "-o", str(output), *parts, *end], wanted)
    where = folder_2 if version == 2 else folder_3
    return Binary(f"binaries/{where}/{identifier}{ending}", output.read_bytes())
