"""Files beside a model: found by a relative name or a ``modelica://`` URI, never outside of its folders."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from urllib.parse import unquote

from movrel.errors import MovrelError, Place

_SCHEME = "modelica://"


def resource_file(name: str, folders: Sequence[Path], where: Place | None) -> Path:
    """The file of a name, which must lie in one of the folders from which the model was read.

    ``modelica://Package/Resources/x.csv`` (specification 13.5) is ``Resources/x.csv`` in the folder of the package.
    Raises :class:`MovrelError`.
    """
    if not folders:
        raise MovrelError(
            f"the file '{name}' cannot be found: the model was not read from a folder.", where
        )
    relative = unquote(name[len(_SCHEME) :].partition("/")[2]) if name.startswith(_SCHEME) else name
    for folder in folders:
        root = folder.resolve()
        path = (root / relative).resolve()
        if not path.is_relative_to(root):
            raise MovrelError(
                f"the file '{name}' lies outside the folder of the model.",
                where,
                "Copy it into the folder.",
            )
        if path.is_file():
            return path
    raise MovrelError(
        f"the file '{name}' does not exist in the folder of the model.",
        where,
        "Correct the name, or copy it there.",
    )
