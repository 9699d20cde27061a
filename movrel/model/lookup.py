"""What names mean: members, loop values, constants of packages and imports, selected by subscripts (chapter 5)."""

from __future__ import annotations

import math
from enum import Enum

from movrel.errors import LookupFault, TypeFault, did_you_mean
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.classes import Definition
from movrel.model.environment import (
    UNSET,
    EnumerationType,
    Environment,
    FunctionValue,
    Member,
    Model,
    Named,
    Record,
    Scope,
    Value,
    is_array,
)
from movrel.model.expression import TIME, Expr, Variable, const
from movrel.model.old_names import present_member
from movrel.model.values import as_scalar, choose, kind_of


def as_value(member: Named, scope: Scope, node: s.Node) -> Value:
    """What a resolved member means inside an expression."""
    if member is UNSET:
        raise TypeFault("this is used before it is assigned.", scope.place(node))
    if isinstance(member, Variable):
        if member.variability == "constant":
            binding = scope.model.binding(member)
            if binding is not None and binding.op == "const":
                return binding
        return x.var(member)
    if is_array(member):
        return [as_value(item, scope, node) for item in member]
    if member is None:
        raise LookupFault(
            "a component that is switched off by its condition is used here.", scope.place(node)
        )
    return member


def resolve(node: s.Ref, scope: Scope) -> Named:
    """The member, loop value, constant or enumeration literal that a reference names."""
    parts = list(node.parts)
    first = parts[0]
    if not node.absolute and first.name in scope.names:
        value = scope.names[first.name]
        if value is UNSET:
            raise TypeFault(f"'{first.name}' is used before it is assigned.", scope.place(node))
        return descend(_subscript(value, first, scope), parts[1:], scope, node)
    instance = scope.instance
    if not node.absolute and first.name in instance.declared:
        return descend(
            _subscript(instance.member(first.name), first, scope), parts[1:], scope, node
        )
    if len(parts) == 1 and first.name == "time":
        return TIME
    constant = _constant(parts, scope, node)
    if constant is not _Nothing.NOTHING:
        return constant
    raise LookupFault(
        f"no variable '{first.name}' is known here.",
        scope.place(node),
        _suggestion(first.name, scope),
    )


class _Nothing(Enum):
    """That a name means no constant, where None means one that is conditioned away."""

    NOTHING = 0


def _constant(parts: list[s.RefPart], scope: Scope, node: s.Ref) -> Named | _Nothing:
    model = scope.model
    tree = model.tree
    if not node.absolute:
        for enclosing in scope.definition.around():
            package = (
                model.package(enclosing)
                if enclosing.node.kind == "package" or enclosing is not scope.definition
                else None
            )
            if package is not None and parts[0].name in package.declared:
                member = package.member(parts[0].name)
                if isinstance(member, Variable) and member.variability != "constant":
                    raise LookupFault(
                        f"'{parts[0].name}' belongs to the enclosing class '{enclosing.qualified}' and is not a constant.",
                        scope.place(node), "Pass it in as a parameter.",
                    )  # fmt: skip
                return descend(_subscript(member, parts[0], scope), parts[1:], scope, node)
            imported = _imported_constant(parts[0].name, enclosing, model)
            if imported is not None:
                return descend(_subscript(imported, parts[0], scope), parts[1:], scope, node)
        current: Definition | None
        current, _ = scope.instance.class_named(parts[0].name, scope.definition)
    else:
        current = tree.root(parts[0].name)
    for position, part in enumerate(parts[1:], 1):
        if current is None:
            return _Nothing.NOTHING
        scalar = (
            model.package(current).scalar_type(current) if current.node.kind == "type" else None
        )
        if scalar is not None and scalar.literals:
            if part.name in scalar.literals:
                return const(scalar.literals.index(part.name) + 1)
            raise LookupFault(
                f"'{part.name}' is not a value of the enumeration '{current.name}'.", scope.place(node),
                f"It has {', '.join(scalar.literals)}.",
            )  # fmt: skip
        child = tree.child(current, part.name)
        if child is None:
            package = model.package(current)
            if part.name in package.declared:
                member = package.member(part.name)
                return descend(_subscript(member, part, scope), parts[position + 1 :], scope, node)
            return _Nothing.NOTHING
        current = child
    if current is not None:
        scalar = (
            model.package(current).scalar_type(current) if current.node.kind == "type" else None
        )
        if scalar is not None and scalar.literals:
            return EnumerationType(scalar.literals)
        if current.node.kind == "function":
            return FunctionValue(current, {})
        raise TypeFault(f"'{node.text}' is a class, not a value.", scope.place(node))
    return _Nothing.NOTHING


def _imported_constant(name: str, definition: Definition, model: Model) -> Member:
    """A constant that an import clause of this class makes visible."""
    for clause in definition.imports:
        if clause.everything or name in clause.names:
            path, element = clause.path, name
        elif clause.alias == name or (
            not clause.alias and not clause.names and clause.path.rpartition(".")[2] == name
        ):
            path, _, element = clause.path.rpartition(".")
        else:
            continue
        package = model.tree.find(path)
        if package is not None and element in model.package(package).declared:
            return model.package(package).member(element)
    return None


def _suggestion(name: str, scope: Scope) -> str:
    names = [*scope.names, *scope.instance.declared, "time"]
    return did_you_mean(name, names, "Declare it, or correct the name.")


def descend(value: Named, parts: list[s.RefPart], scope: Scope, node: s.Ref) -> Named:
    """The member that ``.b[2].c`` leads to from a value; of an array of components, that of each.

    None where a component on the way is switched off by its condition. Raises :class:`LookupFault` for a
    member that is not there, with what there is.
    """
    for position, part in enumerate(parts):
        if value is None:
            return None
        if isinstance(value, list):
            return [descend(item, parts[position:], scope, node) for item in value]
        if isinstance(value, Record):
            if part.name not in value.fields:
                raise LookupFault(
                    f"a {value.name} has no member '{part.name}'.",
                    scope.place(node),
                    f"It has {', '.join(value.fields)}.",
                )
            value = value.fields[part.name]
            if value is UNSET:
                raise TypeFault(f"'{node.text}' is used before it is assigned.", scope.place(node))
            value = _subscript(value, part, scope)
            continue
        if not isinstance(value, Environment):
            raise LookupFault(
                f"'{part.name}' in '{node.text}' is not a member: what stands before it has none.",
                scope.place(node),
            )
        name = part.name
        if name not in value.declared:
            name = present_member((body.qualified for body in value.bodies), name)
        if name not in value.declared:
            members = ", ".join(list(value.declared)[:8]) or "no members"
            hint = did_you_mean(part.name, value.declared, f"It has {members}.")
            raise LookupFault(
                f"'{value.path}' (a {value.definition.name}) has no member '{part.name}'.",
                scope.place(node),
                hint,
            )
        value = _subscript(value.member(name), part, scope)
    return value


def _subscript(value: Named, part: s.RefPart, scope: Scope) -> Named:
    if not part.subscripts or value is None:
        return value
    return index(value, part.subscripts, scope, part)


def index(value: Named, subscripts: tuple[s.Subscript, ...], scope: Scope, node: s.Node) -> Named:
    """Select from a nested list by subscripts; ranges and ``:`` give arrays."""
    if not subscripts:
        return value
    if not isinstance(value, list):
        raise TypeFault("there are more subscripts here than dimensions.", scope.place(node))
    first, rest = subscripts[0], subscripts[1:]
    if isinstance(first, s.WholeDimension):
        return [index(item, rest, scope, node) for item in value]
    inner = Scope(scope.instance, scope.definition, scope.names, len(value))
    chosen = scope.model.value(first, inner)
    if isinstance(chosen, list):
        return [index(value[_position(c, value, scope, node)], rest, scope, node) for c in chosen]
    if isinstance(chosen, Expr) and value and varies(chosen):
        return _chosen_by(chosen, value, rest, scope, node)
    return index(value[_position(chosen, value, scope, node)], rest, scope, node)


def varies(e: Expr) -> bool:
    """Whether an expression may change during a run."""
    for node in x.walk(e):
        if node.op == "var":
            if node.variable.variability not in ("parameter", "constant"):
                return True
        elif node.op in x.NEVER_FOLDED and node.op != "const":
            return True
    return False


def _chosen_by(
    number: Expr, value: list[Value], rest: tuple[s.Subscript, ...], scope: Scope, node: s.Node
) -> Value:
    """The element whose number is only known during the run: a choice among all; none outside them."""
    where = scope.place(node)
    elements = [as_value(index(item, rest, scope, node), scope, node) for item in value]
    only_numbers = all(isinstance(item, Expr) and kind_of(item) == "number" for item in elements)
    result = const(math.nan) if only_numbers else elements[-1]
    for position in range(len(elements), 0, -1):
        result = choose(
            x.call("==", number, const(position)), elements[position - 1], result, where
        )
    return result


def _position(chosen: Value, value: list[Value], scope: Scope, node: s.Node) -> int:
    number = whole_number(chosen, scope, node, "the subscript")
    if not 1 <= number <= len(value):
        raise TypeFault(f"the subscript {number} is outside 1 to {len(value)}.", scope.place(node))
    return number - 1


def whole_number(value: Value, scope: Scope, node: s.Node, purpose: str) -> int:
    """A value that must be whole and known before the run: a size, a subscript, an exponent.

    ``purpose`` says in the refusal what it is for. Raises :class:`TypeFault` or :class:`StructureFault`.
    """
    where = scope.place(node)
    e = as_scalar(value, where)
    number = e.value if e.op == "const" else scope.model.structural_value(e, purpose, where)
    if isinstance(number, bool) or not isinstance(number, int | float) or int(number) != number:
        raise TypeFault(f"{purpose} must be a whole number; it is {number}.", where)
    return int(number)
