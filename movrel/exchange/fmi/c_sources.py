"""The C text of a unit: functions of the model by CasADi's code generation, and tables that the runtime reads."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable, Sequence
from itertools import accumulate
from pathlib import Path

import casadi as ca

from movrel.equations.graphs import vector
from movrel.equations.judging import about_parameters
from movrel.equations.symbolic import Compiled, Symbolic
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.fmi.unit_graphs import (
    OpenBlock,
    ParameterExpressions,
    UnitGraphs,
    open_blocks,
    said,
    symbols,
    timed_slots,
)
from movrel.exchange.fmi.unit_table import Source, UnitTable
from movrel.model import expression as x
from movrel.model.expression import Variable
from movrel.model.flat import Assertion

RUNTIME = Path(__file__).parent / "runtime"
#: Files of the runtime in the order in which they are read, for each version of the standard.
RUNTIME_FILES = {
    2: ("unit.h", "fmi2.h", "rodas.h", "log.c", "delay.c", "unit.c", "solver.c", "fmi2.c"),
    3: ("unit.h", "fmi3.h", "rodas.h", "log.c", "delay.c", "unit.c", "solver.c", "fmi3.c"),
}
#: The functions of the model that are called in every step, and the others.
MODEL_FILES = ("model.c", "seldom.c")
_FUNCTION = re.compile(r"/\* (\w+):\([^\n]*\*/\nstatic int (casadi_f\d+)\((.*?)\n}\n", re.S)
#: Functions that are not called in every step: compilers that can are told to spend no time on them.
_SELDOM = ("forward", "reverse", "start", "bind", "guess", "samples", "limits", "delay_times")
_SELDOM_MACRO = """#if defined(__GNUC__) && !defined(__clang__)
#define MV_SELDOM __attribute__((optimize("O0")))
#else
#define MV_SELDOM
#endif
#ifndef MV_LINKAGE
#define MV_LINKAGE static
#endif
"""
_SIGNATURE = "const double **arg, double **res, long long int *iw, double *w, int mem"
_READ = re.compile(r"arg\[(\d+)\]\? arg\[\1\]\[(\d+)\] : 0")
_WRITE = re.compile(r"if \(res\[(\d+)\]!=0\) res\[\1\]")
_TYPES = {"Real": 0, "Integer": 1, "Boolean": 2, "Enumeration": 3}


def c_sources(unit: UnitGraphs, table: UnitTable, options: ExportOptions) -> dict[str, str]:
    """The files of the ``sources`` folder by name, but for the token (see :func:`with_token`); ``all.c`` is the one to
    compile.

    With ``MV_SEPARATE`` it has the model's functions declared only, whose files are compiled beside it then.
    """
    functions = _functions(unit)
    seldom = [f for f in functions.compiled if f.name().startswith(_SELDOM)]
    often = [f for f in functions.compiled if not f.name().startswith(_SELDOM)]
    parts = {
        MODEL_FILES[0]: _generated("model", often),
        MODEL_FILES[1]: _generated("seldom", seldom),
        "model.h": _declared(functions.compiled),
        "tables.h": _tables(unit, table, functions, options),
    }
    names = [n for n in RUNTIME_FILES[options.version] if n.endswith(".c")]

    def included(*files: str) -> str:
        return "".join(f'#include "{name}"\n' for name in files)

    parts["all.c"] = (
        "/* The whole unit in one piece, so that nothing but the standard's functions is seen from outside. */\n"
        + included("unit.h")
        + f"#ifdef MV_SEPARATE\n{included('model.h')}#else\n{included(*MODEL_FILES)}#endif\n"
        + included("tables.h", *names)
    )
    for name in RUNTIME_FILES[options.version]:
        parts[name] = (RUNTIME / name).read_text(encoding="utf-8")
    return parts


def with_token(sources: dict[str, str], token: str) -> dict[str, str]:
    """The files of a unit that goes by a token."""
    lines = f"#define MV_GUID {c_text(token)}\n#define MV_FINGERPRINT {_fingerprint(token)}ULL\n"
    return sources | {"tables.h": lines + sources["tables.h"]}


# --- functions -----------------------------------------------------------------------------------


class _Functions:
    """The functions of a model and what the tables say about them."""

    def __init__(
        self, compiled: list[Compiled], blocks: list[OpenBlock], start_blocks: list[OpenBlock],
        pattern: Compiled, timed: list[int], limits: list[tuple[bool, str]], time_in_rates: bool,
    ) -> None:  # fmt: skip
        self.compiled = compiled
        self.blocks = blocks
        self.start_blocks = start_blocks
        self.rows: list[int] = pattern.row()
        self.columns: list[int] = pattern.get_col()
        self.timed = timed
        self.limits = limits
        self.time_in_rates = time_in_rates


def _functions(unit: UnitGraphs) -> _Functions:
    made = unit.made
    graph, start = made.running, made.start
    given, at_start = symbols(graph), symbols(start)
    timed = timed_slots(unit)
    lines = made.indicators[timed] if timed else ca.SX(0, 1)
    parameters = ParameterExpressions(unit)
    margins, limits = parameters.margins()
    rest = graph.open_residuals()
    whole = ca.vertcat(made.rates, rest)
    unknown = ca.vertcat(graph.x, graph.s)
    jacobian = ca.jacobian(whole, unknown)
    blocks, start_blocks = open_blocks(graph, "block"), open_blocks(start, "start_block")

    def running(name: str, *outputs: Symbolic) -> Compiled:
        return ca.Function(name, given, [ca.densify(o) for o in outputs])

    everything = ca.densify(ca.vertcat(made.rates, made.values, rest))
    vx, vp, vs = (
        ca.SX.sym(n, group.shape[0])
        for n, group in zip(("vx", "vp", "vs"), (graph.x, graph.p, graph.s), strict=True)
    )
    directions = ca.vertcat(vx, vp, vs)
    bases = ca.vertcat(graph.x, graph.p, graph.s)
    forward = ca.densify(ca.jtimes(everything, bases, directions))
    results = (made.rates, made.values, rest)
    ur, uv, us = (
        ca.SX.sym(n, group.shape[0]) for n, group in zip(("ur", "uv", "us"), results, strict=True)
    )
    reverse = ca.densify(ca.jtimes(everything, bases, ca.vertcat(ur, uv, us), True))
    nr, nv = made.rates.shape[0], made.values.shape[0]
    nx, n_p = graph.x.shape[0], graph.p.shape[0]
    compiled = [
        running("rates", made.rates),
        running("values", made.values),
        running("indicators", made.indicators, made.scales),
        running("actions", made.acting),
        running("assertions", made.judged),
        running("timed", ca.vertcat(lines, ca.densify(ca.jacobian(lines, graph.t)))),
        ca.Function("jacobian", given, [_nonzeros(jacobian)]),
        ca.Function(
            "forward",
            [*given, vx, vp, vs],
            [forward[:nr], forward[nr : nr + nv], forward[nr + nv :]],
        ),
        ca.Function(
            "reverse",
            [*given, ur, uv, us],
            [reverse[:nx], reverse[nx : nx + n_p], reverse[nx + n_p :]],
        ),
        ca.Function(
            "start", at_start, [ca.densify(made.start_values), ca.densify(made.start_indicators)]
        ),
        ca.Function("bind", [parameters.p], [ca.densify(parameters.bound())]),
        ca.Function("guess", [parameters.p], [ca.densify(parameters.guesses())]),
        ca.Function("samples", [parameters.p], [ca.densify(parameters.samples())]),
        ca.Function("limits", [parameters.p], [ca.densify(margins)]),
        *(b.function for b in (*blocks, *start_blocks)),
    ]
    if made.phases.shape[0]:
        compiled.append(running("phases", made.phases))
    if made.kinks.shape[0]:
        compiled.append(running("kinks", made.kinks))
    if unit.free:
        slopes = ca.jacobian(unit.constraints, graph.x)
        compiled.append(running("constraints", unit.constraints, slopes))
    if made.memory.delays:
        past = vector([graph.translate(e.args[0]) for e in made.memory.delays])
        compiled += [
            running("delayed", past),
            ca.Function("delay_times", [parameters.p], [ca.densify(parameters.delays())]),
        ]
    by_time = ca.depends_on(whole, graph.t) if whole.shape[0] else False
    by_time = by_time or bool(made.memory.delays)  # what comes out of a delay changes with time
    return _Functions(
        compiled, blocks, start_blocks, jacobian.sparsity(), timed, limits, bool(by_time)
    )


def _nonzeros(matrix: Symbolic) -> Symbolic:
    elements = matrix.nz[:] if matrix.nnz() else ca.SX(0, 1)
    return ca.densify(elements)


def _declared(functions: list[Compiled]) -> str:
    """Declarations of the functions, for whoever has them compiled elsewhere."""
    lines = [f"int mv_f_{f.name()}({_SIGNATURE});\n" for f in functions]
    return "/* Functions of the model that are compiled in files of their own. */\n" + "".join(
        lines
    )


def _generated(prefix: str, functions: list[Compiled]) -> str:
    """The C text of the functions, all of them ``static`` unless ``MV_LINKAGE`` says otherwise."""
    generator = ca.CodeGenerator(prefix, {"with_header": False, "casadi_int": "long long int"})
    for function in functions:
        generator.add(function)
    text = generator.dump()
    bodies = []
    for name, _, rest in _FUNCTION.findall(text):
        signature, body = rest.split(") {\n", 1)
        # The runtime hands over every vector, so that no branch for a missing one is needed: thousands of
        # them would take the compiler minutes.
        body = _READ.sub(r"arg[\1][\2]", _WRITE.sub(r"res[\1]", body))
        unused = "".join(f"(void){n}; " for n in ("arg", "res", "iw", "w", "mem"))
        seldom = "MV_SELDOM " if name.startswith(_SELDOM) else ""
        bodies.append(
            f"{seldom}MV_LINKAGE int mv_f_{name}({signature}) {{\n  {unused}\n{body}\n}}\n"
        )
    head = text[: text.index("/* Add prefix to internal symbols */")]
    helpers = "".join(_helpers(text))
    opening = "/* Functions of the model, written by CasADi. */"
    defined = re.findall(r"^ *#define ((?:CASADI|casadi)_\w+)", head + helpers, re.M)
    # The next such file begins anew.
    ending = "".join(f"#undef {name}\n" for name in dict.fromkeys(defined))
    ending += "#undef MV_SELDOM\n"
    return f"{opening}\n{head}\n{helpers}\n{_SELDOM_MACRO}\n" + "\n".join(bodies) + ending


def _helpers(text: str) -> Iterable[str]:
    """Auxiliary functions that the generated code calls, ``static`` as well, with their names."""
    for match in re.finditer(r"^#define (casadi_\w+) CASADI_PREFIX\(\w+\)\n", text, re.M):
        if not re.fullmatch(r"casadi_[fsc]\d+", match[1]):
            yield match[0]
    visibility = text.index("/* Symbol visibility in DLLs */")
    first = text.index("\n#endif\n", visibility) + len("\n#endif\n")
    between = text[first : text.index("/* Configuration this file was compiled with */")]
    yield re.sub(
        r"^(?=(?:casadi_real|casadi_int|void|int) casadi_)", "static ", between, flags=re.M
    )


# --- tables --------------------------------------------------------------------------------------


def c_text(text: str) -> str:
    """A text as C has it, in UTF-8, whatever the compiler takes its source for."""
    out = []
    for byte in text.encode("utf-8"):
        if byte in (0x22, 0x5C):
            out.append("\\" + chr(byte))
        elif 32 <= byte < 127 and byte != 0x3F:
            out.append(chr(byte))
        else:
            out.append(f"\\{byte:03o}")
    return f'"{"".join(out)}"'


def c_number(value: float) -> str:
    """A number that C reads as the same one."""
    if value != value:
        return "NAN"
    if value in (float("inf"), float("-inf")):
        return "INFINITY" if value > 0 else "-INFINITY"
    return repr(float(value))


def c_array(kind: str, name: str, items: Sequence[str], empty: str) -> str:
    rows = ",\n  ".join(items) if items else empty
    return f"static const {kind} {name}[] = {{\n  {rows}\n}};\n"


def _tables(
    unit: UnitGraphs, table: UnitTable, functions: _Functions, options: ExportOptions
) -> str:
    made, ordered = unit.made, unit.made.ordered
    memory = made.memory
    states = ordered.states
    running, start = made.running, made.start
    rooted = [i for i in range(len(memory.slots)) if i not in set(functions.timed)]
    start_at = {v: i for i, v in enumerate(start.order)}
    place = {v: ("MV_STATE", i) for i, v in enumerate(states)}
    place |= {v: ("MV_SOLVED", i) for i, v in enumerate(running.order) if v not in place}
    place |= {v: ("MV_PARAMETER", i) for i, v in enumerate(unit.parameters) if v not in place}
    solved_parameters = ordered.solved_parameters
    parameter_at = {v: i for i, v in enumerate(unit.parameters)}
    numbers = [
        ("DELAY_AT", memory.delay_at), ("NDELAY", len(memory.delays)),
        ("NX", len(states)), ("NP", len(unit.parameters)), ("NM", memory.homotopy_at + 1), ("NS", len(running.implicit)),
        ("NY", len(running.order)), ("NG", len(memory.slots)), ("NPRE", len(ordered.pre.of)), ("PRE_AT", memory.pre_at),
        ("SAMPLE_AT", memory.sample_at), ("NSAMPLE", len(memory.samples)), ("NREINIT", len(ordered.reinits)),
        ("NTERMINATION", len(ordered.terminations)), ("NEVENTASSERTION", sum(a.at_events for a in ordered.assertions)),
        ("NACTIONS", made.acting.shape[0]), ("NASSERTION", made.judged.shape[0]), ("NBLOCK", len(functions.blocks)),
        ("NBLOCK0", len(functions.start_blocks)), ("NS0", len(start.implicit)), ("NY0", len(start.order)),
        ("NCONSTRAINT", unit.constraints.shape[0]), ("NCONSTRAINTGROUP", len(unit.free)),
        ("NTIMED", len(functions.timed)), ("NPHASE", made.phases.shape[0]), ("NKINK", made.kinks.shape[0]),
        ("NROOT", len(rooted)),
        ("NINDICATOR", sum(2 if memory.slots[i].kind == "floor" else 1 for i in rooted)),
        ("NJACOBIAN", len(functions.rows)), ("NLIMIT", len(functions.limits)), ("NSOLVEDPARAMETER", len(solved_parameters)),
        ("NVARIABLE", len(table.entries)), ("NTEXT", len(table.texts)), ("NINPUT", len(unit.inputs)),
        ("LARGEST_BLOCK", max((b.size for b in (*functions.blocks, *functions.start_blocks)), default=1)),
        ("LARGEST_OUTPUT", max(f.numel_out(k) for f in functions.compiled for k in range(f.n_out()))),
        ("HOMOTOPY", int(_has_homotopy(unit))),
        ("CONTINUOUS_PRE", int(any(v.variability == "continuous" for v in ordered.pre.of))),
        ("TIME_IN_RATES", int(functions.time_in_rates)),
        ("MV_LOGGED", _logged(options)),
        ("MV_KINDS", (1 if "me" in options.interfaces else 0) + (2 if "cs" in options.interfaces else 0)),
    ]  # fmt: skip
    experiment = unit.flat.experiment
    lines = ["/* Sizes and tables of this model. */\n"]
    lines += [f"#define {name} {number}\n" for name, number in numbers]
    lines += [
        f"#define MV_TOLERANCE {c_number(experiment.tolerance)}\n",
        f"#define MV_START {c_number(experiment.start)}\n",
        f"#define MV_STOP {c_number(experiment.stop)}\n",
        f"#define FIXED_STEP {c_number(options.step if options.solver == 'fixed' else 0.0)}\n",
        "enum { MV_REAL, MV_INTEGER, MV_BOOLEAN, MV_ENUMERATION };\n",
    ]

    def function_table(name: str, blocks: list[OpenBlock]) -> str:
        listed = [f"mv_f_{b.function.name()}" for b in blocks]
        return (
            f"static int (*const {name}[])({_SIGNATURE}) = {{\n  "
            + (",\n  ".join(listed) or "NULL")
            + "\n};\n"
        )

    def block_table(name: str, blocks: list[OpenBlock]) -> str:
        rows = [f"{{{int(b.linear)}, {b.position}, {b.size}}}" for b in blocks]
        return c_array("MvBlock", name, rows, "{0, 0, 0}")

    def names(name: str, variables: Iterable[str]) -> str:
        return c_array("char *const", name, [c_text(v) for v in variables], "NULL")

    def integers(name: str, values: Iterable[int]) -> str:
        return c_array("int", name, [str(v) for v in values], "0")

    lines += [
        c_array("double", "mv_default_p", [c_number(v) for v in unit.defaults], "0.0"),
        c_array("double", "mv_nominal", [c_number(_nominal(v, unit)) for v in states], "1.0"),
        c_array(
            "double",
            "mv_implicit_nominal",
            [c_number(_nominal(v, unit) if v.nominal else 0.0) for v in running.implicit],
            "0.0",
        ),
        names("mv_state_names", (v.name for v in states)),
        names("mv_start_names", (v.name for v in start.order)),
        function_table("mv_block_functions", functions.blocks),
        block_table("mv_blocks", functions.blocks),
        names("mv_block_names", (_named(b) for b in functions.blocks)),
        function_table("mv_start_block_functions", functions.start_blocks),
        block_table("mv_start_blocks", functions.start_blocks),
        c_array(
            "MvSlot",
            "mv_slots",
            [
                f"{{{int(s.kind == 'floor')}, {int(s.inclusive)}, {c_text(s.text)}}}"
                for s in memory.slots
            ],
            "{0, 0, NULL}",
        ),  # fmt: skip
        integers("mv_rooted", rooted),
        integers("mv_timed", functions.timed),
        integers("mv_jacobian_row", functions.rows),
        integers("mv_jacobian_column", functions.columns),
        integers("mv_start_of_state", (start_at[v] for v in states)),
        integers("mv_start_of_implicit", (start_at[v] for v in running.implicit)),
        integers("mv_start_of_pre", (start_at.get(v, -1) for v in ordered.pre.of)),
        integers("mv_constraints_end", accumulate(len(g.equations) for g in unit.free)),
        integers("mv_group_of_state", (_group(v, unit) for v in states)),
        integers("mv_reinit_state", (states.index(r.state.variable) for r in ordered.reinits)),
        c_array(
            "MvVariable",
            "mv_pre_of",
            [_source(*place[v]) for v in ordered.pre.of],
            _source("MV_FIXED", 0),
        ),
        integers("mv_solved_parameter", (int(v in solved_parameters) for v in unit.parameters)),
        c_array(
            "MvTransfer",
            "mv_solved_parameters",
            [f"{{{parameter_at[v]}, {start_at[v]}}}" for v in solved_parameters],
            "{0, 0}",
        ),  # fmt: skip
        names("mv_terminations", (said("", e.message) for e in ordered.terminations)),
        _assertions("mv_assertions", _step_assertions(unit)),
        _assertions("mv_event_assertions", [a for a in ordered.assertions if a.at_events]),
        _said("mv_limits", functions.limits),
        c_array(
            "MvVariable",
            "mv_variables",
            [_entry(e.source) for e in table.entries],
            _source("MV_FIXED", 0),
        ),
        names("mv_variable_names", (e.variable.name for e in table.entries)),
        integers("mv_length", (e.length for e in table.entries)),
        integers("mv_type", (_TYPES[e.variable.kind] for e in table.entries)),
        names("mv_texts", (t.text for t in table.texts)),
    ]
    return "".join(lines)


def _step_assertions(unit: UnitGraphs) -> list[Assertion]:
    """The assertions that are judged at each accepted step, in the order of their function."""
    return [a for a in unit.made.ordered.assertions if not a.at_events and not about_parameters(a)]


def _assertions(name: str, assertions: list[Assertion]) -> str:
    return _said(name, [(a.level != "error", said(a.component, a.message)) for a in assertions])


def _said(name: str, items: list[tuple[bool, str]]) -> str:
    """A table of warnings (true) and errors with their texts."""
    rows = [f"{{{int(warning)}, {c_text(text)}}}" for warning, text in items]
    return c_array("MvAssertion", name, rows, "{0, NULL}")


def _source(
    kind: str, index: int, sign: int = 1, value: float = 0.0, start: int = -1, settable: int = 0
) -> str:
    return f"{{{kind}, {index}, {sign}.0, {c_number(value)}, {start}, {settable}}}"


def _entry(s: Source) -> str:
    return _source(s.kind, s.index, s.sign, s.value, s.start, s.settable)


def _logged(options: ExportOptions) -> str:
    """The categories of messages that the unit has, as bits in the order of ``MvCategory``."""
    bits = [kind in options.log for kind in ("events", "steps", "warnings")]
    return f"{sum(bit << k for k, bit in enumerate([*bits, True]))}u"


def _group(v: Variable, unit: UnitGraphs) -> int:
    """The group of constraints for which a state is corrected, -1 for the others."""
    return next((k for k, group in enumerate(unit.free) if v in group.states), -1)


def _named(b: OpenBlock) -> str:
    listed = [v.name for v in b.block.unknowns]
    return ", ".join(listed[:4]) + (f" and {len(listed) - 4} more" if len(listed) > 4 else "")


def _nominal(v: Variable, unit: UnitGraphs) -> float:
    if v.nominal is None:
        return 1.0
    return abs(float(x.evaluate(v.nominal, unit.values))) or 1.0


def _has_homotopy(unit: UnitGraphs) -> bool:
    return any(
        node.op == "homotopy"
        for b in unit.made.ordered.initial_blocks
        for e in b.equations
        for side in (e.left, e.right)
        for node in x.walk(side)
    )


def _fingerprint(token: str) -> int:
    return int.from_bytes(hashlib.sha256(token.encode()).digest()[:8], "big")
