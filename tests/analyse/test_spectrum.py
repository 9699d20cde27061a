"""Spectra of curves whose lines are known."""

from __future__ import annotations

import numpy as np
import pytest

from movrel.analyse.spectrum import WINDOWS, spectrum
from movrel.errors import MovrelError

T = np.sort(np.concatenate([np.linspace(0, 2, 4001), np.random.default_rng(1).random(500) * 2]))


@pytest.mark.parametrize("window", WINDOWS)
def test_two_sines_show_their_amplitudes(window: str) -> None:
    y = 5 + 3 * np.sin(2 * np.pi * 50 * T) + 0.2 * np.cos(2 * np.pi * 150 * T)
    f, a = spectrum(T, y, window)
    for frequency, amplitude in ((50, 3), (150, 0.2)):
        near = np.abs(f - frequency) < 1.2
        assert a[near].max() == pytest.approx(amplitude, rel=0.02)
    assert a[(f > 60) & (f < 140)].max() < 0.05
    assert f[int(np.argmax(a))] == pytest.approx(50, abs=0.3)


def test_the_ripple_of_a_triangle() -> None:
    """Its odd harmonics fall off with 1/n^2: 8/pi^2 of the amplitude, a ninth of that, and so on."""
    t = np.arange(0, 100.5, 0.5)
    y = np.abs((t % 2) - 1) * 2 - 1
    f, a = spectrum(t, y, points=1 << 14)
    for n in (1, 3, 5):
        assert a[np.abs(f - 0.5 * n) < 0.02].max() == pytest.approx(8 / np.pi**2 / n**2, rel=0.03)


@pytest.mark.parametrize(
    "t, window, why", [(T[:4], "hann", "too short"), (T, "round", "no window")]
)
def test_what_has_no_spectrum(t: np.ndarray, window: str, why: str) -> None:
    with pytest.raises(MovrelError, match=why):
        spectrum(t, np.zeros_like(t), window)
