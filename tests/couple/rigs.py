"""Rigs that several tests use."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from movrel.couple.rig import RigRun, prepare_rig, settings_of
from movrel.session import LoadedModel, load
from movrel.simulate.trajectory import Trajectory

#: Two masses on springs of their own, coupled by a spring and a damper: force there, position and speed back.
OSCILLATORS = """
model Driven
  parameter Real m = 1; parameter Real c = 10; parameter Real d = 0.2;
  Movrel.Signals.SignalIn f(unit="N"); Movrel.Signals.SignalOut s(unit="m"); Movrel.Signals.SignalOut v(unit="m/s");
  Real x(start=1, fixed=true); Real w(start=0, fixed=true);
equation
  der(x) = w; m*der(w) = f - c*x - d*w; s = x; v = w;
end Driven;
model Coupled
  parameter Real m = 2; parameter Real c = 5; parameter Real d = 0.1; parameter Real cc = 4; parameter Real dc = 0.3;
  Movrel.Signals.SignalIn s(unit="m"); Movrel.Signals.SignalIn v(unit="m/s"); Movrel.Signals.SignalOut f(unit="N");
  Real x(start=0, fixed=true); Real w(start=0, fixed=true);
equation
  der(x) = w; m*der(w) = cc*(s - x) + dc*(v - w) - c*x - d*w; f = cc*(x - s) + dc*(w - v);
end Coupled;
model Oscillators
  Driven one; Coupled other;
equation
  connect(one.s, other.s); connect(one.v, other.v); connect(other.f, one.f);
  annotation(experiment(StopTime=5, Tolerance=1e-9), __Movrel(rig=Rig(step=0.01)));
end Oscillators;
"""


def loaded(text: str, model: str) -> LoadedModel:
    return load(text=text, model=model)


def prepared(model: LoadedModel, coupling: dict[str, Any] | None = None, **options: Any) -> RigRun:
    settings = settings_of(model)
    assert settings is not None
    return prepare_rig(model, replace(settings, **(coupling or {})), **options)


def run(model: LoadedModel, coupling: dict[str, Any] | None = None, **options: Any) -> Trajectory:
    return prepared(model, coupling, **options).go()
