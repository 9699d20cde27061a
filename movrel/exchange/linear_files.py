"""The matrices of a linear model as files of other programs: a table, a NumPy archive, JSON."""

from __future__ import annotations

import io
import json
from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from movrel.delimited import delimited, head

#: The matrices, with what their rows and columns are.
MATRICES = (
    ("A", "states", "states"), ("B", "states", "inputs"), ("C", "outputs", "states"), ("D", "outputs", "inputs"),
)  # fmt: skip


def as_csv(model: Mapping[str, Any]) -> str:
    """One table: the rate of each state and each output as sums over states and inputs, with units in the heads.

    ``model`` is what :meth:`movrel.analyse.linear_model.LinearModel.as_json` gives.
    """
    units = model["units"]
    columns = [*model["states"], *model["inputs"]]
    heads = ["", *(head(name, units.get(name)) for name in columns)]
    rows: list[list[object]] = []
    for left, right, names, word in (("A", "B", "states", "rate of "), ("C", "D", "outputs", "")):
        for name, a, b in zip(model[names], model[left], model[right], strict=True):
            rows.append([word + head(name, units.get(name)), *a, *b])
    return delimited(heads, rows)


def as_numpy(model: Mapping[str, Any]) -> bytes:
    """A NumPy archive with A, B, C, D as doubles, names as texts, and the operating point in the order of its names."""
    arrays: dict[str, Any] = {}
    for name, rows, columns in MATRICES:
        shape = len(model[rows]), len(model[columns])
        arrays[name] = np.array(model[name], float).reshape(shape)
    for names in ("states", "inputs", "outputs"):
        arrays[names] = np.array(model[names], dtype=str)
    point = model["operating_point"]
    arrays["operating_point"] = np.array(list(point.values()), float)
    arrays["operating_point_names"] = np.array(list(point), dtype=str)
    content = io.BytesIO()
    np.savez(content, **arrays)
    return content.getvalue()


def as_text(model: Mapping[str, Any]) -> str:
    """JSON."""
    return json.dumps(model, indent=1) + "\n"


#: What writes a file, by the ending of its name, and what that holds.
WRITERS: dict[str, tuple[Callable[[Mapping[str, Any]], str | bytes], str]] = {
    "json": (as_text, "application/json"),
    "csv": (as_csv, "text/csv"),
    "npz": (as_numpy, "application/octet-stream"),
}
