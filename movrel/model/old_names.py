"""Names that classes and parameters of the component library had before: they stay readable.

A model that uses an old name means the present class or parameter; :mod:`movrel.edits.present_names` writes the
present name into its text when its author agrees.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import TypeVar

T = TypeVar("T")

#: By package of the library: old names of classes, and the present ones.
CLASSES: dict[str, dict[str, str]] = {
    "Movrel.Signals": {
        "RealInput": "SignalIn", "RealOutput": "SignalOut", "BooleanInput": "LogicIn", "BooleanOutput": "LogicOut",
        "TimeTable": "PointTable",
    },
    "Movrel.Rotational": {
        "Flange": "Shaft", "Fixed": "HeldShaft", "PrescribedAngle": "DrivenAngle", "PrescribedSpeed": "DrivenSpeed",
        "Torque": "DrivenTorque", "IdealGear": "Gear", "LossyGear": "GearWithLosses", "BearingFriction": "Bearing",
        "OneWayClutch": "FreeWheel", "SpeedSensor": "Tachometer", "AngleSensor": "Encoder", "AccelerationSensor": "Accelerometer",
        "TorqueSensor": "Dynamometer", "PowerSensor": "PowerMeter",
    },
    "Movrel.Translational": {
        "Fixed": "HeldRod", "PrescribedPosition": "DrivenPosition", "PrescribedSpeed": "DrivenSpeed", "Force": "DrivenForce",
        "SpeedSensor": "Speedometer", "PositionSensor": "DisplacementGauge", "AccelerationSensor": "Accelerometer",
        "ForceSensor": "ForceGauge", "PowerSensor": "PowerMeter",
    },
    "Movrel.Electrical": {
        "Pin": "Terminal", "TwoPin": "TwoTerminals", "SignalVoltage": "DrivenVoltage", "SignalCurrent": "DrivenCurrent",
        "SineVoltage": "AlternatingVoltage", "PulseVoltage": "RectangularVoltage", "HeatingResistor": "ResistorWithHeat",
    },
    "Movrel.Thermal": {
        "HeatPort": "ThermalNode", "FixedTemperature": "HeldTemperature", "PrescribedTemperature": "DrivenTemperature",
        "HeatSource": "DrivenHeat", "TemperatureSensor": "Thermometer", "HeatFlowSensor": "HeatMeter",
    },
    "Movrel.Process": {"FlowSensor": "FlowMeter", "LevelSensor": "LevelGauge", "PressureSensor": "PressureGauge"},
    "Movrel.Process.Mixtures": {"MixtureSensor": "MixtureAnalyser"},
}  # fmt: skip
#: By class: old names of parameters, and the present ones.
PARAMETERS: dict[str, dict[str, str]] = {
    "Movrel.Signals.Step": {"time_of_step": "delay"},
    "Movrel.Signals.DeadBand": {"upper": "u_max", "lower": "u_min"},
    "Movrel.Signals.SetPointProfile": {"from": "y_start", "to": "y_end"},
    "Movrel.Electrical.PermanentMagnetMotor": {"T_limit": "T_max"},
}


_OLD_PARAMETERS = {name for names in PARAMETERS.values() for name in names}


def present_class(package: str, name: str) -> str | None:
    """The present name of a class of a package, or None where the name is no old one."""
    return CLASSES.get(package, {}).get(name)


def present_parameter(qualified: str, name: str) -> str:
    """The present name of a parameter of a class; the name itself where it is no old one."""
    return PARAMETERS.get(qualified, {}).get(name, name)


def present_member(classes: Iterable[str], name: str) -> str:
    """The present name of a member of an instance that consists of these classes."""
    if name in _OLD_PARAMETERS:
        return next((p for c in classes if (p := present_parameter(c, name)) != name), name)
    return name


def with_present_names(qualified: str, given: Mapping[str, T]) -> dict[str, T]:
    """What is given by parameter, under the present names of these."""
    return {present_parameter(qualified, name): value for name, value in given.items()}
