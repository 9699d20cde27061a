"""A rig as one unit that contains its units: a co-simulation that couples them within its steps."""

from __future__ import annotations

import datetime
import hashlib
import re
import tempfile
import uuid
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from movrel import __version__
from movrel.couple.inner_units import InnerUnit, compiled_inner, foreign_unit, own_unit
from movrel.couple.order import acting_inputs
from movrel.couple.partition import UnitPart
from movrel.couple.recorded import start_of
from movrel.couple.rig import RigRun, prepare_rig, settings_of
from movrel.couple.rig_tables import RigTables, Shown
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError, did_you_mean
from movrel.exchange.fmi.compiled import CompiledUnit, compiled_unit
from movrel.exchange.fmi.compilers import compile_rig
from movrel.exchange.fmi.export import Exported, comment_and_symbol, export_unit
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.fmi.unit_files import (
    archive_of,
    base_units,
    documentation_page,
    name_types,
    terminals_of,
)
from movrel.exchange.fmi.unit_table import INPUT, described
from movrel.exchange.symbol_picture import picture_extent, symbol_picture
from movrel.fmi.compilers import available_platforms, own_platform
from movrel.fmi.description import Experiment, UnitDescription, UnitVariable, Unknown
from movrel.fmi.write_description import description_xml, terminals_xml
from movrel.model import expression as x
from movrel.model.expression import Variable
from movrel.model.flat import FlatEquation, FlatModel
from movrel.project.rig_settings import RigSettings
from movrel.session import LoadedModel
from movrel.sheet.elements import Icon

_BEFORE_START = 1


def unit_of_model(model: LoadedModel, options: ExportOptions) -> Exported:
    """Make a unit of any model: a rig, and an assembly with units of others in it, as one that couples what it holds.

    Raises :class:`MovrelError` for choices that do not go together, and a model that cannot be a unit.
    """
    settings = settings_of(model)
    if settings is None and not model.flat.units:
        return export_unit(model, options)
    options.check()
    if "cs" not in options.interfaces:
        raise MovrelError(
            "a unit that holds others is for co-simulation: it couples them within its steps.",
            hint="Choose co-simulation.",
        )
    step = options.step if options.solver == "fixed" else None
    if settings is None:
        parameters = parameter_values(model.flat, {})
        each = [float(x.evaluate(u.step, dict(parameters))) for u in model.flat.units]
        settings = RigSettings(step=min(each))
    run = prepare_rig(model, settings, options.settings, step=step)
    text, symbol = comment_and_symbol(model, options)
    return unit_of_rig(run, model.name, text, options, symbol)


def unit_of_rig(
    run: RigRun, name: str, comment: str, options: ExportOptions, symbol: Icon | None = None
) -> Exported:
    """The unit of a rig with the values of a run, which is used up: its parts become units.

    Raises :class:`MovrelError` for a part that cannot be within another unit, and where there is no compiler.
    """
    return _Builder(run, name, comment, options, symbol).build()


class _Builder:
    def __init__(
        self, run: RigRun, name: str, comment: str, options: ExportOptions, symbol: Icon | None
    ) -> None:
        self.run, self.rig, self.options = run, run.rig, options
        self.name, self.comment, self.symbol = name, comment, symbol
        self.owner = {v: part for part in self.rig.parts for v in part.variables}
        self.by_name = {v.name: v for v in (*self.owner, *self.rig.through)}
        self.notes: list[str] = []
        self._check()

    def _check(self) -> None:
        platform = own_platform()
        if platform not in available_platforms():
            raise MovrelError(
                "there is no compiler here, which a unit that holds others needs.",
                hint="Install the system's C compiler (package gcc).",
            )
        others = [p for p in self.options.platforms or () if p != platform]
        if others:
            raise MovrelError(
                f"a unit that holds others is made for the machine that it is made on, not for {', '.join(others)}.",
                hint="Leave the other platforms out, or write the rig as SSP.",
            )
        for name in sorted(self.options.outputs):
            if name not in self.by_name:
                raise MovrelError(
                    f"there is no variable '{name}' to become an output.",
                    hint=did_you_mean(name, self.by_name, ""),
                )
        if self.run.settings.error > 0:
            self.notes.append("The unit keeps the step of the rig, which is not varied in it.")

    def build(self) -> Exported:
        figures = compiled_unit(self._parameters(), ())
        settable = {
            v.name: v
            for v in figures.variables
            if v.causality == "parameter" and v.kind != "String"
        }
        units = self._units(set(settable), figures)
        tables = self._tables(units, settable)
        tables.shown = list(self._shown(tables, settable))
        for k, v in enumerate(tables.shown):
            v.described.reference = k
        sources = tables.files(self.options.version, "")
        token = self._token(sources, units)
        description = self._description(tables, token)
        files = {f"resources/{path}": content for u in units for path, content in u.files.items()}
        files["modelDescription.xml"] = description_xml(description)
        files |= self._beside(description)
        with tempfile.TemporaryDirectory() as made_in:
            folder = Path(made_in)
            (folder / "host").mkdir()
            for file, text in tables.files(self.options.version, token).items():
                (folder / file).write_text(text, encoding="utf-8")
            binary = compile_rig(folder, description.identifiers["cs"], self.options.version)
        files[binary.path] = binary.content
        if not description.outputs:
            self.notes.append("The unit has no outputs: say which variables are to become some.")
        return Exported(archive_of(files), description, self.notes)

    # --- what is in it ---

    def _parameters(self, worked_out: list[x.Expr] | None = None) -> FlatModel:
        """All parameters of the rig as a model of their own, with what is worked out from them."""
        flat = FlatModel(f"{self.rig.flat.name} parameters", experiment=self.rig.flat.experiment)
        flat.variables = [
            v for v in self.rig.flat.variables if v.variability in ("parameter", "constant")
        ]
        for k, e in enumerate(worked_out or ()):
            v = Variable(f"worked out {k + 1}")
            flat.variables.append(v)
            flat.equations.append(FlatEquation(x.var(v), e, None))
        return flat

    def _units(self, settable: set[str], figures: CompiledUnit) -> list[InnerUnit]:
        """The unit that works out parameters, then those of the parts, one after the other in memory."""
        wanted = {v.name for v in self.rig.results} | self.options.outputs

        def made(numbered: tuple[int, UnitPart]) -> InnerUnit:
            number, part = numbered
            if part.foreign is None:
                return own_unit(part, number, self.run.set_values, wanted)
            return foreign_unit(part, self.rig, number, self.run.parameters, settable, wanted)

        with ThreadPoolExecutor() as pool:
            units = list(pool.map(made, enumerate(self.rig.parts, 1)))
        worked_out = [e for u in units for e in u.worked_out.values()]
        if worked_out:
            figures = compiled_unit(
                self._parameters(worked_out),
                [f"worked out {k + 1}" for k in range(len(worked_out))],
            )
        names = [f"worked out {k + 1}" for k in range(len(worked_out))]
        first = compiled_inner(figures, "parameters", 0, [], names)
        units.insert(0, first)
        base = 0
        for u in units:
            u.base = base
            base += max(u.places.size, 1)
        return units

    def _tables(self, units: list[InnerUnit], settable: dict[str, UnitVariable]) -> RigTables:
        values = self.run.set_values
        parameters = [
            (name, float(values.get(name, v.start[0] if v.start else 0.0)))
            for name, v in settable.items()
        ]
        starts = [start_of(v, self.run.parameters) for v in self.rig.outer]
        o = self.run.options
        return RigTables(
            self.run.settings, units, self.rig.connections, self.rig.outer, parameters, starts,
            tolerance=o.tolerance, start=o.start, stop=o.stop,
        )  # fmt: skip

    # --- what is seen of it ---

    def _shown(self, tables: RigTables, settable: dict[str, UnitVariable]) -> Iterator[Shown]:
        clock = UnitVariable(
            "time", 0, "Real", "independent", "continuous", unit="s", description="Time"
        )
        yield Shown(clock, "MV_TIME")
        yield from self._shown_parameters(tables, settable)
        values = self.run.parameters
        for k, v in enumerate(self.rig.outer):
            variable = described(v, "input", values, tables.starts[k])
            at = len(tables.parameters) + k
            yield Shown(variable, "MV_PARAMETER", at, settable=INPUT)
        places = tables.place_of_signals()
        results = dict.fromkeys(
            [*self.rig.results, *(self.by_name[n] for n in sorted(self.options.outputs))]
        )
        for v in results:
            signal = self._signal(v, places)
            if signal is not None:
                signal.described = described(v, "output", values)
                signal.described.initial = "calculated"
                yield signal
        if self.options.sealed:
            return
        for u in tables.units:
            for s in u.signals:
                if s.variable is not None and s.variable not in results:
                    variable = described(s.variable, "local", values)
                    variable.initial = "calculated"
                    yield Shown(variable, "MV_SOLVED", places[s.variable])

    def _shown_parameters(
        self, tables: RigTables, settable: dict[str, UnitVariable]
    ) -> Iterator[Shown]:
        visible = self.options.parameters
        for name in sorted(visible or ()):
            if name not in settable:
                raise MovrelError(
                    f"there is no parameter '{name}' to stay visible.",
                    hint=did_you_mean(name, settable, ""),
                )
        for k, (name, value) in enumerate(tables.parameters):
            if visible is None or name in visible:
                variable = settable[name]
                variable.start = [value]
                yield Shown(variable, "MV_PARAMETER", k, settable=_BEFORE_START)

    def _signal(self, v: Variable, places: dict[Variable, int]) -> Shown | None:
        """Where an output of the rig comes from; None for one that nothing feeds."""
        empty = UnitVariable("", 0, "Real")
        if v in places:
            return Shown(empty, "MV_SOLVED", places[v])
        c = self.rig.through.get(v)
        if c is None or c.source not in places:
            self.notes.append(f"Nothing feeds the output '{v.name}', so it is left out.")
            return None
        return Shown(empty, "MV_SOLVED", places[c.source], c.factor, c.offset)

    # --- what it says of itself ---

    def _description(self, tables: RigTables, token: str) -> UnitDescription:
        variables = [v.described for v in tables.shown]
        name_types(variables)
        unknowns = self._unknowns(tables)
        o, units = self.run.options, tables.units
        d = UnitDescription(
            self.options.version, self.name, token, ("cs",), {"cs": re.sub(r"\W", "_", self.name.rpartition(".")[2])},
            variables, self.comment, tool=f"Movrel {__version__}",
            made=datetime.datetime.now(datetime.UTC).strftime("%Y-%m-%dT%H:%M:%SZ"),
            outputs=unknowns, initial_unknowns=[Unknown(u.reference) for u in unknowns], units=base_units(variables),
            experiment=Experiment(o.start, o.stop, o.tolerance, self.run.settings.step),
            flags={"cs": _flags(self.options.version, units)},
            log_categories={
                "logEvents": "Events of units in it",
                "logStatusWarning": "What units in it warn of",
                "logStatusError": "What made a call fail",
            },
        )  # fmt: skip
        d.terminals = terminals_of(variables) if self.options.symbol else []
        return d

    def _unknowns(self, tables: RigTables) -> list[Unknown]:
        """The outputs with the inputs on which they depend at the same instant."""
        places = tables.place_of_signals()
        at = {place: v for v, place in places.items()}
        feeds = {v: on for u in tables.units for v, on in u.feed_through.items()}
        acting = acting_inputs(list(places), self.rig.outer, self.rig.connections, feeds)
        reference = {v.described.name: v.described.reference for v in tables.shown}
        return [
            Unknown(
                v.described.reference,
                {reference[i.name]: "dependent" for i in acting[at[v.index]]},
            )
            for v in tables.shown
            if v.described.causality == "output"
        ]

    def _token(self, sources: dict[str, str], units: list[InnerUnit]) -> str:
        content = [
            sorted(sources.items()),
            [sorted((p, hashlib.sha256(c).hexdigest()) for p, c in u.files.items()) for u in units],
        ]
        digest = hashlib.sha256(repr((content, self.options.version)).encode()).digest()
        return f"{{{uuid.UUID(bytes=digest[:16], version=5)}}}"

    def _beside(self, d: UnitDescription) -> dict[str, bytes]:
        """Documentation and symbol."""
        files: dict[str, bytes] = {}
        if self.options.documentation:
            files["documentation/index.html"] = documentation_page(d).encode("utf-8")
        symbol = self.symbol if self.options.symbol else None
        if symbol is not None:
            place = "model.png" if d.version == 2 else "terminalsAndIcons/icon.png"
            files[place] = symbol_picture(symbol, self.name.rpartition(".")[2])
        if d.version == 3 and (d.terminals or symbol is not None):
            extent = picture_extent(symbol) if symbol is not None else None
            files["terminalsAndIcons/terminalsAndIcons.xml"] = terminals_xml(d, extent)
        return files


def _flags(version: int, units: list[InnerUnit]) -> dict[str, str]:
    """What the whole can do, which is no more than what each unit in it can."""
    varies = str(all(u.any_step for u in units)).lower()
    once = str(any(u.once for u in units)).lower()
    stores = str(all(u.stores for u in units)).lower()
    if version == 2:
        return {
            "canBeInstantiatedOnlyOncePerProcess": once, "canNotUseMemoryManagementFunctions": "true",
            "canGetAndSetFMUstate": stores, "canSerializeFMUstate": stores, "providesDirectionalDerivative": "false",
            "canHandleVariableCommunicationStepSize": varies, "canInterpolateInputs": "false",
            "maxOutputDerivativeOrder": "0", "canRunAsynchronuously": "false",
        }  # fmt: skip
    return {
        "canBeInstantiatedOnlyOncePerProcess": once, "canGetAndSetFMUState": stores, "canSerializeFMUState": stores,
        "providesDirectionalDerivatives": "false", "providesAdjointDerivatives": "false",
        "canHandleVariableCommunicationStepSize": varies, "maxOutputDerivativeOrder": "0",
        "providesIntermediateUpdate": "true", "mightReturnEarlyFromDoStep": "false",
        "canReturnEarlyAfterIntermediateUpdate": "true", "hasEventMode": "false",
    }  # fmt: skip
