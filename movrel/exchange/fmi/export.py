"""A model as a unit: description, sources, binaries, documentation and symbol in one archive."""

from __future__ import annotations

import datetime
import hashlib
import re
import tempfile
import uuid
from dataclasses import dataclass, field
from pathlib import Path

from movrel import __version__
from movrel.errors import MovrelError
from movrel.exchange.fmi.c_sources import c_sources, with_token
from movrel.exchange.fmi.compilers import compile_unit
from movrel.exchange.fmi.export_options import ExportOptions, LogKind
from movrel.exchange.fmi.model_structure import model_structure
from movrel.exchange.fmi.unit_files import (
    archive_of,
    base_units,
    documentation_page,
    name_types,
    terminals_of,
)
from movrel.exchange.fmi.unit_graphs import UnitGraphs, indicator_count, unit_graphs
from movrel.exchange.fmi.unit_table import UnitTable, unit_table
from movrel.exchange.symbol_picture import picture_extent, symbol_picture
from movrel.fmi.compilers import available_platforms, own_platform
from movrel.fmi.description import Experiment, Interface, UnitDescription
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
    text, symbol = comment_and_symbol(model, options)
    return export_flat(flat, model.name, text, options, symbol)


def comment_and_symbol(model: LoadedModel, options: ExportOptions) -> tuple[str, Icon | None]:
    """What the description of a unit says of the model, and its symbol where that is wanted."""
    comment = model.definition.node.comment
    symbol = icon(model.tree, model.definition) if options.symbol else None
    return comment if isinstance(comment, str) else "", symbol


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
        files["documentation/index.html"] = documentation_page(description).encode("utf-8")
    if symbol is not None:
        place = "model.png" if options.version == 2 else "terminalsAndIcons/icon.png"
        files[place] = symbol_picture(symbol, name.rpartition(".")[2])
    if options.version == 3 and (description.terminals or symbol is not None):
        extent = picture_extent(symbol) if symbol is not None else None
        files["terminalsAndIcons/terminalsAndIcons.xml"] = terminals_xml(description, extent)
    if not description.outputs:
        notes.append("The unit has no outputs: say which variables are to become some.")
    return Exported(archive_of(files), description, notes)


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
    name_types(table.listed)
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
        units=base_units(table.listed),
        experiment=Experiment(
            experiment.start, experiment.stop, experiment.tolerance, experiment.interval
        ),
        flags={i: _flags(options.version, i, options) for i in interfaces},
        log_categories=_log_categories(options),
        sources={} if options.sealed else {i: ["all.c"] for i in interfaces},
    )
    d.terminals = terminals_of(table.listed) if options.symbol else []
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
