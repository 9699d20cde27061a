"""How a solver keeps the matrix of its steps: dense, as a band or sparse, by where the matrix is not zero.

The band is that after reordering the unknowns by the reverse algorithm of Cuthill and McKee (George and Liu, Computer
Solution of Large Sparse Positive Definite Systems, 1981).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]
Places = npt.NDArray[np.int64]

#: Up to this many unknowns a matrix is dense, unless it is a narrow band.
DENSE_UP_TO = 100
#: Fewer unknowns than this are not looked at for a band.
BAND_FROM = 50
#: The solver fills a band through a square array, which becomes too large beyond this many unknowns.
BAND_UP_TO = 3000
#: How many times the half width of the band the unknowns have at least.
NARROW = 10


@dataclass(slots=True)
class Structure:
    """How a matrix is kept; ``order`` holds which unknown stands where, if they do not stand as they are."""

    kind: Literal["dense", "band", "sparse"]
    rows: Places
    columns: Places
    size: int
    half_width: int = 0
    order: Places | None = None
    #: Where each unknown stands.
    place: Places | None = None

    @property
    def keywords(self) -> dict[str, Any]:
        """What the solver is told."""
        if self.kind == "band":
            return {"linsolver": "band", "lband": self.half_width, "uband": self.half_width}
        if self.kind == "dense":
            return {}
        from scipy.sparse import csc_matrix

        entries = np.ones(len(self.rows)), (self.rows, self.columns)
        return {
            "linsolver": "sparse",
            "sparsity": csc_matrix(entries, shape=(self.size, self.size)),
        }

    def fill(self, out: Array, entries: Array) -> None:
        """Put the entries, in the order of ``rows`` and ``columns`` as given, into the solver's array."""
        if self.kind == "sparse":
            out[:] = entries
        else:
            out[self.rows, self.columns] = entries

    def ordered(self, values: Array) -> Array:
        """Values of the unknowns, in the last dimension, as the solver has them."""
        return values if self.order is None else values[..., self.order]

    def natural(self, values: Array) -> Array:
        """The reverse of :meth:`ordered`."""
        return values if self.place is None else values[..., self.place]


def choose_structure(rows: Places, columns: Places, size: int) -> Structure:
    """How to keep a matrix that is not zero at ``rows`` and ``columns`` only."""
    if size > BAND_FROM and len(rows):
        if size <= BAND_UP_TO:
            banded = _band(rows, columns, size)
            if NARROW * banded.half_width <= size:
                return banded
        if size > DENSE_UP_TO:
            return Structure("sparse", rows, columns, size)
    return Structure("dense", rows, columns, size)


def _band(rows: Places, columns: Places, size: int) -> Structure:
    from scipy.sparse import csr_matrix
    from scipy.sparse.csgraph import reverse_cuthill_mckee

    width = int(np.abs(rows - columns).max())
    ends = np.concatenate([rows, columns]), np.concatenate([columns, rows])
    pattern = csr_matrix((np.ones(len(ends[0])), ends), shape=(size, size))
    order = reverse_cuthill_mckee(pattern, symmetric_mode=True).astype(np.int64)
    place = np.empty(size, np.int64)
    place[order] = np.arange(size)
    reordered = int(np.abs(place[rows] - place[columns]).max())
    if reordered >= width:
        return Structure("band", rows, columns, size, width)
    return Structure("band", place[rows], place[columns], size, reordered, order, place)
