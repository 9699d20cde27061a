"""The compilers of this machine: the system's, and Zig's for other platforms as well."""

from __future__ import annotations

import importlib.util
import platform
import shutil
import subprocess
import sys
from collections.abc import Sequence

from movrel.errors import MovrelError

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
#: Seconds after which a compiler is given up.
PATIENCE = 300


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


def compiler_for(wanted: str) -> list[str]:
    """The beginning of a command that compiles C for a platform.

    Raises :class:`MovrelError` for an unknown platform, and one for which there is no compiler.
    """
    if wanted not in PLATFORMS:
        raise MovrelError(
            f"there is no platform '{wanted}'.", hint=f"The platforms are {', '.join(PLATFORMS)}."
        )
    if wanted == own_platform() and shutil.which("cc"):
        return ["cc"]
    if has_zig():
        return [sys.executable, "-m", "ziglang", "cc", "-target", PLATFORMS[wanted][3]]
    raise MovrelError(
        f"there is no compiler for '{wanted}' here.",
        hint="Install the system's C compiler, or the optional package ziglang, which compiles for all platforms.",
    )


def compiled(command: Sequence[str], what: str) -> None:
    """Run a compiler. Raises :class:`MovrelError` with what it said when it refused."""
    try:
        done = subprocess.run(
            command, capture_output=True, text=True, timeout=PATIENCE, check=False
        )
    except subprocess.TimeoutExpired:
        raise MovrelError(f"the compiler took longer than {PATIENCE} s for {what}.") from None
    if done.returncode != 0:
        said = done.stderr.strip().splitlines()
        raise MovrelError(f"the compiler refused {what}: {said[0] if said else 'no reason given'}.")
