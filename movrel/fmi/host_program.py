"""The program and the library of ours in which units run, compiled from C when they are first needed."""

from __future__ import annotations

import hashlib
import shutil
from functools import cache
from pathlib import Path

from movrel.errors import MovrelError
from movrel.fmi.compilers import compiled, compiler_for, has_zig, own_platform
from movrel.fmi.kept_binaries import kept_binary

SOURCES = Path(__file__).parent / "host"
#: What runs 32-bit programs on 64-bit Linux.
LOADER_32 = Path("/lib/ld-linux.so.2")


def host_program(bits: int = 64) -> Path:
    """The program in which a binary of so many bits runs. Raises :class:`MovrelError` where there is no compiler for it."""
    if bits == 32:
        return _kept("program32", _compiler_32(), ["-o"], with_process=True)
    return _kept("program", _compiler(), ["-o"], with_process=True)


def host_library() -> Path:
    """The same as a library for this process, for units of our own making."""
    options = ["-shared", "-fPIC", "-fvisibility=hidden", "-o"]
    return _kept("library", _compiler(), options, with_process=False)


def runs_32_bits() -> bool:
    """Whether 32-bit programs of Linux run here, and can be compiled."""
    return own_platform() == "linux64" and LOADER_32.exists() and _can_compile_32()


@cache
def _can_compile_32() -> bool:
    try:
        host_program(32)
    except MovrelError:
        return False
    return True


def _compiler() -> list[str]:
    try:
        return compiler_for(own_platform())
    except MovrelError:
        raise MovrelError(
            "units run in a small program of ours that is compiled first, and there is no compiler here.",
            hint="Install the system's C compiler (package gcc), or the optional package ziglang.",
        ) from None


def _compiler_32() -> list[str]:
    return compiler_for("linux32") if has_zig() or not shutil.which("cc") else ["cc", "-m32"]


@cache
def _sources() -> dict[str, str]:
    """The texts by the names of their files."""
    return {f.name: f.read_text(encoding="utf-8") for f in sorted(SOURCES.glob("*.[ch]"))}


def _kept(name: str, compiler: list[str], options: list[str], with_process: bool) -> Path:
    texts = _sources()
    digest = hashlib.sha256(repr((name, compiler, options, texts)).encode()).hexdigest()
    parts = [SOURCES / f for f in texts if f.endswith(".c") and (with_process or f != "process.c")]

    def make(folder: Path) -> Path:
        target = folder / name
        command = [*compiler, "-std=gnu11", "-O2", *options, target, *parts, "-ldl", "-lm"]
        compiled([str(c) for c in command], "the program in which units run")
        return target

    return kept_binary(f"{digest}.{name}", make)
