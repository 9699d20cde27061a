"""Sorted models and their functions on disk, so that no process builds what another has built."""

from __future__ import annotations

import hashlib
import io
import pickle
import sys
from collections.abc import Mapping
from functools import cache
from pathlib import Path

import casadi as ca

from movrel.collection import rare_collections
from movrel.disk_cache import DiskCache, cache_folder
from movrel.equations.sorted_model import Sorted
from movrel.equations.system import System
from movrel.model.classes import LIBRARY_FOLDER, ClassTree
from movrel.model.expression import TIME_VARIABLE

#: Seconds of building from which on a system is worth a file, and equations in solving order, which are made with every
#: edit; and the number of variables from which on reading takes as long.
WORTH, WORTH_WITH_EDITS, LARGE = 0.15, 0.6, 20_000

_kept = DiskCache("models")


def read_kept(key: str) -> Sorted | System | None:
    """What is kept of a model: its system with all functions, else its equations in solving order."""
    return _read(f"{key}.system") or _read(f"{key}.sorted")


def keep(key: str, made: Sorted | System, seconds: float) -> None:
    """Keep what took some seconds to build, unless it depends on files that may be gone."""
    flat = made.flat
    worth = WORTH if isinstance(made, System) else WORTH_WITH_EDITS
    if seconds < worth or len(flat.variables) > LARGE or flat.units or flat.reads_files:
        return
    if cache_folder() is None:
        return
    try:
        content = io.BytesIO()
        with rare_collections():
            _Pickler(content, pickle.HIGHEST_PROTOCOL).dump(made)
    except (
        Exception
    ):  # what cannot be written, as the symbolic engine's words have it, is built every time
        return
    if isinstance(made, System):
        _kept.write(f"{key}.system", content.getvalue())
        _kept.forget(f"{key}.sorted")
    else:
        _kept.write(f"{key}.sorted", content.getvalue())


def key_of(tree: ClassTree, name: str, structural: Mapping[str, float]) -> str | None:
    """What tells a model, with values of its structural parameters, from all others; None where nothing is kept.

    It counts every text that could be meant, the component library, and the program itself.
    """
    if cache_folder() is None:
        return None
    parts = [program_mark(), name, repr(sorted(structural.items()))]
    if tree.library != LIBRARY_FOLDER:
        parts.append(_texts_in(tree.library, "*.mo") if tree.library else "")
    for file, text in sorted(tree.own_texts().items()):
        parts += [file, text]
    parts += [_texts_in(folder, "*.mo") for folder in tree.own_folders()]
    return hashlib.sha256("\0".join(parts).encode()).hexdigest()


@cache
def program_mark() -> str:
    """What tells this program with its component library from any other version of it."""
    own = _texts_in(Path(__file__).parent, "*.py")
    return "\0".join((own, _texts_in(LIBRARY_FOLDER, "*.mo"), ca.__version__, sys.version))


def _texts_in(folder: Path, pattern: str) -> str:
    content = hashlib.sha256()
    for path in sorted(folder.rglob(pattern)):
        content.update(f"\0{path.relative_to(folder)}\0".encode())
        content.update(path.read_bytes())
    return content.hexdigest()


def _read(key: str) -> Sorted | System | None:
    content = _kept.read(key)
    if content is None:
        return None
    try:
        with rare_collections():
            made: Sorted | System = _Unpickler(io.BytesIO(content)).load()
            return made
    except Exception:  # a file that is damaged, in whatever way, is as good as none
        _kept.forget(key)
        return None


class _Pickler(pickle.Pickler):
    """Writes what is unique in a process by name."""

    def persistent_id(self, item: object) -> str | None:
        return "time" if item is TIME_VARIABLE else None


class _Unpickler(pickle.Unpickler):
    def persistent_load(self, _name: str) -> object:
        return TIME_VARIABLE
