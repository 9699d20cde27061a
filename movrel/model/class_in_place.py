"""What the name of a class means in a component, where classes are redeclared (specification 7.3)."""

from __future__ import annotations

from dataclasses import replace

from movrel.language import syntax as s
from movrel.model.classes import INHERITED_WITH_PACKAGE, Definition
from movrel.model.environment import Environment, Mod, Redeclaration
from movrel.model.modification import merge_all, read_arguments


def class_in_place(
    instance: Environment, name: str, scope: Definition
) -> tuple[Definition | None, dict[str, Mod]]:
    """The class that a name used in ``scope`` means in an instance, and how it is modified where it is redeclared.

    A redeclaration may name a class that is redeclared itself, one level further out; a class that is declared beside a
    redeclared one sees that in its place.
    """
    tree = instance.model.tree
    if instance.overrides:
        first, _, rest = name.partition(".")
        own = tree.lookup_simple(first, scope)
        if own is not None and _declares(instance, own.parent):
            by = instance.overrides.get(first)
            if by is not None:
                return _by_redeclaration(by, rest)
            return _member(_local(instance, own), rest, instance), {}
    classes = instance.model.classes
    if (name, scope) not in classes:
        classes[name, scope] = tree.lookup(name, scope)
    return classes[name, scope], {}


def _declares(instance: Environment, definition: Definition | None) -> bool:
    """Whether a class stands among those of an instance: its own and its bases."""
    if definition is None:
        return False
    own = {b.original or b for b in (*instance.bodies, instance.definition)}
    return (definition.original or definition) in own


def _by_redeclaration(by: Redeclaration, rest: str) -> tuple[Definition | None, dict[str, Mod]]:
    """What a redeclaration put in the place of a class, or the member ``rest`` of it."""
    if by.clause is not None and not rest:
        definition, mods = _named(by, by.clause)
        if definition.node.kind not in ("function", "package"):
            return definition, merge_all(
                read_arguments(by.clause.arguments, by.scope, by.definition), mods
            )
    return _member(_stand_in(by), rest, by.scope), {}


def _named(by: Redeclaration, clause: s.Extends) -> tuple[Definition, dict[str, Mod]]:
    named, mods = by.scope.class_named(clause.type_name, by.definition)
    required = by.scope.model.tree.require
    return named or required(clause.type_name, by.definition, by.definition.place(clause)), mods


def _member(definition: Definition | None, rest: str, instance: Environment) -> Definition | None:
    for part in rest.split(".") if rest else []:
        definition = instance.model.tree.child(definition, part) if definition else None
    return definition


def _stand_in(by: Redeclaration) -> Definition:
    """The class of a redeclaration as one that others can inherit and name."""
    tree, clause = by.scope.model.tree, by.clause
    assert isinstance(by.element, s.ClassDef)
    if clause is None:
        own = tree.own_child(by.definition, by.element.name)
        assert own is not None
        return own
    further = by.scope.overrides.get(clause.type_name)
    seen = tree.lookup_simple(clause.type_name, by.definition) if further is not None else None
    if further is not None and seen is not None and _declares(by.scope, seen.parent):
        definition = _stand_in(further)
    else:
        definition, _ = _named(by, clause)
    if clause.arguments:
        # As if the short class stood where the redeclaration was written.
        definition = tree.short_class(by.element, by.definition, definition)
        if not by.scope.is_package and definition.node.kind not in ("function", "package"):
            definition = replace(definition, written_in=by.scope, _made={})
    return definition


def _local(instance: Environment, local: Definition) -> Definition:
    """A class declared beside redeclared ones, which sees these."""
    around = local.parent
    if around is None or local.node.kind not in INHERITED_WITH_PACKAGE:
        return local
    made = instance.model.redeclared
    key = (around, *instance.overrides.values())
    if key not in made:
        classes = {name: _stand_in(by) for name, by in instance.overrides.items()}
        made[key] = instance.model.tree.as_redeclared(around, classes)
    return instance.model.tree.own_child(made[key], local.name) or local
