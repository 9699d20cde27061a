"""The solvers of SUNDIALS as scikit-sundae binds them, without what they would load for one helper.

The bindings take one function from ``scipy.optimize``, whose other modules cost as much time to import as all the rest. For
as long as they are imported an empty package stands in its place; who asks it for anything else gets the real one.

What SUNDIALS has to say they print on standard output, where results go. They are given a ``print`` that does nothing, and
its log is sent nowhere: what matters comes out as a sentence of ours.
"""

from __future__ import annotations

import builtins
import importlib
import importlib.util
import os
import sys
from types import ModuleType
from typing import Any

_WHOLE = "scipy.optimize"


def _import_bindings() -> None:
    for stream in ("ERROR", "WARNING"):
        os.environ.setdefault(f"SUNLOGGER_{stream}_FILENAME", os.devnull)
    printing = builtins.print
    # The compiled bindings keep what it is while they are imported.
    builtins.print = lambda *_, **__: None
    try:
        _import_lean()
    finally:
        builtins.print = printing


def _import_lean() -> None:
    spec = importlib.util.find_spec(_WHOLE)
    if _WHOLE in sys.modules or spec is None or not spec.submodule_search_locations:
        importlib.import_module("sksundae")
        return
    bare = ModuleType(_WHOLE)
    bare.__spec__, bare.__path__ = spec, list(spec.submodule_search_locations)

    def whole(name: str) -> Any:
        if sys.modules.get(_WHOLE) is bare:
            del sys.modules[_WHOLE]
        return getattr(importlib.import_module(_WHOLE), name)

    bare.__getattr__ = whole  # type: ignore[method-assign]
    sys.modules[_WHOLE] = bare
    try:
        importlib.import_module("sksundae")
    finally:
        if sys.modules.get(_WHOLE) is bare:
            del sys.modules[_WHOLE]


_import_bindings()

from sksundae.cvode import CVODE  # noqa: E402
from sksundae.ida import IDA  # noqa: E402

__all__ = ["CVODE", "IDA"]
