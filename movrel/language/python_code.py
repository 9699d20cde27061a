"""A small, safe part of Python, translated to a Modelica block. Nothing of it is ever executed as Python.

Allowed are assignments, ``if``, ``for`` over a bounded ``range``, arithmetic, comparisons, ``and``, ``or``,
``not`` and the functions in :data:`FUNCTIONS` and :data:`WRITTEN_OUT`, plain or after ``math.`` or ``np.``.
Everything else is refused, naming line and construct.
"""

from __future__ import annotations

import ast
from dataclasses import dataclass, field

from movrel.errors import EditFault, Place
from movrel.language.class_annotation import TILE, quoted
from movrel.language.names import RESERVED, is_name

#: Functions that may be called: their Modelica name and number of arguments (-1: two or more).
FUNCTIONS: dict[str, tuple[str, int]] = {
    "sin": ("sin", 1), "cos": ("cos", 1), "tan": ("tan", 1), "asin": ("asin", 1), "acos": ("acos", 1), "atan": ("atan", 1),
    "atan2": ("atan2", 2), "sinh": ("sinh", 1), "cosh": ("cosh", 1), "tanh": ("tanh", 1), "exp": ("exp", 1),
    "log": ("log", 1), "log10": ("log10", 1), "sqrt": ("sqrt", 1), "abs": ("abs", 1), "floor": ("floor", 1),
    "ceil": ("ceil", 1), "min": ("min", -1), "max": ("max", -1), "round": ("floor", 1),
}  # fmt: skip
#: Further functions: their number of arguments, and what they are in Modelica.
WRITTEN_OUT = {
    "pow": (2, "(({0})^({1}))"), "sign": (1, "sign({0})"), "hypot": (2, "sqrt(({0})^2 + ({1})^2)"),
    "square": (1, "(({0})^2)"), "clip": (3, "max({1}, min({2}, {0}))"), "log2": (1, "(log({0})/log(2))"),
    "radians": (1, "(({0})*3.141592653589793/180)"), "degrees": (1, "(({0})*180/3.141592653589793)"),
}  # fmt: skip
#: Other names of functions, as the modules of Python that are usual for mathematics have them.
ALIASES = {
    "fabs": "abs", "absolute": "abs", "arcsin": "asin", "arccos": "acos", "arctan": "atan", "arctan2": "atan2",
    "minimum": "min", "maximum": "max", "fmin": "min", "fmax": "max", "power": "pow", "deg2rad": "radians", "rad2deg": "degrees",
}  # fmt: skip
#: Modules whose name may stand before a function or constant, and be imported.
MODULES = {"math", "numpy", "np"}
CONSTANTS = {"pi": "3.141592653589793", "e": "2.718281828459045", "inf": "1e60"}
#: Most rounds of one loop, and most statements of all loops written out together.
LOOP_LIMIT = 1_000
_ARITHMETIC = {ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/", ast.Pow: "^"}
_RELATIONS = {ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "<>"}
WORDS = {
    "Import": "an import", "ImportFrom": "an import", "FunctionDef": "a function definition", "ClassDef": "a class definition",
    "Attribute": "access to an attribute", "Subscript": "a subscript", "While": "a while loop", "Lambda": "a lambda",
    "Try": "try", "With": "with", "Return": "return", "Delete": "del", "Raise": "raise", "Assert": "assert",
    "Global": "global", "Nonlocal": "nonlocal", "ListComp": "a comprehension", "SetComp": "a comprehension",
    "DictComp": "a comprehension", "GeneratorExp": "a comprehension", "List": "a list", "Dict": "a dictionary",
    "Set": "a set", "Tuple": "a tuple", "JoinedStr": "a text", "Await": "await", "Yield": "yield", "Starred": "unpacking",
    "NamedExpr": "an assignment inside an expression", "Break": "break", "Continue": "continue", "AnnAssign": "an annotation",
    "AsyncFunctionDef": "a function definition", "Match": "match", "Slice": "a slice", "YieldFrom": "yield",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Code:
    """A code component as its author describes it; ``period`` is a Modelica expression in s, or empty."""

    name: str
    source: str
    inputs: list[str]
    outputs: list[str]
    #: Values kept from one sampling to the next, with what they are at the start.
    memory: dict[str, float] = field(default_factory=dict)
    period: str = ""
    description: str = ""
    #: Parameters by name, each as it is declared: ``(unit="V") = 5``.
    parameters: dict[str, str] = field(default_factory=dict)
    #: The units of inputs and outputs that have one.
    units: dict[str, str] = field(default_factory=dict)


def translate(code: Code) -> str:
    """The Modelica text of the block.

    Raises :class:`EditFault` with the line of the Python text, the construct and what to write instead.
    """
    _check_names(code)
    try:
        tree = ast.parse(code.source)
    except SyntaxError as fault:
        raise _refusal(fault.lineno or 1, f"{fault.msg}.", fault.offset or 1) from None
    except (ValueError, RecursionError, MemoryError):
        raise _refusal(1, "the text cannot be read.") from None
    writer = _Writer(code)
    try:
        body, assigned = writer.block(
            tree.body,
            frozenset([*code.inputs, *code.memory, *code.parameters, "time"]),
            "  " if not code.period else "    ",
        )
    except RecursionError:
        raise _refusal(1, "the text is nested too deeply.") from None
    for output in code.outputs:
        if output not in assigned and not code.period:
            raise _refusal(
                max(1, len(code.source.splitlines())),
                f"the output '{output}' is not set on every way through the code.",
            )
        if output not in writer.kinds:
            raise _refusal(
                max(1, len(code.source.splitlines())), f"the output '{output}' is never set."
            )
    return _text(code, writer, body)


def _text(code: Code, writer: _Writer, body: list[str]) -> str:
    lines = [
        f"block {code.name} {quoted(code.description)}"
        if code.description
        else f"block {code.name}"
    ]
    if code.period:
        lines.append(
            f'  parameter Real period(unit="s", min=1e-9) = {code.period} "Sampling period";'
        )
    lines += [f"  parameter Real {n}{declared};" for n, declared in code.parameters.items()]
    lines += [f"  Movrel.Signals.SignalIn {n}{_unit(code, n)};" for n in code.inputs]
    lines += [f"  Movrel.Signals.SignalOut {n}{_unit(code, n)};" for n in code.outputs]
    inner = [n for n in writer.kinds if n not in code.outputs and n not in code.memory]
    if inner or code.memory:
        lines.append("protected")
    lines += [f"  discrete Real {n}(start = {v!r}, fixed = true);" for n, v in code.memory.items()]
    lines += [f"  {writer.kinds[n]} {n};" for n in inner]
    lines.append("algorithm")
    lines += ["  when sample(0, period) then", *body, "  end when;"] if code.period else body
    memory = ", ".join(f'"{n}={v!r}"' for n, v in code.memory.items())
    lines += [
        "  annotation (",
        f"    Icon(graphics={{\n      {TILE[0]},\n      {TILE[1]}}}),",
        f"    __Movrel(code(memory={{{memory}}}, source={quoted(code.source)})));",
        f"end {code.name};",
    ]
    return "\n".join(lines)


def _unit(code: Code, name: str) -> str:
    return f'(unit="{code.units[name]}")' if code.units.get(name) else ""


class _Writer:
    def __init__(self, code: Code) -> None:
        self.code = code
        #: Real or Boolean, for every name that is assigned, in the order of the first assignment.
        self.kinds: dict[str, str] = {}
        self.loops: list[str] = []
        self.rounds = 1

    def block(
        self, statements: list[ast.stmt], known: frozenset[str], indent: str
    ) -> tuple[list[str], frozenset[str]]:
        """The Modelica lines of a block, and the names that have a value after it."""
        lines: list[str] = []
        for node in statements:
            match node:
                case ast.Assign(targets=[ast.Name(id=name)], value=value):
                    lines.append(f"{indent}{self.assign(node, name, value, known)}")
                    known |= {name}
                case ast.AugAssign(target=ast.Name(id=name) as target, op=operator, value=value):
                    combined = ast.BinOp(
                        left=ast.Name(id=name, ctx=ast.Load()), op=operator, right=value
                    )
                    ast.copy_location(combined, node)
                    ast.copy_location(combined.left, target)
                    lines.append(f"{indent}{self.assign(node, name, combined, known)}")
                case ast.If():
                    written, known = self.conditional(node, known, indent)
                    lines += written
                case ast.For():
                    lines += self.loop(node, known, indent)
                case ast.Pass():
                    pass
                case ast.Import(names=names) if all(n.name in MODULES for n in names):
                    pass  # its functions are known
                case ast.ImportFrom(module="math" | "numpy"):
                    pass
                case ast.Expr(value=ast.Constant(value=str())):
                    pass  # a comment in quotes
                case ast.Assign():
                    raise _unallowed(node, "an assignment to more than one plain name")
                case _:
                    raise _unallowed(node)
        return lines, known

    def assign(self, node: ast.stmt, name: str, value: ast.expr, known: frozenset[str]) -> str:
        if name in self.code.inputs or name in self.code.parameters:
            kind = "input" if name in self.code.inputs else "parameter"
            raise _refusal(
                node.lineno, f"the {kind} '{name}' cannot be set.", hint="Use another name."
            )
        if (
            name in self.loops
            or name in FUNCTIONS
            or name in RESERVED
            or name in ("time", "period")
        ):
            raise _refusal(node.lineno, f"'{name}' cannot be set.", hint="Use another name.")
        text, kind = self.expression(value, known)
        before = self.kinds.setdefault(name, kind)
        if name in (*self.code.outputs, *self.code.memory) and kind == "Boolean":
            raise _refusal(
                node.lineno,
                f"'{name}' must be a number, not true or false.",
                hint="Write 1 if ... else 0.",
            )
        if before != kind:
            raise _refusal(
                node.lineno, f"'{name}' is a number in one place and true or false in another."
            )
        return f"{name} := {_bare(text)};"

    def conditional(
        self, node: ast.If, known: frozenset[str], indent: str
    ) -> tuple[list[str], frozenset[str]]:
        lines = [f"{indent}if {_bare(self.condition(node.test, known))} then"]
        inside, after = self.block(node.body, known, indent + "  ")
        lines += inside
        rest = node.orelse
        while len(rest) == 1 and isinstance(rest[0], ast.If):
            lines.append(f"{indent}elseif {_bare(self.condition(rest[0].test, known))} then")
            inside, branch = self.block(rest[0].body, known, indent + "  ")
            lines += inside
            after &= branch
            rest = rest[0].orelse
        if rest:
            inside, branch = self.block(rest, known, indent + "  ")
            lines += [f"{indent}else", *inside]
            after &= branch
        else:
            after &= known
        return [*lines, f"{indent}end if;"], after

    def loop(self, node: ast.For, known: frozenset[str], indent: str) -> list[str]:
        call = node.iter
        if node.orelse:
            raise _unallowed(node, "else after a loop")
        if not isinstance(node.target, ast.Name) or not (
            isinstance(call, ast.Call)
            and isinstance(call.func, ast.Name)
            and call.func.id == "range"
            and not call.keywords
        ):
            raise _unallowed(node, "a loop over anything but range(...)")
        bounds = [_whole(a) for a in call.args]
        if (
            not 1 <= len(bounds) <= 3
            or any(b is None for b in bounds)
            or (len(bounds) == 3 and bounds[2] == 0)
        ):
            raise _refusal(
                node.lineno,
                "the bounds of range must be whole numbers.",
                hint="Write for example range(10).",
            )
        numbers = range(*[b for b in bounds if b is not None])
        if len(numbers) * self.rounds > LOOP_LIMIT:
            raise _refusal(
                node.lineno, f"the loops take more than {LOOP_LIMIT} rounds.", hint="Use fewer."
            )
        if node.target.id in known or node.target.id in RESERVED:
            raise _refusal(
                node.lineno,
                f"'{node.target.id}' has another meaning already.",
                hint="Give the counter another name.",
            )
        self.loops.append(node.target.id)
        self.rounds *= max(len(numbers), 1)
        inside, _ = self.block(node.body, known | {node.target.id}, indent + "  ")
        self.rounds //= max(len(numbers), 1)
        self.loops.pop()
        if not numbers:
            return []
        step = "" if numbers.step == 1 else f"{numbers.step}:"
        return [
            f"{indent}for {node.target.id} in {numbers[0]}:{step}{numbers[-1]} loop",
            *inside,
            f"{indent}end for;",
        ]

    def condition(self, node: ast.expr, known: frozenset[str]) -> str:
        text, kind = self.expression(node, known)
        if kind != "Boolean":
            raise _refusal(
                node.lineno, "a condition must compare something.", hint="Write for example x > 0."
            )
        return text

    def number(self, node: ast.expr, known: frozenset[str]) -> str:
        text, kind = self.expression(node, known)
        if kind != "Real":
            raise _refusal(
                node.lineno,
                "true or false stands where a number is needed.",
                hint="Write 1 if ... else 0.",
            )
        return text

    def expression(self, node: ast.expr, known: frozenset[str]) -> tuple[str, str]:
        """The Modelica text of an expression, and whether it is a Real or a Boolean."""
        match node:
            case ast.Constant(value=bool(value)):
                return ("true" if value else "false"), "Boolean"
            case ast.Constant(value=int() | float() as value):
                if value != value or abs(value) > 1e60:
                    raise _refusal(node.lineno, "that number is too large.")
                return repr(value), "Real"
            case ast.Name(id=name):
                return self.name(node, name, known)
            case ast.Attribute(value=ast.Name(id=module), attr=name) if (
                module in MODULES and name in CONSTANTS
            ):
                return CONSTANTS[name], "Real"
            case ast.UnaryOp(op=ast.USub(), operand=operand):
                return f"(-{self.number(operand, known)})", "Real"
            case ast.UnaryOp(op=ast.UAdd(), operand=operand):
                return self.number(operand, known), "Real"
            case ast.UnaryOp(op=ast.Not(), operand=operand):
                return f"(not {self.condition(operand, known)})", "Boolean"
            case ast.BinOp(left=left, op=operator, right=right):
                return self.arithmetic(
                    node, self.number(left, known), operator, self.number(right, known)
                ), "Real"
            case ast.BoolOp(op=operator, values=values):
                word = " and " if isinstance(operator, ast.And) else " or "
                return "(" + word.join(self.condition(v, known) for v in values) + ")", "Boolean"
            case ast.Compare(left=left, ops=operators, comparators=others):
                return self.comparison(node, [left, *others], operators, known), "Boolean"
            case ast.IfExp(test=test, body=then, orelse=otherwise):
                a, b = self.expression(then, known), self.expression(otherwise, known)
                if a[1] != b[1]:
                    raise _refusal(node.lineno, "one side is a number, the other true or false.")
                return (
                    f"(if {_bare(self.condition(test, known))} then {_bare(a[0])} else {_bare(b[0])})",
                    a[1],
                )
            case ast.Call():
                return self.call(node, known), "Real"
            case _:
                raise _unallowed(node)

    def name(self, node: ast.expr, name: str, known: frozenset[str]) -> tuple[str, str]:
        if name in known:
            return name, self.kinds.get(name, "Real")
        if name in CONSTANTS:
            return CONSTANTS[name], "Real"
        if name in self.kinds or name in self.code.outputs:
            raise _refusal(
                node.lineno,
                f"'{name}' may have no value yet here.",
                hint="Set it on every way to this line, or make it a memory.",
            )
        raise _refusal(
            node.lineno,
            f"'{name}' is not known.",
            hint="Declare it as an input, a parameter or a memory, or set it first.",
        )

    def arithmetic(self, node: ast.expr, a: str, operator: ast.operator, b: str) -> str:
        if isinstance(operator, ast.Mod):
            return f"mod({_bare(a)}, {_bare(b)})"
        if isinstance(operator, ast.FloorDiv):
            return f"floor({a}/{b})"
        sign = _ARITHMETIC.get(type(operator))
        if sign is None:
            raise _unallowed(node, f"the operator {type(operator).__name__}")
        return f"({a} {sign} {b})" if sign in "+-" else f"({a}{sign}{b})"

    def comparison(
        self,
        node: ast.expr,
        terms: list[ast.expr],
        operators: list[ast.cmpop],
        known: frozenset[str],
    ) -> str:
        pieces = []
        for a, operator, b in zip(terms, operators, terms[1:], strict=False):
            sign = _RELATIONS.get(type(operator))
            if sign is None:
                raise _unallowed(node, "the comparison 'is' or 'in'")
            if sign in ("==", "<>"):
                raise _refusal(
                    node.lineno,
                    "two numbers of a simulation are hardly ever exactly equal.",
                    hint="Compare with < or >, or abs(a - b) < 1e-6.",
                )
            pieces.append(f"{self.number(a, known)} {sign} {self.number(b, known)}")
        return "(" + " and ".join(pieces) + ")"

    def call(self, node: ast.Call, known: frozenset[str]) -> str:
        match node.func:
            case ast.Name(id=given):
                pass
            case ast.Attribute(value=ast.Name(id=module), attr=given) if module in MODULES:
                pass
            case _:
                raise _unallowed(node.func)
        name = ALIASES.get(given, given)
        if name not in FUNCTIONS and name not in WRITTEN_OUT:
            raise _refusal(
                node.lineno,
                f"the function '{given}' is not available.",
                hint=f"There are {', '.join((*FUNCTIONS, *WRITTEN_OUT))}.",
            )
        word, count = FUNCTIONS[name] if name in FUNCTIONS else ("", WRITTEN_OUT[name][0])
        if node.keywords or (len(node.args) != count if count > 0 else len(node.args) < 2):
            raise _refusal(
                node.lineno,
                f"'{given}' takes {count if count > 0 else 'two or more'} value{'s' if count != 1 else ''}.",
            )
        values = [_bare(self.number(a, known)) for a in node.args]
        if name in WRITTEN_OUT:
            return WRITTEN_OUT[name][1].format(*values)
        if name == "round":
            return f"floor({values[0]} + 0.5)"
        text = values[-1]
        if count == -1:
            for value in reversed(values[:-1]):
                text = f"{word}({value}, {text})"
            return text
        return f"{word}({', '.join(values)})"


def _check_names(code: Code) -> None:
    names = [code.name, *code.inputs, *code.outputs, *code.memory, *code.parameters]
    for name in names:
        if not is_name(name) or name in FUNCTIONS or name in ("time", "period"):
            raise EditFault(
                f"'{name}' cannot be a name here.",
                hint="Use letters, digits and _, beginning with a letter.",
            )
        if names.count(name) > 1:
            raise EditFault(f"'{name}' is declared twice.")
    if not code.outputs:
        raise EditFault("a code component needs an output.")
    if code.memory and not code.period:
        raise EditFault(
            "memory needs a sampling period.",
            hint="Give a period such as 0.1 s, or remove the memory.",
        )


def _whole(node: ast.expr) -> int | None:
    if (
        isinstance(node, ast.Constant)
        and isinstance(node.value, int)
        and not isinstance(node.value, bool)
    ):
        return node.value
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        inner = _whole(node.operand)
        return -inner if inner is not None else None
    return None


def _bare(text: str) -> str:
    """Without parentheses around the whole."""
    if not (text.startswith("(") and text.endswith(")")):
        return text
    depth = 0
    for i, character in enumerate(text):
        depth += (character == "(") - (character == ")")
        if depth == 0 and i < len(text) - 1:
            return text
    return text[1:-1]


def _unallowed(node: ast.AST, words: str = "") -> EditFault:
    what = words or WORDS.get(type(node).__name__, f"'{type(node).__name__}'")
    hints = {
        "Attribute": "Write sin(x), not math.sin(x).",
        "Import": "The functions are there without it.",
        "While": "Use for with range(...).",
    }
    return _refusal(
        getattr(node, "lineno", 1),
        f"{what} is not allowed here.",
        hint=hints.get(type(node).__name__, ""),
    )


def _refusal(line: int, message: str, column: int = 1, hint: str = "") -> EditFault:
    return EditFault(f"line {line}: {message}", Place("code", line, column), hint)
