"""Packages as folders of files: which class stands in which file (13.4 of the language)."""

from __future__ import annotations

from pathlib import Path

from movrel.errors import MovrelError

#: The file of a folder that holds the package itself.
PACKAGE = "package.mo"
#: Characters of the name of a class that has a file of its own, at most.
LONGEST_NAME = 200


def file_of_class(folder: Path, name: str) -> Path | None:
    """The file of a class that its package's folder holds, or the package file of a folder of its own; None for neither.

    Nothing outside the folder is looked at, whatever the name.
    """
    if not 0 < len(name) <= LONGEST_NAME or name.startswith(".") or set(name) & set("/\\\0"):
        return None
    choices = (folder / f"{name}.mo", folder / name / PACKAGE)
    return next((path for path in choices if path.is_file()), None)


def classes_in(folder: Path) -> list[str]:
    """The classes of a package's folder, in the order that the package gives, others by name after them."""
    order = folder / "package.order"
    names = order.read_text(encoding="utf-8").split() if order.is_file() else []
    names += sorted(p.stem for p in folder.glob("*.mo") if p.name != PACKAGE)
    names += sorted(p.parent.name for p in folder.glob(f"*/{PACKAGE}"))
    return list(dict.fromkeys(names))


def read_text(path: Path) -> str:
    """The text of a file, with a clear error when it cannot be read as UTF-8."""
    try:
        return path.read_bytes().decode("utf-8-sig")
    except UnicodeDecodeError as fault:
        raise MovrelError(
            f"the file {path} is not UTF-8 text (byte {fault.start}).", hint="Save it as UTF-8."
        ) from None
    except OSError as fault:
        raise MovrelError(f"the file {path} cannot be read: {fault.strerror}.") from None
