"""The functions of clocks as expressions (specification chapter 16); :mod:`movrel.model.clocks` works out when they tick.

A clock is an expression too: ``Clock`` (its ``value`` says of which kind), a variable of type Clock, or a conversion
of one. ``sampled(u)`` is the value of ``u`` just before a tick, ``ticks(c)`` whether a clock ticks at this event.
"""

from __future__ import annotations

from collections.abc import Callable

from movrel.errors import Place, TypeFault, Unsupported
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.array_functions import Arguments, Builtin
from movrel.model.environment import Scope, Value
from movrel.model.expression import Expr
from movrel.model.values import as_scalar, each_element, kind_of

#: Conversions to another clock of the same base, with the names of their whole numbers.
CONVERSIONS: dict[str, tuple[str, ...]] = {
    "subSample": ("factor",),
    "superSample": ("factor",),
    "shiftSample": ("shiftCounter", "resolution"),
    "backSample": ("backCounter", "resolution"),
}
#: What gives the value of a clocked variable to another partition.
CROSSINGS = {"sampled", "hold", "noClock", *CONVERSIONS}
#: Methods by which a clocked partition integrates (specification 16.8.2).
METHODS = (
    "ExplicitEuler",
    "ExplicitMidPoint2",
    "ExplicitRungeKutta4",
    "ImplicitEuler",
    "ImplicitTrapezoid",
)


def is_clock(value: object) -> bool:
    """Whether a value is a clock."""
    if not isinstance(value, Expr):
        return False
    while value.op in CONVERSIONS or value.op == "if":
        value = value.args[1 if value.op == "if" else 0]
    return value.op == "Clock" or (value.op == "var" and value.variable.type == "Clock")


def clock_of(node: s.Expression, scope: Scope) -> Expr | None:
    """The clock that a condition means: by its name, or a call that gives one; None for any other condition."""
    names_one = isinstance(node, s.Ref) or (
        isinstance(node, s.Call) and node.name in ("Clock", *CONVERSIONS)
    )
    value = scope.model.value(node, scope) if names_one else None
    return as_scalar(value, scope.place(node)) if value is not None and is_clock(value) else None


def ticks(clock: Expr) -> Expr:
    """Whether a clock ticks at this event."""
    return Expr("ticks", (clock,))


def _by_name(arguments: Arguments, node: s.Call, names: tuple[str, ...]) -> dict[str, Value]:
    """The arguments by their names; those given by name stand last."""
    positional = len(node.arguments)
    given = dict(zip(names, arguments[:positional], strict=False))
    for named, value in zip(node.named, arguments[positional:], strict=True):
        given[named.name] = value
    return given


def _refuse_unknown(
    given: dict[str, Value], names: tuple[str, ...], node: s.Call, where: Place
) -> None:
    for name in given:
        if name not in names:
            raise TypeFault(
                f"'{node.name}' has no argument '{name}'.", where, f"It takes {', '.join(names)}."
            )


def _clock(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    scope.model.clocked = True
    where = scope.place(node)
    given = {
        name: as_scalar(a, where) for name, a in _by_name(arguments, node, ("", "second")).items()
    }
    first = next(
        (given.pop(n) for n in ("", "intervalCounter", "interval", "condition", "c") if n in given),
        None,
    )
    if first is None:
        return Expr("Clock", (), "inferred")
    wanted = (
        "solverMethod"
        if is_clock(first)
        else "startInterval"
        if kind_of(first) == "Boolean"
        else "resolution"
    )
    second = given.pop("second", None) or given.pop(wanted, None)
    if given:
        raise TypeFault(f"'Clock' has no argument '{next(iter(given))}' here.", where)
    if is_clock(first):
        method = (
            ""
            if second is None
            else scope.model.structural_value(second, "the solver method", where)
        )
        if method and method not in METHODS:
            raise Unsupported(
                f"the solver method '{method}' of a clock is not known.",
                where,
                f"Use one of {', '.join(METHODS)}.",
            )
        return Expr("Clock", (first,), ("solver", method))
    if kind_of(first) == "Boolean":
        return Expr("Clock", (first, second or x.ZERO), "event")
    interval = first if second is None else x.divide(first, second)
    if interval.op == "const" and interval.value <= 0:
        raise TypeFault(
            f"the interval of this clock is {interval.value}.", where, "Give a positive interval."
        )
    return Expr("Clock", (interval,), "interval")


def sampled(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    """``sample(u)`` or ``sample(u, clock)``."""
    scope.model.clocked = True
    where = scope.place(node)
    clock = () if len(arguments) == 1 else (as_scalar(arguments[1], where),)

    def one(e: Expr) -> Expr:
        if kind_of(e) == "String" or is_clock(e):
            raise TypeFault(
                f"'{x.show(e)}' cannot be sampled.", where, "Sample a number or a truth value."
            )
        return Expr("sampled", (e, *clock))

    return each_element(arguments[0], one, where)


def _convert(name: str) -> Builtin:
    names = CONVERSIONS[name]

    def convert(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
        scope.model.clocked = True
        where = scope.place(node)
        given = _by_name(arguments, node, ("u", *names))
        _refuse_unknown(given, ("u", *names), node, where)
        numbers = []
        for number in names:
            default = 0 if number == "factor" else 1
            count = (
                default
                if number not in given
                else scope.model.structural_value(
                    as_scalar(given[number], where), f"the {number} of '{name}'", where
                )
            )
            least = 1 if number == "resolution" else 0
            if count != int(count) or count < least:
                raise TypeFault(
                    f"the {number} of '{name}' is {count}.",
                    where,
                    f"Give a whole number, {least} or more.",
                )
            numbers.append(x.const(int(count)))
        return each_element(given["u"], lambda e: Expr(name, (e, *numbers)), where)

    return 1, 1 + len(names), convert


def _crossing(name: str) -> Builtin:
    def cross(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
        scope.model.clocked = True
        return each_element(arguments[0], lambda e: Expr(name, (e,)), scope.place(node))

    return 1, 1, cross


def _about_clock(name: str) -> Builtin:
    def about(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
        scope.model.clocked = True
        where = scope.place(node)
        return Expr(name, tuple(as_scalar(a, where) for a in arguments))

    return 0, 1, about


def _previous(needs_variable: Callable[[str, Expr, Scope, s.Call], None]) -> Builtin:
    def previous(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
        scope.model.clocked = True

        def one(e: Expr) -> Expr:
            needs_variable("previous", e, scope, node)
            return e if e.op == "const" else Expr("previous", (e,))

        return each_element(arguments[-1], one, scope.place(node))

    return 1, 1, previous


def clock_functions(
    needs_variable: Callable[[str, Expr, Scope, s.Call], None],
) -> dict[str, Builtin]:
    """The functions by name; ``needs_variable`` refuses what is not a variable."""
    return {
        "Clock": (0, 2, _clock),
        "previous": _previous(needs_variable),
        "hold": _crossing("hold"),
        "noClock": _crossing("noClock"),
        "interval": _about_clock("interval"),
        "firstTick": _about_clock("firstTick"),
        **{name: _convert(name) for name in CONVERSIONS},
    }
