"""Stiff chemistry, an index-3 mechanism and a beam with undamped fast modes, with published or independent solutions.

Source: Mazzia and Magherini, Test Set for Initial Value Problem Solvers, release 2.4 (2008); Hairer and Wanner, Solving
Ordinary Differential Equations II, IV.10.
"""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest
from scipy.integrate import solve_ivp

import movrel

POLLUTION = """model Pollution "chemistry of polluted air, 20 species in 25 reactions"
  parameter Real k[25] = {0.35, 26.6, 1.23e4, 8.6e-4, 8.2e-4, 1.5e4, 1.3e-4, 2.4e4, 1.65e4, 9e3, 2.2e-2, 1.2e4, 1.88, 1.63e4,
    4.8e6, 3.5e-4, 1.75e-2, 1e8, 4.44e11, 1.24e3, 2.1, 5.78, 4.74e-2, 1.78e3, 3.12};
  Real y[20](start = {0, 0.2, 0, 0.04, 0, 0, 0.1, 0.3, 0.01, 0, 0, 0, 0, 0, 0, 0, 0.007, 0, 0, 0}, each fixed = true,
    nominal = {1e-2, 1e-1, 1e-9, 1e-2, 1e-7, 1e-7, 1e-1, 1e-1, 1e-2, 1e-8, 1e-8, 1e-3, 1e-4, 1e-5, 1e-3, 1e-17, 1e-2, 1e-4, 1e-6, 1e-5});
  Real r[25];
equation
  r = {k[1]*y[1], k[2]*y[2]*y[4], k[3]*y[5]*y[2], k[4]*y[7], k[5]*y[7], k[6]*y[7]*y[6], k[7]*y[9], k[8]*y[9]*y[6], k[9]*y[11]*y[2],
    k[10]*y[11]*y[1], k[11]*y[13], k[12]*y[10]*y[2], k[13]*y[14], k[14]*y[1]*y[6], k[15]*y[3], k[16]*y[4], k[17]*y[4], k[18]*y[16],
    k[19]*y[16], k[20]*y[17]*y[6], k[21]*y[19], k[22]*y[19], k[23]*y[1]*y[4], k[24]*y[19]*y[1], k[25]*y[20]};
  der(y[1]) = -r[1] - r[10] - r[14] - r[23] - r[24] + r[2] + r[3] + r[9] + r[11] + r[12] + r[22] + r[25];
  der(y[2]) = -r[2] - r[3] - r[9] - r[12] + r[1] + r[21];
  der(y[3]) = -r[15] + r[1] + r[17] + r[19] + r[22];
  der(y[4]) = -r[2] - r[16] - r[17] - r[23] + r[15];
  der(y[5]) = -r[3] + 2*r[4] + r[6] + r[7] + r[13] + r[20];
  der(y[6]) = -r[6] - r[8] - r[14] - r[20] + r[3] + 2*r[18];
  der(y[7]) = -r[4] - r[5] - r[6] + r[13];
  der(y[8]) = r[4] + r[5] + r[6] + r[7];
  der(y[9]) = -r[7] - r[8];
  der(y[10]) = -r[12] + r[7] + r[9];
  der(y[11]) = -r[9] - r[10] + r[8] + r[11];
  der(y[12]) = r[9];
  der(y[13]) = -r[11] + r[10];
  der(y[14]) = -r[13] + r[12];
  der(y[15]) = r[14];
  der(y[16]) = -r[18] - r[19] + r[16];
  der(y[17]) = -r[20];
  der(y[18]) = r[20];
  der(y[19]) = -r[21] - r[22] - r[24] + r[23] + r[25];
  der(y[20]) = -r[25] + r[24];
end Pollution;"""

E5 = """model E5 "chemical pyrolysis over 13 orders of magnitude of time"
  parameter Real A = 7.89e-10, B = 1.1e7, C = 1.13e3, M = 1e6;
  Real y1(start = 1.76e-3, fixed = true, nominal = 1e-22), y2(start = 0, fixed = true, nominal = 1e-22), y3(nominal = 1e-22),
    y4(start = 0, fixed = true, nominal = 1e-22);
equation
  der(y1) = -A*y1 - B*y1*y3;
  der(y2) = A*y1 - M*C*y2*y3;
  der(y4) = B*y1*y3 - C*y4;
  y3 = y2 - y4;
end E5;"""

BEAM = """model Beam "an elastic beam in 40 pieces, bent by a pulse at its end"
  parameter Integer n = 40;
  Real theta[n](each start = 0, each fixed = true), omega[n](each start = 0, each fixed = true), phi, fx, fy;
protected
  parameter Real g[n, n] = {{n + 0.5 - max(l, k) for k in 1:n} for l in 1:n};
equation
  phi = if time < 3.141592653589793 then 1.5*sin(time)^2 else 0; fx = -phi; fy = phi;
  der(theta) = omega;
  for l in 1:n loop
    sum(g[l, k]*cos(theta[l] - theta[k])*der(omega[k]) for k in 1:n) =
      n^4*((if l == 1 then -theta[1] else theta[max(l - 1, 1)]) - 2*theta[l] + theta[min(l + 1, n)])
      + n^2*(cos(theta[l])*fy - sin(theta[l])*fx) - sum(g[l, k]*sin(theta[l] - theta[k])*omega[k]^2 for k in 1:n);
  end for;
end Beam;"""

CAR_AXIS = """model CarAxis "two wheels on a bumpy road, joined by an axis of fixed length"
  parameter Real L = 1, L0 = 0.5, eps = 1e-2, M = 10, h = 0.1, K = eps^2*M/2;
  Real xl(start = 0), yl(start = 0.5, fixed = true), xr(start = 1), yr(start = 0.5, fixed = true);
  Real vxl(start = -0.5), vyl(start = 0, fixed = true), vxr(start = -0.5), vyr(start = 0, fixed = true), a, b, ll, lr, xb, yb;
equation
  yb = h*sin(10*time); xb = sqrt(L^2 - yb^2);
  ll = sqrt(xl^2 + yl^2); lr = sqrt((xr - xb)^2 + (yr - yb)^2);
  der(xl) = vxl; der(yl) = vyl; der(xr) = vxr; der(yr) = vyr;
  K*der(vxl) = (L0 - ll)*xl/ll + a*xb + 2*b*(xl - xr);
  K*der(vyl) = (L0 - ll)*yl/ll + a*yb + 2*b*(yl - yr) - K;
  K*der(vxr) = (L0 - lr)*(xr - xb)/lr - 2*b*(xl - xr);
  K*der(vyr) = (L0 - lr)*(yr - yb)/lr - 2*b*(yl - yr) - K;
  0 = xl*xb + yl*yb; 0 = (xl - xr)^2 + (yl - yr)^2 - L^2;
end CarAxis;"""


@pytest.mark.parametrize(("solver", "error"), [("bdf", 1e-5), ("dae", 1e-5), ("radau", 1e-7)])
def test_pollution(solver: str, error: float) -> None:
    r = movrel.load(text=POLLUTION).simulate(stop=60, interval=6, tolerance=1e-6, solver=solver)
    exact = [
        0.5646255480022769e-1, 0.1342484130422339, 0.4139734331099427e-8, 0.5523140207484359e-2, 0.2018977262302196e-6,
        0.1464541863493966e-6, 0.7784249118997964e-1, 0.3245075353396018, 0.7494013383880406e-2, 0.1622293157301561e-7,
        0.1135863833257075e-7, 0.2230505975721359e-2, 0.2087162882798630e-3, 0.1396921016840158e-4, 0.8964884856898295e-2,
        0.4352846369330103e-17, 0.6899219696263405e-2, 0.1007803037365946e-3, 0.1772146513969984e-5, 0.5682943292316392e-4,
    ]  # fmt: skip
    assert [r[f"y[{i}]"][-1] for i in range(1, 21)] == pytest.approx(exact, rel=error)


@cache
def e5_at_the_end() -> float:
    """y2 by an independent integration: the published y2 and y3 differ although y4 is zero there."""
    a, b, c, m = 7.89e-10, 1.1e7, 1.13e3, 1e6

    def rates(t: float, y: np.ndarray) -> list[float]:
        y1, y2, y4 = y
        y3 = y2 - y4
        return [-a * y1 - b * y1 * y3, a * y1 - m * c * y2 * y3, b * y1 * y3 - c * y4]

    def slopes(t: float, y: np.ndarray) -> list[list[float]]:
        y1, y2, y4 = y
        return [
            [-a - b * (y2 - y4), -b * y1, b * y1],
            [a, -m * c * (2 * y2 - y4), m * c * y2],
            [b * (y2 - y4), b * y1, -b * y1 - c],
        ]

    run = solve_ivp(
        rates, (0, 1e13), [1.76e-3, 0, 0], method="Radau", rtol=1e-8, atol=1e-30, jac=slopes
    )
    return float(run.y[1, -1])


@pytest.mark.parametrize("solver", ["bdf", "dae", "radau"])
def test_e5(solver: str) -> None:
    r = movrel.load(text=E5).simulate(stop=1e13, interval=1e12, tolerance=1e-7, solver=solver)
    assert r["y2"][-1] == pytest.approx(e5_at_the_end(), rel=1e-4)


def test_beam() -> None:
    r = movrel.load(text=BEAM).simulate(stop=5, interval=0.5, tolerance=1e-6, solver="radau")
    exact = [
        -0.5792366591285007e-2,
        -0.1695298550721735e-1,
        -0.2769103312973094e-1,
        -0.3800815655879158e-1,
    ]
    assert [r[f"theta[{i}]"][-1] for i in range(1, 5)] == pytest.approx(exact, rel=1e-5)


@pytest.mark.parametrize("solver", ["bdf", "dae"])
def test_car_axis(solver: str) -> None:
    r = movrel.load(text=CAR_AXIS).simulate(stop=3, interval=0.3, tolerance=1e-6, solver=solver)
    exact = [
        0.4934557842755629e-1,
        0.4969894602303324,
        0.1041742524885400e1,
        0.3739110272652214,
        -0.7705836840321485e-1,
    ]
    assert [r[n][-1] for n in ("xl", "yl", "xr", "yr", "vxl")] == pytest.approx(exact, rel=2e-5)
