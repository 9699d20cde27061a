"""A model as a unit: description, sources, binaries, documentation and symbol in one archive."""

from __future__ import annotations

import datetime
import hashlib
import html
import io
import re
import tempfile
import uuid
import zipfile
from dataclasses import dataclass, field
from pathlib import Path

from movrel import __version__
from movrel.errors import MovrelError, UnitFault
from movrel.exchange.fmi.c_sources import c_sources, with_token
from movrel.exchange.fmi.compilers import compile_unit
from movrel.exchange.fmi.export_options import ExportOptions, LogKind
from movrel.exchange.fmi.model_structure import model_structure
from movrel.exchange.fmi.unit_graphs import UnitGraphs, indicator_count, unit_graphs
from movrel.exchange.fmi.unit_table import UnitTable, unit_table
from movrel.exchange.symbol_picture import picture_extent, symbol_picture
from movrel.fmi.compilers import available_platforms, own_platform
from movrel.fmi.description import (
    BaseUnit,
    Experiment,
    Interface,
    Terminal,
    UnitDescription,
)
from movrel.fmi.write_description import (
    build_description_xml,
    description_xml,
    terminals_xml,
)
from movrel.model import expression as x
from movrel.model.flat import FlatModel
from movrel.model.flatten import flatten_model
from movrel.session import LoadedModel
from movrel.sheet.elements import Icon
from movrel.sheet.symbols import icon
from movrel.units import display_scale, unit

_BASES = ("m", "kg", "s", "A", "K", "mol", "cd")
#: The time that stands in all archives, so that the same model gives the same bytes.
_TIMESTAMP = (2026, 1, 1, 0, 0, 0)
_LOG_CATEGORIES: dict[LogKind, tuple[str, str]] = {
    "events": ("logEvents", "What happens at events"),
    "steps": ("logSteps", "Each step of the solver in co-simulation"),
    "warnings": ("logStatusWarning", "Assertions that are warnings"),
}


@dataclass(slots=True)
class Exported:
    """A unit as bytes, with its description and what is to be said about it."""

    archive: bytes
    description: UnitDescription
    notes: list[str] = field(default_factory=list)


def export_unit(model: LoadedModel, options: ExportOptions) -> Exported:
    """Make a unit of a model.

    Raises :class:`MovrelError` for choices that do not go together, a model that cannot be a unit, and a
    platform without a compiler.
    """
    settings = {name: x.const(value) for name, value in options.settings.items()}
    flat = flatten_model(model.tree, model.definition, settings)
    comment = model.definition.node.comment
    symbol = icon(model.tree, model.definition) if options.symbol else None
    text = comment if isinstance(comment, str) else ""
    return export_flat(flat, model.name, text, options, symbol)


def export_flat(
    flat: FlatModel, name: str, comment: str, options: ExportOptions, symbol: Icon | None = None
) -> Exported:
    """Make a unit of a flat model, which must be one's own: it is changed. Raises like :func:`export_unit`."""
    options.check()
    graphs = unit_graphs(flat)
    table = unit_table(graphs, options)
    identifier = re.sub(r"\W", "_", name.rpartition(".")[2])
    sources = c_sources(graphs, table, options)
    token = _token(sources, options)
    sources = with_token(sources, token)
    description = _description(name, comment, graphs, table, options, identifier, token)
    files: dict[str, bytes] = {"modelDescription.xml": description_xml(description)}
    notes: list[str] = []
    platforms = options.platforms
    if platforms is None:
        platforms = (own_platform(),) if own_platform() in available_platforms() else ()
        if not platforms:
            notes.append(
                "There is no compiler here, so the unit holds its sources and no binary: install the system's C compiler "
                "or the package ziglang, or have the sources compiled by whoever uses the unit."
            )
            if options.sealed:
                raise MovrelError(
                    "a sealed unit has no sources, and there is no compiler for a binary.",
                    hint="Install the system's C compiler or the package ziglang, or export an open unit.",
                )
    with tempfile.TemporaryDirectory() as made_in:
        folder = Path(made_in)
        for file, text in sources.items():
            (folder / file).write_text(text, encoding="utf-8")
        for wanted in platforms:
            binary = compile_unit(folder, identifier, options.version, wanted)
            files[binary.path] = binary.content
    if not options.sealed:
        files |= {f"sources/{file}": text.encode("utf-8") for file, text in sources.items()}
        if options.version == 3:
            files["sources/buildDescription.xml"] = build_description_xml(identifier)
    if options.documentation:
        files["documentation/index.html"] = _page(description).encode("utf-8")
    if symbol is not None:
        place = "model.png" if options.version == 2 else "terminalsAndIcons/icon.png"
        files[place] = symbol_picture(symbol, name.rpartition(".")[2])
    if options.version == 3 and (description.terminals or symbol is not None):
        extent = picture_extent(symbol) if symbol is not None else None
        files["terminalsAndIcons/terminalsAndIcons.xml"] = terminals_xml(description, extent)
    if not description.outputs:
        notes.append("The unit has no outputs: say which variables are to become some.")
    return Exported(_archive(files), description, notes)


def _archive(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in sorted(files):
            entry = zipfile.ZipInfo(name, _TIMESTAMP)
            entry.compress_type = zipfile.ZIP_DEFLATED
            entry.external_attr = 0o644 << 16
            archive.writestr(entry, files[name])
    return out.getvalue()


def _token(sources: dict[str, str], options: ExportOptions) -> str:
    """The same for the same model and choices, another one for any other."""
    digest = hashlib.sha256(
        repr((sorted(sources.items()), options.version, options.interfaces)).encode()
    ).digest()
    made = uuid.UUID(bytes=digest[:16], version=5)
    return f"{{{made}}}"


def _description(
    name: str,
    comment: str,
    graphs: UnitGraphs,
    table: UnitTable,
    options: ExportOptions,
    identifier: str,
    token: str,
) -> UnitDescription:
    outputs, derivatives, initial = model_structure(graphs, table)
    _name_types(table)
    experiment = graphs.flat.experiment
    interfaces: tuple[Interface, ...] = tuple(i for i in ("me", "cs") if i in options.interfaces)
    d = UnitDescription(
        version=options.version,
        name=name,
        token=token,
        interfaces=interfaces,
        identifiers=dict.fromkeys(interfaces, identifier),
        variables=table.listed,
        description=comment,
        tool=f"Movrel {__version__}",
        made=datetime.datetime.now(datetime.UTC).strftime("%Y-%m-%dT%H:%M:%SZ"),
        event_indicators=indicator_count(graphs),
        indicators=[r for r in table.indicators if table.entries[r].length],
        outputs=outputs,
        derivatives=derivatives,
        initial_unknowns=initial,
        units=_units(table),
        experiment=Experiment(
            experiment.start, experiment.stop, experiment.tolerance, experiment.interval
        ),
        flags={i: _flags(options.version, i, options) for i in interfaces},
        log_categories=_log_categories(options),
        sources={} if options.sealed else {i: ["all.c"] for i in interfaces},
    )
    d.terminals = _terminals(table) if options.symbol else []
    return d


def _log_categories(options: ExportOptions) -> dict[str, str]:
    """The chosen categories with their descriptions; errors are always among them."""
    chosen = (pair for kind, pair in _LOG_CATEGORIES.items() if kind in options.log)
    return {**dict(chosen), "logStatusError": "What made a call fail"}


def _flags(version: int, interface: Interface, options: ExportOptions) -> dict[str, str]:
    """Capabilities, each of which the runtime has."""
    if version == 2:
        flags = {
            "canBeInstantiatedOnlyOncePerProcess": "false", "canNotUseMemoryManagementFunctions": "true",
            "canGetAndSetFMUstate": "true", "canSerializeFMUstate": "true", "providesDirectionalDerivative": "true",
        }  # fmt: skip
        if interface == "me":
            return flags | {"completedIntegratorStepNotNeeded": "false"}
        return flags | {
            "canHandleVariableCommunicationStepSize": "true", "canInterpolateInputs": "false",
            "maxOutputDerivativeOrder": "0", "canRunAsynchronuously": "false",
        }  # fmt: skip
    flags = {
        "canBeInstantiatedOnlyOncePerProcess": "false", "canGetAndSetFMUState": "true", "canSerializeFMUState": "true",
        "providesDirectionalDerivatives": "true", "providesAdjointDerivatives": "true",
        "providesPerElementDependencies": "false",
    }  # fmt: skip
    if interface == "me":
        return flags | {
            "needsCompletedIntegratorStep": "true",
            "providesEvaluateDiscreteStates": "false",
        }
    return flags | {
        "canHandleVariableCommunicationStepSize": "true", "maxOutputDerivativeOrder": "0",
        "providesIntermediateUpdate": "true", "mightReturnEarlyFromDoStep": "false",
        "canReturnEarlyAfterIntermediateUpdate": "true", "hasEventMode": "false",
    }  # fmt: skip


def _name_types(table: UnitTable) -> None:
    """Types for quantities with their units, and for enumerations."""
    enumerations: dict[tuple[str, ...], str] = {}
    quantities: dict[tuple[str, str], str] = {}
    for v in table.listed:
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


def _units(table: UnitTable) -> list[BaseUnit]:
    """The units of all variables in base units of the SI, with the units in which values are shown."""
    made: dict[str, BaseUnit] = {}
    for v in table.listed:
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


def _terminals(table: UnitTable) -> list[Terminal]:
    """Inputs and outputs that belong to one connector, such as ``bus.speed`` and ``bus.torque``."""
    groups: dict[str, dict[str, str]] = {}
    for v in table.listed:
        owner, _, member = v.name.rpartition(".")
        if v.causality in ("input", "output") and owner:
            groups.setdefault(owner, {})[member] = v.name
    return [Terminal(name, "movrel.connector", members) for name, members in groups.items()]


def _page(d: UnitDescription) -> str:
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
