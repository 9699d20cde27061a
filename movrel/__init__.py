"""Movrel: models of physical plants from equations and components.

The public entrance for notebooks and scripts is :func:`load`.
"""

from __future__ import annotations

import sys
from typing import TYPE_CHECKING

from movrel.errors import MovrelError

if TYPE_CHECKING:
    from movrel.session import LoadedModel

__all__ = ["MovrelError", "__version__", "load"]
__version__ = "0.1.0"
# Expressions nest deeper than Python's default; calls between Python functions take no C stack.
sys.setrecursionlimit(max(sys.getrecursionlimit(), 20_000))


def load(*sources: str, model: str | None = None, text: str | None = None) -> LoadedModel:
    """Load a model from files, package folders or a text, ready to be run.

    See :func:`movrel.session.load`; imported late because it brings in CasADi.
    """
    from movrel.session import load as load_now

    return load_now(*sources, model=model, text=text)
