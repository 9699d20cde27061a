"""Steps of linear differential-algebraic equations by the three-stage Radau IIA method.

Hairer and Wanner, Solving Ordinary Differential Equations II, IV.5 and VI.1: of order five, stable however fast the
equations are, and for linear ones no more than one linear system a step.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt
from scipy.sparse import csc_matrix
from scipy.sparse.linalg import splu

Array = npt.NDArray[np.float64]
Places = npt.NDArray[np.int64]

_ROOT = 6.0**0.5
#: Nodes and matrix of the method.
NODES = np.array([(4 - _ROOT) / 10, (4 + _ROOT) / 10, 1.0])
MATRIX = np.array(
    [
        [(88 - 7 * _ROOT) / 360, (296 - 169 * _ROOT) / 1800, (-2 + 3 * _ROOT) / 225],
        [(296 + 169 * _ROOT) / 1800, (88 + 7 * _ROOT) / 360, (-2 - 3 * _ROOT) / 225],
        [(16 - _ROOT) / 36, (16 + _ROOT) / 36, 1 / 9],
    ]
)
#: Differential unknowns up to which matrices are dense, and algebraic ones that are eliminated then.
DENSE, ELIMINATED = 40, 80


class LinearSteps:
    """Steps of ``s' = A s + F z + b``, ``0 = G s + H z + c`` with ``n`` unknowns ``s``.

    The entries of the whole matrix ``[A F; G H]``, of ``size`` rows, stand at ``rows`` and ``columns``.
    """

    def __init__(self, n: int, size: int, rows: Places, columns: Places) -> None:
        self.n, self.size, self._rows, self._columns = n, size, rows, columns
        self._dense = n <= DENSE and size - n <= ELIMINATED
        stage, other = np.divmod(np.arange(9), 3)
        # Differential rows feel all nodes of a step, algebraic ones their own.
        feels = (rows[None, :] < n) | (stage == other)[:, None]
        self._feels = feels.reshape(-1)
        one = (np.arange(3)[:, None] * size + np.arange(n)).reshape(-1)
        at_rows = (stage[:, None] * size + rows).reshape(-1)[self._feels]
        at_columns = (other[:, None] * size + columns).reshape(-1)[self._feels]
        self._whole_rows = np.concatenate([one, at_rows])
        self._whole_columns = np.concatenate([one, at_columns])

    @property
    def numbers(self) -> int:
        """How many numbers the matrices of one step have."""
        return 9 * self.n**2 if self._dense else 0

    def speed(self, s: Array, entries: Array, gains: Array) -> Array:
        """``s'`` at one instant, ``(n, q)``, for ``s`` of that shape, ``entries`` ``(entries,)``, ``gains`` ``(size, q)``."""
        if self._dense:
            by, gain = self._eliminated(entries[None], gains[None])
            return np.asarray(by[0] @ s + gain[0])
        n = self.n
        whole = csc_matrix((entries, (self._rows, self._columns)), (self.size, self.size))
        moved = whole[:, :n] @ s + gains
        if self.size == n:
            return np.asarray(moved)
        return np.asarray(
            moved[:n] - whole[:n, n:] @ splu(csc_matrix(whole[n:, n:])).solve(moved[n:])
        )

    def go(self, s: Array, width: Array, entries: Array, gains: Array) -> tuple[Array, Array]:
        """``s`` and ``s'`` after each of ``k`` steps, shapes ``(k, n, q)``, from ``s`` of shape ``(n, q)``.

        ``width`` has shape ``(k,)``; ``entries`` ``(k, 3, entries)`` of the matrix and ``gains`` ``(k, 3, size, q)`` are
        those at the nodes of each step. Raises :class:`RuntimeError` or :class:`numpy.linalg.LinAlgError` where a step is
        singular.
        """
        h = width[:, None, None] * MATRIX
        if self._dense:
            return self._dense_steps(s, h, entries, gains)
        return self._sparse_steps(s, h, entries, gains)

    def _eliminated(self, entries: Array, gains: Array) -> tuple[Array, Array]:
        """Matrices ``(k, n, n)`` and gains ``(k, n, q)`` of ``s`` alone."""
        k, n = len(entries), self.n
        whole = np.zeros((k, self.size, self.size))
        whole[:, self._rows, self._columns] = entries
        if self.size == n:
            return whole, gains
        right = np.concatenate([whole[:, n:, :n], gains[:, n:]], axis=2)
        solved = whole[:, :n, n:] @ np.linalg.solve(whole[:, n:, n:], right)
        return whole[:, :n, :n] - solved[:, :, :n], gains[:, :n] - solved[:, :, n:]

    def _dense_steps(self, s: Array, h: Array, entries: Array, gains: Array) -> tuple[Array, Array]:
        k, n, q = len(h), self.n, s.shape[1]
        by, gain = self._eliminated(entries.reshape(3 * k, -1), gains.reshape(3 * k, self.size, q))
        matrices, gain = by.reshape(k, 3, n, n), gain.reshape(k, 3, n, q)
        blocks = np.einsum("kij,kjab->kiajb", h, matrices).reshape(k, 3 * n, 3 * n)
        inside = np.einsum("kij,kjnq->kinq", h, gain).reshape(k, 3 * n, q)
        ones = np.broadcast_to(np.tile(np.eye(n), (3, 1)), (k, 3 * n, n))
        solved = np.linalg.solve(np.eye(3 * n) - blocks, np.concatenate([ones, inside], axis=2))
        last = solved[:, 2 * n :]
        result = np.zeros((k, n, q))
        for at, (through, more) in enumerate(zip(last[:, :, :n], last[:, :, n:], strict=True)):
            result[at] = s = through @ s + more
        return result, matrices[:, 2] @ result + gain[:, 2]

    def _sparse_steps(
        self, s: Array, h: Array, entries: Array, gains: Array
    ) -> tuple[Array, Array]:
        n, size, q = self.n, self.size, s.shape[1]
        result, speed = np.zeros((len(h), n, q)), np.zeros((len(h), n, q))
        ones, nine = np.ones(3 * n), np.ones((9, len(self._rows)))
        algebraic = self._rows >= n
        for at in range(len(h)):
            by = nine * h[at].reshape(9, 1)
            by[:, algebraic] = 1.0
            stages = (by.reshape(3, 3, -1) * entries[at]).reshape(-1)[self._feels]
            matrix = csc_matrix(
                (np.concatenate([ones, -stages]), (self._whole_rows, self._whole_columns)),
                (3 * size, 3 * size),
            )
            right = np.zeros((3, size, q))
            right[:, :n] = s + np.einsum("ij,jnq->inq", h[at], gains[at][:, :n])
            right[:, n:] = gains[at][:, n:]
            y = splu(matrix).solve(right.reshape(3 * size, q))[2 * size :]
            result[at] = s = y[:n]
            there = csc_matrix((entries[at, 2], (self._rows, self._columns)), (size, size))
            speed[at] = (there @ y)[:n] + gains[at, 2, :n]
        return result, speed
