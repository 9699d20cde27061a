"""What stands in the archive of a unit besides its code: names of types, units, terminals, a page about it."""

from __future__ import annotations

import html
import io
import zipfile

from movrel.errors import UnitFault
from movrel.fmi.description import BaseUnit, Terminal, UnitDescription, UnitVariable
from movrel.units import display_scale, unit

_BASES = ("m", "kg", "s", "A", "K", "mol", "cd")
#: The time that stands in all archives, so that the same model gives the same bytes.
_TIMESTAMP = (2026, 1, 1, 0, 0, 0)


def archive_of(files: dict[str, bytes]) -> bytes:
    """The files by their paths as one archive."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in sorted(files):
            entry = zipfile.ZipInfo(name, _TIMESTAMP)
            entry.compress_type = zipfile.ZIP_DEFLATED
            entry.external_attr = 0o644 << 16
            archive.writestr(entry, files[name])
    return out.getvalue()


def name_types(variables: list[UnitVariable]) -> None:
    """Types for quantities with their units, and for enumerations."""
    enumerations: dict[tuple[str, ...], str] = {}
    quantities: dict[tuple[str, str], str] = {}
    for v in variables:
        if v.kind == "Enumeration":
            v.declared_type = enumerations.setdefault(
                v.enumeration, f"Enumeration{len(enumerations) + 1}"
            )
        elif v.kind == "Real" and v.quantity:
            key = (v.quantity, v.unit)
            namesakes = sum(q == v.quantity for q, _ in quantities)
            v.declared_type = quantities.setdefault(
                key, v.quantity + (f"{namesakes + 1}" if namesakes else "")
            )


def base_units(variables: list[UnitVariable]) -> list[BaseUnit]:
    """The units of all variables in base units of the SI, with the units in which values are shown."""
    made: dict[str, BaseUnit] = {}
    for v in variables:
        if not v.unit:
            v.display_unit = ""
            continue
        if v.unit not in made:
            base = BaseUnit(v.unit)
            try:
                si = unit(v.unit)
            except UnitFault:
                si = None
            if si is not None and all(power.denominator == 1 for power in si.dimension):
                base.powers = {b: int(p) for b, p in zip(_BASES, si.dimension, strict=True) if p}
                base.factor, base.offset = si.factor, si.offset
            made[v.unit] = base
        if v.display_unit:
            try:
                if unit(v.display_unit).dimension != unit(v.unit).dimension:
                    raise UnitFault("another quantity")
            except UnitFault:
                v.display_unit = ""
                continue
            made[v.unit].displays.setdefault(v.display_unit, display_scale(v.unit, v.display_unit))
    return list(made.values())


def terminals_of(variables: list[UnitVariable]) -> list[Terminal]:
    """Inputs and outputs that belong to one connector, such as ``bus.speed`` and ``bus.torque``."""
    groups: dict[str, dict[str, str]] = {}
    for v in variables:
        owner, _, member = v.name.rpartition(".")
        if v.causality in ("input", "output") and owner:
            groups.setdefault(owner, {})[member] = v.name
    return [Terminal(name, "movrel.connector", members) for name, members in groups.items()]


def documentation_page(d: UnitDescription) -> str:
    """The documentation page: what the unit is, its parameters, inputs and outputs."""

    def rows(causality: str) -> str:
        return "".join(
            f"<tr><td><code>{html.escape(v.name)}</code></td>"
            f"<td>{html.escape(' '.join(str(s) for s in (v.start or [])))} {html.escape(v.unit)}</td>"
            f"<td>{html.escape(v.description)}</td></tr>"
            for v in d.variables
            if v.causality == causality
        )

    tables = "".join(
        f"<h2>{title}</h2><table><tr><th>name</th><th>value</th><th>meaning</th></tr>{rows(causality)}</table>"
        for title, causality in (
            ("Parameters", "parameter"),
            ("Inputs", "input"),
            ("Outputs", "output"),
        )
        if rows(causality)
    )
    return (
        '<!DOCTYPE html><html lang="en"><head><meta charset="utf-8">'
        f"<title>{html.escape(d.name)}</title><style>body{{font-family:sans-serif;max-width:60em;margin:2em auto}}"
        "td,th{text-align:left;padding:0.2em 1em 0.2em 0;vertical-align:top}</style></head><body>"
        f"<h1>{html.escape(d.name)}</h1><p>{html.escape(d.description)}</p>"
        f"<p>FMI {d.version}.0, for {' and '.join({'me': 'model exchange', 'cs': 'co-simulation'}[i] for i in d.interfaces)}.</p>"
        f"{tables}</body></html>"
    )
