"""A linear model in state space and what is read off it: poles, zeros, modes, frequency responses, margins.

Franklin, Powell, Emami-Naeini, Feedback Control of Dynamic Systems; participation factors after Pérez-Arriaga, Verghese
and Schweppe, Selective modal analysis, IEEE Trans. Power App. Syst. 101 (1982).
"""

from __future__ import annotations

import importlib
import os
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt
import scipy
from scipy.linalg import eig, eigvals

from movrel.disk_cache import cache_folder
from movrel.errors import MovrelError, did_you_mean

Array = npt.NDArray[np.float64]
Complex = npt.NDArray[np.complex128]

#: A pole is at zero below this share of the largest; zeros beyond this multiple of it are at infinity.
ZERO, INFINITE = 1e-10, 1e8
#: Damping ratio below which a peak is looked at by itself, and frequencies on either side of it.
NARROW, AROUND = 0.1, 60
#: Participation that is told.
TAKES_PART = 0.05


@dataclass(frozen=True, slots=True)
class Mode:
    """A real pole or a pair: natural frequency in rad/s, damping ratio, time constant in s (infinite for none), and the
    states that take part, each with its share."""

    pole: complex
    frequency: float
    damping: float
    time_constant: float
    states: dict[str, float]


@dataclass(frozen=True, slots=True)
class Margins:
    """Of an opened loop: gain margin as a factor at ``gain_at`` rad/s, phase margin in degrees at ``phase_at`` rad/s;
    infinite where there is none."""

    gain: float
    gain_at: float
    phase: float
    phase_at: float


def _control_library() -> Any:
    """python-control, which is slow to import; what its pictures keep on disk goes to our caches."""
    folder = cache_folder()
    if folder is not None:
        os.environ.setdefault("MPLCONFIGDIR", str(folder / "matplotlib"))
    return importlib.import_module("control")


def _poles(a: Array) -> Complex:
    """The eigenvalues of a matrix, small ones first."""
    values: Complex = np.linalg.eigvals(a).astype(complex) if len(a) else np.zeros(0, complex)
    return values[np.lexsort((values.imag, np.abs(values)))]


def _reached(depends: npt.NDArray[np.bool_], first: npt.NDArray[np.bool_]) -> npt.NDArray[np.bool_]:
    """The states that the ``first`` ones act on in the end; ``depends[i, j]``: i depends on j."""
    reached = first.copy()
    for _ in range(len(first)):
        more = reached | (depends & reached).any(axis=1)
        if (more == reached).all():
            break
        reached = more
    return reached


def _within(degrees: Array) -> Array:
    """The same angles from -180 to 180 degrees."""
    return np.asarray((np.asarray(degrees, dtype=float) + 180.0) % 360.0 - 180.0)


@dataclass(slots=True)
class LinearModel:
    """``dx/dt = A x + B u``, ``y = C x + D u`` for deviations from an operating point; values in declared units."""

    states: list[str]
    inputs: list[str]
    outputs: list[str]
    a: Array
    b: Array
    c: Array
    d: Array
    #: Values at the operating point, by name, and units.
    point: dict[str, float] = field(default_factory=dict)
    units: dict[str, str] = field(default_factory=dict)
    #: The instant in s, and what is to be said about it.
    time: float = 0.0
    notes: list[str] = field(default_factory=list)
    #: What each state still changes by there, in its unit per second.
    rates: dict[str, float] = field(default_factory=dict)

    # --- poles and modes ---

    def poles(self) -> Complex:
        """The eigenvalues of A in rad/s, slow ones first."""
        return _poles(self.a)

    def modes(self) -> list[Mode]:
        """The modes, slow ones first."""
        if not self.states:
            return []
        values, left, right = eig(self.a, left=True, right=True)
        shares = np.abs(left.conj() * right)
        total = shares.sum(axis=0)
        shares = shares / np.where(total > 0, total, 1.0)
        modes: list[Mode] = []
        for k in np.argsort(np.abs(values)):
            pole = complex(values[k])
            if pole.imag < 0:
                continue  # told with its conjugate
            size = abs(pole)
            part = {
                self.states[i]: round(float(shares[i, k]), 4)
                for i in np.argsort(-shares[:, k])
                if shares[i, k] >= TAKES_PART
            }
            modes.append(
                Mode(
                    pole, size, -pole.real / size if size > 0 else 0.0,
                    -1.0 / pole.real if pole.real else float("inf"), part,
                )
            )  # fmt: skip
        return modes

    def stable(self) -> bool:
        """Whether all poles lie in the left half plane."""
        return bool((self.poles().real < 0).all())

    # --- one input, one output ---

    def _channel(self, u: str, y: str) -> tuple[Array, Array, Array, float]:
        """``A, b, c, d`` of the way from an input to an output, with those states only that lie on it."""
        for name, known in ((u, self.inputs), (y, self.outputs)):
            if name not in known:
                raise MovrelError(
                    f"the linear model has no '{name}'.", hint=did_you_mean(name, known, "")
                )
        i, j = self.inputs.index(u), self.outputs.index(y)
        moved = _reached(self.a != 0, self.b[:, i] != 0)
        seen = _reached((self.a != 0).T, self.c[j] != 0)
        on = np.flatnonzero(moved & seen)
        return self.a[np.ix_(on, on)], self.b[on, i], self.c[j, on], float(self.d[j, i])

    def zeros(self, u: str, y: str) -> Complex:
        """The transmission zeros from an input to an output, finite generalized eigenvalues of the system matrix."""
        a, b, c, d = self._channel(u, y)
        n = len(a)
        matrix = np.block([[a, b[:, None]], [c[None, :], np.array([[d]])]])
        mass = np.zeros_like(matrix)
        mass[:n, :n] = np.eye(n)
        values = eigvals(matrix, mass)
        values = values[np.isfinite(values)]
        largest = float(np.abs(_poles(a)).max(initial=0.0)) or 1.0
        return values[np.abs(values) < INFINITE * largest]

    def transfer(self, u: str, y: str) -> tuple[Array, Array]:
        """Numerator and denominator, highest power of s first."""
        a, b, c, d = self._channel(u, y)
        if not len(a):
            return np.array([d]), np.ones(1)
        num, den = scipy.signal.ss2tf(a, b[:, None], c[None, :], [[d]])
        return num[0], den

    def response(self, u: str, y: str, frequencies: Array) -> Complex:
        """The frequency response at angular frequencies in rad/s."""
        a, b, c, d = self._channel(u, y)
        eye = np.eye(len(a))
        values = [c @ np.linalg.solve(1j * w * eye - a, b) + d for w in frequencies]
        return np.array(values, complex)

    def gain(self, u: str, y: str) -> float:
        """The stationary gain; infinite with a pole at zero."""
        a, b, c, d = self._channel(u, y)
        size = np.abs(_poles(a))
        if len(a) and size.min() <= ZERO * size.max():
            return float("inf")
        return float(d - c @ np.linalg.solve(a, b))

    def step(self, u: str, y: str, stop: float, count: int = 400) -> tuple[Array, Array]:
        """The response to a step of 1: instants in s and deviations."""
        a, b, c, d = self._channel(u, y)
        t = np.linspace(0.0, stop, count)
        if not len(a):
            return t, np.full(count, d)
        return scipy.signal.StateSpace(a, b[:, None], c[None, :], [[d]]).step(T=t)

    def impulse(self, u: str, y: str, stop: float, count: int = 400) -> tuple[Array, Array]:
        """The response to an impulse of area 1, what passes straight through left out: instants in s and deviations."""
        a, b, c, _ = self._channel(u, y)
        t = np.linspace(0.0, stop, count)
        if not len(a):
            return t, np.zeros(count)
        return scipy.signal.StateSpace(a, b[:, None], c[None, :], [[0.0]]).impulse(T=t)

    def root_locus(self, u: str, y: str, gains: Array) -> Complex:
        """The poles of the loop that is closed by ``u = -gain y``, shape ``(gains, poles)``, each along its branch; not a
        number at gains that close an algebraic loop upon itself."""
        a, b, c, d = self._channel(u, y)
        poles = np.full((len(gains), len(a)), np.nan, complex)
        before = _poles(a)
        for k, gain in enumerate(gains):
            through = 1.0 + gain * d
            if through == 0:
                continue
            values = np.linalg.eigvals(a - np.outer(b, c) * gain / through)
            _, order = scipy.optimize.linear_sum_assignment(np.abs(before[:, None] - values))
            poles[k] = before = values[order]
        return poles

    def margins(self, u: str, y: str, decades: float = 4.0, count: int = 4000) -> Margins:
        """Margins of the loop that is closed by feeding ``y`` back to ``u`` with a minus, from its frequency response."""
        control = _control_library()
        w = self.frequencies(u, y, decades, count)
        h = self.response(u, y, w)
        if not np.abs(h).any():
            return Margins(float("inf"), float("nan"), float("inf"), float("nan"))
        seen = control.frd(h, w, smooth=True)
        gains, phases, _, gain_at, phase_at, _ = control.stability_margins(seen, returnall=True)
        # The nearest limit: how much more gain, and how much more delay or lead, the loop bears.
        more = [(g, at) for g, at in zip(gains, gain_at, strict=True) if g > 1.0]
        gain, at_gain = min(more, default=(float("inf"), float("nan")))
        within = [(abs(p), p, at) for p, at in zip(_within(phases), phase_at, strict=True)]
        _, phase, at_phase = min(within, default=(0.0, float("inf"), float("nan")))
        return Margins(float(gain), float(at_gain), float(phase), float(at_phase))

    def frequencies(self, u: str, y: str, decades: float, count: int) -> Array:
        """Angular frequencies in rad/s, evenly on a logarithmic scale, around the poles and zeros of a channel."""
        poles = _poles(self._channel(u, y)[0])
        zeros = self.zeros(u, y)
        sizes = np.concatenate([np.abs(poles), np.abs(zeros)])
        sizes = sizes[sizes > ZERO * sizes.max(initial=0.0)]
        low, high = (float(sizes.min()), float(sizes.max())) if len(sizes) else (1.0, 1.0)
        even = np.geomspace(low * 10**-decades, high * 10**decades, count)
        # A peak or a notch is as wide as its damping, and is not to fall between two frequencies.
        narrow = np.concatenate([poles, zeros])
        narrow = narrow[(narrow.imag > 0) & (np.abs(narrow.real) < NARROW * np.abs(narrow))]
        around = [
            abs(p)
            * (1.0 + side * np.geomspace(max(abs(p.real) / abs(p), ZERO) / 10, NARROW, AROUND))
            for p in narrow
            for side in (-1.0, 1.0)
        ]
        return np.unique(np.concatenate([even, np.abs(narrow), *around]))

    # --- ranks ---

    def controllable(self) -> int:
        """The rank of controllability, by Hautus' test at every pole."""
        return self._rank(self.a, self.b)

    def observable(self) -> int:
        """The rank of observability."""
        return self._rank(self.a.T, self.c.T)

    def _rank(self, a: Array, b: Array) -> int:
        n = a.shape[0]
        if not n:
            return 0
        lost = 0
        for pole in np.linalg.eigvals(a):
            pencil = np.hstack([a - pole * np.eye(n), b])
            # Rows of one size, so that units do not decide.
            size = np.abs(pencil).max(axis=1, keepdims=True)
            values = np.linalg.svd(pencil / np.where(size > 0, size, 1.0), compute_uv=False)
            lost += bool(values[-1] <= 1e-10 * values[0])
        return n - lost

    # --- as files ---

    def as_json(self) -> dict[str, Any]:
        """What ``movrel linearise`` writes."""
        return {
            "states": self.states, "inputs": self.inputs, "outputs": self.outputs, "A": self.a.tolist(), "B": self.b.tolist(),
            "C": self.c.tolist(), "D": self.d.tolist(), "poles": [[p.real, p.imag] for p in self.poles()],
            "operating_point": self.point, "units": self.units, "time": self.time, "notes": self.notes,
            "rates": self.rates,
        }  # fmt: skip

    def as_component(self, name: str) -> str:
        """A block with the inputs and outputs of the linear model, around its operating point, as Modelica text."""

        def matrix(m: Array) -> str:
            rows = "; ".join(", ".join(repr(float(v)) for v in row) for row in m)
            return f"[{rows}]"

        def plain(text: str) -> str:
            return "".join(c if c.isalnum() else "_" for c in text).strip("_")

        ins = [plain(u) for u in self.inputs]
        outs = [plain(y) for y in self.outputs]
        outs = [f"{y}_out" if y in ins else y for y in outs]
        n = len(self.states)
        lines = [f'block {name} "Linear about {self.time:g} s"']
        for kind, names, x in (("SignalIn", ins, -100), ("SignalOut", outs, 100)):
            source = self.inputs if kind == "SignalIn" else self.outputs
            for k, own in enumerate(names):
                said = self.units.get(source[k], "")
                unit = f'(unit="{said}")' if said else ""
                y = 100 - 200 * (k + 1) / (len(names) + 1)
                lines.append(
                    f"  Movrel.Signals.{kind} {own}{unit} annotation (Placement(transformation("
                    f"extent={{{{{x - 10},{y - 10:g}}},{{{x + 10},{y + 10:g}}}}})));"
                )
        if n:
            lines.append(
                f'  Real x[{n}](each start=0, each fixed=true) "Deviations of {", ".join(self.states)}";'
            )
        lines.append("protected")
        if n:
            for letter, m in (("A", self.a), ("B", self.b), ("C", self.c)):
                size = f"{m.shape[0]}, {m.shape[1]}"
                lines.append(f"  parameter Real {letter}[{size}] = {matrix(m)};")
        lines.append(f"  parameter Real D[{len(outs)}, {len(ins)}] = {matrix(self.d)};")
        deviations = ", ".join(
            f"{u} - ({self.point.get(o, 0.0)!r})" for u, o in zip(ins, self.inputs, strict=True)
        )
        lines += [f"  Real u[{len(ins)}] = {{{deviations}}};", "equation"]
        if n:
            lines.append("  der(x) = A*x + B*u;")
        for k, (own, o) in enumerate(zip(outs, self.outputs, strict=True), 1):
            state = f"C[{k}, :]*x + " if n else ""
            lines.append(f"  {own} = {self.point.get(o, 0.0)!r} + {state}D[{k}, :]*u;")
        lines.append(f"end {name};")
        return "\n".join(lines)
