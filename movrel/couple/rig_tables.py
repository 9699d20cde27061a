"""The C text of a unit that holds others: tables that its runtime reads."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from movrel.couple.inner_units import InnerUnit
from movrel.couple.network import is_smooth
from movrel.couple.order import Order
from movrel.couple.partition import Connection
from movrel.exchange.fmi.c_sources import RUNTIME, c_array, c_number, c_text, with_token
from movrel.fmi.description import UnitVariable
from movrel.fmi.host_program import SOURCES as HOST
from movrel.model.expression import Variable
from movrel.project.rig_settings import RigSettings

_INPUTS = {"held": "RIG_HELD", "extrapolated": "RIG_EXTRAPOLATED", "smoothed": "RIG_SMOOTHED"}
_RIG = ("rig_units.c", "exchanged.c", "rig.c")
_TYPES = {"Real": 0, "Integer": 1, "Boolean": 2, "Enumeration": 3}


@dataclass(slots=True)
class Shown:
    """A variable of the whole with where its value is: ``kind`` is a source of the runtime, of signals scaled and shifted."""

    described: UnitVariable
    kind: str
    index: int = 0
    factor: float = 1.0
    offset: float = 0.0
    settable: int = 0


@dataclass(slots=True)
class RigTables:
    """All that the runtime reads; the first unit works out parameters and is not coupled."""

    settings: RigSettings
    units: list[InnerUnit]
    connections: Sequence[Connection]
    inputs: Sequence[Variable]
    parameters: list[tuple[str, float]]
    starts: list[float]
    shown: list[Shown] = field(default_factory=list)
    #: The tolerance and the times of the default experiment.
    tolerance: float = 1e-6
    start: float = 0.0
    stop: float = 1.0

    @property
    def stores(self) -> bool:
        """Whether its state can be kept, which that of each unit then can."""
        return all(u.stores for u in self.units)

    def place_of_signals(self) -> dict[Variable, int]:
        """The number of each signal by its variable, the inputs of the rig behind those of the units."""
        places: dict[Variable, int] = {}
        count = 0
        for u in self.units:
            for s in u.signals:
                if s.variable is not None:
                    places[s.variable] = count
                count += 1
        return places | {v: count + k for k, v in enumerate(self.inputs)}

    def files(self, version: int, token: str) -> dict[str, str]:
        """All sources by their names; ``all.c`` and what stands in ``host`` are to be compiled."""
        names = ["unit.h", "rig.h", f"fmi{version}.h", "rodas.h", "log.c", *_RIG, f"fmi{version}.c"]
        files = {name: (RUNTIME / name).read_text(encoding="utf-8") for name in names}
        files |= {
            f"host/{p.name}": p.read_text(encoding="utf-8")
            for p in HOST.glob("*.[ch]")
            if p.name != "process.c"
        }
        files["tables.h"] = self.text()
        order = ["unit.h", "rig.h", "tables.h", "log.c", *_RIG, f"fmi{version}.c"]
        files["all.c"] = "".join(f'#include "{name}"\n' for name in order)
        return with_token(files, token)

    def text(self) -> str:
        """The tables."""
        signals = self.place_of_signals()
        links = self._links(signals)
        order = Order(self.connections, self.units[1:])
        groups, listed = self._groups(order)
        targets = self._targets()
        transfers = self._transfers()
        numbers = self._numbers()
        count = sum(len(u.signals) for u in self.units) + len(self.inputs)
        loop = max((sum(len(self.units[k + 1].outputs) for k in g) for g in order.loops), default=1)
        s = self.settings
        goes_back = all(u.restores for u in self.units) and max(self._multiples(), default=1) == 1
        defined: list[tuple[str, object]] = [
            ("NX", 0), ("NY", count), ("NINDICATOR", 0), ("NTEXT", 0), ("MV_KINDS", 2), ("MV_LOGGED", "13u"),
            ("NVARIABLE", len(self.shown)), ("NP", len(self.parameters) + len(self.inputs)),
            ("NINPUT", len(self.inputs)), ("NUNIT", len(self.units)), ("NNUMBER", len(numbers)),
            ("NSIGNAL", count), ("NLOOP", max(loop, 1)), ("NGROUP", len(groups)), ("NORDER", len(listed)),
            ("NTARGET", len(targets)), ("NTRANSFER", len(transfers)),
            ("RIG_STEP", c_number(s.step)), ("RIG_LOOPS", c_number(s.loops)), ("RIG_INPUTS", _INPUTS[s.inputs]),
            ("RIG_SEQUENTIAL", int(s.order == "sequential")), ("RIG_GOES_BACK", int(goes_back)),
            ("RIG_STATES", max(u.places.states for u in self.units)),
            ("RIG_STORES", int(self.stores)),
            ("MV_TOLERANCE", c_number(self.tolerance)), ("MV_START", c_number(self.start)), ("MV_STOP", c_number(self.stop)),
        ]  # fmt: skip
        lines = ["/* Sizes and tables of this rig. */\n"]
        lines += [f"#define {name} {value}\n" for name, value in defined]
        lines.append("enum { MV_REAL, MV_INTEGER, MV_BOOLEAN, MV_ENUMERATION };\n")
        starts = [value for _, value in self.parameters] + self.starts
        places = [str(u.base + s.place) for u in self.units for s in u.signals]
        rows = ",\n  ".join(self._units(links))
        lines += [
            f"static const RigUnit rig_units[] = {{\n  {rows}\n}};\n",
            c_array("RigLink", "rig_links", [row for each in links for row in each], "{0, 0, 0, 0, 0.0, 0.0}"),
            c_array("RigGroup", "rig_groups", groups, "{0, 0, 0, 0}"),
            c_array("int", "rig_order", [str(k) for k in listed], "0"),
            c_array("int", "rig_signal_place", places, "0"),
            c_array("RigTarget", "rig_targets", targets, "{0, 0}"),
            c_array("RigTransfer", "rig_transfers", transfers, "{0, 0}"),
            c_array("double", "rig_numbers", [c_number(n) for n in numbers], "0.0"),
            c_array("double", "mv_default_p", [c_number(n) for n in starts], "0.0"),
            c_array("double", "mv_nominal", [], "1.0"),
            c_array("MvVariable", "mv_variables", [_entry(v) for v in self.shown], ""),
            c_array("char *const", "mv_variable_names", [c_text(v.described.name) for v in self.shown], ""),
            c_array("int", "mv_length", ["1" for _ in self.shown], ""),
            c_array("int", "mv_type", [str(_TYPES[v.described.kind]) for v in self.shown], ""),
            c_array("char *const", "mv_texts", [], "NULL"),
        ]  # fmt: skip
        return "".join(lines)

    def _multiples(self) -> list[int]:
        return [self.settings.multiples.get(u.name, 1) for u in self.units]

    def _links(self, signals: Mapping[Variable, int]) -> list[list[str]]:
        """The signals into each unit."""
        fed = {c.target: c for c in self.connections}
        rows: list[list[str]] = []
        for u in self.units:
            own: list[str] = []
            for v in u.inputs:
                c = fed.get(v)
                if c is None:
                    continue
                # What an importer gives is held, as it says nothing of how that goes on.
                smooth = int(is_smooth(c) and c.source not in self.inputs)
                own.append(
                    f"{{{u.base + u.input_places[v]}, {signals[c.source]}, {smooth}, {u.references.get(v, 0)}u, "
                    f"{c_number(c.factor)}, {c_number(c.offset)}}}"
                )
            rows.append(own)
        return rows

    def _groups(self, order: Order) -> tuple[list[str], list[int]]:
        feeds = [g for g, _ in order.at_points]
        rows: list[str] = []
        listed: list[int] = []
        for g in order.groups:
            rows.append(f"{{{len(listed)}, {len(g)}, {int(g in order.loops)}, {int(g in feeds)}}}")
            listed += [k + 1 for k in g]
        return rows, listed

    def _targets(self) -> list[str]:
        return [
            f"{{{k}, {u.base + place}}}"
            for k, (name, _) in enumerate(self.parameters)
            for u in self.units
            for place in u.parameter_places.get(name, ())
        ]

    def _transfers(self) -> list[str]:
        """What the first unit works out, in the order in which its signals stand."""
        wanted = [u.base + place for u in self.units[1:] for place in u.worked_out]
        first = self.units[0]
        return [
            f"{{{to}, {first.base + s.place}}}" for to, s in zip(wanted, first.signals, strict=True)
        ]

    def _numbers(self) -> list[float]:
        numbers = [0.0] * (self.units[-1].base + max(self.units[-1].places.size, 1))
        for u in self.units:
            for place, value in u.begins.items():
                numbers[u.base + place] = value
        return numbers

    def _units(self, links: Sequence[Sequence[str]]) -> Iterable[str]:
        signal = link = 0
        for u, multiple, own in zip(self.units, self._multiples(), links, strict=True):
            before, after = u.around_library()
            texts = ", ".join(c_text(t) for t in (u.name, u.token, u.library, u.resources))
            blobs = ", ".join(_bytes(b) for b in (before, after, u.categories, u.texts))
            flags = ", ".join(
                str(int(f)) for f in (u.events, u.may_return, u.takes_slopes, u.stateful)
            )
            p = u.places
            at = ", ".join(str(u.base + p.at[name][0]) for name in ("clock", "x", "dx", "z"))
            yield (
                f"{{{texts}, {blobs}, {flags}, {multiple}, {int(u.exchanged)}, {p.states}, {p.indicators}, {u.base}, {at}, "
                f"{signal}, {len(u.signals)}, "
                f"{len(u.outputs)}, {link}, {len(own)}}}"
            )
            signal, link = signal + len(u.signals), link + len(own)


def _entry(v: Shown) -> str:
    factor, offset = c_number(v.factor), c_number(v.offset)
    return f"{{{v.kind}, {v.index}, {factor}, {offset}, -1, {v.settable}}}"


def _bytes(content: bytes) -> str:
    if not content:
        return "{NULL, 0}"
    text = "".join(f"\\{b:03o}" for b in content)
    return f'{{(const unsigned char *)"{text}", {len(content)}}}'
