"""A model of a step test as a part: its Modelica text."""

from __future__ import annotations

from movrel.analyse.step_models import StepModel


def step_component(model: StepModel, name: str, input_unit: str = "", output_unit: str = "") -> str:
    """A block from input to output in their own units, at rest at the beginning."""

    def unit(text: str) -> str:
        return f'(unit="{text}")' if text and text != "1" else ""

    def port(kind: str, own: str, of: str, x: int) -> str:
        place = f"Placement(transformation(extent={{{{{x - 10},-10}},{{{x + 10},10}}}}))"
        return f"  Movrel.Signals.{kind} {own}{unit(of)} annotation ({place});"

    delayed = model.dead_time > 0
    moved = "delay(u, theta)" if delayed else "u"
    lines = [
        f'block {name} "Step test: {model.kind}{" with dead time" if delayed else ""}"',
        port("SignalIn", "u", input_unit, -100),
        port("SignalOut", "y", output_unit, 100),
        f'  parameter Real K = {model.gain!r} "Gain";',
    ]
    if model.time_constant:
        lines.append(f'  parameter Real T(unit="s") = {model.time_constant!r} "Time constant";')
    if model.kind == "second order":
        lines.append(f'  parameter Real zeta = {model.damping!r} "Damping ratio";')
    if delayed:
        lines.append(f'  parameter Real theta(unit="s") = {model.dead_time!r} "Dead time";')
    lines += [
        f'  parameter Real u_0{unit(input_unit)} = {model.input_base!r} "Input at rest";',
        f'  parameter Real y_0{unit(output_unit)} = {model.base!r} "Output at rest";',
        "protected",
        "  Real x(start=0, fixed=true);",
    ]
    if model.kind == "second order":
        lines += [
            "  Real v(start=0, fixed=true);",
            "equation",
            "  der(x) = v;",
            f"  T^2*der(v) + 2*zeta*T*v + x = K*({moved} - u_0);",
        ]
    elif model.kind == "first order":
        lines += ["equation", f"  T*der(x) + x = K*({moved} - u_0);"]
    else:
        lines += ["equation", f"  der(x) = K*({moved} - u_0);"]
    return "\n".join([*lines, "  y = y_0 + x;", f"end {name};"])
