"""A flat model compiled for this machine, to be stepped in this very process; what was compiled once is kept."""

from __future__ import annotations

import hashlib
from collections.abc import Collection
from dataclasses import dataclass
from pathlib import Path

from movrel.errors import MovrelError
from movrel.exchange.fmi.c_sources import c_sources, with_token
from movrel.exchange.fmi.compilers import compile_unit
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.fmi.model_structure import model_structure
from movrel.exchange.fmi.unit_graphs import unit_graphs
from movrel.exchange.fmi.unit_table import Source, unit_table
from movrel.fmi.compilers import available_platforms, own_platform
from movrel.fmi.description import UnitDescription, UnitVariable
from movrel.fmi.kept_binaries import kept_binary
from movrel.model.flat import FlatModel

#: What the compiled unit is called inside.
IDENTIFIER = "own"


@dataclass(frozen=True, slots=True)
class CompiledUnit:
    """A library for co-simulation (FMI 2), its variables with where their values come from, and its direct feed-through."""

    library: Path
    description: UnitDescription
    variables: list[UnitVariable]
    sources: list[Source]
    #: For each output the inputs on which it depends at the same instant.
    feed_through: dict[str, set[str]]


def compiled_unit(flat: FlatModel, outputs: Collection[str]) -> CompiledUnit:
    """Compile a flat model, which must be one's own: it is changed.

    Raises :class:`MovrelError` for a model that cannot be a unit, and where there is no compiler.
    """
    platform = own_platform()
    if platform not in available_platforms():
        raise MovrelError(
            "there is no compiler here, which a rig needs for its own models.",
            hint="Install the system's C compiler (package gcc).",
        )
    for v in flat.variables:
        v.protected = False
    options = ExportOptions(version=2, interfaces=("cs",), outputs=frozenset(outputs))
    graphs = unit_graphs(flat)
    table = unit_table(graphs, options)
    unknowns, _, _ = model_structure(graphs, table)
    sources = with_token(c_sources(graphs, table, options), "own")
    digest = hashlib.sha256(repr(sorted(sources.items())).encode()).hexdigest()
    d = UnitDescription(
        2, flat.name, "own", ("cs",), {"cs": IDENTIFIER}, table.listed, outputs=unknowns
    )
    by_reference = {e.variable.reference: e.variable for e in table.entries}
    feed_through = {
        by_reference[u.reference].name: {
            by_reference[r].name
            for r in (u.dependencies or {})
            if by_reference[r].causality == "input"
        }
        for u in unknowns
    }
    return CompiledUnit(
        _library(digest, sources, platform),
        d,
        [e.variable for e in table.entries],
        [e.source for e in table.entries],
        feed_through,
    )


def _library(digest: str, sources: dict[str, str], platform: str) -> Path:
    """The compiled sources, from the folder in which they are kept."""

    def make(folder: Path) -> Path:
        for file, text in sources.items():
            (folder / file).write_text(text, encoding="utf-8")
        made = compile_unit(folder, IDENTIFIER, 2, platform)
        whole = folder / "whole"
        whole.write_bytes(made.content)
        return whole

    return kept_binary(f"{digest}.so", make)
